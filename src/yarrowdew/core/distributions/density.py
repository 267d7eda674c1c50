"""Distributions of one number: histogram, kernel density, and five numbers for a box."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass
from fractions import Fraction
from functools import cached_property

import numpy as np
import scipy

from yarrowdew.core.aggregates.cell_counts import Grid
from yarrowdew.core.arithmetic import scaled
from yarrowdew.core.register import documented
from yarrowdew.core.sample import Array

GRID = 1024
MOST_BINS = 400
_STAGES = 7


@dataclass(frozen=True, slots=True)
class Histogram:
    """Counts of values in even steps.

    Attributes
    ----------
    edges : ndarray of float64, shape (bins + 1,)
    counts : ndarray of int64, shape (bins,)
        A value on an edge belongs to the step above it; the largest to the last step. Edges and
        values count as the decimals by which they are written. Whole numbers in steps of 1 stand
        in the middle of theirs.
    step : float
    """

    edges: Array
    counts: np.ndarray
    step: float


@dataclass(frozen=True, slots=True)
class Density:
    """A kernel density on an even grid.

    Attributes
    ----------
    at : ndarray of float64, shape (points,)
    density : ndarray of float64, shape (points,)
        Share of the values for each unit; its integral is 1 but for what lies beyond the grid.
    bandwidth : float
        Standard deviation of the Gaussian kernel.
    """

    at: Array
    density: Array
    bandwidth: float


@dataclass(frozen=True, slots=True)
class BoxNumbers:
    """Quartiles, and the furthest values within 1.5 times their range (Tukey 1977)."""

    low: float
    lower_quartile: float
    median: float
    upper_quartile: float
    high: float


def good_step(rough: float) -> float:
    """Round a step to 1, 2 or 5 times a power of ten, whichever is nearest by factor."""
    return float(_good(Fraction(rough)))


def _good(rough: Fraction) -> Fraction:
    power = Fraction(10) ** math.floor(math.log10(rough.numerator) - math.log10(rough.denominator))
    lead = float(rough / power)
    bounds = (math.sqrt(2), math.sqrt(10), math.sqrt(50), math.inf)
    return power * next(
        step for step, most in zip((1, 2, 5, 10), bounds, strict=True) if lead < most
    )


@dataclass(frozen=True, slots=True)
class Extent:
    """What is known of values before they are counted in steps.

    Attributes
    ----------
    n : int
    low, high : float
    quartiles : tuple of float
        The lower and the upper one; needed where no step is given.
    whole : bool
        Whether all are whole numbers.
    """

    n: int
    low: float
    high: float
    quartiles: tuple[float, float]
    whole: bool

    @classmethod
    def of(cls, values: Array, *, has_step: bool = False) -> Extent:
        """Of values, shape (n,), at least one; without quartiles where there is a step."""
        lower = upper = 0.0
        if not has_step:
            lower, upper = (float(q) for q in np.quantile(values, [0.25, 0.75]))
        whole = bool((values == np.round(values)).all())
        return cls(len(values), float(values.min()), float(values.max()), (lower, upper), whole)


@dataclass(frozen=True)
class Steps:
    """Even steps in which values are counted; see `histogram`.

    Attributes
    ----------
    begin : Fraction
        Where the first one begins: exact, as is the width, so that 0.3 lies on the third edge of
        steps of 0.1.
    width : Fraction
    bins : int
    """

    begin: Fraction
    width: Fraction
    bins: int

    @property
    def step(self) -> float:
        """How wide each is."""
        return _nearest(self.width)

    @cached_property
    def edges(self) -> Array:
        """Where they begin and end, shape (bins + 1,); infinite beyond what numbers reach."""
        return np.array([_nearest(self.begin + k * self.width) for k in range(self.bins + 1)])

    def count(self, values: Array) -> np.ndarray:
        """How many values lie in each; a value on an edge in the step above it, the largest in the
        last.
        """
        held = np.searchsorted(self.edges[1:-1], values, side="right")
        return np.bincount(held, minlength=self.bins)


def _nearest(value: Fraction) -> float:
    """The number nearest to it; infinite beyond the largest."""
    try:
        return float(value)
    except OverflowError:
        return math.inf if value > 0 else -math.inf


def _written(value: float) -> Fraction:
    """A number as the shortest decimal by which it is written: 0.1 is one tenth."""
    return Fraction(repr(float(value)))


_SMALLEST = Fraction(math.ulp(0.0))


def steps_for(extent: Extent, step: float | None = None, start: float | None = None) -> Steps:
    """Find the steps in which values are counted; see `histogram`."""
    low, high, lower, upper = (_written(v) for v in (extent.low, extent.high, *extent.quartiles))
    if step is not None:
        width = _written(step)
    else:
        rough = (upper - lower) * Fraction(2 * extent.n ** (-1 / 3))
        # Where half of the values are one and the same, the range says more than its middle half.
        rough = (
            rough
            or (high - low) / Fraction(max(1.0, math.sqrt(extent.n)))
            or abs(low)
            or Fraction(1)
        )
        width = max(_good(max(rough, (high - low) / MOST_BINS)), _SMALLEST)
    if start is None and width <= 1 and extent.whole:
        return Steps(low - Fraction(1, 2), Fraction(1), int(high - low) + 1)
    # From a given edge whole numbers stand where they are put.
    begin = Fraction(0) if start is None else _written(start)
    begin += (low - begin) // width * width
    bins = max(1, math.ceil((high - begin) / width))
    return Steps(begin, width, bins)


def wide_enough(low: float, high: float, width: float | None) -> float | None:
    """So wide that there are not more bins than can be seen; found from the values where None."""
    if width is None:
        return None
    return width if width >= high / MOST_BINS - low / MOST_BINS else None


@documented(
    "distributions",
    "histogram",
    "bars count values as the decimals by which they are written; width by Freedman and Diaconis (1981)",
    "exact",
)
def histogram(values: Array, step: float | None = None, start: float | None = None) -> Histogram:
    """Count values in steps that begin at a multiple of the step, or at a given place.

    Parameters
    ----------
    values : ndarray of float64, shape (n,)
        Finite, at least one.
    step : float, optional
        By Freedman and Diaconis (1981), 2 IQR n^(-1/3), rounded to a good step, where None.
    start : float, optional
        An edge from which the steps are counted.
    """
    steps = steps_for(Extent.of(values, has_step=step is not None), step, start)
    return Histogram(steps.edges, steps.count(values), steps.step)


@documented(
    "distributions",
    "density",
    "Gaussian kernel, bandwidth of Botev, Grotowski and Kroese (2010)",
    "an estimate, without an interval",
)
def kernel_density(values: Array, points: int = 128, bandwidth: float | None = None) -> Density:
    """Smooth the distribution of values with a Gaussian kernel.

    The bandwidth is found by the plug-in rule of Botev, Grotowski and Kroese (2010, section 5),
    which does not take two humps for one; where it has no solution, by Silverman's rule (1986).

    Parameters
    ----------
    values : ndarray of float64, shape (n,)
        Finite, with at least two distinct values.
    points : int
        How many places the density is given at.
    bandwidth : float, optional
        Standard deviation of the kernel; found where None.
    """
    grid = DensityGrid.of(float(values.min()), float(values.max()))
    return grid.density(
        grid.count(values),
        distinct=lambda: len(np.unique(values)),
        sd=lambda: float(values.std(ddof=1)),
        points=points,
        bandwidth=bandwidth,
    )


@dataclass(frozen=True, slots=True)
class DensityGrid:
    """Cells in which values are counted to be smoothed; see `kernel_density`.

    Attributes
    ----------
    low, span : float
        The smallest value, and how far it is to the largest, in units of 2 ** exponent.
    exponent : int
    """

    low: float
    span: float
    exponent: int = 0

    @classmethod
    def of(cls, low: float, high: float) -> DensityGrid:
        """For values between two that differ."""
        ends, exponent = scaled(np.array([low, high]))
        return cls(float(ends[0]), float(ends[1] - ends[0]), exponent)

    @property
    def _cells(self) -> Grid:
        # Room on both sides, so that what is smoothed past the ends does not come back in.
        return Grid(-self.span / 2, 1.5 * self.span, GRID)

    def count(self, values: Array) -> np.ndarray:
        """How many values lie in each cell, shape (GRID,)."""
        inner = np.ldexp(values, -self.exponent) if self.exponent else values
        # Counted from the smallest, so that values far from zero keep what tells them apart.
        return np.bincount(self._cells.places(inner - self.low), minlength=GRID)

    def density(
        self,
        counts: np.ndarray,
        *,
        distinct: Callable[[], int],
        sd: Callable[[], float],
        points: int = 128,
        bandwidth: float | None = None,
    ) -> Density:
        """Smooth what was counted.

        Parameters
        ----------
        counts : ndarray, shape (GRID,)
        distinct : callable
            Says how many different values there are.
        sd : callable
            Says their standard deviation.
        points : int
        bandwidth : float, optional
        """
        low, high, width = 0.0, self.span, 2 * self.span
        shares = counts / counts.sum()
        cosines = scipy.fft.dct(shares, type=2)
        waves = np.arange(1, GRID, dtype=np.float64) ** 2
        squares = (cosines[1:] / 2) ** 2
        if bandwidth is None:
            time = _plug_in_time(distinct(), waves, squares)
        else:
            time = (min(math.ldexp(bandwidth, -self.exponent), self.span / 2) / width) ** 2
        if time is None:
            spread = math.ldexp(sd(), -self.exponent)
            time = (0.9 * spread * int(counts.sum()) ** -0.2 / width) ** 2
        smooth = cosines * np.exp(-(np.arange(GRID) ** 2) * math.pi**2 * time / 2)
        density = np.maximum(0.0, scipy.fft.idct(smooth, type=2)) / (width / GRID)
        found = math.sqrt(time) * width
        at = np.linspace(low - 2.5 * found, high + 2.5 * found, points)
        edges = self._cells.edges()
        middles = (edges[:-1] + edges[1:]) / 2
        smoothed = np.interp(at, middles, density, left=0.0, right=0.0)
        return Density(
            np.ldexp(at + self.low, self.exponent),
            np.ldexp(smoothed, -self.exponent),
            math.ldexp(found, self.exponent),
        )


def _plug_in_time(n: int, waves: Array, squares: Array) -> float | None:
    """Solve for the squared bandwidth, in units of the grid's width; None without a solution."""

    def norm(order: int, time: float) -> float:
        decay = np.exp(-waves * math.pi**2 * time)
        return float(2 * math.pi ** (2 * order) * (waves**order * squares * decay).sum())

    def gap(time: float) -> float:
        f = norm(_STAGES, time)
        for order in range(_STAGES - 1, 1, -1):
            odd = math.prod(range(1, 2 * order, 2)) / math.sqrt(2 * math.pi)
            factor = (1 + 0.5 ** (order + 0.5)) / 3
            f = norm(order, (2 * factor * odd / (n * f)) ** (2 / (3 + 2 * order)))
        return float(time - (2 * n * math.sqrt(math.pi) * f) ** -0.4)

    try:
        return float(scipy.optimize.brentq(gap, 1e-12, 0.1))
    except (ValueError, ZeroDivisionError, OverflowError):
        return None


@documented(
    "distributions",
    "box, outliers",
    "quartiles; 1.5 times their range (Tukey 1977)",
    "exact",
)
def box_numbers(values: Array) -> BoxNumbers:
    """Find what a box with whiskers shows.

    Parameters
    ----------
    values : ndarray of float64, shape (n,)
        Finite, at least one. Quartiles by linear interpolation (Hyndman and Fan 1996, definition 7).
    """
    inner, exponent = scaled(values)
    if exponent:
        found = box_numbers(inner)
        ends = (found.low, found.lower_quartile, found.median, found.upper_quartile, found.high)
        return BoxNumbers(*(math.ldexp(end, exponent) for end in ends))
    lower, median, upper = (float(q) for q in np.quantile(values, [0.25, 0.5, 0.75]))
    reach = 1.5 * (upper - lower)
    inside = values[(values >= lower - reach) & (values <= upper + reach)]
    return BoxNumbers(float(inside.min()), lower, median, upper, float(inside.max()))
