"""Numbers: amounts, and times of day and lengths of time as hours."""

from __future__ import annotations

import math
import re
from typing import Any

import numpy as np
import polars as pl

from yarrowdew.core.arithmetic import scaled
from yarrowdew.tables.dates import read_hours
from yarrowdew.tables.kinds.base import AxisKind, Kind, Marks, Native, Places, Typed, unread
from yarrowdew.tables.kinds.ordered import in_steps, quantile

_SIGNS = r"^[$€£¥]\s*|\s*(?:[%‰$€£¥])$"

_HOURS: dict[pl.DataType, str] = {pl.Time(): "h"} | {
    pl.Duration(unit): "h" for unit in ("ms", "us", "ns")
}
"""Times of day and lengths of time are numbers of hours."""


class NumberKind(AxisKind):
    """Numbers."""

    kind = Kind.NUMBER
    plural = "numbers"
    example = "a number"
    package_types = ("number", "integer", "year")
    gives = "a number"

    def holds(self, column: pl.Series) -> bool:
        """Whether a column holds numbers, or times that are hours."""
        return column.dtype.is_numeric() or column.dtype in _HOURS

    def native(self, column: pl.Series) -> Native:
        """Take numbers as they are, and times as hours."""
        if column.dtype == pl.Time:
            return Native(column.cast(pl.Int64).cast(pl.Float64) / 3_600_000_000_000, "h")
        if column.dtype == pl.Duration:
            return Native(column.dt.total_microseconds().cast(pl.Float64) / 3_600_000_000, "h")
        return Native(finite(column.cast(pl.Float64)))

    def read(self, text: pl.Series, marks: Marks) -> Typed:
        """Read numbers, or times as hours where more of them are times."""
        values, unit = numbers_in(text, marks), ""
        hours = read_hours(text)
        if hours.null_count() < values.null_count():
            values, unit = hours, "h"
        return Typed(values, self.kind, unread(values, text), unit=unit)

    def in_expression(self, column: pl.Expr) -> pl.Expr:
        """Numbers as they are."""
        return column

    def back(self, places: Places) -> pl.Series:
        """Places as they are."""
        return finite(pl.Series(places, dtype=pl.Float64))

    def written(self, place: float) -> float | str | None:
        """A number as it is."""
        return place

    def place_of(self, text: str) -> float:
        """Read a number."""
        value = float(text)
        if not math.isfinite(value):
            raise ValueError(text)
        return value

    def end(self, text: float | str) -> float:
        """Read a number."""
        return self.place_of(str(text))

    def summary(self, present: pl.Series) -> dict[str, Any]:
        """Mean, standard deviation and order statistics."""
        if not len(present):
            return {}
        ordered, common = in_steps(self.places(present))
        inner, exponent = scaled(ordered)
        with np.errstate(over="ignore", invalid="ignore"):
            found = [quantile(inner, q) for q in (0.25, 0.5, 0.75)]
            found += [float(inner.mean()), _deviation(inner)]
            told = (float(np.ldexp(v, exponent)) for v in found)
            lower, median, upper, mean, sd = (v if math.isfinite(v) else None for v in told)
        return {
            "min": float(ordered[0]),
            "max": float(ordered[-1]),
            "mean": mean,
            "sd": sd,
            "lower_quartile": lower,
            "median": median,
            "upper_quartile": upper,
            **common,
        }


def _deviation(values: Places) -> float:
    """Standard deviation, with one degree of freedom less than there are values."""
    about = values - values.mean()
    return math.sqrt(np.dot(about, about) / (len(values) - 1)) if len(values) > 1 else math.nan


def numbers_in(text: pl.Series, marks: Marks) -> pl.Series:
    """Read numbers; a mark between thousands counts only where groups of three follow it."""
    if marks == Marks(day_first=marks.day_first):
        values = text.cast(pl.Float64, strict=False)
        if values.null_count() == text.null_count():
            return finite(values)
    plain = text.str.replace_all(_SIGNS, "").str.replace("−", "-", literal=True)
    if marks.thousands:
        grouped = plain.str.contains(_grouped(marks))
        parted = plain.str.contains(marks.thousands, literal=True)
        plain = plain.set((parted & ~grouped).fill_null(value=False), None)
        plain = plain.str.replace_all(marks.thousands, "", literal=True)
    if marks.decimal != ".":
        plain = plain.str.replace(marks.decimal, ".", literal=True)
    return finite(plain.cast(pl.Float64, strict=False))


def _grouped(marks: Marks) -> str:
    """Match a number whose thousands are parted, with three digits in every group but the first."""
    thousands, decimal = re.escape(marks.thousands), re.escape(marks.decimal)
    return rf"^[+-]?\d{{1,3}}(?:{thousands}\d{{3}})+(?:{decimal}\d*)?(?:[eE][+-]?\d+)?$"


def marks_typed(text: pl.Series, own: Marks) -> Marks:
    """Tell by which marks typed numbers are to be read.

    The marks of the table hold, unless the texts can only be meant otherwise: 12,5 is a decimal
    comma in any table. 1,234 could be either, so that it is read by the table's marks or not at all.

    Parameters
    ----------
    text : polars.Series
        What was typed or pasted together.
    own : Marks
        How the table's file wrote numbers.
    """
    for decimal, thousands in ((".", ","), (",", ".")):
        # 1.234,5 and 1,234,567 can be meant in one way only.
        if _any(text, _both(thousands, decimal)):
            return Marks(decimal, thousands, own.day_first)
    other = "," if own.decimal == "." else "."
    is_other = (
        _any(text, _decimal(other)) and not text.str.contains(own.decimal, literal=True).any()
    )
    return Marks(other, "", own.day_first) if is_other else own


def could_be_two(text: str, decimal: str) -> tuple[str, str] | None:
    """Spell out the two numbers that a text with one mark before three digits could be.

    None where it can be one number at most, or is read by the decimal mark.
    """
    other = "," if decimal == "." else "."
    found = re.fullmatch(rf"([+\-−]?[1-9]\d{{0,2}}){re.escape(other)}(\d{{3}})", text.strip())
    return None if found is None else (found[1] + found[2], f"{found[1]}{decimal}{found[2]}")


def _any(text: pl.Series, pattern: str) -> bool:
    return bool(text.str.contains(pattern).any())


def _both(thousands: str, decimal: str) -> str:
    """Match a number that has both marks, or the mark between thousands more than once."""
    t, d = re.escape(thousands), re.escape(decimal)
    return rf"^[+\-−]?\d{{1,3}}(?:(?:{t}\d{{3}})+{d}\d+|(?:{t}\d{{3}}){{2,}})$"


def _decimal(mark: str) -> str:
    """Match a number whose one mark cannot part thousands."""
    m = re.escape(mark)
    return rf"^[+\-−]?(?:\d*{m}\d{{1,2}}|\d*{m}\d{{4,}}|0*{m}\d+|\d{{4,}}{m}\d+)$"


def finite(values: pl.Series) -> pl.Series:
    """Leave out "inf" and "nan", which are not amounts."""
    finite = values.is_finite()
    return values if finite.all() else values.set(~finite, None)
