"""Dates, moments and times of day as people and programs write them.

Each way of writing is a pattern with named parts, and every part is turned into numbers in one
place, whichever pattern found it. A moment with a zone is kept as what it is in UTC (ISO 8601-1).
"""

from __future__ import annotations

import datetime as dt
import re
from dataclasses import dataclass
from typing import Literal

import polars as pl

UTC = "UTC"
FIRST_YEAR, LAST_YEAR = 1, 9999
"""The calendar of ISO 8601 without agreement on more digits."""
_FIRST_DAY, _LAST_DAY = (
    (day - dt.date(1970, 1, 1)).days
    for day in (dt.date(FIRST_YEAR, 1, 1), dt.date(LAST_YEAR, 12, 31))
)
_MICROSECONDS_A_DAY = 86_400_000_000
_SAMPLE = 500
_CENTURY_TURNS = 69
"""Two digits from here on are years of the 1900s (POSIX)."""

_MONTHS = (
    ("jan", "january"),
    ("feb", "february"),
    ("mar", "march"),
    ("apr", "april"),
    ("may", "may"),
    ("jun", "june"),
    ("jul", "july"),
    ("aug", "august"),
    ("sep", "sept", "september"),
    ("oct", "october"),
    ("nov", "november"),
    ("dec", "december"),
)
_MONTH_OF = {name: number for number, names in enumerate(_MONTHS, 1) for name in names}
_MONTH_WORD = "(?P<word>" + "|".join(sorted(_MONTH_OF, key=len, reverse=True)) + r")\.?"
_HALF = r"(?:\s*(?P<half>[ap])\.?m\.?)?"
_CLOCK = r"(?P<hour>\d{1,2}):(?P<minute>\d{2})(?::(?P<second>\d{2})(?:[.,](?P<part>\d{1,12}))?)?"
_ZONE = r"(?:\s*(?P<zone>z|utc|gmt|[+\-−]\d{2}(?::?\d{2})?))?"
_TIME = rf"(?:(?:t|,?\s+){_CLOCK}{_HALF}{_ZONE})?"
_YEAR = r"(?P<year>\d{4})"
_SHORT_YEAR = r"(?P<year>\d{4}|\d{2})"
_MONTH, _DAY = r"(?P<month>\d{1,2})", r"(?P<day>\d{1,2})"


@dataclass(frozen=True, slots=True)
class _Way:
    """A way of writing, and whether day and month may change places in it."""

    pattern: str
    order: Literal["fixed", "day first", "month first"] = "fixed"

    def is_found_in(self, some: list[str]) -> bool:
        """Whether some text is written so."""
        found = re.compile(self.pattern)  # which keeps it: most programs read no dates
        return any(map(found.match, some))


def _way(pattern: str, order: Literal["fixed", "day first", "month first"] = "fixed") -> _Way:
    return _Way(f"(?i)^{pattern}$", order)


_WAYS = (
    _way(rf"{_YEAR}-{_MONTH}-{_DAY}{_TIME}"),
    _way(rf"{_YEAR}[/.]{_MONTH}[/.]{_DAY}{_TIME}"),
    _way(rf"{_DAY}\.\s?{_MONTH}\.\s?{_SHORT_YEAR}{_TIME}"),
    _way(rf"{_DAY}/{_MONTH}/{_SHORT_YEAR}{_TIME}", "day first"),
    _way(rf"{_MONTH}/{_DAY}/{_SHORT_YEAR}{_TIME}", "month first"),
    # Three numbers of two digits between hyphens are rather a code.
    _way(rf"{_DAY}-{_MONTH}-{_YEAR}{_TIME}", "day first"),
    _way(rf"{_MONTH}-{_DAY}-{_YEAR}{_TIME}", "month first"),
    _way(rf"{_DAY}(?:\.\s?|\s|-|\.-)?{_MONTH_WORD}(?:,?\s|-){_YEAR}{_TIME}"),
    _way(rf"{_MONTH_WORD}\s{_DAY}(?:st|nd|rd|th)?,?\s{_YEAR}{_TIME}"),
    _way(rf"{_YEAR}[/-]{_MONTH}"),
    _way(rf"{_MONTH_WORD}(?:,?\s|-){_YEAR}"),
    _way(rf"{_YEAR}[ -]?q(?P<quarter>[1-4])"),
    _way(rf"q(?P<quarter>[1-4])[ -/]{_YEAR}"),
    _way(rf"{_YEAR}[ -]?w(?P<week>\d{{2}})(?:-?(?P<weekday>[1-7]))?"),
)
_CLOCK_ALONE = f"(?i)^{_CLOCK}{_HALF}$"
_PLAIN_DAY = re.compile(r"^\d{4}-\d{2}-\d{2}$")


