"""From columns of text to typed values, and the guess of what each column holds."""

from __future__ import annotations

import re
from dataclasses import dataclass

import polars as pl

from yarrowdew.tables.dates import UTC, read_hours, read_moments, within_calendar
from yarrowdew.tables.errors import TableError
from yarrowdew.tables.table import Kind

MOST_CATEGORIES = 24
MOST_LEVELS = 50_000
"""Of a variable that is read as categories because someone said so."""
MOST_CATEGORIES_FROM_NUMBERS = 12
LEAST_SHARE_READ = 0.9
SAMPLE = 2_000

_SIGNS = r"^[$€£¥]\s*|\s*(?:[%‰$€£¥])$"
LONG_CODE = r"^[+-]?\d{17,}$"
"""A whole number with more digits than an amount can keep."""
_LEADING_ZERO = r"^[+-]?0\d"


@dataclass(frozen=True, slots=True)
class Marks:
    """How values are written.

    Attributes
    ----------
    decimal, thousands : str
        The decimal mark, and the mark between thousands; empty where there is none.
    day_first : bool or None
        Whether 03/04/2031 is the third of April; told by the values where None.
    """

    decimal: str = "."
    thousands: str = ""
    day_first: bool | None = None


@dataclass(frozen=True, slots=True)
class Typed:
    """A column read as a kind.

    Attributes
    ----------
    values : polars.Series
        Null where missing or not read.
    kind : Kind
    unread : int
        How many values were there but could not be read as this kind.
    ambiguous : bool
        Whether days and months could be the other way round.
    unit : str
        What the values count in, where the way they were written says so: hours for times of day,
        UTC for moments that were written with a zone.
    """

    values: pl.Series
    kind: Kind
    unread: int
    ambiguous: bool = False
    unit: str = ""


def as_kind(column: pl.Series, kind: Kind, marks: Marks) -> Typed:
    """Read a column as `kind`; what cannot be read becomes null and is counted.

    Parameters
    ----------
    column : polars.Series
        Text, without space around, or values that know their type; null where missing.
    kind : Kind
    marks : Marks
        How values are written, where they are text.
    """
    native = _native_kind(column)
    if native is kind:
        values = _native_values(column, kind)
        unread = values.null_count() - column.null_count()
        zoned = isinstance(column.dtype, pl.Datetime) and column.dtype.time_zone is not None
        return Typed(values, kind, unread, unit=UTC if zoned else _HOURS.get(column.dtype, ""))
    text = as_text(column)
    ambiguous, unit = False, ""
    if kind is Kind.NUMBER:
        values = _numbers(text, marks)
        hours = read_hours(text)
        if hours.null_count() < values.null_count():
            values, unit = hours, "h"
    elif kind is Kind.DATE:
        read = read_moments(text, marks.day_first)
        values, ambiguous, unit = read.values, read.ambiguous, UTC if read.zoned else ""
    elif kind is Kind.CATEGORY:
        words = _in_order(text, marks)
        if len(words) > MOST_LEVELS:
            raise TableError(
                f"'{column.name}' has {len(words):,} different values; at most {MOST_LEVELS:,} can "
                "be categories.",
                "Keep it as text.",
                column=column.name,
            )
        values = text.cast(pl.Enum(words))
    else:
        values = text
    return Typed(values, kind, values.null_count() - text.null_count(), ambiguous, unit)


def as_text(column: pl.Series) -> pl.Series:
    """Write every value as text from which it can be read again."""
    if column.dtype == pl.Float64:
        whole = (column == column.round()) & (column.abs() < 2**53)
        return (
            pl.select(
                pl.when(whole)
                .then(column.cast(pl.Int64, strict=False).cast(pl.String))
                .otherwise(column.cast(pl.String))
            )
            .to_series()
            .alias(column.name)
        )
    if isinstance(column.dtype, pl.Duration):
        column = column.dt.total_microseconds() / 3_600_000_000
    return column.cast(pl.String)


def guess_kind(column: pl.Series, marks: Marks) -> Typed:
    """Read a column as the kind that it seems to hold.

    Values that know their type keep it. Text is numbers or dates where nine values in ten read as
    such, unless the first digit of a number is a padding zero, which marks a code, or there are
    whole numbers with more digits than an amount can keep, which are identifiers; categories where
    few distinct values repeat; else text.
    """
    native = _native_kind(column)
    if native is not None and native is not Kind.TEXT and not _loses_digits(column):
        return as_kind(column, native, marks)
    text = as_text(column)
    present = len(text) - text.null_count()
    if present == 0:
        return as_kind(text, Kind.TEXT, marks)
    allowed = int(present * (1 - LEAST_SHARE_READ))
    padded = bool(text.head(10_000).str.contains(_LEADING_ZERO).any())
    sample = text.head(SAMPLE)
    plain = not padded or "." in "".join(text.drop_nulls().head(50))
    # Most columns of words are told by their first rows, without trying every one.
    for kind in (Kind.NUMBER, Kind.DATE):
        first = as_kind(sample, kind, marks)
        # A padding zero is part of a time of day, and not the mark of a code.
        is_tried = plain or kind is Kind.DATE or first.unit
        if kind is Kind.NUMBER and text.str.contains(LONG_CODE).any():
            continue
        if is_tried and _mostly_read(first):
            read = as_kind(text, kind, marks)
            if read.unread <= allowed:
                return read
    return _words(text, sample, present, marks)


