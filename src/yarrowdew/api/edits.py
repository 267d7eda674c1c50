"""Changes of tables as they come over the wire."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from yarrowdew.api.models import Name, VariableName, Wire
from yarrowdew.tables.field_roles import RowNumber
from yarrowdew.tables.row_pages import RowOrder
from yarrowdew.tables.table import Kind


class TypedVariableIn(Wire):
    """A variable without values, to be filled in."""

    name: VariableName
    kind: Kind = Kind.NUMBER
    unit: str = Field(default="", max_length=100)


class NewVariableIn(TypedVariableIn):
    """A variable to be filled in, or one that tells rows that were chosen from all others."""

    chosen: list[RowNumber] | None = Field(default=None, max_length=5_000_000)
    """Numbers of rows; with them the variable is of categories: its own name, and "others"."""


class TypedTableIn(Wire):
    """A table that is typed from nothing."""

    name: Name
    variables: list[TypedVariableIn] = Field(min_length=1, max_length=100)
    rows: int = Field(default=5, ge=1, le=10_000)


class StackIn(Wire):
    """Columns that each hold one group, to become two variables."""

    shape: Literal["stack"]
    table: str = Field(max_length=64)
    variables: list[str] = Field(min_length=1, max_length=2000)
    name: VariableName = "name"
    value: VariableName = "value"
    numbered: bool = False
    """Whether the numbers at the end of the columns' names are taken in the place of the names."""


class SpreadIn(Wire):
    """Two variables, which group and its value, to become a column for each group."""

    shape: Literal["spread"]
    table: str = Field(max_length=64)
    name: str = Field(max_length=200)
    value: str = Field(max_length=200)


class JoinIn(Wire):
    """Rows of two tables to be joined on a shared variable."""

    shape: Literal["join"]
    table: str = Field(max_length=64)
    on: str = Field(max_length=200)
    other: str = Field(max_length=64)
    """Id of the other table."""
    other_on: str = Field(max_length=200)
    keep_all: bool = True
    """Whether rows without a match in the other table are kept."""


ShapeIn = Annotated[StackIn | SpreadIn | JoinIn, Field(discriminator="shape")]


class CellIn(Wire):
    """A value as it was typed; missing where blank."""

    row: RowNumber
    """The row's own number, from 0."""
    variable: str = Field(max_length=200)
    text: str = Field(max_length=10_000)


class PasteIn(Wire):
    """A block of text, written downwards and to the right."""

    start: int = Field(ge=0, lt=2**32)
    """Which of the rows looked through is the first that is written."""
    variable: str = Field(max_length=200)
    block: list[
        Annotated[list[Annotated[str, Field(max_length=10_000)]], Field(max_length=2000)]
    ] = Field(max_length=1_000_000)
    order: RowOrder = Field(default_factory=RowOrder)


class NewRowsIn(Wire):
    """Blank rows."""

    count: int = Field(ge=1, le=100_000)
    before: RowNumber | None = None
    """Number of the row above which they are inserted; at the end where null."""


class RowsEdit(Wire):
    """One change of a table's rows; every part is optional, and it is undone as one step."""

    add: NewRowsIn | None = None
    cells: list[CellIn] = Field(default_factory=list, max_length=100_000)
    paste: PasteIn | None = None
    delete: list[RowNumber] = Field(default_factory=list, max_length=1_000_000)
    """Numbers of rows."""


class VersionIn(Wire):
    """The version of a table to restore."""

    version: int = Field(ge=1, lt=2**31)
