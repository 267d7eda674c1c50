"""The figure that a table starts with."""

from __future__ import annotations

import re

import numpy as np

from yarrowdew.figures.figure import FigureDocument
from yarrowdew.tables.errors import TableError
from yarrowdew.tables.kinds import could_be_category
from yarrowdew.tables.table import Kind, Table, Variable

_NAMES_ROWS = re.compile(
    r"^(?:(?:row|record|case|obs|observation|line|item|sample|station|plot|unnamed)?[ _.:-]*"
    r"(?:id|ids|no|nr|num|number|index|idx|key|code|#)\.?|row|rows|unnamed(?:: ?\d+)?|column \d+)$",
    re.IGNORECASE,
)
_FEWEST_COUNTED = 5
"""Fewer rows than this may rise by one by chance."""


def suggest_figure(table: Table, table_id: str) -> FigureDocument:
    """Make the first figure of a table.

    A date goes across where there is one. What only counts or names the rows is neither axis, as
    long as there is something else; amounts come before codes of groups.

    Raises
    ------
    TableError
        If fewer than two variables can stand on an axis, saying what was read instead.
    """
    numbers = [v for v in table.variables if v.kind is Kind.NUMBER]
    dates = [v.name for v in table.variables if v.kind is Kind.DATE]
    wanted = 1 if dates else 2
    if len(numbers) < wanted:
        held = f"only '{numbers[0].name}'" if numbers else "no variable"
        raise TableError(
            f"{table.name} has {held} of numbers; a scatterplot needs two, or one and a date.",
            "Check the header row and each variable's kind where the file is read.",
        )
    measured = [v for v in numbers if not _names_rows(v, table)]
    amounts = [v for v in measured if not could_be_category(table.frame[v.name])]
    # Each list only where it leaves enough to choose from.
    chosen = next(some for some in (amounts, measured, numbers) if len(some) >= wanted)
    across = dates[0] if dates else chosen[0].name
    return FigureDocument(table=table_id, x=across, y=[chosen[-1].name])


def _names_rows(variable: Variable, table: Table) -> bool:
    """Whether a variable counts the rows, or is called as identifiers are and holds no two alike."""
    values = table.frame[variable.name].drop_nulls().to_numpy()
    if len(values) < _FEWEST_COUNTED or not bool((values == np.round(values)).all()):
        return False
    if bool((np.diff(values) == 1).all()) and values[0] in (0, 1):
        return True
    is_called_so = bool(_NAMES_ROWS.match(variable.name.strip()))
    return is_called_so and len(np.unique(values)) == len(values)
