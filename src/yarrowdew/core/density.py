"""Distributions of one number: histogram, kernel density, and five numbers for a box."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
import scipy
from scipy import fft

from yarrowdew.core.arithmetic import exponent_of, scaled
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
        A value on an edge belongs to the step above it; the largest to the last step. Whole
        numbers in steps of 1 stand in the middle of theirs.
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
    power = 10.0 ** math.floor(math.log10(rough))
    lead = rough / power
    if lead < math.sqrt(2):
        return power
    if lead < math.sqrt(10):
        return 2 * power
    return 5 * power if lead < math.sqrt(50) else 10 * power


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
    if start is not None:
        width = histogram(values).step if step is None else step
        # Whole numbers stand where they are put.
        shift = start - math.floor(start / width) * width
        moved = histogram(values - shift, width)
        if moved.edges[0] % width:
            moved = _in_steps(values - shift, width)
        return Histogram(moved.edges + shift, moved.counts, width)
    exponent = exponent_of(values if step is None else np.append(values, step))
    if exponent:
        smaller = None if step is None else math.ldexp(step, -exponent)
        found = histogram(np.ldexp(values, -exponent), smaller)
        edges = np.ldexp(found.edges, exponent)
        return Histogram(edges, found.counts, math.ldexp(found.step, exponent))
    low, high = float(values.min()), float(values.max())
    if step is None:
        lower, upper = np.quantile(values, [0.25, 0.75])
        rough = 2 * float(upper - lower) * len(values) ** (-1 / 3)
        # Where half of the values are one and the same, the range says more than its middle half.
        rough = rough or (high - low) / max(1.0, math.sqrt(len(values))) or abs(low) or 1.0
        step = good_step(max(rough, (high - low) / MOST_BINS))
    if step <= 1 and bool((values == np.round(values)).all()):
        return _whole(values)
    return _in_steps(values, step)


def _in_steps(values: Array, step: float) -> Histogram:
    low, high = float(values.min()), float(values.max())
    first = math.floor(low / step)
    bins = max(1, math.floor(high / step) - first + 1)
    if bins > 1 and high == (first + bins - 1) * step:
        bins -= 1
    edges = (first + np.arange(bins + 1, dtype=np.float64)) * np.float64(step)
    places = np.clip(np.floor(values / step).astype(np.int64) - first, 0, bins - 1)
    return Histogram(edges, np.bincount(places, minlength=bins), step)


def _whole(values: Array) -> Histogram:
    """Count whole numbers, each in a step of its own about it."""
    low = values.min()
    counts = np.bincount((values - low).astype(np.int64))
    return Histogram(low - 0.5 + np.arange(len(counts) + 1, dtype=np.float64), counts, 1.0)


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
    inner, exponent = scaled(values)
    if exponent:
        chosen = None if bandwidth is None else math.ldexp(bandwidth, -exponent)
        found = kernel_density(inner, points, chosen)
        return Density(
            np.ldexp(found.at, exponent),
            np.ldexp(found.density, -exponent),
            math.ldexp(found.bandwidth, exponent),
        )
    # Counted from the smallest, so that values far from zero keep what tells them apart.
    least = float(values.min())
    values = values - least
    low, high = 0.0, float(values.max())
    span = high - low
    # Room on both sides, so that what is smoothed past the ends does not come back in.
    start, width = low - span / 2, 2 * span
    edges = start + width * np.arange(GRID + 1) / GRID
    shares = np.histogram(values, edges)[0] / len(values)
    cosines = fft.dct(shares, type=2)
    waves = np.arange(1, GRID, dtype=np.float64) ** 2
    squares = (cosines[1:] / 2) ** 2
    time = (
        _plug_in_time(len(np.unique(values)), waves, squares)
        if bandwidth is None
        else (min(bandwidth, span / 2) / width) ** 2
    )
    if time is None:
        spread = float(values.std(ddof=1))
        time = (0.9 * spread * len(values) ** -0.2 / width) ** 2
    smooth = cosines * np.exp(-(np.arange(GRID) ** 2) * math.pi**2 * time / 2)
    density = np.maximum(0.0, fft.idct(smooth, type=2)) / (width / GRID)
    bandwidth = math.sqrt(time) * width
    at = np.linspace(low - 2.5 * bandwidth, high + 2.5 * bandwidth, points)
    middles = (edges[:-1] + edges[1:]) / 2
    smoothed = np.interp(at, middles, density, left=0.0, right=0.0)
    return Density(at + least, smoothed, bandwidth)


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
