"""The figure document: what a figure is to show, and nothing of data or results.

The OpenAPI schema, the TypeScript types and the statement on the screen all come from here.
"""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field, model_validator

from yarrowdew.core.intervals import HIGHEST_LEVEL, LOWEST_LEVEL
from yarrowdew.core.trends.base import BandKind
from yarrowdew.tables.filters import RowFilter

Level = Annotated[float, Field(ge=LOWEST_LEVEL, le=HIGHEST_LEVEL)]
VariableName = Annotated[str, Field(min_length=1, max_length=200)]
Words = Annotated[str, Field(max_length=500)]
Shape = Literal[
    "disc",
    "ring",
    "drop",
    "square",
    "diamond",
    "triangle",
    "wedge",
    "plus",
    "cross",
    "star",
    "bar",
]
OnFigure = Literal["equation", "r_squared", "r", "p_value", "n"]


class Part(BaseModel):
    """A part of a document; unknown keys are refused, so that a slip of the pen is found."""

    model_config = ConfigDict(extra="forbid", use_attribute_docstrings=True)


class Colour(Part):
    """Marks coloured by a variable."""

    variable: VariableName
    scale: Literal["category", "amount"] | None = None
    """How its values are read; by the variable's kind where null."""


class Band(Part):
    """A band about a trend."""

    kind: BandKind = "confidence"
    """For the mean (confidence) or for one new row (prediction)."""
    level: Level = 0.95


class Trend(Part):
    """A trend line, for the whole or for each category of a variable."""

    family: str = Field(default="straight", max_length=40)
    by: VariableName | None = None
    """The category variable for whose every value a line is fitted; null for the whole."""
    level: Level = 0.95
    """Of the intervals in the readings."""
    bands: list[Band] = Field(default_factory=lambda: [Band()], max_length=6)
    on_figure: list[OnFigure] = Field(default_factory=list, max_length=5)
    """Which readings are printed on the figure."""


class Axis(Part):
    """One axis."""

    title: Words | None = None
    """Label and unit of its variable where null."""
    low: float | None = Field(default=None, allow_inf_nan=False)
    """Where it starts; hugging the data where null. Dates in days since 1970-01-01."""
    high: float | None = Field(default=None, allow_inf_nan=False)

    @model_validator(mode="after")
    def _runs_somewhere(self) -> Axis:
        if self.low is not None and self.high is not None and self.low >= self.high:
            raise ValueError("an axis must end above where it starts")
        return self


class Axes(Part):
    """Both axes."""

    x: Axis = Field(default_factory=Axis)
    y: Axis = Field(default_factory=Axis)


class Marks(Part):
    """How marks look."""

    shape: Shape = "disc"
    size: float = Field(default=6, ge=1, le=60)
    """Diameter of a disc of the same ink, in points."""
    opacity: float | None = Field(default=None, ge=0.02, le=1)
    """Chosen from how crowded the figure is where null."""


class Legend(Part):
    """The legend, drawn where there is something to tell apart."""

    place: Literal["auto", "inside", "right", "below", "none"] = "auto"
    title: Words | None = None
    """The colour variable's label where null; nothing where empty."""


class Page(Part):
    """The page that the figure fills, in points (1/72 inch)."""

    width: float = Field(default=720, ge=72, le=7200)
    height: float = Field(default=610, ge=72, le=7200)


class FigureDocument(Part):
    """A scatterplot: one mark for each row of a table."""

    version: Literal[1] = 1
    kind: Literal["scatterplot"] = "scatterplot"
    name: Words | None = None
    """What the ledger calls it; made from its variables where null."""
    table: str = Field(max_length=64)
    """Id of the table."""
    x: VariableName
    """What goes across."""
    y: list[VariableName] = Field(min_length=1, max_length=1)
    """What goes up."""
    colour: Colour | None = None
    trends: list[Trend] = Field(default_factory=list, max_length=12)
    rows: RowFilter | None = None
    """Which rows are shown and fitted; all where null."""
    set_aside: list[Annotated[int, Field(ge=0)]] = Field(default_factory=list, max_length=1_000_000)
    """Rows left out of fits and drawn hollow, by their place in the table from 0."""
    title: Words | None = None
    axes: Axes = Field(default_factory=Axes)
    marks: Marks = Field(default_factory=Marks)
    legend: Legend = Field(default_factory=Legend)
    page: Page = Field(default_factory=Page)

    def variables_used(self) -> list[str]:
        """Names of the variables whose values are needed to draw it, each once."""
        names = [self.x, *self.y, *(t.by for t in self.trends if t.by)]
        if self.colour:
            names.append(self.colour.variable)
        if self.rows:
            names += self.rows.variables()
        return list(dict.fromkeys(names))