@dataclass(frozen=True, slots=True)
class Moments:
    """A column read as dates.

    Attributes
    ----------
    values : polars.Series of Date or Datetime
        Null where missing or not read; in UTC where a zone was written.
    zoned : bool
        Whether some value was written with a zone.
    ambiguous : bool
        Whether days and months could be the other way round.
    """

    values: pl.Series
    zoned: bool = False
    ambiguous: bool = False


def read_moments(text: pl.Series, day_first: bool | None = None) -> Moments:
    """Read text as dates, or as dates with a time of day; what is neither becomes null.

    Parameters
    ----------
    text : polars.Series of String
        Without space around.
    day_first : bool, optional
        Whether 03/04/2031 is the third of April; told by the values where None.
    """
    some = _sample(text)
    if some and all(map(_PLAIN_DAY.match, some)):
        # Most dates are written so, and are read ten times as fast by themselves.
        days = within_calendar(text.str.strptime(pl.Date, "%Y-%m-%d", strict=False))
        if days.null_count() == text.null_count():
            return Moments(days)
    found = [way for way in _WAYS if way.is_found_in(some)]
    fixed = [way for way in found if way.order == "fixed"]
    turned = [way for way in found if way.order != "fixed"]
    read = _filled(text, fixed)
    if not turned:
        return read
    orders = {way.order for way in turned}
    by_order = {o: _filled(text, [way for way in turned if way.order == o]) for o in orders}
    ambiguous = False
    if len(by_order) > 1 and day_first is not None:
        chosen = by_order["day first" if day_first else "month first"]
    elif len(by_order) > 1:
        by_day, by_month = by_order["day first"], by_order["month first"]
        missing = by_day.values.null_count(), by_month.values.null_count()
        chosen = by_day if missing[0] <= missing[1] else by_month
        ambiguous = missing[0] == missing[1] and not by_day.values.equals(by_month.values)
    else:
        chosen = next(iter(by_order.values()))
    joined = _joined(read, chosen)
    return Moments(joined.values, joined.zoned, ambiguous)


def read_hours(text: pl.Series) -> pl.Series:
    """Read times of day that stand by themselves as hours since midnight; null where it is none."""
    if not _Way(_CLOCK_ALONE).is_found_in(_sample(text)):
        return pl.Series(text.name, [None] * len(text), dtype=pl.Float64)
    parts = text.str.extract_groups(_CLOCK_ALONE).struct.unnest()
    seconds = parts.select(_seconds(parts.columns)).to_series()
    return (seconds.cast(pl.Float64) / 3_600_000_000).alias(text.name)


_UNITS_A_DAY = {
    "ms": _MICROSECONDS_A_DAY // 1000,
    "us": _MICROSECONDS_A_DAY,
    "ns": _MICROSECONDS_A_DAY * 1000,
}


def within_calendar(values: pl.Series) -> pl.Series:
    """Leave out dates before the year 1 and after 9999, for which there is no way of writing."""
    there = values.to_frame().select(in_calendar(pl.col(values.name), values.dtype)).to_series()
    return values if there.all() else values.set(~there.fill_null(value=True), None)


def in_calendar(column: pl.Expr, dtype: pl.DataType) -> pl.Expr:
    """Whether dates lie in the years 1 to 9999."""
    units = _UNITS_A_DAY[dtype.time_unit] if isinstance(dtype, pl.Datetime) else 1
    first, last = _FIRST_DAY * units, (_LAST_DAY + 1) * units - 1
    if max(-first, last) >= 2**63:
        # Nanoseconds reach no further than the years 1677 to 2262.
        return column.is_not_null()
    return column.to_physical().is_between(first, last)


