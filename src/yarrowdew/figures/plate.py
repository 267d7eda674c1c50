"""The plate document: several figures on one page."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, model_validator

from yarrowdew.core.intervals import HIGHEST_LEVEL, LOWEST_LEVEL
from yarrowdew.figures.parts import Caption, Form, Page, Part, VariableName, Words

MOST_CELLS = 12

Share = Annotated[float, Field(gt=0.02, le=50)]


class AtLevel(Part):
    """The figure with its intervals and bands at another level."""

    thing: Literal["level"]
    level: float = Field(ge=LOWEST_LEVEL, le=HIGHEST_LEVEL)


class OfCategory(Part):
    """The figure of the rows of one category alone."""

    thing: Literal["category"]
    variable: VariableName
    value: Words


class WithForm(Part):
    """The figure with another form of trend."""

    thing: Literal["form"]
    family: str = Field(max_length=40)
    form: Form = Field(default_factory=Form)


class WithVariable(Part):
    """The figure with another variable across or up."""

    thing: Literal["x", "y"]
    variable: VariableName


Varied = Annotated[AtLevel | OfCategory | WithForm | WithVariable, Field(discriminator="thing")]


class Cell(Part):
    """One place of a plate."""

    figure: str = Field(max_length=64)
    """Id of the figure that stands there."""
    varied: Varied | None = None
    """The one thing in which it differs from that figure."""
    heading: Words | None = None
    """Beside its letter; says what is varied where null."""


class PlateDocument(Part):
    """Several figures on one page, lettered, in rows and columns."""

    version: Literal[1] = 1
    name: Words | None = None
    """What the ledger calls it; made from its figures where null."""
    cells: list[Cell] = Field(min_length=1, max_length=MOST_CELLS)
    """Row by row."""
    columns: int = Field(default=2, ge=1, le=MOST_CELLS)
    widths: list[Share] = Field(default_factory=list, max_length=MOST_CELLS)
    """Widths of the columns against each other; equal where empty."""
    heights: list[Share] = Field(default_factory=list, max_length=MOST_CELLS)
    """Heights of the rows against each other; equal where empty."""
    letters: Literal["a", "A", "none"] = "a"
    shared: Literal["none", "x", "y", "both"] = "none"
    """Which axes have the same ends in all figures, and are labelled on the outer edge only."""
    legend: Literal["shared", "each", "none"] = "shared"
    look: Literal["own", "common"] = "own"
    """Whether each figure keeps its look or all have that of the first."""
    text: float = Field(default=0.85, ge=0.3, le=4)
    """Of every text."""
    ink: float = Field(default=0.85, ge=0.3, le=4)
    """Of marks and lines, against what the figures have."""
    gap: float = Field(default=10, ge=0, le=80)
    """Between figures, in points."""
    title: Words | None = None
    caption: Caption | None = None
    page: Page = Field(default_factory=lambda: Page(width=960, height=560, venue="own"))

    @model_validator(mode="after")
    def _has_its_grid(self) -> PlateDocument:
        rows = -(-len(self.cells) // self.columns)
        if self.widths and len(self.widths) != self.columns:
            raise ValueError("a plate has as many widths as columns")
        if self.heights and len(self.heights) != rows:
            raise ValueError("a plate has as many heights as rows")
        return self
