"""What a variable holds, in a few numbers."""

from __future__ import annotations

from concurrent.futures import ThreadPoolExecutor

import polars as pl
from pydantic import BaseModel

from yarrowdew.tables.kinds import of_kind
from yarrowdew.tables.table import (
    Kind,
    Table,
    Variable,
)

DISTRIBUTION_BINS = 12
MOST_COUNTS = 100


class VariableSummary(BaseModel):
    """Summary of a variable; what does not exist for its type is null."""

    name: str
    label: str
    unit: str
    kind: Kind
    missing: int
    distinct: int | None = None
    """How many different values there are; null where they are not counted."""
    min: float | str | None = None
    max: float | str | None = None
    mean: float | None = None
    sd: float | None = None
    lower_quartile: float | None = None
    median: float | None = None
    upper_quartile: float | None = None
    counts: dict[str, int] | None = None
    """Rows in each category, in the categories' order."""
    recipe: str | None = None
    """The expression that it is made by, where it is derived."""
    distribution: list[int] | None = None
    """Rows in each of twelve equal steps from smallest to largest."""


class TableSummary(BaseModel):
    """A table in a few numbers."""

    rows: int
    variables: list[VariableSummary]


def summarise(table: Table) -> TableSummary:
    """Summarise every variable of a table."""
    with ThreadPoolExecutor() as pool:
        described = pool.map(
            summarise_variable, table.variables, (table.frame[v.name] for v in table.variables)
        )
        return TableSummary(rows=table.rows, variables=list(described))


def summarise_variable(variable: Variable, column: pl.Series) -> VariableSummary:
    """Summarise one variable."""
    present = column.drop_nulls()
    numbers = of_kind(variable.kind).summary(present)
    if "distinct" not in numbers:
        numbers["distinct"] = present.n_unique()
    return VariableSummary(
        name=variable.name,
        label=variable.label,
        unit=variable.unit,
        kind=variable.kind,
        missing=column.null_count(),
        **numbers,
    )
