"""What is said of fits, as it goes over the wire."""

from __future__ import annotations

from typing import Literal

from yarrowdew.core.trends.protocol import BandKind, Errors
from yarrowdew.figures.wire.base import Number, OnWire, Place


class CoefficientReport(OnWire):
    """A coefficient, its standard error and interval."""

    name: str
    label: str
    """Name of the coefficient in words."""
    value: Number
    se: Number
    low: Number
    high: Number
    was_given: bool
    """Whether it was set and not fitted."""
    p_value: Number = None
    """That it is zero (Student's t); null where it does not add to y in proportion to itself."""


class CorrelationReport(OnWire):
    """How far two fitted coefficients go together."""

    one: str
    other: str
    r: Number


class ReadingReport(OnWire):
    """y at an x, with the interval of the mean and of a new row."""

    x: Place
    y: Place
    mean_low: Place
    mean_high: Place
    new_low: Place
    new_high: Place
    carried_on: bool
    """Whether x lies outside the data."""
    name: str | None = None
    """Label of the reading."""
    x_place: Number = None
    """x on the axis; dates in days since 1970-01-01."""
    y_place: Number = None


class SolutionReport(OnWire):
    """x at a y; an end of the interval that is open is null."""

    y: Place
    x: Place
    low: Place
    high: Place
    carried_on: bool
    note: str
    name: str | None = None
    x_place: Number = None
    y_place: Number = None
    low_place: Number = None
    high_place: Number = None


class MeasureReport(OnWire):
    """A number that says how well a curve fits where R² does not."""

    label: str
    value: float


class FitReport(OnWire):
    """Results of one fit; a value that does not exist is null."""

    group: str | None
    """The category fitted; null for the whole."""
    family: str
    equation: str | None
    equation_note: str = ""
    """What x or y means in the equation where it is a date."""
    n: int
    dropped: dict[str, int]
    """How many rows were left out, by reason."""
    level: float
    errors: Errors = "equal"
    """How its standard errors are found."""
    coefficients: list[CoefficientReport]
    correlations: list[CorrelationReport] = []
    """Of every two fitted coefficients of a curve."""
    degrees_of_freedom: Number = None
    r_squared: Number = None
    adjusted_r_squared: Number = None
    r_squared_log: Number = None
    """On the scale of ln y, where the fit was made there."""
    measures: list[MeasureReport] = []
    """What is said beside R², or in its place."""
    residual_sd: Number = None
    aicc: Number = None
    left_out_error: Number = None
    """Root mean square distance of rows from the trend fitted without them."""
    parameters: Number = None
    """Number of coefficients, or the equivalent degrees of freedom of a smooth."""
    r: Number = None
    r_low: Number = None
    r_high: Number = None
    p_value: Number = None
    readings: list[ReadingReport]
    solutions: list[SolutionReport]
    sentence: str = ""
    """The result in plain words."""
    assumptions: list[str]
    problem: str | None = None
    """Why there is no fit; null where there is one."""


class BandCurve(OnWire):
    """A band at each x of its trend's curve."""

    kind: BandKind
    level: float
    low: list[Number]
    high: list[Number]


class TrendCurve(OnWire):
    """A fitted line as it is drawn, in places on the axes; null where it has a gap."""

    x: list[float]
    y: list[Number]
    bands: list[BandCurve]


class WithAll(OnWire):
    """Results of the line without setting rows aside."""

    n: int
    slope: float | None
    r_squared: float | None


class TrendAnswer(OnWire):
    """One fitted line: its curve and its results."""

    trend: int
    """Which of the document's trends."""
    family_label: str
    group_code: int | None
    """Place of its group among the colour's categories; null where it has no such colour."""
    group_value: str | None = None
    """The value of its category, by which documents name it; null for the whole."""
    report: FitReport
    curve: TrendCurve | None
    """Null where there is no fit."""
    carried: list[TrendCurve] = []
    """What is drawn before and after the data."""
    with_all: WithAll | None
    """With the rows that are set aside; null where none of them is."""


class DifferenceOfLines(OnWire):
    """How much larger the slope, or y at a common slope, is in the second of two groups."""

    value: float
    low: Number
    high: Number
    """Ends of an interval that allows for the number of pairs (Bonferroni)."""
    p_value: float
    """Adjusted for the number of pairs (Holm 1979)."""


class TwoLinesAnswer(OnWire):
    """How the lines of two groups differ."""

    first: str
    second: str
    slopes: DifferenceOfLines
    heights: DifferenceOfLines
    """Of y at any x, if both lines had the common slope."""
    sentence: str


class SlopesAnswer(OnWire):
    """Whether the groups of a trend share one slope (Welch 1951), and how each two differ."""

    trend: int
    sentence: str
    slope: float
    """The common slope."""
    low: float
    high: float
    f: float
    df_groups: int
    df_rest: float | None
    """Null where the standard errors of y are given, and the test is χ²."""
    p_value: float
    level: float
    pairs: list[TwoLinesAnswer]
    """Of at most six groups."""
    adjusted: str = ""
    """Y of each parallel line at the mean of x, as a sentence; empty where lines are not parallel."""


class AssociationAnswer(OnWire):
    """How the two variables go together, where no trend is fitted."""

    r: float
    low: float | None
    high: float | None
    p_value: float | None
    n: int
    level: float


Remedy = Literal["fit_each", "thin_marks", "compare", "allow_unequal", "resample", "cluster"]


class Caution(OnWire):
    """A reading that warns."""

    title: str
    text: str
    rows: list[int] = []
    """The rows it is about, by their place in the table from 0."""
    group: str | None = None
    """The category it is about."""
    variable: str | None = None
    """The variable that its remedy needs."""
    remedy: Remedy | None = None
    """Remedy, as an edit of the document; null where the reader has to decide."""
