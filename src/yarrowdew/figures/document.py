"""The figure document: what a figure is to show, and nothing of data or results.

The OpenAPI schema, the TypeScript types and the statement on the screen all come from here.
"""

from __future__ import annotations

from typing import Literal

from pydantic import Field, model_validator

from yarrowdew.figures.parts import (
    Axes,
    Caption,
    Colour,
    Connect,
    ErrorBars,
    Jitter,
    Legend,
    Margins,
    Marks,
    Matrix,
    Names,
    Note,
    Page,
    Part,
    ReadingsBox,
    Reference,
    RowNumber,
    SingledOut,
    Size,
    Trend,
    Type,
    VariableName,
    Words,
)
from yarrowdew.tables.filters import RowFilter

MOST_UP = 12


class FigureDocument(Part):
    """A scatterplot, or a bubble chart where marks are sized: one mark for each row of a table."""

    version: Literal[1] = 1
    kind: Literal["scatterplot", "scatterplot matrix"] = "scatterplot"
    name: Words | None = None
    """What the ledger calls it; made from its variables where null."""
    table: str = Field(max_length=64)
    """Id of the table."""
    x: VariableName
    """What goes across."""
    y: list[VariableName] = Field(min_length=1, max_length=MOST_UP)
    """What goes up; several are told apart by colour."""
    matrix: Matrix | None = None
    """What a scatterplot matrix shows; kept while one of its pairs is looked at by itself."""
    colour: Colour | None = None
    size: Size | None = None
    names: Names | None = None
    error_bars: ErrorBars = Field(default_factory=ErrorBars)
    connect: Connect | None = None
    jitter: Jitter = Field(default_factory=Jitter)
    margins: Margins = Field(default_factory=Margins)
    trends: list[Trend] = Field(default_factory=list, max_length=12)
    readings: ReadingsBox = Field(default_factory=ReadingsBox)
    rows: RowFilter | None = None
    """Which rows are shown and fitted; all where null."""
    set_aside: list[RowNumber] = Field(default_factory=list, max_length=1_000_000)
    """Numbers of rows left out of fits and drawn hollow."""
    singled_out: list[SingledOut] = Field(default_factory=list, max_length=50)
    references: list[Reference] = Field(default_factory=list, max_length=50)
    notes: list[Note] = Field(default_factory=list, max_length=100)
    title: Words | None = None
    subtitle: Words | None = None
    caption: Caption | None = None
    """May hold `{equation}`, `{R²}`, `{n}` and other readings, which stay true as data change."""
    caption_below: bool = True
    """Whether the caption stands below the figure, or only goes along with it as text."""
    axes: Axes = Field(default_factory=Axes)
    marks: Marks = Field(default_factory=Marks)
    legend: Legend = Field(default_factory=Legend)
    type: Type = Field(default_factory=Type)
    page: Page = Field(default_factory=Page)

    @model_validator(mode="after")
    def _has_its_matrix(self) -> FigureDocument:
        if self.kind == "scatterplot matrix" and self.matrix is None:
            raise ValueError("a scatterplot matrix needs its variables")
        return self

    def variables_used(self) -> list[str]:
        """Names of the variables whose values are needed to draw it, each once."""
        names = [self.x, *self.y, *(t.by for t in self.trends if t.by)]
        names += [t.weights for t in self.trends if t.weights]
        for part in (self.colour, self.size, self.names, self.connect):
            if part is not None and part.variable is not None:
                names.append(part.variable)
        if self.matrix and self.kind == "scatterplot matrix":
            names += self.matrix.variables
        if self.marks.text:
            names.append(self.marks.text)
        for bar in (self.error_bars.x, self.error_bars.y):
            names += bar.variables() if bar else []
        if self.rows:
            names += self.rows.variables()
        return list(dict.fromkeys(names))
