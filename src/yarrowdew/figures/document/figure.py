"""What every figure document holds, whatever kind of figure it is of."""

from __future__ import annotations

from typing import Annotated, Literal, Self

from pydantic import Field

from yarrowdew.figures.document.axes import Axes, Reference
from yarrowdew.figures.document.base import (
    Caption,
    DocumentPart,
    DrawnAlone,
    DrawnAs,
    Looks,
    Public,
    Words,
)
from yarrowdew.figures.document.marks import (
    Colour,
    Connect,
    ErrorBars,
    Jitter,
    Margins,
    Marks,
    Names,
    SingledOut,
    Size,
)
from yarrowdew.figures.document.trends import ReadingsBox, Trend
from yarrowdew.figures.document.words import Legend, Note, Page, Type
from yarrowdew.tables.field_roles import RowNumber, VariableName
from yarrowdew.tables.filters import RowFilter

MOST_UP = 12
VERSION: Literal[3] = 3


class FigureBase(DocumentPart):
    """What every kind of figure shares; see `FigureDocument`."""

    version: Literal[3] = VERSION
    kind: Public[str] = ""
    name: Annotated[Words | None, DrawnAlone()] = None
    """Its name in the list of figures; made from its variables where null."""
    table: str = Field(max_length=64)
    """Id of the table."""
    x: Public[Annotated[VariableName, DrawnAs("x axis")]]
    """The x variable."""
    y: Public[Annotated[list[VariableName], DrawnAs("y axis")]] = Field(
        min_length=1, max_length=MOST_UP
    )
    """The y variables; several are shown by colour."""
    trends: Public[list[Trend]] = Field(default_factory=list, max_length=12)
    colour: Public[Colour | None] = None
    size: Public[Size | None] = None
    names: Public[Names | None] = None
    error_bars: Public[ErrorBars] = Field(default_factory=ErrorBars)
    connect: Public[Connect | None] = None
    jitter: Looks[Jitter] = Field(default_factory=Jitter)
    margins: Public[Margins] = Field(default_factory=Margins)
    readings: Looks[ReadingsBox] = Field(default_factory=ReadingsBox)
    rows: RowFilter | None = None
    """Which rows are shown and fitted; all where null."""
    set_aside: Public[list[RowNumber]] = Field(default_factory=list, max_length=1_000_000)
    """Numbers of rows that are left out of fits and drawn hollow."""
    singled_out: Looks[list[SingledOut]] = Field(default_factory=list, max_length=50)
    references: Public[list[Reference]] = Field(default_factory=list, max_length=50)
    notes: Looks[list[Note]] = Field(default_factory=list, max_length=100)
    title: Looks[Words | None] = None
    subtitle: Looks[Words | None] = None
    caption: Looks[Caption | None] = None
    """May hold `{equation}`, `{R²}`, `{n}` and other readings, which stay true as data change."""
    caption_below: Looks[bool] = True
    """Whether the caption is printed below the figure, or only exported as text."""
    axes: Looks[Axes] = Field(default_factory=Axes)
    marks: Public[Marks] = Field(default_factory=Marks)
    legend: Looks[Legend] = Field(default_factory=Legend)
    type: Looks[Type] = Field(default_factory=Type)
    page: Looks[Page] = Field(default_factory=Page)

    def reduced(self) -> Self:
        """The document with only those fields set that its kind of figure shows."""
        return self
