"""The parts of a figure document: marks, axes, words, and what is laid over them."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field, model_validator

from yarrowdew.core.intervals import HIGHEST_LEVEL, LOWEST_LEVEL
from yarrowdew.core.trends.base import Alignment, BandKind, Scatter, TrendSettings, WindowUnit
from yarrowdew.core.trends.local import LEAST_SPAN, MOST_PASSES
from yarrowdew.core.trends.polynomial import HIGHEST_DEGREE, LOWEST_DEGREE
from yarrowdew.tables.categories import HexColour
from yarrowdew.tables.table import MOST_ROW_NUMBER

Level = Annotated[float, Field(ge=LOWEST_LEVEL, le=HIGHEST_LEVEL)]
VariableName = Annotated[str, Field(min_length=1, max_length=200)]
Words = Annotated[str, Field(max_length=500)]
Caption = Annotated[str, Field(max_length=4000)]
Value = Annotated[float, Field(allow_inf_nan=False)]
RowNumber = Annotated[int, Field(ge=0, le=MOST_ROW_NUMBER)]
RowKey = Annotated[str, Field(pattern=r"^\d{1,10}$")]
"""A row number as a key of JSON."""
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
OnFigure = Literal[
    "equation", "r_squared", "adjusted_r_squared", "r", "p_value", "n", "residual_sd"
]
Offset = tuple[Value, Value]


class Part(BaseModel):
    """A part of a document; unknown keys are refused, so that a slip of the pen is found."""

    model_config = ConfigDict(extra="forbid", use_attribute_docstrings=True)


class Colour(Part):
    """Marks coloured by a variable."""

    variable: VariableName
    scale: Literal["category", "amount"] | None = None
    """How its values are read; by the variable's kind where null."""
    ramp: Literal["dew", "ember", "tide"] = "dew"
    """For amounts: pale to fern, pale to rust, or two-sided from rust over paper to fern."""
    reversed: bool = False
    low: Value | None = None
    """Where the ramp starts; at the smallest amount where null."""
    middle: Value | None = None
    """What a two-sided ramp turns about; half-way between its ends where null."""
    high: Value | None = None
    steps: Annotated[int, Field(ge=2, le=12)] | None = None
    """Even steps of colour; continuous where null."""


class Size(Part):
    """Marks sized by a number: a bubble chart."""

    variable: VariableName | None = None
    influence: bool = False
    """Sized by Cook's distance in the first trend, in the place of a variable."""
    measure: Literal["area", "diameter"] = "area"
    """What follows the value."""
    start: Literal["zero", "smallest"] = "zero"
    """The value at which a bubble would have no size."""
    largest: float = Field(default=34, ge=4, le=200)
    """Diameter of the largest bubble, in points."""

    @model_validator(mode="after")
    def _has_one_meaning(self) -> Size:
        if (self.variable is None) is not self.influence:
            raise ValueError("sizes follow a variable, or the influence of rows")
        return self


class Names(Part):
    """Names on points, placed so that they do not collide."""

    variable: VariableName
    show: Literal["all", "chosen", "furthest", "outermost"] = "all"
    """All, those of `rows`, or the `count` furthest from the trend or from the middle."""
    count: int = Field(default=10, ge=1, le=500)
    rows: list[RowNumber] = Field(default_factory=list, max_length=2000)
    size: float = Field(default=11, ge=5, le=40)
    """In points."""
    moved: dict[RowKey, Offset] = Field(default_factory=dict, max_length=2000)
    """By row number, how far a name was dragged from its mark, in points to the right and down."""


class ErrorBar(Part):
    """Error bars along one axis."""

    kind: Literal["variable", "two", "fixed", "share"] = "variable"
    """From one variable, from two (below and above), a fixed amount, or a share of the value."""
    below: VariableName | None = None
    """The variable of the amount, or of the amount below where there are two."""
    above: VariableName | None = None
    amount: float = Field(default=0, ge=0, allow_inf_nan=False)
    """The fixed amount, or the share: 0.05 for 5 %."""
    cap: float = Field(default=6, ge=0, le=40)
    """Width of the whisker cap, in points."""
    width: float = Field(default=1, ge=0.25, le=8)
    """Of the line, in points."""

    @model_validator(mode="after")
    def _has_its_variables(self) -> ErrorBar:
        if self.kind in ("variable", "two") and self.below is None:
            raise ValueError("error bars need a variable")
        if self.kind == "two" and self.above is None:
            raise ValueError("error bars from two variables need one for above")
        return self

    def variables(self) -> list[str]:
        """Name the variables that it looks at."""
        if self.kind not in ("variable", "two"):
            return []
        return [v for v in (self.below, self.above) if v is not None]


