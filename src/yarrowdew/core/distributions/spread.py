"""One number by itself: its middle with an interval, its shape, and what lies far out."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
import scipy

from yarrowdew.core.arithmetic import scaled
from yarrowdew.core.distributions.density import BoxNumbers, box_numbers
from yarrowdew.core.intervals import check_level, normal_quantile, t_quantile
from yarrowdew.core.register import documented
from yarrowdew.core.sample import Array


@dataclass(frozen=True, slots=True)
class Middle:
    """A middle and its interval; without one where there are too few values."""

    value: float
    low: float | None
    high: float | None


@dataclass(frozen=True, slots=True)
class Spread:
    """How values are spread.

    Attributes
    ----------
    n : int
    mean, median : Middle
        The mean's interval by Student's t; the median's by order statistics, which rests on no
        shape (Hahn and Meeker 1991, section 5.2): at least as sure as its level.
    sd : float or None
        None for one value.
    skewness : float or None
        Adjusted for few values (Joanes and Gill 1998, G1); None for fewer than three, or where they
        do not vary.
    box : BoxNumbers
    low, high : float
        The smallest and the largest.
    far : ndarray of intp
        Places of the values further out than 1.5 times the range of the middle half (Tukey 1977).
    """

    n: int
    mean: Middle
    median: Middle
    sd: float | None
    skewness: float | None
    box: BoxNumbers
    low: float
    high: float
    far: np.ndarray


@documented(
    "distributions",
    "mean",
    "Student’s t",
    "exact under normal scatter; short under skew (see the table of coverage)",
)
@documented(
    "distributions",
    "median",
    "order statistics",
    "covers at least as often as it says; none below 6 rows at 95 %",
)
def spread(values: Array, level: float = 0.95) -> Spread:
    """Say how values are spread.

    Parameters
    ----------
    values : ndarray of float64, shape (n,)
        Finite, at least one.
    level : float
        Of both intervals.
    """
    check_level(level)
    inner, exponent = scaled(values)
    n = len(inner)
    mean = float(inner.mean())
    mean += float((inner - mean).mean())
    about = inner - mean
    variance = float(about @ about) / (n - 1) if n > 1 else None
    half = None
    if variance is not None:
        half = t_quantile(level, n - 1) * math.sqrt(variance / n)
    box = box_numbers(values)

    def back(value: float) -> float | None:
        """In the values' own unit; None beyond the largest number there is."""
        try:
            return math.ldexp(value, exponent)
        except OverflowError:
            return None

    return Spread(
        n=n,
        mean=Middle(
            math.ldexp(mean, exponent),
            None if half is None else back(mean - half),
            None if half is None else back(mean + half),
        ),
        median=Middle(box.median, *_median_interval(np.sort(values), level)),
        sd=None if variance is None else back(math.sqrt(variance)),
        skewness=_skewness(about, variance),
        box=box,
        low=float(values.min()),
        high=float(values.max()),
        far=np.flatnonzero((values < box.low) | (values > box.high)),
    )


def _skewness(about: Array, variance: float | None) -> float | None:
    n = len(about)
    if n < 3 or not variance:
        return None
    sd = math.sqrt(float(about @ about) / n)
    return for_few(float(np.mean((about / sd) ** 3)), n)


def for_few(skewness: float, n: int) -> float:
    """Adjust the skewness of few values."""
    return skewness * math.sqrt(n * (n - 1)) / (n - 2)


def _median_interval(ordered: Array, level: float) -> tuple[float | None, float | None]:
    ranks = median_ranks(len(ordered), level)
    return (None, None) if ranks is None else (float(ordered[ranks[0]]), float(ordered[ranks[1]]))


def median_ranks(n: int, level: float) -> tuple[int, int] | None:
    """The narrowest pair of order statistics, alike from both ends, that is as sure as the level.

    How many values come before each; None where no pair is.
    """
    tail = (1 - level) / 2
    # The largest k with P(B < k) at most the tail, for B binomial of n halves.
    guess = n / 2 - normal_quantile(level) * math.sqrt(n) / 2
    k = max(0, min(n // 2, math.floor(guess) + 2))
    while k > 0 and float(scipy.special.bdtr(k - 1, n, 0.5)) > tail:
        k -= 1
    return None if k == 0 else (k - 1, n - k)
