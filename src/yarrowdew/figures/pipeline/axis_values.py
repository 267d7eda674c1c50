"""A variable's values on an axis, and the way back from there."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from yarrowdew.core.sample import Array, Mask
from yarrowdew.tables.errors import TableError
from yarrowdew.tables.kinds import AxisKind, axis_kind
from yarrowdew.tables.table import Table, Variable, axis_values


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
        return cls(variable, values, axis_kind(variable.kind).origin(values))

    @property
    def known(self) -> Mask:
        """Where there is a value."""
        return np.isfinite(self.values)

    def fitted(self) -> Array:
        """Values as they are fitted."""
        return self.values - self.origin if self.origin else self.values

    def note(self, letter: str) -> str:
        """Say what a letter of the equation stands for, where it is a date."""
        return self._kind.origin_note(letter, self.origin)

    def written(self, value: float | None) -> float | str | None:
        """Turn a fitted value into what a reader sees: a number, or a date as ISO text."""
        return None if value is None else self._kind.written(self.origin + value)

    def asked(self, text: str) -> float:
        """Turn a reader's number, or date as ISO text, into a fitted value."""
        try:
            return self._kind.place_of(text) - self.origin
        except ValueError as error:
            wanted = self._kind.example
            raise TableError(
                f"'{text}' is not {wanted}.",
                f"'{self.variable.name}' is read off at {wanted}.",
                column=self.variable.name,
            ) from error

    @property
    def _kind(self) -> AxisKind:
        return axis_kind(self.variable.kind)


@dataclass(frozen=True, slots=True)
class Amounts:
    """A number variable and its values, NaN where missing."""

    variable: Variable
    values: Array


def amounts_of(table: Table, name: str) -> Amounts:
    """Take a variable's values as amounts; raise TableError where it holds words."""
    axis = AxisValues.of(table, name, "the colour variable")
    return Amounts(axis.variable, axis.values)


FURTHEST, NEAREST = 1e306, 1e-304
"""Values beyond, or apart by less, have no place on a page in double precision."""


def check_drawable(variable: Variable, low: float | None, high: float | None) -> None:
    """Refuse values whose places on a page could not be computed.

    Raises
    ------
    TableError
        That says what to do.
    """
    if low is None or high is None:
        return
    if max(abs(low), abs(high)) > FURTHEST:
        raise TableError(
            f"Values of '{variable.label}' beyond 10³⁰⁶ cannot be drawn.",
            f"Derive a variable in other units, such as {variable.name} / 1e10.",
            column=variable.name,
        )
    # One value alone gets a tenth of itself as room.
    if 0 < (high - low or abs(low) / 10) < NEAREST:
        raise TableError(
            f"Values of '{variable.label}' that lie within 10⁻³⁰⁴ of one another cannot be drawn.",
            f"Derive a variable in other units, such as {variable.name} * 1e10.",
            column=variable.name,
        )