class ErrorBars(Part):
    """Error bars along both axes."""

    x: ErrorBar | None = None
    y: ErrorBar | None = None


class Connect(Part):
    """Points connected by a line, for each colour by itself."""

    order: Literal["x", "rows", "variable"] = "x"
    variable: VariableName | None = None
    """What orders the points, where it is a variable."""
    line: Literal["straight", "smooth", "steps"] = "straight"
    width: float = Field(default=1.5, ge=0.25, le=12)

    @model_validator(mode="after")
    def _has_its_variable(self) -> Connect:
        if self.order == "variable" and self.variable is None:
            raise ValueError("to connect by a variable, name it")
        return self


class Jitter(Part):
    """How far marks are moved at random, as a share of the smallest gap between values."""

    x: float = Field(default=0, ge=0, le=1)
    y: float = Field(default=0, ge=0, le=1)


Margin = Literal["none", "histogram", "density", "box"]


class Margins(Part):
    """The distribution of each variable, drawn along its axis for each colour."""

    x: Margin = "none"
    y: Margin = "none"


class SingledOut(Part):
    """Chosen points with a look of their own."""

    rows: list[RowNumber] = Field(min_length=1, max_length=10_000)
    colour: HexColour | None = None
    shape: Shape | None = None
    size: float = Field(default=1.6, ge=0.2, le=10)
    """How many times as large as the others."""
    name: Words | None = None


class Reference(Part):
    """A line at a value, or a shaded range."""

    axis: Literal["x", "y", "both"] = "y"
    """The axis on which its value lies; both for the line y = x."""
    at: Literal["value", "mean", "median", "range", "identity"] = "value"
    value: Value | None = None
    """Where it is; the lower end of a range."""
    high: Value | None = None
    """The upper end of a range."""
    label: Words | None = None
    dashed: bool = True

    @model_validator(mode="after")
    def _lies_somewhere(self) -> Reference:
        if self.at in ("value", "range") and self.value is None:
            raise ValueError("a reference line needs its value")
        if self.at == "range" and (
            self.high is None or self.value is None or self.high <= self.value
        ):
            raise ValueError("a shaded range must end above where it starts")
        return self


class Note(Part):
    """Text placed anywhere."""

    text: Words
    anchor: Literal["data", "page"] = "page"
    """Whether x and y are values on the axes, or shares of the page from its upper left corner."""
    x: Value
    y: Value
    points_to: Offset | None = None
    """Where a line from it points, in values on the axes."""


class Band(Part):
    """A band about a trend."""

    kind: BandKind = "confidence"
    """For the mean (confidence) or for one new row (prediction)."""
    level: Level = 0.95


class Form(Part):
    """What is set about the family of a trend; each family looks at its own."""

    degree: int = Field(default=2, ge=LOWEST_DEGREE, le=HIGHEST_DEGREE)
    """Of a polynomial."""
    intercept: Value | None = None
    """y of a straight line at x = 0, where it is given."""
    scatter: Scatter = "multiplicative"
    """Of an exponential or a power law: fitted on ln y, or (additive) on y itself."""
    lower: Value | None = None
    """Lower end of an S-curve, where it is given."""
    upper: Value | None = None
    span: float = Field(default=0.5, ge=LEAST_SPAN, le=1)
    """Share of the rows that each place of a local smooth looks at."""
    bend: Literal[1, 2] = 1
    """Whether a local smooth fits lines or parabolas."""
    passes: int = Field(default=2, ge=0, le=MOST_PASSES)
    """Robust passes of a local smooth."""
    penalty: Annotated[float, Field(ge=0, le=1e12)] | None = None
    """Of a smoothing spline, on x scaled to a range of 1; by cross-validation where null."""
    window: float = Field(default=7, gt=0, le=1e12)
    """Width of a moving average."""
    window_unit: WindowUnit = "rows"
    alignment: Alignment = "centred"
    """Whether the window lies about its place, or ends there."""

    def settings(self) -> TrendSettings:
        """Return what the core is told."""
        return TrendSettings(**self.model_dump())


class Carry(Part):
    """How far a trend is carried on past the data, in units of x; days for dates."""

    before: float = Field(default=0, ge=0, le=1e15)
    after: float = Field(default=0, ge=0, le=1e15)


