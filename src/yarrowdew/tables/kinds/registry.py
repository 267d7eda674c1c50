"""Every kind of variable there is, in the order in which a column is asked whether it is of one."""

from __future__ import annotations

import polars as pl

from yarrowdew.tables.kinds.base import AxisKind, Kind, Marks, Typed, VariableKind, as_text, unread
from yarrowdew.tables.kinds.category import CategoryKind
from yarrowdew.tables.kinds.date import DateKind
from yarrowdew.tables.kinds.number import NumberKind
from yarrowdew.tables.kinds.text import TextKind

KINDS: dict[Kind, VariableKind] = {
    one.kind: one for one in (NumberKind(), DateKind(), CategoryKind(), TextKind())
}


def of_kind(kind: Kind) -> VariableKind:
    """Find what there is to know of a kind."""
    return KINDS[kind]


def axis_kind(kind: Kind) -> AxisKind:
    """Find what there is to know of a kind whose values have a place on an axis."""
    found = KINDS[kind]
    assert isinstance(found, AxisKind)  # noqa: S101 (whoever asks has seen to it)
    return found


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
    wanted = KINDS[kind]
    if native_kind(column) is kind:
        native = wanted.native(column)
        return Typed(native.values, kind, unread(native.values, column), unit=native.unit)
    return wanted.read(as_text(column), marks)


def native_kind(column: pl.Series) -> Kind | None:
    """Return the kind of a column that knows its type; None for text, which may be any."""
    if column.dtype == pl.String:
        return None
    return next(kind for kind, one in KINDS.items() if one.holds(column))
