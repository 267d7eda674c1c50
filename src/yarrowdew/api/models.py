"""What goes over the wire and is defined nowhere else."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import AliasChoices, BaseModel, ConfigDict, Field, StringConstraints, computed_field

from yarrowdew.api.problems import Problem
from yarrowdew.figures.analyses.comparison import Comparison
from yarrowdew.figures.analyses.pairs import PairsAnswer
from yarrowdew.figures.document.categories import CategoryLook
from yarrowdew.figures.document.formulas import SavedFormula
from yarrowdew.figures.document.looks import SavedLook
from yarrowdew.figures.document.plate import PlateDocument
from yarrowdew.figures.figure import FigureDocument
from yarrowdew.figures.sharing.models import ShareRequest
from yarrowdew.tables.documented import Documented
from yarrowdew.tables.filters import SavedFilter
from yarrowdew.tables.reading import ReadOptions
from yarrowdew.tables.summary import TableSummary
from yarrowdew.tables.table import Kind

Name = Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=200)]

VariableName = Annotated[
    str, StringConstraints(strip_whitespace=True, min_length=1, max_length=200, pattern=r"^[^{}]+$")
]


class Wire(Documented):
    """What goes over the wire; an unknown key is refused."""

    model_config = ConfigDict(extra="forbid")


class _Shown(Wire):
    """A record as it is shown: read from the record itself."""

    model_config = ConfigDict(from_attributes=True, extra="ignore")


Owner = Annotated[str, Field(validation_alias=AliasChoices("study_id", "study"))]
"""Id of the study that a record belongs to."""


class ServerLimits(Wire):
    """Limits of the server."""

    max_upload_bytes: int


class StudyIn(Wire):
    """A study to make or rename."""

    name: Name


class StudyOut(_Shown):
    """A study without its contents."""

    id: str
    name: str
    changed: str
    deleted: str | None = None
    """When it was deleted; it can be brought back for 30 days."""
    categories: dict[str, list[CategoryLook]]
    """By variable name, how categories are ordered, called and coloured in every figure."""
    filters: list[SavedFilter]
    looks: list[SavedLook]
    formulas: list[SavedFormula]


class TableOut(_Shown):
    """A table without its values."""

    id: str
    study: Owner
    name: str
    version: int
    """Every change makes a new one, and an earlier one can be brought back."""
    options: ReadOptions
    """How its file was read."""
    summary: TableSummary
    dataset: str | None = None
    """Where the files of a dataset are, whose rows stay there; null for a table of rows."""


class FigureOut(_Shown):
    """A figure as it was last saved; its revision is the entity tag."""

    id: str
    study: Owner
    revision: int
    document: FigureDocument


class PlateOut(_Shown):
    """A plate as it was last saved; its revision is the entity tag."""

    id: str
    study: Owner
    revision: int
    document: PlateDocument


class UnreadableOut(_Shown):
    """A figure or plate whose document cannot be read; the rest of the study is not touched."""

    id: str
    what: str
    problem: str


class StudyContents(StudyOut):
    """A study with its tables, figures and plates."""

    tables: list[TableOut]
    figures: list[FigureOut]
    plates: list[PlateOut]
    unreadable: list[UnreadableOut] = []


class StudyListed(_Shown):
    """A study in a list: its name, what it holds, and the figures that show it best."""

    id: str
    name: str
    changed: str
    deleted: str | None
    tables: int
    figures: int
    plates: int
    first: list[FigureOut]
    """At most four."""


class PackageIn(Wire):
    """A study that was saved as a file, and sent."""

    upload: str = Field(max_length=64)


class ShareIn(ShareRequest):
    """A page to be shared."""

    days: float | None = Field(default=None, gt=0, le=3660)
    """After how many days it can no longer be opened; never where null."""


class ShareOut(_Shown):
    """A page that others can open."""

    id: str
    name: str
    created: str
    expires: str | None

    @computed_field  # type: ignore[prop-decorator] # Pydantic's own way to add a field
    @property
    def path(self) -> str:
        """Its address on this server."""
        return f"/shared/{self.id}"


class UploadOut(Wire):
    """A file that was sent and is not yet part of any study."""

    id: str
    name: str
    size: int


class PreviewVariable(Wire):
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


class Preview(Wire):
    """A file as it would be read: the first rows, and every guess."""

    name: str
    rows: int
    options: ReadOptions
    variables: list[PreviewVariable]
    head: list[list[str | None]]
    """The first 200 rows as text; null where missing."""
    altered: list[list[str | None]]
    """The original text of these rows, where a value was converted; null elsewhere."""
    cautions: list[str]
    sheets: list[str] = []
    """Tables that the file offers, where it offers several."""
    ambiguous: list[str] = []
    """Variables of dates whose day and month could be either way round."""


class TableIn(Wire):
    """A file to take into a study."""

    upload: str = Field(max_length=64)
    name: Name | None = None
    options: ReadOptions = Field(default_factory=ReadOptions)
    keep: bool = False
    """Whether the file is kept, because more of its sheets will be imported."""


class ReplaceIn(Wire):
    """A file whose rows are to take the place of a table's."""

    upload: str = Field(max_length=64)
    options: ReadOptions = Field(default_factory=ReadOptions)