def _sample(text: pl.Series) -> list[str]:
    present = text.drop_nulls()
    step = max(1, len(present) // _SAMPLE)
    return present.gather_every(step).head(_SAMPLE + 1).to_list()


def _filled(text: pl.Series, ways: list[_Way]) -> Moments:
    """Read by the first way, and by the others what it leaves."""
    read = Moments(pl.Series(text.name, [None] * len(text), dtype=pl.Date))
    for way in ways:
        if read.values.null_count() == text.null_count():
            break
        read = _joined(read, _parsed(text, way))
    return read


def _joined(first: Moments, second: Moments) -> Moments:
    values = [first.values, second.values]
    if len({v.dtype for v in values}) > 1:
        values = [v.cast(pl.Datetime("us")) for v in values]
    filled = values[0].zip_with(values[0].is_not_null(), values[1])
    return Moments(filled, first.zoned or second.zoned, second.ambiguous)


def _parsed(text: pl.Series, way: _Way) -> Moments:
    found = text.str.extract_groups(way.pattern).struct.unnest()
    days, offset = _days(found.columns), _offset(found.columns)
    parts = found.select(
        days.alias("days"),
        _seconds(found.columns).alias("clock"),
        (pl.col("hour").is_not_null() if "hour" in found.columns else pl.lit(value=False)).alias(
            "timed"
        ),
        offset.alias("offset"),
    )
    zoned = parts["offset"].null_count() < len(text)
    if not parts["timed"].any():
        return Moments(within_calendar(parts["days"]).alias(text.name))
    moments = parts.select(
        pl.when(pl.col("timed") & pl.col("clock").is_null())
        .then(None)
        .otherwise(
            pl.col("days").cast(pl.Datetime("us"))
            + pl.duration(microseconds=pl.col("clock").fill_null(0))
            - pl.duration(minutes=pl.col("offset").fill_null(0))
        )
    ).to_series()
    return Moments(without_midnight(within_calendar(moments)).alias(text.name), zoned)


def without_midnight(values: pl.Series) -> pl.Series:
    """Days, where every time of day is midnight: workbooks keep dates so."""
    if values.dtype == pl.Date:
        return values
    days = values.cast(pl.Date)
    return days if (days.cast(pl.Datetime("us")) == values).all() else values


def _whole(name: str, otherwise: int | None = None) -> pl.Expr:
    number = pl.col(name).cast(pl.Int64, strict=False)
    return number if otherwise is None else number.fill_null(otherwise)


def _days(parts: list[str]) -> pl.Expr:
    """The date that the parts of a pattern name; null where there is none, as 30 February."""
    year = _whole("year")
    short = pl.col("year").str.len_chars() == 2
    year = pl.when(short).then(year + pl.when(year < _CENTURY_TURNS).then(2000).otherwise(1900))
    year = year.otherwise(_whole("year"))
    if "week" in parts:
        return _week_day(year)
    if "quarter" in parts:
        month = _whole("quarter") * 3 - 2
    elif "word" in parts:
        month = pl.col("word").str.to_lowercase().replace_strict(_MONTH_OF, default=None)
    else:
        month = _whole("month")
    return _date(year, month, _whole("day") if "day" in parts else pl.lit(1))


def _date(year: pl.Expr, month: pl.Expr, day: pl.Expr) -> pl.Expr:
    leap = (year % 4 == 0) & ((year % 100 != 0) | (year % 400 == 0))
    last = (
        pl.when(month == 2)
        .then(pl.when(leap).then(29).otherwise(28))
        .when(month.is_in([4, 6, 9, 11]))
        .then(30)
        .otherwise(31)
    )
    there = month.is_between(1, 12) & day.is_between(1, last) & (year >= FIRST_YEAR)

    def kept(part: pl.Expr) -> pl.Expr:
        return pl.when(there).then(part).otherwise(None)

    return pl.date(kept(year), kept(month), kept(day))


def _week_day(year: pl.Expr) -> pl.Expr:
    """ISO 8601 week dates: week 1 holds 4 January, and weeks begin on Monday."""
    fourth = _date(year, pl.lit(1), pl.lit(4))
    monday = fourth - pl.duration(days=fourth.dt.weekday().cast(pl.Int64) - 1)
    week, weekday = _whole("week"), _whole("weekday", 1)
    day = monday + pl.duration(days=(week - 1) * 7 + weekday - 1)
    there = (week >= 1) & (day.dt.iso_year().cast(pl.Int64) == year)
    return pl.when(there).then(day).otherwise(None)


def _seconds(parts: list[str]) -> pl.Expr:
    """Microseconds since midnight; null where there is no such time."""
    if "hour" not in parts:
        return pl.lit(None, dtype=pl.Int64)
    hour, minute, second = _whole("hour"), _whole("minute"), _whole("second", 0)
    half = pl.col("half").str.to_lowercase()
    twelve = half.is_not_null()
    there = (minute < 60) & (second < 60) & (~twelve & (hour < 24) | hour.is_between(1, 12))
    hour = pl.when(twelve).then(hour % 12 + pl.when(half == "p").then(12).otherwise(0))
    hour = hour.otherwise(_whole("hour"))
    part = pl.col("part").fill_null("").str.pad_end(6, "0").str.slice(0, 6).cast(pl.Int64)
    whole = ((hour * 60 + minute) * 60 + second) * 1_000_000 + part
    return pl.when(there).then(whole).otherwise(None)


def _offset(parts: list[str]) -> pl.Expr:
    """Minutes ahead of UTC; null where no zone is written."""
    if "zone" not in parts:
        return pl.lit(None, dtype=pl.Int64)
    zone = pl.col("zone").str.replace("−", "-", literal=True).str.replace(":", "", literal=True)
    sign = pl.when(zone.str.starts_with("-")).then(-1).otherwise(1)
    hours = zone.str.slice(1, 2).cast(pl.Int64, strict=False)
    minutes = zone.str.slice(3, 2).cast(pl.Int64, strict=False).fill_null(0)
    named = zone.str.to_lowercase().is_in(["z", "utc", "gmt"])
    return (
        pl.when(zone.is_null())
        .then(None)
        .when(named)
        .then(0)
        .otherwise(sign * (hours * 60 + minutes))
    )
