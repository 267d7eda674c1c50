"""The figure that a table starts with."""

from __future__ import annotations

from yarrowdew.figures.document import FigureDocument
from yarrowdew.tables.errors import TableError
from yarrowdew.tables.table import Kind, Table


def suggest_figure(table: Table, table_id: str) -> FigureDocument:
    """Make the first figure of a table: its last number against its first, or against its date.

    Raises
    ------
    TableError
        If fewer than two variables can stand on an axis, saying what was read instead.
    """
    numbers = [v.name for v in table.variables if v.kind is Kind.NUMBER]
    dates = [v.name for v in table.variables if v.kind is Kind.DATE]
    across = numbers[:1] if len(numbers) > 1 else dates[:1]
    if not numbers or not across:
        held = f"only '{numbers[0]}'" if numbers else "no variable"
        raise TableError(
            f"{table.name} has {held} of numbers; a scatterplot needs two, or one and a date.",
            "Check the header row and each variable's kind where the file is read.",
        )
    return FigureDocument(table=table_id, x=across[0], y=[numbers[-1]])
