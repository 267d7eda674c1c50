"""What a kind of variable says of itself: everything that others need to know about it."""

from __future__ import annotations

import datetime as dt
from abc import ABC, abstractmethod
from dataclasses import dataclass
from enum import StrEnum
from typing import Any, ClassVar

import numpy as np
import numpy.typing as npt
import polars as pl

from yarrowdew.tables.columns import column_named
from yarrowdew.tables.dates import in_calendar

Places = npt.NDArray[np.float64]


class Kind(StrEnum):
    """Type of a variable."""

    NUMBER = "number"
    CATEGORY = "category"
    DATE = "date"
    TEXT = "text"


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


@dataclass(frozen=True, slots=True)
class Native:
    """Values that know their type, as a kind holds them, and what they count in."""

    values: pl.Series
    unit: str = ""


class VariableKind(ABC):
    """A kind of variable.

    Attributes
    ----------
    kind : Kind
    plural : str
        What a variable of it holds: "numbers".
    example : str
        What one of its values is, with an example where that helps: "a date such as 2031-04-01".
    package_types : tuple of str
        Types of a data package's fields that are read as this kind.
    gives : str
        What its values are in an expression.
    """

    kind: ClassVar[Kind]
    plural: ClassVar[str]
    example: ClassVar[str]
    package_types: ClassVar[tuple[str, ...]]
    gives: ClassVar[str] = "text"
    on_axis: ClassVar[bool] = False

    @abstractmethod
    def holds(self, column: pl.Series) -> bool:
        """Whether a column that knows its type is of this kind."""

    @abstractmethod
    def native(self, column: pl.Series) -> Native:
        """Take the values of such a column."""

    @abstractmethod
    def read(self, text: pl.Series, marks: Marks) -> Typed:
        """Read text; what cannot be read becomes null and is counted."""

    def package_type(self, column: pl.Series) -> str:
        """Name the type of a column in a data package."""
        return self.package_types[0]

    def package_more(self, column: pl.Series) -> dict[str, Any]:
        """What else a data package says of a column."""
        return {}

    def in_expression(self, column: pl.Expr) -> pl.Expr:
        """A column as expressions work with it."""
        return column.cast(pl.String)

    def summary(self, present: pl.Series) -> dict[str, Any]:
        """Describe values of which none is missing."""
        return {}

    def alike(self, column: pl.Series, values: pl.Series) -> tuple[pl.Series, pl.Series]:
        """Bring a column and further values of this kind to one type that holds both."""
        return column, values.cast(column.dtype)


class AxisKind(VariableKind):
    """A kind whose values have a place on an axis."""

    on_axis: ClassVar[bool] = True

    def places(self, column: pl.Series) -> Places:
        """Values as they stand on an axis, NaN where missing."""
        return column.cast(pl.Float64).to_numpy()

    def origin(self, places: Places) -> float:
        """Where values count from when something is fitted to them."""
        return 0.0

    def origin_note(self, letter: str, origin: float) -> str:
        """Say what a letter of an equation counts, where that is not the value itself."""
        return ""

    def difference_unit(self, unit: str) -> str:
        """What a difference between two values counts in."""
        return unit

    @abstractmethod
    def back(self, places: Places) -> pl.Series:
        """Turn places on an axis into the values that stand there; missing where there are none."""

    @abstractmethod
    def written(self, place: float) -> float | str | None:
        """Turn a place into what a reader sees there; None where there is nothing."""

    @abstractmethod
    def place_of(self, text: str) -> float:
        """Turn what a reader types into a place; raise ValueError where it is nothing of this
        kind.
        """

    @abstractmethod
    def end(self, text: float | str) -> float | dt.date:
        """Turn an end of a range into what values are compared with; raise ValueError."""

    def beside(self, column: pl.Series, end: float | dt.date) -> pl.Series:
        """Values such as they can be compared with an end."""
        return column


def as_text(column: pl.Series) -> pl.Series:
    """Write every value as text from which it can be read again."""
    return texts_of(column.to_frame())[column.name]


def texts_of(frame: pl.DataFrame) -> pl.DataFrame:
    """Write every value of every column as text; all columns together, as they may be many."""
    return frame.select(_as_text(column_named(name), dtype) for name, dtype in frame.schema.items())


def _as_text(column: pl.Expr, dtype: pl.DataType) -> pl.Expr:
    if dtype == pl.Float64:
        whole = (column == column.round()) & (column.abs() < 2**53)
        integer = column.cast(pl.Int64, strict=False).cast(pl.String)
        return pl.when(whole).then(integer).otherwise(column.cast(pl.String))
    if isinstance(dtype, pl.Duration):
        column = column.dt.total_microseconds() / 3_600_000_000
    if dtype == pl.Date or isinstance(dtype, pl.Datetime):
        # Beyond the calendar there is no way to write a date.
        column = pl.when(in_calendar(column, dtype)).then(column)
    return column.cast(pl.String)


def unread(values: pl.Series, text: pl.Series) -> int:
    """How many values were there and could not be read."""
    return values.null_count() - text.null_count()