class CategoriesIn(Wire):
    """The categories of a variable in their order."""

    looks: list[CategoryLook] = Field(max_length=5000)


class VariableIn(Wire):
    """Changes of a variable; null leaves a field as it is."""

    label: Name | None = None
    unit: Annotated[str, StringConstraints(strip_whitespace=True, max_length=100)] | None = None
    kind: Kind | None = None


class DerivedIn(Wire):
    """A variable to be derived from others."""

    name: VariableName
    expression: str = Field(max_length=2000)
    label: str = Field(default="", max_length=200)
    unit: str = Field(default="", max_length=100)


class ExpressionIn(Wire):
    """An expression to be tried."""

    expression: str = Field(max_length=2000)


class ExpressionOut(Wire):
    """Preview of an expression."""

    kind: Kind
    missing: int
    head: list[str | None]
    """The first values as text; null where missing."""


class UnreadValue(Wire):
    """A value that could not be read as its variable's kind."""

    row: int
    value: str


class VariableChanged(Wire):
    """A table after one of its variables was changed."""

    table: TableOut
    unread: int
    """Values that are missing now because they cannot be read as the new type; their text is kept."""
    unread_values: list[UnreadValue]
    """At most a thousand of them."""


class TableTaken(Wire):
    """An imported table, and its first figure where it has one."""

    table: TableOut
    figure: FigureOut | None
    problem: str | None
    """Why there is no figure."""


class DatasetFound(Wire):
    """A dataset that the server may open."""

    path: str
    name: str
    files: int


class DatasetIn(Wire):
    """A dataset to add to a study, or to open anew."""

    path: str = Field(max_length=4000)


class TableReplaced(Wire):
    """A table that was read in again."""

    table: TableOut
    gone: list[str]
    """Variables that the file no longer holds."""
    new: list[str]


class InParts(BaseModel):
    """An answer of several parts, which waits at `/api/jobs/{id}/parts`."""

    parts: list[str]
    """Their names."""
    body: bytes = Field(exclude=True)
    media_type: str = Field(exclude=True)


class JobOut(_Shown):
    """A task running in the background."""

    id: str
    state: Literal["running", "done", "failed", "stopped"]
    progress: float
    """The share that is done."""
    result: (
        Preview | TableTaken | TableReplaced | StudyOut | Comparison | PairsAnswer | InParts | None
    )
    problem: Problem | None


class RowOut(Wire):
    """One row and its values, by variable name."""

    row: int
    """Row number, from 0; it does not change when rows are added or deleted."""
    values: dict[str, float | str | None]


class RowsOut(Wire):
    """Some rows of a table."""

    rows: list[RowOut]
    total: int
    """How many rows there are to look through."""


class CallsOut(Wire):
    """The calls that make a figure from its table's file."""

    command: str
    python: str
