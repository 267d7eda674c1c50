"""A variable's values on an axis, and the way back from there."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from yarrowdew.core.sample import Array
from yarrowdew.tables.errors import TableError
from yarrowdew.tables.table import Kind, Table, Variable, axis_values, date_on_axis


@dataclass(frozen=True, slots=True)
class AxisValues:
    """A variable on an axis, as fits see it: dates count from the first one."""

    variable: Variable
    values: Array
    origin: float

    @classmethod
    def of(cls, table: Table, name: str, place: str) -> AxisValues:
        """Take a variable of a table; raise TableError where it has no place on an axis."""
        variable = table.axis_variable(name, place)
        values = axis_values(table.frame[variable.name])
        origin = 0.0
        if variable.kind is Kind.DATE and np.isfinite(values).any():
            origin = math.floor(float(np.nanmin(values)))
        return cls(variable, values, origin)

    def fitted(self) -> Array:
        """Values as they are fitted."""
        return self.values - self.origin if self.origin else self.values

    def note(self, letter: str) -> str:
        """Say what a letter of the equation stands for, where it is a date."""
        if self.variable.kind is not Kind.DATE:
            return ""
        return f"{letter} in days since {date_on_axis(self.origin).date().isoformat()}"

    def written(self, value: float | None) -> float | str | None:
        """Turn a fitted value into what a reader sees: a number, or a date as ISO text."""
        if value is None or self.variable.kind is not Kind.DATE or not math.isfinite(value):
            return value
        try:
            moment = date_on_axis(self.origin + value)
        except OverflowError:
            return None
        return moment.isoformat(timespec="minutes") if value % 1 else moment.date().isoformat()

    def asked(self, text: str) -> float:
        """Turn a reader's number, or date as ISO text, into a fitted value."""
        try:
            if self.variable.kind is Kind.DATE:
                return float(np.datetime64(text, "D").astype(int)) - self.origin
            value = float(text)
            if math.isfinite(value):
                return value
        except ValueError:
            pass
        wanted = "a date such as 2031-04-01" if self.variable.kind is Kind.DATE else "a number"
        raise TableError(
            f"'{text}' is not {wanted}.",
            f"'{self.variable.name}' is read off at {wanted}.",
            column=self.variable.name,
        )


@dataclass(frozen=True, slots=True)
class Amounts:
    """A number variable and its values, NaN where missing."""

    variable: Variable
    values: Array


def amounts_of(table: Table, name: str) -> Amounts:
    """Take a variable's values as amounts; raise TableError where it holds words."""
    axis = AxisValues.of(table, name, "as an amount")
    return Amounts(axis.variable, axis.values)