def _words(text: pl.Series, sample: pl.Series, present: int, marks: Marks) -> Typed:
    """Read words as categories where few distinct ones repeat, else as text."""
    most = min(MOST_CATEGORIES, max(2, present // 2))
    if sample.n_unique() > most + 1:
        return as_kind(text, Kind.TEXT, marks)
    # A column of few words mostly shows them all in its first rows.
    words = text.cast(pl.Enum(_in_order(sample, marks)), strict=False)
    if words.null_count() == text.null_count():
        return Typed(words, Kind.CATEGORY, 0)
    few = text.drop_nulls().n_unique() <= most
    return as_kind(text, Kind.CATEGORY if few else Kind.TEXT, marks)


def _loses_digits(column: pl.Series) -> bool:
    """Whether whole numbers are so large that different ones would become the same amount."""
    return column.dtype.is_integer() and bool((column.cast(pl.Float64).abs() > 2**53).any())


_HOURS: dict[pl.DataType, str] = {pl.Time(): "h"} | {
    pl.Duration(unit): "h" for unit in ("ms", "us", "ns")
}
"""Times of day and lengths of time are numbers of hours."""


def _native_kind(column: pl.Series) -> Kind | None:
    """Return the kind of a column that knows its type; None for text, which may be any."""
    dtype = column.dtype
    if dtype.is_numeric() or dtype in _HOURS:
        return Kind.NUMBER
    if dtype == pl.Date or isinstance(dtype, pl.Datetime):
        return Kind.DATE
    if isinstance(dtype, pl.Categorical) and column.n_unique() > MOST_LEVELS:
        return Kind.TEXT
    if isinstance(dtype, pl.Enum) and len(dtype.categories) > MOST_LEVELS:
        return Kind.TEXT
    if dtype == pl.Boolean or isinstance(dtype, pl.Enum | pl.Categorical):
        return Kind.CATEGORY
    return None if dtype == pl.String else Kind.TEXT


def _native_values(column: pl.Series, kind: Kind) -> pl.Series:
    if column.dtype == pl.Time:
        return column.cast(pl.Int64).cast(pl.Float64) / 3_600_000_000_000
    if column.dtype == pl.Duration:
        return column.dt.total_microseconds().cast(pl.Float64) / 3_600_000_000
    if kind is Kind.NUMBER:
        return _finite(column.cast(pl.Float64))
    if kind is Kind.DATE:
        if isinstance(column.dtype, pl.Datetime):
            if column.dtype.time_zone is not None:
                column = column.dt.convert_time_zone("UTC").dt.replace_time_zone(None)
            column = column.cast(pl.Datetime("us"))
        return within_calendar(column)
    if isinstance(column.dtype, pl.Enum):
        return column
    text = column.cast(pl.String)
    return text.cast(pl.Enum(text.drop_nulls().unique().sort().to_list()))


def _mostly_read(typed: Typed) -> bool:
    """Whether at least half of what is there could be read."""
    read = len(typed.values) - typed.values.null_count()
    return typed.unread <= read


def could_be_category(values: pl.Series) -> bool:
    """Whether a column of numbers holds few whole values, and so may be codes of groups."""
    distinct = values.drop_nulls().unique()
    few = 0 < len(distinct) <= min(MOST_CATEGORIES_FROM_NUMBERS, max(2, len(values) // 4))
    return few and bool((distinct == distinct.round()).all())


def _numbers(text: pl.Series, marks: Marks) -> pl.Series:
    """Read numbers; a mark between thousands counts only where groups of three follow it."""
    if marks == Marks(day_first=marks.day_first):
        values = text.cast(pl.Float64, strict=False)
        if values.null_count() == text.null_count():
            return _finite(values)
    plain = text.str.replace_all(_SIGNS, "").str.replace("−", "-", literal=True)
    if marks.thousands:
        grouped = plain.str.contains(_grouped(marks))
        parted = plain.str.contains(marks.thousands, literal=True)
        plain = plain.set((parted & ~grouped).fill_null(value=False), None)
        plain = plain.str.replace_all(marks.thousands, "", literal=True)
    if marks.decimal != ".":
        plain = plain.str.replace(marks.decimal, ".", literal=True)
    return _finite(plain.cast(pl.Float64, strict=False))


def _grouped(marks: Marks) -> str:
    """Match a number whose thousands are parted, with three digits in every group but the first."""
    thousands, decimal = re.escape(marks.thousands), re.escape(marks.decimal)
    return rf"^[+-]?\d{{1,3}}(?:{thousands}\d{{3}})+(?:{decimal}\d*)?(?:[eE][+-]?\d+)?$"


def _finite(values: pl.Series) -> pl.Series:
    """Leave out "inf" and "nan", which are not amounts."""
    finite = values.is_finite()
    return values if finite.all() else values.set(~finite, None)


def _in_order(text: pl.Series, marks: Marks) -> list[str]:
    """Distinct values: by amount where they are numbers, else by letter."""
    distinct = text.drop_nulls().unique().sort()
    numbers = _numbers(distinct, marks)
    if numbers.null_count() == 0:
        distinct = distinct.gather(numbers.arg_sort())
    return distinct.to_list()