class ReadOff(Part):
    """A number read off a trend: y at an x, or x where y reaches a level."""

    at: Value | None = None
    """The x; dates in days since 1970-01-01."""
    level: Value | None = None
    """The level of y."""
    name: Words | None = None
    group: Words | None = None
    """The category whose line is read; every line of the trend where null."""

    @model_validator(mode="after")
    def _asks_for_one(self) -> ReadOff:
        if (self.at is None) is (self.level is None):
            raise ValueError("a number is read off at an x or at a level of y")
        return self


class Trend(Part):
    """A trend line, for the whole or for each category of a variable."""

    family: str = Field(default="straight", max_length=40)
    form: Form = Field(default_factory=Form)
    by: VariableName | None = None
    """The category variable for whose every value a line is fitted; null for the whole."""
    level: Level = 0.95
    """Of the intervals in the readings."""
    bands: list[Band] = Field(default_factory=lambda: [Band()], max_length=6)
    weights: VariableName | None = None
    weights_are: Literal["weights", "standard_errors"] = "weights"
    """Whether the variable holds weights, or standard errors of y, whose weight is 1/SE²."""
    carry: Carry = Field(default_factory=Carry)
    read_off: list[ReadOff] = Field(default_factory=list, max_length=40)
    on_figure: list[OnFigure] = Field(default_factory=list, max_length=7)
    """Which readings are printed on the figure."""
    letters: Literal["x", "variables"] = "x"
    """Whether the equation speaks of x and y, or of the variables."""
    digits: Annotated[int, Field(ge=1, le=15)] | None = None
    """Significant digits of its coefficients; as few as land on the line where null."""
    colour: HexColour | None = None
    """That of its group, or ink, where null."""
    width: float = Field(default=2, ge=0.25, le=12)
    dash: Literal["solid", "dashed", "dotted"] = "solid"


class ReadingsBox(Part):
    """Where the readings of trends stand on the figure."""

    place: Literal["auto", "lines", "free"] = "auto"
    """In one box in the emptiest corner, each beside its line, or in one box where it is put."""
    x: Value = 0
    """Where it was dragged, as a share of the page's width."""
    y: Value = 0
    association: list[Literal["r", "interval", "p_value", "n"]] = Field(
        default_factory=list, max_length=4
    )
    """What is said of the two variables where no trend is fitted."""


class Axis(Part):
    """One axis."""

    title: Words | None = None
    """Label and unit of its variable where null."""
    low: Value | None = None
    """Where it starts; hugging the data where null. Dates in days since 1970-01-01."""
    high: Value | None = None
    scale: Literal["linear", "log", "sqrt"] = "linear"
    base: Literal[2, 10, "e"] = 10
    """Of a logarithmic axis."""
    reversed: bool = False
    step: Annotated[float, Field(gt=0, allow_inf_nan=False)] | None = None
    """Between ticks, in the axis's units; a round one where null."""
    positions: list[Value] = Field(default_factory=list, max_length=200)
    """Own places of ticks."""
    ticks: Literal["out", "in", "across", "none"] = "out"
    small_ticks: int = Field(default=0, ge=0, le=9)
    """How many between two large ones."""
    digits: Annotated[int, Field(ge=0, le=12)] | None = None
    """Decimals of tick labels; as many as the step needs where null."""
    prefix: Annotated[str, Field(max_length=20)] = ""
    suffix: Annotated[str, Field(max_length=20)] = ""
    labels: Literal["auto", "level", "slanted", "upright"] = "auto"
    grid: Literal["none", "large", "all"] = "none"
    crosses: Value | None = None
    """The value of this axis at which the other axis stands; at its edge where null."""
    width: float = Field(default=1, ge=0, le=8)
    colour: HexColour = "#1d2b2a"

    @model_validator(mode="after")
    def _runs_somewhere(self) -> Axis:
        if self.low is not None and self.high is not None and self.low >= self.high:
            raise ValueError("an axis must end above where it starts")
        if self.scale != "linear" and self.low is not None:
            least = 0.0 if self.scale == "sqrt" else 5e-324
            if self.low < least:
                raise ValueError("this axis cannot start there: its scale begins above")
        return self


class Axes(Part):
    """Both axes."""

    x: Axis = Field(default_factory=Axis)
    y: Axis = Field(default_factory=Axis)
    frame: Literal["range", "full", "box"] = "range"
    """Lines as long as the data, as the plot, or round it."""
    equal: bool = False
    """Whether a unit is as long on both."""


