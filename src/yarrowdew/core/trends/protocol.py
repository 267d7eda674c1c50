"""What every trend family offers, so that nothing above needs to know which one it holds."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal, NamedTuple, Protocol, cast, get_args, runtime_checkable

from yarrowdew.core.equation import EquationForm
from yarrowdew.core.errors import FitError
from yarrowdew.core.sample import Array, Sample
from yarrowdew.core.trends.assumptions import Assumption

BandKind = Literal["confidence", "whole line", "prediction"]
"""For the mean at each x, for the mean of the whole line at once, or for a new row."""
PointwiseKind = Literal["confidence", "prediction"]
"""What a fit's own band is for; that of a whole line is made from it by `bands.band_of`."""
Errors = Literal["equal", "hc3", "cluster", "bootstrap", "given"]
"""What standard errors rest on: equal scatter, unequal scatter, rows that belong together, rows drawn
again, or standard errors of y that are known."""
_WERE: dict[str, Errors] = {"unequal": "hc3", "resampled": "bootstrap"}


def present_errors(name: str) -> Errors:
    """What a source of standard errors is called now that may be named as it was before."""
    return _WERE.get(name, cast("Errors", name))


Scatter = Literal["multiplicative", "additive"]


Units = tuple[int, int]
"""The powers of y and of x that a number is counted in."""


class Interval(NamedTuple):
    """Lower and upper ends at each x, shape (m,) each."""

    low: Array
    high: Array


@dataclass(frozen=True, slots=True)
class Coefficient:
    """One coefficient with its standard error and interval; None where one does not exist.

    Attributes
    ----------
    name : str
    value : float
    se, low, high : float or None
    was_given : bool
        Whether it was set and not fitted.
    """

    name: str
    value: float
    se: float | None
    low: float | None
    high: float | None
    was_given: bool = False

    @classmethod
    def of(cls, name: str, value: float, se: float, half: float) -> Coefficient:
        """Make one whose interval reaches `half` standard errors to either side."""
        return cls(name, value, se, value - half * se, value + half * se)

    @classmethod
    def given(cls, name: str, value: float) -> Coefficient:
        """Make one that was not fitted."""
        return cls(name, value, None, None, None, was_given=True)


class Correlation(NamedTuple):
    """How far two fitted coefficients go together: near ±1, the rows tell only their balance."""

    one: str
    other: str
    r: float


@dataclass(frozen=True, slots=True)
class Crossing:
    """Where a trend reaches a level of y.

    Attributes
    ----------
    x : float or None
        The crossing; None where the level is never reached.
    low, high : float or None
        Ends of the interval for x; None at an end that is open.
    remark : str
        What a reader has to know beside the numbers, with ``{}`` for each of `numbers`; empty
        where there is nothing.
    numbers : tuple of ("x" or "y", float)
        Numbers that the remark speaks of, and on which axis they lie.
    """

    x: float | None
    low: float | None
    high: float | None
    remark: str = ""
    numbers: tuple[tuple[Literal["x", "y"], float], ...] = ()

    @property
    def note(self) -> str:
        """The remark, written out."""
        return self.remark.format(*(f"{value:.6g}" for _, value in self.numbers))


def check_pointwise(kind: str) -> None:
    """Refuse a kind of band that a fit does not have by itself.

    Raises
    ------
    FitError
        If it is that of a whole line, which must not be taken for one of each x.
    """
    if kind not in get_args(PointwiseKind):
        raise FitError(
            f"A fit has no band of the kind '{kind}' of its own.",
            'Use yarrowdew.band(fit, x, kind="whole line").',
        )


