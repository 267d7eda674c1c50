"""The part of a document that says what a 3-D scatterplot shows beyond its pair."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from yarrowdew.figures.categories import HexColour
from yarrowdew.figures.document.axes import Axis
from yarrowdew.figures.document.base import (
    DocumentPart,
    DrawnAs,
    Level,
    Looks,
    Public,
    Value,
    Words,
)
from yarrowdew.tables.field_roles import CategoryName, VariableName

OnSpace = Literal["equation", "r_squared", "adjusted_r_squared", "p_value", "n", "residual_sd"]
Wall = Literal["floor", "side", "back"]


class Turn(DocumentPart):
    """From where the box is seen."""

    around: Looks[float] = Field(default=-35, ge=-360, le=360)
    """Degrees that the box is turned about its upright axis."""
    above: Looks[float] = Field(default=22, ge=-90, le=90)
    """Degrees above the floor from which one looks."""


class PlaneReadOff(DocumentPart):
    """What goes up, read off the plane at a place of the floor."""

    across: Public[Value]
    depth: Public[Value]
    """Dates in days since 1970-01-01."""
    name: Public[Words | None] = None
    group: Public[CategoryName | None] = None
    """The category whose plane is read; every one where null."""


class Plane(DocumentPart):
    """A surface through the points by least squares, for the whole or for each category."""

    degree: Public[Literal[1, 2]] = 1
    """1 for a plane, 2 for a surface of second degree."""
    by: Public[Annotated[VariableName | None, DrawnAs("plane for each")]] = None
    level: Public[Level] = 0.95
    """Of the intervals in the readings."""
    read_off: Public[list[PlaneReadOff]] = Field(default_factory=list, max_length=40)
    digits: Public[Annotated[int, Field(ge=1, le=15)] | None] = None
    """Significant digits of its coefficients; as few as land on it where null."""
    on_figure: Looks[list[OnSpace]] = Field(default_factory=list, max_length=6)
    """Which readings are printed on the figure."""
    grid: Looks[bool] = True
    """Whether it is drawn as a grid of wires."""
    fill: Looks[float] = Field(default=0.12, ge=0, le=1)
    """How opaque it is between them."""
    residuals: Looks[bool] = False
    """Whether a line goes from each mark to it."""
    colour: Looks[HexColour | None] = None
    """That of its group, or ink, where null."""
    width: Looks[float] = Field(default=1, ge=0.25, le=8)


class Space(DocumentPart):
    """A third axis, which goes into the depth, and from where all three are seen."""

    variable: Public[Annotated[VariableName, DrawnAs("z axis")]]
    """What goes into the depth."""
    axis: Looks[Axis] = Field(default_factory=Axis)
    jitter: Looks[float] = Field(default=0, ge=0, le=1)
    """Of the third axis, as a share of the smallest gap between its values."""
    turn: Looks[Turn] = Field(default_factory=Turn)
    closeness: Looks[float] = Field(default=1, ge=0.3, le=8)
    """How close one has come: 1 where the whole box is seen."""
    perspective: Looks[float] = Field(default=0.4, ge=0, le=1)
    """How much what is further away is smaller; parallel lines stay parallel at 0."""
    fade: Looks[float] = Field(default=0.6, ge=0, le=1)
    """How much paler the furthest marks are."""
    shrink: Looks[float] = Field(default=0.35, ge=0, le=0.9)
    """How much smaller the furthest marks are."""
    walls: Looks[Literal["grid", "plain", "none"]] = "grid"
    """What the walls that face the eye carry."""
    drops: Looks[Literal["none", "singled", "all"]] = "none"
    """Which marks have a line down to the floor."""
    shadows: Looks[list[Wall]] = Field(default_factory=list, max_length=3)
    """Walls on which every mark has a shadow."""
    plane: Public[Plane | None] = None
