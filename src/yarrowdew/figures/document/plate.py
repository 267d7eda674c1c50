"""The plate document: several figures on one page."""

from __future__ import annotations

from collections.abc import Mapping
from typing import TYPE_CHECKING, Annotated, Literal

from pydantic import BeforeValidator, Discriminator, Field, Tag, model_validator

from yarrowdew.core.intervals import HIGHEST_LEVEL, LOWEST_LEVEL
from yarrowdew.figures.document.base import Caption, DocumentPart, Public, Words
from yarrowdew.figures.document.families import HasFamily, by_family
from yarrowdew.figures.document.space import Turn
from yarrowdew.figures.document.upgrading import with_present_names, with_settings
from yarrowdew.figures.document.words import Page
from yarrowdew.tables.field_roles import CategoryName, VariableName

MOST_CELLS = 12

Share = Annotated[float, Field(gt=0.02, le=50)]


class AtLevel(DocumentPart):
    """The figure with its intervals and bands at another level."""

    thing: Public[Literal["level"]]
    level: Public[float] = Field(ge=LOWEST_LEVEL, le=HIGHEST_LEVEL)


class OfCategory(DocumentPart):
    """The figure with the rows of one category only."""

    thing: Public[Literal["category"]]
    variable: Public[VariableName]
    value: Public[CategoryName]


class WithFormPart(HasFamily):
    """The figure with another form of trend."""

    thing: Public[Literal["form"]]


class WithVariable(DocumentPart):
    """The figure with another variable across or up."""

    thing: Public[Literal["x", "y"]]
    variable: Public[VariableName]


class SeenFrom(Turn):
    """A 3-D scatterplot from another viewpoint."""

    thing: Public[Literal["turn"]]


if TYPE_CHECKING:
    WithForm = WithFormPart
else:
    WithForm = by_family(WithFormPart, "WithForm")


def _thing(varied: object) -> str:
    thing = varied.get("thing") if isinstance(varied, Mapping) else getattr(varied, "thing", "")
    return "variable" if thing in ("x", "y") else str(thing)


Varied = Annotated[
    Annotated[AtLevel, Tag("level")]
    | Annotated[OfCategory, Tag("category")]
    | Annotated[WithForm, Tag("form")]
    | Annotated[WithVariable, Tag("variable")]
    | Annotated[SeenFrom, Tag("turn")],
    Discriminator(_thing),
    BeforeValidator(lambda given: with_present_names(with_settings(given))),
]


class Cell(DocumentPart):
    """One place of a plate."""

    figure: str = Field(max_length=64)
    """Id of the figure in this cell."""
    varied: Public[Varied | None] = None
    """The setting in which the cell differs from its figure."""
    heading: Public[Words | None] = None
    """Panel title beside the letter; where null, the setting that is varied."""


class PlateDocument(DocumentPart):
    """Several figures on one page, lettered, in rows and columns."""

    version: Literal[1] = 1
    name: Words | None = None
    """Its name in the list of plates; made from its figures where null."""
    cells: Public[list[Cell]] = Field(min_length=1, max_length=MOST_CELLS)
    """Row by row."""
    columns: Public[int] = Field(default=2, ge=1, le=MOST_CELLS)
    widths: Public[list[Share]] = Field(default_factory=list, max_length=MOST_CELLS)
    """Relative widths of the columns; equal where empty."""
    heights: Public[list[Share]] = Field(default_factory=list, max_length=MOST_CELLS)
    """Relative heights of the rows; equal where empty."""
    letters: Public[Literal["a", "A", "none"]] = "a"
    shared: Public[Literal["none", "x", "y", "both"]] = "none"
    """Axes shared by all figures: same ends, labelled on the outer edge only."""
    legend: Public[Literal["shared", "each", "none"]] = "shared"
    look: Public[Literal["own", "common"]] = "own"
    """Whether each figure keeps its style, or all take that of the first."""
    text: Public[float] = Field(default=0.85, ge=0.3, le=4)
    """Of every text."""
    ink: Public[float] = Field(default=0.85, ge=0.3, le=4)
    """Scale of marks and lines, relative to the figures."""
    gap: Public[float] = Field(default=10, ge=0, le=80)
    """Between figures, in points."""
    title: Public[Words | None] = None
    caption: Public[Caption | None] = None
    page: Public[Page] = Field(default_factory=lambda: Page(width=960, height=560, venue="own"))

    @model_validator(mode="after")
    def _has_its_grid(self) -> PlateDocument:
        rows = -(-len(self.cells) // self.columns)
        if self.widths and len(self.widths) != self.columns:
            raise ValueError("a plate has as many widths as columns")
        if self.heights and len(self.heights) != rows:
            raise ValueError("a plate has as many heights as rows")
        return self
