"""The part of a document that says what a 3-D scatterplot shows beyond its pair."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

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
from yarrowdew.figures.document.categories import HexColour
from yarrowdew.tables.field_roles import CategoryName, VariableName

OnSpace = Literal["equation", "r_squared", "adjusted_r_squared", "p_value", "n", "residual_sd"]
Wall = Literal["floor", "side", "back"]


class Turn(DocumentPart):
    """The viewpoint."""

    around: Looks[float] = Field(default=-35, ge=-360, le=360)
    """Azimuth: rotation about the vertical axis, in degrees."""
    above: Looks[float] = Field(default=22, ge=-90, le=90)
    """Elevation above the floor, in degrees."""


class PlaneReadOff(DocumentPart):
    """A value read off the plane at an x and a z."""

    across: Public[Value]
    depth: Public[Value]
    """Dates in days since 1970-01-01."""
    name: Public[Words | None] = None
    group: Public[CategoryName | None] = None
    """The category whose plane is read off; all where null."""


class Plane(DocumentPart):
    """A surface through the points by least squares, for the whole or for each category."""

    degree: Public[Literal[1, 2]] = 1
    """1 for a plane, 2 for a surface of second degree."""
    by: Public[Annotated[VariableName | None, DrawnAs("plane for each")]] = None
    level: Public[Level] = 0.95
    """Confidence level of the intervals in the readings."""
    read_off: Public[list[PlaneReadOff]] = Field(default_factory=list, max_length=40)
    digits: Public[Annotated[int, Field(ge=1, le=15)] | None] = None
    """Significant digits of the coefficients; where null, as few as reproduce the drawn surface."""
    on_figure: Looks[list[OnSpace]] = Field(default_factory=list, max_length=6)
    """Readings printed on the figure."""
    grid: Looks[bool] = True
    """Whether the surface is drawn as a grid."""
    fill: Looks[float] = Field(default=0.12, ge=0, le=1)
    """Opacity of the surface between the grid lines."""
    residuals: Looks[bool] = False
    """Whether residual lines connect each mark to the surface."""
    colour: Looks[HexColour | None] = None
    """Colour of the line; where null that of its group, or black."""
    width: Looks[float] = Field(default=1, ge=0.25, le=8)


class Space(DocumentPart):
    """The z axis, and the viewpoint."""

    variable: Public[Annotated[VariableName, DrawnAs("z axis")]]
    """The z variable."""
    axis: Looks[Axis] = Field(default_factory=Axis)
    jitter: Looks[float] = Field(default=0, ge=0, le=1)
    """Of the third axis, as a share of the smallest gap between its values."""
    turn: Looks[Turn] = Field(default_factory=Turn)
    closeness: Looks[float] = Field(default=1, ge=0.3, le=8)
    """Zoom: 1 shows the whole box."""
    perspective: Looks[float] = Field(default=0.4, ge=0, le=1)
    """Perspective; at 0 parallel lines stay parallel."""
    fade: Looks[float] = Field(default=0.6, ge=0, le=1)
    """How much the furthest marks fade."""
    shrink: Looks[float] = Field(default=0.35, ge=0, le=0.9)
    """How much the furthest marks shrink."""
    walls: Looks[Literal["grid", "plain", "none"]] = "grid"
    """What the walls show."""
    drops: Looks[Literal["none", "singled", "all"]] = "none"
    """Which marks have a drop line to the floor."""
    shadows: Looks[list[Wall]] = Field(default_factory=list, max_length=3)
    """Walls on which marks cast shadows."""
    plane: Public[Plane | None] = None
