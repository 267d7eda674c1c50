"""How marks look, and what is drawn at each: sizes, colours, names, error bars."""

from __future__ import annotations

from collections.abc import Set
from typing import Annotated, Literal

from pydantic import Field, model_validator

from yarrowdew.figures.document.base import (
    DocumentPart,
    DrawnAs,
    Looks,
    Offset,
    Public,
    Value,
    Words,
)
from yarrowdew.figures.document.categories import HexColour
from yarrowdew.tables.field_roles import CategoryName, RowKey, RowNumber, VariableName

MOST_HIGHLIGHTED = 10_000
MOST_NAMED = 2_000
"""Rows that can be chosen to be named."""

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


class Colour(DocumentPart):
    """Marks coloured by a variable."""

    variable: Public[Annotated[VariableName, DrawnAs("colour")]]
    scale: Public[Literal["category", "amount"] | None] = None
    """How its values are read; by the variable's kind where null."""
    ramp: Looks[Literal["dew", "ember", "tide"]] = "dew"
    """For amounts: pale to fern, pale to rust, or two-sided from rust over paper to fern."""
    reversed: Looks[bool] = False
    low: Looks[Value | None] = None
    """Where the ramp starts; at the smallest amount where null."""
    middle: Looks[Value | None] = None
    """Middle value of a two-sided colour ramp; half-way between its ends where null."""
    high: Looks[Value | None] = None
    steps: Looks[Annotated[int, Field(ge=2, le=12)] | None] = None
    """Number of colour steps; continuous where null."""


class Size(DocumentPart):
    """Marks sized by a number: a bubble chart."""

    variable: Public[Annotated[VariableName | None, DrawnAs("size")]] = None
    influence: Public[bool] = False
    """Size shows Cook's distance in the first trend instead of a variable."""
    measure: Looks[Literal["area", "diameter"]] = "area"
    """What follows the value."""
    start: Looks[Literal["zero", "smallest"]] = "zero"
    """Value at which a bubble has size zero."""
    largest: Looks[float] = Field(default=34, ge=4, le=200)
    """Diameter of the largest bubble, in points."""

    @model_validator(mode="after")
    def _has_one_meaning(self) -> Size:
        if (self.variable is None) is not self.influence:
            raise ValueError("sizes follow a variable, or the influence of rows")
        return self


class Names(DocumentPart):
    """Names on points, placed so that they do not collide."""

    variable: Public[Annotated[VariableName, DrawnAs("names")]]
    show: Public[Literal["all", "chosen", "furthest", "outermost", "largest"]] = "all"
    """All, those of `rows` alone, or besides them `count` more: those furthest from the trend or from
    the middle, or the largest (in what marks are sized by, else in y)."""
    count: Public[int] = Field(default=10, ge=1, le=500)
    rows: Public[list[RowNumber]] = Field(default_factory=list, max_length=MOST_NAMED)
    size: Looks[float] = Field(default=11, ge=5, le=40)
    """In points."""
    moved: Looks[dict[RowKey, Offset]] = Field(default_factory=dict, max_length=2000)
    """Labels that were dragged: by row number, how far from the mark, in points to the right and
    down."""


class ErrorBar(DocumentPart):
    """Error bars along one axis."""

    kind: Public[Literal["variable", "two", "fixed", "share"]] = "variable"
    """Source of the length: one variable, two (below and above), a constant, or a share of the value."""
    below: Public[Annotated[VariableName | None, DrawnAs("error bars")]] = None
    """The variable that holds the length, or the length below where there are two."""
    above: Public[Annotated[VariableName | None, DrawnAs("error bars")]] = None
    amount: Public[float] = Field(default=0, ge=0, allow_inf_nan=False)
    """The fixed amount, or the share: 0.05 for 5 %."""
    cap: Looks[float] = Field(default=6, ge=0, le=40)
    """Width of the whisker cap, in points."""
    width: Looks[float] = Field(default=1, ge=0.25, le=8)
    """Of the line, in points."""

    @model_validator(mode="after")
    def _has_its_variables(self) -> ErrorBar:
        if self.kind in ("variable", "two") and self.below is None:
            raise ValueError("error bars need a variable")
        if self.kind == "two" and self.above is None:
            raise ValueError("error bars from two variables need one for above")
        return self

    def idle(self) -> Set[str]:
        """Name the variables that it does not look at."""
        return {"variable": {"above"}, "two": set()}.get(self.kind, {"below", "above"})


