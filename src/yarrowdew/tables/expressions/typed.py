"""Nodes that make sense: each with the type that it gives."""

from __future__ import annotations

import datetime as dt
from dataclasses import dataclass, replace

from yarrowdew.core.expressions.tree import ExpressionError, Node, Type
from yarrowdew.tables.table import Variable


@dataclass(frozen=True, slots=True)
class Checked:
    """A node that makes sense, with what it gives.

    Attributes
    ----------
    node : Node
    type : Type
    parts : tuple of Checked
        What it is made of.
    variable : Variable or None
        That a name stands for.
    constant : float or str or datetime, or None
        Its value, where that is the same for every row and is written down.
    """

    node: Node
    type: Type
    parts: tuple[Checked, ...] = ()
    variable: Variable | None = None
    constant: float | str | dt.datetime | None = None

    @property
    def position(self) -> int:
        """Where it begins in the text."""
        return self.node.position


def need(part: Checked, wanted: Type, what: str) -> None:
    """Raise where a part is of another type."""
    if part.type is not wanted:
        raise ExpressionError(f"{what}, and this is {part.type.value}", part.position)


def alike(left: Checked, right: Checked) -> tuple[Checked, Checked]:
    """Read a text beside a date as a date."""
    if left.type is Type.DATE and right.type is Type.TEXT:
        return left, _dated(right)
    if right.type is Type.DATE and left.type is Type.TEXT:
        return _dated(left), right
    return left, right


def _dated(part: Checked) -> Checked:
    try:
        moment = dt.datetime.fromisoformat(str(part.constant))
        if moment.tzinfo is not None:
            # Dates with a zone are kept in UTC.
            moment = moment.astimezone(dt.UTC).replace(tzinfo=None)
    except (ValueError, OverflowError) as error:
        raise ExpressionError(
            f"'{part.constant}' is not a date such as '2031-04-01'", part.position
        ) from error
    return replace(part, type=Type.DATE, constant=moment)
