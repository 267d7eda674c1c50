"""Looking through the rows of a table: in an order, and by what they hold."""

from __future__ import annotations

from typing import Annotated

import numpy as np
import numpy.typing as npt
import polars as pl
from pydantic import ConfigDict, Field

from yarrowdew.tables.documented import Documented
from yarrowdew.tables.kinds import as_text
from yarrowdew.tables.table import Table


class RowOrder(Documented):
    """Which rows to return, and in which order."""

    model_config = ConfigDict(extra="forbid", frozen=True)

    sort: Annotated[str, Field(max_length=200)] | None = None
    """The variable by which rows are put in order; the table's own order where null."""
    descending: bool = False
    find: str = Field(default="", max_length=500)
    """Only rows of which some value contains this; capitals do not matter."""

    def variables(self, table: Table) -> list[str]:
        """Name the columns that it needs."""
        if self.find:
            return [v.name for v in table.variables]
        return [self.sort] if self.sort else []


def places_in_order(table: Table, order: RowOrder) -> npt.NDArray[np.intp]:
    """Find the places of the rows that are looked through, in their order.

    Missing values come last, and rows that are alike keep the order of the table.

    Raises
    ------
    TableError
        If there is no such variable.
    """
    places = np.arange(table.rows)
    if order.sort is not None:
        column = table.frame[table.variable(order.sort).name].alias("key")
        numbered = column.to_frame().with_row_index("place")
        places = numbered.sort(
            "key", descending=order.descending, nulls_last=True, maintain_order=True
        )["place"].to_numpy()
    if order.find:
        wanted = order.find.lower()
        found = pl.select(
            pl.any_horizontal(
                pl.lit(as_text(column)).str.to_lowercase().str.contains(wanted, literal=True)
                for column in table.frame
            ).fill_null(value=False)
        ).to_series()
        places = places[found.to_numpy()[places]]
    return places.astype(np.intp)
