"""From columns of text to typed values, and the guess of what each column holds."""

from __future__ import annotations

import re
from dataclasses import dataclass

import polars as pl

from yarrowdew.tables.table import Kind

MOST_CATEGORIES = 24
MOST_CATEGORIES_FROM_NUMBERS = 12
LEAST_SHARE_READ = 0.9

DATE_FORMATS = (
    "%Y-%m-%d",
    "%Y-%m-%dT%H:%M:%S",
    "%Y-%m-%d %H:%M:%S",
    "%Y-%m-%dT%H:%M",
    "%Y-%m-%d %H:%M",
    "%Y/%m/%d",
    "%d.%m.%Y",
    "%d.%m.%Y %H:%M",
    "%d/%m/%Y",
    "%m/%d/%Y",
)
_SIGNS = r"^[$€£¥]\s*|\s*(?:[%‰$€£¥])$"
_LEADING_ZERO = r"^[+-]?0\d"
_DATE_SHAPE = re.compile(r"^\d{1,4}[-/.]\d{1,2}[-/.]\d{1,4}(?:[T ]\d{1,2}:\d{2}(?::\d{2})?)?$")


@dataclass(frozen=True, slots=True)
class NumberMarks:
    """How numbers are written: the decimal mark, and the mark between thousands if there is one."""

    decimal: str = "."
    thousands: str = ""


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
    """

    values: pl.Series
    kind: Kind
    unread: int


def as_kind(text: pl.Series, kind: Kind, marks: NumberMarks) -> Typed:
    """Read a column of text as `kind`; what cannot be read becomes null and is counted.

    Parameters
    ----------
    text : polars.Series of String
        Null where missing, without space around.
    kind : Kind
    marks : NumberMarks
    """
    if kind is Kind.NUMBER:
        values = _numbers(text, marks)
    elif kind is Kind.DATE:
        values = _dates(text)
    elif kind is Kind.CATEGORY:
        values = text.cast(pl.Enum(_in_order(text, marks)))
    else:
        values = text
    return Typed(values, kind, values.null_count() - text.null_count())


def guess_kind(text: pl.Series, marks: NumberMarks) -> Typed:
    """Read a column of text as the kind that it seems to hold.

    Numbers or dates where nine values in ten read as such, unless the first digit of a number is
    a padding zero, which marks a code; categories where few distinct values repeat; else text.
    """
    present = len(text) - text.null_count()
    if present == 0:
        return as_kind(text, Kind.TEXT, marks)
    allowed = int(present * (1 - LEAST_SHARE_READ))
    padded = bool(text.head(10_000).str.contains(_LEADING_ZERO).any())
    if not padded or "." in "".join(text.drop_nulls().head(50)):
        numbers = as_kind(text, Kind.NUMBER, marks)
        if numbers.unread <= allowed:
            return numbers
    if any(_DATE_SHAPE.match(value) for value in text.drop_nulls().head(5)):
        dates = as_kind(text, Kind.DATE, marks)
        if dates.unread <= allowed:
            return dates
    few = text.n_unique() <= min(MOST_CATEGORIES, max(2, present // 2))
    return as_kind(text, Kind.CATEGORY if few else Kind.TEXT, marks)


def could_be_category(values: pl.Series) -> bool:
    """Whether a column of numbers holds few whole values, and so may be codes of groups."""
    distinct = values.drop_nulls().unique()
    few = 0 < len(distinct) <= min(MOST_CATEGORIES_FROM_NUMBERS, max(2, len(values) // 4))
    return few and bool((distinct == distinct.round()).all())


def _numbers(text: pl.Series, marks: NumberMarks) -> pl.Series:
    if marks.thousands:
        text = text.str.replace_all(marks.thousands, "", literal=True)
    if marks.decimal != ".":
        text = text.str.replace(marks.decimal, ".", literal=True)
    values = text.cast(pl.Float64, strict=False)
    if values.null_count() > text.null_count():
        plain = text.str.replace_all(_SIGNS, "").str.replace("−", "-", literal=True)
        values = plain.cast(pl.Float64, strict=False)
    # "inf" and "nan" in a file are not amounts.
    return values.set(~values.is_finite(), None)


def _dates(text: pl.Series) -> pl.Series:
    best = pl.Series(text.name, [None] * len(text), dtype=pl.Date)
    for pattern in DATE_FORMATS:
        dtype = pl.Datetime("us") if "%H" in pattern else pl.Date
        values = text.str.strptime(dtype, pattern, strict=False)
        if values.null_count() < best.null_count():
            best = values
        if best.null_count() == text.null_count():
            break
    return best


def _in_order(text: pl.Series, marks: NumberMarks) -> list[str]:
    """Distinct values: by amount where they are numbers, else by letter."""
    distinct = text.drop_nulls().unique().sort()
    numbers = _numbers(distinct, marks)
    if numbers.null_count() == 0:
        distinct = distinct.gather(numbers.arg_sort())
    return distinct.to_list()
