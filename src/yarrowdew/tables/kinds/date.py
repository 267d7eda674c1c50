"""Dates, with or without a time of day; on an axis they are days since 1970-01-01."""

from __future__ import annotations

import datetime as dt
import math
from typing import Any

import numpy as np
import polars as pl

from yarrowdew.tables.dates import UTC, read_moments, within_calendar
from yarrowdew.tables.kinds.base import AxisKind, Kind, Marks, Native, Places, Typed, unread
from yarrowdew.tables.kinds.ordered import in_steps

EPOCH = dt.datetime(1970, 1, 1)
_MICROSECONDS_A_DAY = 86_400_000_000
_A_DAY = len("2031-04-01")
_MOST_DAYS = 4e6
"""More than from the first year of the calendar to its last."""


class DateKind(AxisKind):
    """Dates."""

    kind = Kind.DATE
    plural = "dates"
    example = "a date such as 2031-04-01"
    package_types = ("date", "datetime")
    gives = "a date"

    def holds(self, column: pl.Series) -> bool:
        """Whether a column holds dates."""
        return column.dtype == pl.Date or isinstance(column.dtype, pl.Datetime)

    def native(self, column: pl.Series) -> Native:
        """Take dates as they are; moments with a zone are kept in UTC."""
        unit = ""
        # First of all: beyond the calendar a date can be turned into nothing else.
        column = within_calendar(column)
        if isinstance(column.dtype, pl.Datetime):
            if column.dtype.time_zone is not None:
                unit = UTC
                column = column.dt.convert_time_zone("UTC").dt.replace_time_zone(None)
            column = column.cast(pl.Datetime("us"))
        return Native(column, unit)

    def read(self, text: pl.Series, marks: Marks) -> Typed:
        """Read dates in whichever way they are written."""
        read = read_moments(text, marks.day_first)
        zone = UTC if read.zoned else ""
        return Typed(read.values, self.kind, unread(read.values, text), read.ambiguous, zone)

    def package_type(self, column: pl.Series) -> str:
        """Dates without a time of day are a type of their own."""
        return "date" if column.dtype == pl.Date else "datetime"

    def places(self, column: pl.Series) -> Places:
        """Days since 1970-01-01."""
        if column.dtype == pl.Date:
            return column.cast(pl.Int32).cast(pl.Float64).to_numpy()
        micros = column.cast(pl.Datetime("us")).cast(pl.Int64).cast(pl.Float64)
        return (micros / _MICROSECONDS_A_DAY).to_numpy()

    def in_expression(self, column: pl.Expr) -> pl.Expr:
        """Moments, so that days can be compared with them."""
        return column.cast(pl.Datetime("us"))

    def difference_unit(self, unit: str) -> str:
        """Days."""
        return "days"

    def back(self, places: Places) -> pl.Series:
        """Moments, where the calendar has some."""
        there = pl.Series(np.where(np.abs(places) < _MOST_DAYS, places, np.nan))
        known = there.set(~there.is_finite(), None)
        moments = (known * _MICROSECONDS_A_DAY).round().cast(pl.Int64).cast(pl.Datetime("us"))
        return within_calendar(moments)

    def origin(self, places: Places) -> float:
        """The first day."""
        return math.floor(float(np.nanmin(places))) if np.isfinite(places).any() else 0.0

    def origin_note(self, letter: str, origin: float) -> str:
        """Say which day is the first."""
        return f"{letter} in days since {date_on_axis(origin).date().isoformat()}"

    def written(self, place: float) -> float | str | None:
        """ISO text, with the minutes where it is no whole day; None beyond the calendar."""
        if not math.isfinite(place):
            return place
        try:
            moment = date_on_axis(place)
        except OverflowError:
            return None
        return moment.isoformat(timespec="minutes") if place % 1 else moment.date().isoformat()

    def place_of(self, text: str) -> float:
        """Read a day as ISO text."""
        return float(np.datetime64(text, "D").astype(int))

    def end(self, text: float | str) -> dt.date:
        """Read a day, or a moment, which is kept in UTC."""
        moment = dt.datetime.fromisoformat(str(text))
        if len(str(text)) <= _A_DAY:
            return moment.date()
        return moment.astimezone(dt.UTC).replace(tzinfo=None) if moment.tzinfo else moment

    def beside(self, column: pl.Series, end: float | dt.date) -> pl.Series:
        """A date without a time means the whole of its day."""
        return column.cast(pl.Datetime("us") if isinstance(end, dt.datetime) else pl.Date)

    def summary(self, present: pl.Series) -> dict[str, Any]:
        """The first and the last."""
        if not len(present):
            return {}
        ordered, common = in_steps(self.places(present))
        return {"min": _whole(float(ordered[0])), "max": _whole(float(ordered[-1])), **common}

    def alike(self, column: pl.Series, values: pl.Series) -> tuple[pl.Series, pl.Series]:
        """Days beside moments become moments."""
        if column.dtype == pl.Date and isinstance(values.dtype, pl.Datetime):
            return column.cast(pl.Datetime("us")), values.cast(pl.Datetime("us"))
        return super().alike(column, values)


def date_on_axis(days: float) -> dt.datetime:
    """Turn a place on a date axis back into its date."""
    return EPOCH + dt.timedelta(days=days)


def _whole(days: float) -> str:
    moment = date_on_axis(days)
    if days == int(days):
        return moment.date().isoformat()
    # Seconds only where there are some.
    whole = moment.second == 0 and moment.microsecond == 0
    return moment.isoformat(timespec="minutes" if whole else "auto")
