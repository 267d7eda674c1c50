"""Types of fields that name something of a table: a variable, a category or a row.

From them follow, for every model that uses them, which variables it needs, and what of it may go
out when it is shared.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Literal

from pydantic import Field

from yarrowdew.tables.kinds.category import MOST_LETTERS
from yarrowdew.tables.naming import LONGEST_NAME
from yarrowdew.tables.table import MOST_ROW_NUMBER

Held = Literal["variable", "category", "row", "words"]


@dataclass(frozen=True, slots=True)
class RefersTo:
    """Marks a type whose values name something of a table, or are words that may name anything."""

    what: Held


VariableName = Annotated[str, Field(min_length=1, max_length=LONGEST_NAME), RefersTo("variable")]
CategoryName = Annotated[str, Field(max_length=MOST_LETTERS), RefersTo("category")]
"""A category as figures call it."""
RowNumber = Annotated[int, Field(ge=0, le=MOST_ROW_NUMBER), RefersTo("row")]
RowKey = Annotated[str, Field(pattern=r"^\d{1,10}$"), RefersTo("row")]
"""A row number as a key of JSON."""