class ErrorBars(DocumentPart):
    """Error bars along both axes."""

    x: Public[ErrorBar | None] = None
    y: Public[ErrorBar | None] = None


class Connect(DocumentPart):
    """Points connected by a line, for each colour by itself."""

    order: Public[Literal["x", "rows", "variable"]] = "x"
    variable: Public[Annotated[VariableName | None, DrawnAs("order")]] = None
    """The variable that orders the points, where `order` is "variable"."""
    line: Looks[Literal["straight", "smooth", "steps"]] = "straight"
    width: Looks[float] = Field(default=1.5, ge=0.25, le=12)

    def idle(self) -> Set[str]:
        """Name the variable where it does not order the points."""
        return frozenset() if self.order == "variable" else {"variable"}

    @model_validator(mode="after")
    def _has_its_variable(self) -> Connect:
        if self.order == "variable" and self.variable is None:
            raise ValueError("to connect by a variable, name it")
        return self


class Jitter(DocumentPart):
    """How far marks are moved at random, as a share of the smallest gap between values."""

    x: Public[float] = Field(default=0, ge=0, le=1)
    y: Public[float] = Field(default=0, ge=0, le=1)


Margin = Literal["none", "histogram", "density", "box"]


class Margins(DocumentPart):
    """The distribution of each variable, drawn along its axis for each colour."""

    x: Public[Margin] = "none"
    y: Public[Margin] = "none"


class SingledOut(DocumentPart):
    """Chosen points with a look of their own."""

    rows: Public[list[RowNumber]] = Field(min_length=1, max_length=MOST_HIGHLIGHTED)
    colour: Public[HexColour | None] = None
    shape: Public[Shape | None] = None
    size: Public[float] = Field(default=1.6, ge=0.2, le=10)
    """Size relative to the other marks."""
    name: Public[Words | None] = None


class Outline(DocumentPart):
    """A line round each mark."""

    colour: Public[HexColour | None] = None
    """The mark's own where null."""
    width: Public[float] = Field(default=1, ge=0.25, le=8)


class OwnLook(DocumentPart):
    """Style of one category on this figure only."""

    colour: Public[HexColour | None] = None
    shape: Public[Shape | None] = None
    size: Public[float] = Field(default=1, ge=0.2, le=10)
    """Size relative to the other marks; ignored for bubbles."""


class Marks(DocumentPart):
    """How marks look."""

    shape: Looks[Shape] = "disc"
    size: Looks[float] = Field(default=6, ge=1, le=60)
    """Size of the marks: diameter of a disc of equal area, in points."""
    opacity: Looks[float | None] = Field(default=None, ge=0.02, le=1)
    """Opacity; chosen by how crowded the figure is where null."""
    colour: Looks[HexColour | None] = None
    """Colour of all marks, where no variable is shown by colour."""
    hollow: Looks[bool] = False
    outline: Looks[Outline | None] = None
    density: Looks[Literal["auto", "on", "off"]] = "auto"
    """Whether density shading replaces the marks; null decides by their number."""
    text: Public[Annotated[VariableName | None, DrawnAs("text of marks")]] = None
    """A variable whose short text is drawn instead of a marker."""
    each: Looks[dict[CategoryName, OwnLook]] = Field(default_factory=dict, max_length=500)
    """By category, its own look."""
    front: Looks[list[CategoryName]] = Field(default_factory=list, max_length=500)
    """Categories drawn over the others, the last on top."""