class Outline(Part):
    """A line round each mark."""

    colour: HexColour | None = None
    """The mark's own where null."""
    width: float = Field(default=1, ge=0.25, le=8)


class OwnLook(Part):
    """How one category looks on this figure alone."""

    colour: HexColour | None = None
    shape: Shape | None = None
    size: float = Field(default=1, ge=0.2, le=10)
    """How many times as large as the others; a bubble keeps the size of its value."""


class Marks(Part):
    """How marks look."""

    shape: Shape = "disc"
    size: float = Field(default=6, ge=1, le=60)
    """Diameter of a disc of the same ink, in points."""
    opacity: float | None = Field(default=None, ge=0.02, le=1)
    """Chosen from how crowded the figure is where null."""
    colour: HexColour | None = None
    """Of all marks, where no variable colours them."""
    hollow: bool = False
    outline: Outline | None = None
    density: Literal["auto", "on", "off"] = "auto"
    """Shading in the place of marks; by itself where so many cannot be told apart."""
    text: VariableName | None = None
    """A variable whose short text stands in the place of a marker."""
    each: dict[str, OwnLook] = Field(default_factory=dict, max_length=500)
    """By category, its own look."""
    front: list[Words] = Field(default_factory=list, max_length=500)
    """Categories drawn over the others, the last on top."""


class Legend(Part):
    """The legend, drawn where there is something to tell apart."""

    place: Literal["auto", "inside", "right", "below", "none", "free"] = "auto"
    x: Value = 0
    """Where it was dragged, as a share of the page's width; counts where it is free."""
    y: Value = 0
    title: Words | None = None
    """The colour variable's label where null; nothing where empty."""
    renamed: dict[str, Words] = Field(default_factory=dict, max_length=500)
    """What entries are called on this figure."""
    hidden: list[Words] = Field(default_factory=list, max_length=500)
    """Entries that are left out."""
    order: list[Words] = Field(default_factory=list, max_length=500)
    """Entries that stand first, in this order; the others follow in the study's order."""


Written = Literal[
    "title",
    "subtitle",
    "caption",
    "axis_titles",
    "tick_labels",
    "legend",
    "readings",
    "names",
    "notes",
]


class Lettering(Part):
    """How one part's words are written."""

    size: float = Field(default=1, ge=0.3, le=5)
    """How many times as large as it would be."""
    face: Literal["sans", "serif", "mono"] = "sans"
    weight: Literal[400, 600] | None = None
    """Regular or bold; as the part has it where null."""
    colour: HexColour | None = None


class Type(Part):
    """How the figure's words are written: all of them, and each part by itself."""

    scale: float = Field(default=1, ge=0.4, le=4)
    """Of every text."""
    parts: dict[Written, Lettering] = Field(default_factory=dict)


class Page(Part):
    """The page that the figure fills, in points (1/72 inch)."""

    venue: Literal["screen", "slide", "report column", "full page", "poster", "own"] = "screen"
    """Where the figure will be seen; it set sizes of page, text, marks and lines when chosen."""
    width: float = Field(default=720, ge=72, le=7200)
    height: float = Field(default=610, ge=72, le=7200)
    background: HexColour = "#ffffff"
    frame: HexColour | None = None


Region = Literal["points", "trend", "contours", "counts", "r", "nothing"]


class Matrix(Part):
    """A scatterplot matrix: every pair of some variables; the column gives x, the row gives y."""

    variables: list[VariableName] = Field(min_length=2, max_length=16)
    order: Literal["own", "together"] = "own"
    """As they are listed, or so that those which go together stand together."""
    below: Region = "points"
    above: Region = "r"
    diagonal: Literal["histogram", "density", "both", "nothing"] = "histogram"
    names: bool = True
    """Whether the variables are named on the diagonal."""
    trend: Trend = Field(default_factory=Trend)
    """What is drawn where a region shows points with a trend; for each colour by itself."""
    r_as: Literal["number", "ellipse"] = "number"
    missing: Literal["pairwise", "complete"] = "pairwise"
    """Which rows each pair shows: those that have both, or those that have every variable."""
    axes: Literal["outer", "none"] = "outer"


class SavedLook(Part):
    """How a figure looks, kept under a name for every figure of a study."""

    name: Annotated[str, Field(min_length=1, max_length=200)]
    marks: Marks
    axes: Axes
    """What belongs to one variable (title, ends, ticks at own places) is left as it begins."""
    legend: Literal["auto", "inside", "right", "below", "none", "free"] = "auto"
    type: Type
    page: Page
