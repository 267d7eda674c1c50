"""Row filters: which rows of a table are kept."""

from __future__ import annotations

from typing import Annotated, Literal

import polars as pl
from pydantic import ConfigDict, Field

from yarrowdew.tables.documented import Documented
from yarrowdew.tables.errors import TableError
from yarrowdew.tables.field_roles import VariableName
from yarrowdew.tables.kinds import AxisKind, as_text, of_kind
from yarrowdew.tables.table import Table, Variable

End = Annotated[float, Field(allow_inf_nan=False)] | Annotated[str, Field(max_length=40)] | None
Test = Literal["between", "one_of", "not_one_of", "contains", "missing", "present"]


class Condition(Documented):
    """One condition on one variable; the test decides which other fields apply."""

    model_config = ConfigDict(extra="forbid")

    variable: VariableName
    test: Test
    low: End = None
    """Smallest value kept, for `between`: a number, or a date as ISO text; null for no end."""
    high: End = None
    values: list[Annotated[str, Field(max_length=500)]] = Field(
        default_factory=list, max_length=500
    )
    """For `one_of` and `not_one_of`."""
    text: str = Field(default="", max_length=500)
    """For `contains`; capitals do not matter."""


class RowFilter(Documented):
    """Conditions, all or any of which must be met."""

    model_config = ConfigDict(extra="forbid")

    join: Literal["and", "or"] = "and"
    conditions: list[Condition] = Field(min_length=1, max_length=50)

    def variables(self) -> list[str]:
        """Names of the variables that it looks at."""
        return [c.variable for c in self.conditions]


class SavedFilter(Documented):
    """A named filter, for every figure of its table."""

    model_config = ConfigDict(extra="forbid")

    name: Annotated[str, Field(min_length=1, max_length=200)]
    table: str = Field(max_length=64)
    filter: RowFilter


def kept_rows(table: Table, row_filter: RowFilter) -> pl.Series:
    """Find the rows that a filter keeps.

    A missing value meets no condition but `missing` and `not_one_of`.

    Parameters
    ----------
    table : Table
        With the columns that the filter looks at.
    row_filter : RowFilter

    Returns
    -------
    polars.Series of Boolean
        True for rows that are kept.

    Raises
    ------
    TableError
        If there is no such variable, or a test does not fit its kind.
    """
    kept = None
    for condition in row_filter.conditions:
        variable = table.variable(condition.variable)
        test = _tested(variable, table.frame[variable.name], condition).fill_null(value=False)
        joined = row_filter.join == "and"
        kept = test if kept is None else kept & test if joined else kept | test
    assert kept is not None  # noqa: S101 (a filter has a condition)
    return kept.alias("kept")


def _tested(variable: Variable, column: pl.Series, condition: Condition) -> pl.Series:
    if condition.test == "missing":
        return column.is_null()
    if condition.test == "present":
        return column.is_not_null()
    if condition.test == "between":
        return _between(variable, column, condition)
    # Numbers as people write them: 4, not 4.0.
    text = as_text(column)
    if condition.test == "contains":
        return text.str.to_lowercase().str.contains(condition.text.lower(), literal=True)
    chosen = text.is_in(pl.Series(condition.values, dtype=pl.String).implode())
    return chosen if condition.test == "one_of" else ~chosen.fill_null(value=False)


def _between(variable: Variable, column: pl.Series, condition: Condition) -> pl.Series:
    kind = of_kind(variable.kind)
    if not isinstance(kind, AxisKind):
        raise TableError(
            f"'{variable.name}' holds {kind.plural}, which have no smallest and largest.",
            "Choose the values to keep instead.",
            column=variable.name,
        )
    kept = column.is_not_null()
    for end, is_low in ((condition.low, True), (condition.high, False)):
        if end is None or end == "":
            continue
        try:
            at = kind.end(end)
        except (ValueError, OverflowError) as error:
            raise TableError(
                f"'{end}' is not {kind.example}.",
                f"Rows are kept by '{variable.name}'.",
                column=variable.name,
            ) from error
        values = kind.beside(column, at)
        kept = kept & (values >= at if is_low else values <= at)
    return kept