class TrendFit(Protocol):
    """A fitted trend."""

    @property
    def family(self) -> str:
        """Name of the family in the registry."""

    @property
    def n(self) -> int:
        """How many rows were fitted."""

    @property
    def degrees_of_freedom(self) -> float:
        """Residual degrees of freedom."""

    @property
    def parameters(self) -> float:
        """How many coefficients were fitted, or what is equivalent to them in a smooth."""

    @property
    def x_range(self) -> tuple[float, float]:
        """Smallest and largest x fitted."""

    @property
    def residual_sd(self) -> float:
        """Residual standard deviation, in units of y."""

    @property
    def r_squared(self) -> float | None:
        """Share of variation accounted for, on the scale of y; None where y does not vary."""

    @property
    def adjusted_r_squared(self) -> float | None:
        """R² adjusted for the number of coefficients."""

    @property
    def r_squared_log(self) -> float | None:
        """R² on the scale of ln y, where the fit was made there."""

    @property
    def measures(self) -> tuple[tuple[str, float], ...]:
        """What is said of how well it fits beside R², or in its place: a name and a number each."""

    @property
    def p_value(self) -> float | None:
        """Of the hypothesis that y does not change with x."""

    @property
    def aicc(self) -> float | None:
        """Akaike's criterion with its correction for few rows, on the scale of y."""

    @property
    def assumptions(self) -> tuple[Assumption, ...]:
        """What the intervals rest on, as sentences for a person."""

    @property
    def form(self) -> EquationForm | None:
        """The equation, ready to be printed; None for a smooth, which has none."""

    def form_about(self, origin: float) -> EquationForm | None:
        """The equation in x counted from another origin; None where the family has none."""

    def coefficients(self, level: float) -> tuple[Coefficient, ...]:
        """Coefficients with intervals at `level`."""

    def coefficient_values(self) -> dict[str, float]:
        """Coefficients by name, without what only their intervals need."""

    @property
    def correlations(self) -> tuple[Correlation, ...]:
        """Of every two coefficients that were fitted, where that is worth telling."""

    def predict(self, x: Array) -> Array:
        """Fitted y at each x, shape (m,); NaN where the trend has no place."""

    def band(self, x: Array, level: float, kind: PointwiseKind) -> Interval | None:
        """Pointwise band at each x, for the mean or for a new row; None where there is none."""

    def crossings(
        self, y: float, level: float, within: tuple[float, float] | None = None
    ) -> tuple[Crossing, ...]:
        """Every x at which the trend reaches `y`, or one crossing without x.

        Forms other than the straight line are searched over `within`, or over the data.
        """

    def drawn_at(self, points: int) -> Array:
        """Places at which the curve is drawn over the data."""

    def leverage(self, sample: Sample) -> Array | None:
        """Diagonal of the hat matrix, shape (n,); None where there is none."""

    def left_out(self, sample: Sample) -> Array | None:
        """Distance of each row from the trend fitted without it, in units of y, shape (n,)."""

    def studentised(self, sample: Sample) -> Array | None:
        """Residuals in units of their own standard error, shape (n,)."""

    def slope_changes(self, sample: Sample) -> Array | None:
        """Change of slope when each row is left out, shape (n,); None without one slope."""


@runtime_checkable
class HasTangent(Protocol):
    """A fit by least squares, as columns T over x with TᵀWT = 1 over its rows."""

    def tangent(self, x: Array) -> Array:
        """T at each x, shape (m, p): the variance of the mean there is s² ΣT²."""

    def coefficient_tangents(self) -> dict[str, Array]:
        """Every fitted coefficient as a row, shape (p,): its variance is s² Σ of squares."""


@runtime_checkable
class HasWholeBand(Protocol):
    """A fit that has a band for the whole line of its own."""

    def whole_band(self, x: Array, level: float) -> Interval:
        """Band that covers all of the line at once."""


@runtime_checkable
class HasRefit(Protocol):
    """A fit that knows a shorter way to a fit of the same form to much the same rows."""

    def refit(self, sample: Sample) -> TrendFit:
        """Fit the form to other rows."""


@runtime_checkable
class HoldsRows(Protocol):
    """A fit that holds as much as there are rows, for its own intervals alone."""

    def curve_alone(self) -> TrendFit:
        """The same curve and values of coefficients, without what intervals are made from."""
