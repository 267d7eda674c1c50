"""From columns of text to typed values, and the guess of what each column holds."""

from __future__ import annotations

import re
from dataclasses import dataclass

import polars as pl

from yarrowdew.tables.table import Kind

MOST_CATEGORIES = 24
MOST_CATEGORIES_FROM_NUMBERS = 12
LEAST_SHARE_READ = 0.9
SAMPLE = 2_000

DATE_FORMATS = (
    "%Y-%m-%d",
    "%Y-%m-%dT%H:%M:%S",
    "%Y-%m-%d %H:%M:%S",
    "%Y-%m-%dT%H:%M",
    "%Y-%m-%d %H:%M",
    "%Y/%m/%d",
    "%d.%m.%Y",
    "%d.%m.%Y %H:%M",
    "%d.%m.%y",
)
DAY_FIRST, MONTH_FIRST = "%d/%m/%Y", "%m/%d/%Y"
_YEAR_AND_MONTH = r"^\d{4}-\d{2}$"
_SIGNS = r"^[$€£¥]\s*|\s*(?:[%‰$€£¥])$"
_LEADING_ZERO = r"^[+-]?0\d"
_DATE_SHAPE = re.compile(
    r"^(?:\d{1,4}[-/.]\d{1,2}[-/.]\d{1,4}(?:[T ]\d{1,2}:\d{2}(?::\d{2})?)?|\d{4}-\d{2})$"
)


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
    """

    values: pl.Series
    kind: Kind
    unread: int
    ambiguous: bool = False


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
        return Typed(values, kind, values.null_count() - column.null_count())
    text = as_text(column)
    ambiguous = False
    if kind is Kind.NUMBER:
        values = _numbers(text, marks)
    elif kind is Kind.DATE:
        values, ambiguous = _dates(text, marks.day_first)
    elif kind is Kind.CATEGORY:
        values = text.cast(pl.Enum(_in_order(text, marks)))
    else:
        values = text
    return Typed(values, kind, values.null_count() - text.null_count(), ambiguous)


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
    return column.cast(pl.String)


def guess_kind(column: pl.Series, marks: Marks) -> Typed:
    """Read a column as the kind that it seems to hold.

    Values that know their type keep it. Text is numbers or dates where nine values in ten read as
    such, unless the first digit of a number is a padding zero, which marks a code; categories
    where few distinct values repeat; else text.
    """
    native = _native_kind(column)
    if native is not None and native is not Kind.TEXT:
        return as_kind(column, native, marks)
    text = column.cast(pl.String)
    present = len(text) - text.null_count()
    if present == 0:
        return as_kind(text, Kind.TEXT, marks)
    allowed = int(present * (1 - LEAST_SHARE_READ))
    padded = bool(text.head(10_000).str.contains(_LEADING_ZERO).any())
    sample = text.head(SAMPLE)
    plain = not padded or "." in "".join(text.drop_nulls().head(50))
    # Most columns of words are told by their first rows, without trying every one.
    if plain and _mostly_read(as_kind(sample, Kind.NUMBER, marks)):
        numbers = as_kind(text, Kind.NUMBER, marks)
        if numbers.unread <= allowed:
            return numbers
    if any(_DATE_SHAPE.match(value) for value in text.drop_nulls().head(5)):
        dates = as_kind(text, Kind.DATE, marks)
        if dates.unread <= allowed:
            return dates
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


def _native_kind(column: pl.Series) -> Kind | None:
    """Return the kind of a column that knows its type; None for text, which may be any."""
    dtype = column.dtype
    if dtype.is_numeric():
        return Kind.NUMBER
    if dtype == pl.Date or isinstance(dtype, pl.Datetime):
        return Kind.DATE
    if dtype == pl.Boolean or isinstance(dtype, pl.Enum | pl.Categorical):
        return Kind.CATEGORY
    return None if dtype == pl.String else Kind.TEXT


def _native_values(column: pl.Series, kind: Kind) -> pl.Series:
    if kind is Kind.NUMBER:
        return _finite(column.cast(pl.Float64))
    if kind is Kind.DATE:
        if column.dtype == pl.Date:
            return column
        return column.dt.replace_time_zone(None).cast(pl.Datetime("us"))
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
    if marks.thousands:
        text = text.str.replace_all(marks.thousands, "", literal=True)
    if marks.decimal != ".":
        text = text.str.replace(marks.decimal, ".", literal=True)
    values = text.cast(pl.Float64, strict=False)
    if values.null_count() > text.null_count():
        plain = text.str.replace_all(_SIGNS, "").str.replace("−", "-", literal=True)
        values = plain.cast(pl.Float64, strict=False)
    return _finite(values)


def _finite(values: pl.Series) -> pl.Series:
    """Leave out "inf" and "nan", which are not amounts."""
    finite = values.is_finite()
    return values if finite.all() else values.set(~finite, None)


def _dates(text: pl.Series, day_first: bool | None) -> tuple[pl.Series, bool]:
    """Read dates by the format that reads most; and say whether day and month could be swapped."""
    whole = text.null_count()
    best = pl.Series(text.name, [None] * len(text), dtype=pl.Date)
    for pattern in DATE_FORMATS:
        values = _by_format(text, pattern)
        if values.null_count() < best.null_count():
            best = values
        if best.null_count() == whole:
            return _without_midnight(best), False
    if text.drop_nulls().head(5).str.contains(_YEAR_AND_MONTH).all():
        months = _by_format(text + "-01", "%Y-%m-%d")
        if months.null_count() < best.null_count():
            return months, False
    by_day, by_month = (_by_format(text, pattern) for pattern in (DAY_FIRST, MONTH_FIRST))
    read_by_day, read_by_month = (len(text) - values.null_count() for values in (by_day, by_month))
    if max(read_by_day, read_by_month) <= len(text) - best.null_count():
        return _without_midnight(best), False
    if day_first is not None:
        return (by_day if day_first else by_month), False
    undecided = read_by_day == read_by_month and not by_day.equals(by_month)
    return (by_day if read_by_day >= read_by_month else by_month), undecided


def _by_format(text: pl.Series, pattern: str) -> pl.Series:
    dtype = pl.Datetime("us") if "%H" in pattern else pl.Date
    return text.str.strptime(dtype, pattern, strict=False)


def _without_midnight(values: pl.Series) -> pl.Series:
    """Days, where every time of day is midnight: workbooks keep dates so."""
    if values.dtype == pl.Date:
        return values
    days = values.cast(pl.Date)
    return days if (days.cast(pl.Datetime("us")) == values).all() else values


def _in_order(text: pl.Series, marks: Marks) -> list[str]:
    """Distinct values: by amount where they are numbers, else by letter."""
    distinct = text.drop_nulls().unique().sort()
    numbers = _numbers(distinct, marks)
    if numbers.null_count() == 0:
        distinct = distinct.gather(numbers.arg_sort())
    return distinct.to_list()
