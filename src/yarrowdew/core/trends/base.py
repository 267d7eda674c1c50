"""What every trend family offers, so that nothing above needs to know which one it holds."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Literal, NamedTuple, Protocol

from yarrowdew.core.equation import EquationForm
from yarrowdew.core.sample import Array, Sample

BandKind = Literal["confidence", "prediction"]


class Interval(NamedTuple):
    """Lower and upper ends at each x, shape (m,) each."""

    low: Array
    high: Array


@dataclass(frozen=True, slots=True)
class Coefficient:
    """One coefficient with its standard error and interval; None where one does not exist."""

    name: str
    value: float
    se: float | None
    low: float | None
    high: float | None


@dataclass(frozen=True, slots=True)
class Crossing:
    """Where a trend reaches a level of y.

    Attributes
    ----------
    x : float or None
        The crossing; None where the level is never reached.
    low, high : float or None
        Ends of the interval for x; None at an end that is open.
    note : str
        What a reader has to know beside the numbers; empty where there is nothing.
    """

    x: float | None
    low: float | None
    high: float | None
    note: str = ""


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
    def x_range(self) -> tuple[float, float]:
        """Smallest and largest x fitted."""

    @property
    def residual_sd(self) -> float:
        """Residual standard deviation, in units of y."""

    @property
    def r_squared(self) -> float | None:
        """Share of variation accounted for; None where y does not vary."""

    @property
    def adjusted_r_squared(self) -> float | None:
        """R² adjusted for the number of coefficients."""

    @property
    def p_value(self) -> float | None:
        """Of the hypothesis that y does not change with x."""

    @property
    def assumptions(self) -> tuple[str, ...]:
        """What the intervals rest on, as sentences for a person."""

    @property
    def form(self) -> EquationForm:
        """The equation, ready to be printed."""

    def coefficients(self, level: float) -> tuple[Coefficient, ...]:
        """Coefficients with intervals at `level`."""

    def predict(self, x: Array) -> Array:
        """Fitted y at each x, shape (m,)."""

    def band(self, x: Array, level: float, kind: BandKind) -> Interval:
        """Pointwise band at each x, for the mean or for a new row."""

    def crossings(self, y: float, level: float) -> tuple[Crossing, ...]:
        """Every x at which the trend reaches `y`, or one crossing without x."""

    def slope_changes(self, sample: Sample) -> Array | None:
        """Change of slope when each row is left out, shape (n,); None without one slope."""


@dataclass(frozen=True, slots=True)
class Family:
    """A family as the registry lists it.

    Attributes
    ----------
    name : str
        As the command line and the figure document name it.
    label : str
        As it reads in a sentence.
    fit : callable
        From a sample to a fitted trend; raises FitError where none can be made.
    """

    name: str
    label: str
    fit: Callable[[Sample], TrendFit]
