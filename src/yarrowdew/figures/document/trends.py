"""Trends, their bands, and the numbers read off them."""

from __future__ import annotations

from functools import cache
from typing import TYPE_CHECKING, Annotated, Any, Literal

from pydantic import Field, TypeAdapter, model_validator

from yarrowdew.core.trends.protocol import BandKind, Errors
from yarrowdew.core.trends.registry import FAMILIES
from yarrowdew.core.weights import WeightsAre
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
from yarrowdew.figures.document.families import HasFamily, by_family
from yarrowdew.tables.field_roles import CategoryName, VariableName

OnFigure = Literal[
    "equation", "r_squared", "adjusted_r_squared", "r", "p_value", "n", "residual_sd"
]


class Band(DocumentPart):
    """A band about a trend."""

    kind: Public[BandKind] = "confidence"
    """For the mean at each x (confidence), for the whole line at once, or for one new row
    (prediction)."""
    level: Public[Level] = 0.95


class Carry(DocumentPart):
    """How far a trend is carried on past the data, in units of x; days for dates."""

    before: Public[float] = Field(default=0, ge=0, le=1e15)
    after: Public[float] = Field(default=0, ge=0, le=1e15)


class ReadOff(DocumentPart):
    """A number read off a trend: y at an x, or x where y reaches a level."""

    at: Public[Value | None] = None
    """The x; dates in days since 1970-01-01."""
    level: Public[Value | None] = None
    """The level of y."""
    name: Public[Words | None] = None
    group: Public[CategoryName | None] = None
    """The category whose line is read off; all lines of the trend where null."""

    @model_validator(mode="after")
    def _asks_for_one(self) -> ReadOff:
        if (self.at is None) is (self.level is None):
            raise ValueError("a number is read off at an x or at a level of y")
        return self


class TrendPart(HasFamily):
    """A trend line, for the whole or for each category of a variable."""

    by: Public[Annotated[VariableName | None, DrawnAs("trend for each")]] = None
    """The category variable: one line is fitted to each of its categories. Null fits one line to
    all rows."""
    slopes: Public[Literal["own", "common"]] = "own"
    """Whether each category's straight line has a slope of its own, or all share one (analysis of
    covariance)."""
    level: Public[Level] = 0.95
    """Confidence level of the intervals in the readings."""
    bands: Public[list[Band]] = Field(
        default_factory=lambda of: _bands_of(of["family"]), max_length=6
    )
    """One band of 95 % where left out, for families that are drawn with a band."""
    errors: Public[Errors] = "equal"
    """Whether standard errors take the scatter as equal everywhere, allow for unequal scatter
    (HC3), or for rows that belong together (cluster), come from resampled rows, or from the standard errors of y that are given as weights."""
    clusters: Public[Annotated[VariableName | None, DrawnAs("rows belong to")]] = None
    """The variable whose equal values mark rows that belong together, for standard errors by cluster."""
    seed: Public[Annotated[int, Field(ge=0, le=2**31 - 1)]] = 1
    """Random seed of the bootstrap."""
    weights: Public[Annotated[VariableName | None, DrawnAs("weights")]] = None
    weights_are: Public[WeightsAre] = "weights"
    """Whether the variable holds weights (precisions), counts of equal rows, or standard errors of
    y, whose weight is 1/SE²."""
    carry: Public[Carry] = Field(default_factory=Carry)
    read_off: Public[list[ReadOff]] = Field(default=[], max_length=40)
    on_figure: Looks[list[OnFigure]] = Field(default=[], max_length=7)
    """Readings printed on the figure."""
    letters: Public[Literal["x", "variables"]] = "x"
    """Whether the equation uses x and y, or the names of the variables."""
    digits: Public[Annotated[int, Field(ge=1, le=15)] | None] = None
    """Significant digits of the coefficients; where null, as few as reproduce the drawn line."""
    colour: Looks[HexColour | None] = None
    """Colour of the line; where null that of its group, or black."""
    width: Looks[float] = Field(default=2, ge=0.25, le=12)
    opacity: Looks[float] = Field(default=1, ge=0.05, le=1)
    """Of its line."""
    band_colour: Looks[HexColour | None] = None
    """Colour of the bands; that of the line where null."""
    band_opacity: Looks[Annotated[float, Field(ge=0, le=1)] | None] = None
    """Opacity of the bands; where null, so that marks show through all of them."""
    dash: Looks[Literal["solid", "dashed", "dotted"]] = "solid"


def _bands_of(family: str) -> list[Band]:
    return [Band()] if FAMILIES[family].has_band else []


if TYPE_CHECKING:
    Trend = TrendPart
else:
    Trend = by_family(TrendPart, "Trend")


@cache
def _trends() -> TypeAdapter[TrendPart]:
    """Made when a trend is first made from what is set about it."""
    return TypeAdapter(Trend)


def trend_of(**given: Any) -> TrendPart:
    """Make a trend from what is set about it; the rest is as it begins."""
    return _trends().validate_python(given)


class ReadingsBox(DocumentPart):
    """Position of the readings on the figure."""

    place: Public[Literal["auto", "lines", "free"]] = "auto"
    """One box in a free place, next to each line, or one box at `x` and `y`."""
    x: Public[Value] = 0
    """Horizontal position, as a share of the page's width."""
    y: Public[Value] = 0
    association: Public[list[Literal["r", "interval", "p_value", "n"]]] = Field(
        default_factory=list, max_length=4
    )
    """Readings about the two variables where no trend is fitted."""
