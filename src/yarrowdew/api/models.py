"""What goes over the wire and is defined nowhere else."""

from __future__ import annotations

from typing import Annotated

from pydantic import BaseModel, ConfigDict, Field, StringConstraints

from yarrowdew.figures.document import FigureDocument
from yarrowdew.tables.reading import ReadOptions
from yarrowdew.tables.summary import TableSummary
from yarrowdew.tables.table import Kind

Name = Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=200)]


class _Wire(BaseModel):
    model_config = ConfigDict(extra="forbid", use_attribute_docstrings=True)


class ServerLimits(_Wire):
    """What the server takes."""

    max_upload_bytes: int


class StudyIn(_Wire):
    """A study to make or rename."""

    name: Name


class StudyOut(_Wire):
    """A study without its contents."""

    id: str
    name: str
    changed: str


class TableOut(_Wire):
    """A table without its values."""

    id: str
    study: str
    name: str
    summary: TableSummary


class FigureOut(_Wire):
    """A figure as it was last saved; its revision is the entity tag."""

    id: str
    study: str
    revision: int
    document: FigureDocument


class StudyContents(StudyOut):
    """A study with its tables and figures."""

    tables: list[TableOut]
    figures: list[FigureOut]


class UploadOut(_Wire):
    """A file that was sent and is not yet part of any study."""

    id: str
    name: str
    size: int


class PreviewVariable(_Wire):
    """A variable as it would be read."""

    name: str
    label: str
    unit: str
    kind: Kind
    could_be_category: bool
    """Whether its numbers may be codes of groups."""
    missing: int
    unread: int
    """Values that are there but cannot be read as this kind."""
    unread_example: str | None = None
    """The first of them and its row."""


class Preview(_Wire):
    """A file as it would be read: the first rows, and every guess."""

    name: str
    rows: int
    options: ReadOptions
    variables: list[PreviewVariable]
    head: list[list[str | None]]
    """The first 200 rows as text; null where missing."""
    cautions: list[str]
    sheets: list[str] = []
    """Tables that the file offers, where it offers several."""
    ambiguous: list[str] = []
    """Variables of dates whose day and month could be either way round."""


class TableIn(_Wire):
    """A file to take into a study."""

    upload: str = Field(max_length=64)
    name: Name | None = None
    options: ReadOptions = Field(default_factory=ReadOptions)
    keep: bool = False
    """Whether the file waits on, because more of its sheets are to be taken."""


class VariableIn(_Wire):
    """What of a variable is to change; null leaves it as it is."""

    label: Name | None = None
    unit: Annotated[str, StringConstraints(strip_whitespace=True, max_length=100)] | None = None
    kind: Kind | None = None


VariableName = Annotated[
    str, StringConstraints(strip_whitespace=True, min_length=1, max_length=200, pattern=r"^[^{}]+$")
]


class DerivedIn(_Wire):
    """A variable to be made from others."""

    name: VariableName
    expression: str = Field(max_length=2000)
    label: str = Field(default="", max_length=200)
    unit: str = Field(default="", max_length=100)


class ExpressionIn(_Wire):
    """An expression to be tried."""

    expression: str = Field(max_length=2000)


class ExpressionOut(_Wire):
    """What an expression would give."""

    kind: Kind
    missing: int
    head: list[str | None]
    """The first values as text; null where missing."""


class UnreadValue(_Wire):
    """A value that could not be read as its variable's kind."""

    row: int
    value: str


class VariableChanged(_Wire):
    """A table after one of its variables was changed."""

    table: TableOut
    unread: int
    """Values that are missing now because they cannot be read as the new kind; they are kept."""
    unread_values: list[UnreadValue]
    """At most a thousand of them."""


class TableTaken(_Wire):
    """A table that was taken in, and the figure it starts with where it has one."""

    table: TableOut
    figure: FigureOut | None
    problem: str | None
    """Why there is no figure."""


class RowOut(_Wire):
    """One row and its values, by variable name."""

    row: int
    """Its place in the table, from 0."""
    values: dict[str, float | str | None]


class RowsOut(_Wire):
    """Some rows of a table."""

    rows: list[RowOut]
