"""How well trends predict rows that they were fitted without."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np
import scipy

from yarrowdew.core.checkpoints import checkpoint
from yarrowdew.core.errors import FitError
from yarrowdew.core.sample import Array, Sample
from yarrowdew.core.trends.base import mean_one
from yarrowdew.core.trends.protocol import TrendFit

PARTS = 10
"""Rows are left out in so many parts; each by itself where there are fewer than twice as many."""
_MOST_ROWS = 5_000
_LEAST_ROWS = 4
_SEED = 20310401


def rows_to_validate(sample: Sample) -> Sample:
    """Take the rows that trends are validated on: of many rows so many, evenly along x."""
    if sample.n <= _MOST_ROWS:
        return sample
    order = np.argsort(sample.x, kind="stable")
    return sample.take(order[np.linspace(0, sample.n - 1, _MOST_ROWS).astype(np.intp)])


def cross_validation_residuals(sample: Sample, again: Callable[[Sample], TrendFit]) -> Array | None:
    """Residuals of rows from trends that were fitted without the part they belong to.

    Cross-validation (Stone 1974) in ten parts that are drawn with a seed, and are the same for
    every trend; below 20 rows each row is a part.

    Parameters
    ----------
    sample : Sample
        See `rows_to_validate`.
    again : callable
        Fits the trend to other rows.

    Returns
    -------
    ndarray, shape (n,), or None
        In units of y; NaN where the trend has no value. None where the rows are too few, a part
        cannot be left out, or fewer than half of the rows have a value.
    """
    n = sample.n
    if n < _LEAST_ROWS:
        return None
    parts = n if n < 2 * PARTS else PARTS
    part = np.random.default_rng(_SEED).permutation(n) % parts
    off = np.full(n, np.nan)
    for k in range(parts):
        checkpoint()
        out = part == k
        try:
            off[out] = sample.y[out] - again(sample.take(~out)).predict(sample.x[out])
        except FitError:
            return None
    return off if np.isfinite(off).mean() >= 0.5 else None


def root_mean_square(sample: Sample, off: Array) -> float | None:
    """Weighted root mean square of residuals, of rows that have one; None where it overflows."""
    known = np.isfinite(off)
    with np.errstate(over="ignore"):
        error = math.sqrt(float(np.average(off[known] ** 2, weights=_weights(sample)[known])))
    return error if math.isfinite(error) else None


@dataclass(frozen=True, slots=True)
class Gain:
    """How much closer one trend predicts left-out rows than another.

    Attributes
    ----------
    share : float
        By what share its mean squared error is smaller; negative where it is larger.
    se : float
        Standard error of `share`, from the differences of squared errors row by row (paired).
    n : int
        Rows that both have a value for.
    """

    share: float
    se: float
    n: int

    def is_clear(self, compared: int = 1) -> bool:
        """Whether it is larger than chance makes the best of so many, at 5 % (Bonferroni)."""
        least = float(scipy.special.stdtrit(self.n - 1, 1 - 0.025 / max(1, compared)))
        return self.share > least * self.se


def gain(sample: Sample, off: Array, than: Array) -> Gain | None:
    """Compare the squared errors of two trends on the same left-out rows.

    The standard error takes rows as independent; rows of one part share a fit, so that it is
    approximate (Nadeau and Bengio 2003).

    Parameters
    ----------
    sample : Sample
    off, than : ndarray, shape (n,)
        See `left_out_residuals`.

    Returns
    -------
    Gain or None
        None where fewer than three rows have both, or the second predicts every row exactly.
    """
    both = np.isfinite(off) & np.isfinite(than)
    n = int(np.count_nonzero(both))
    if n < 3:
        return None
    # Squares of numbers near the ends of what a double holds would overflow.
    scale = max(float(np.abs(than[both]).max()), float(np.abs(off[both]).max()))
    if scale == 0:
        return None
    w = _weights(sample)[both]
    w = w / w.sum()
    ours, theirs = (off[both] / scale) ** 2, (than[both] / scale) ** 2
    whole = float(w @ theirs)
    if whole == 0:
        return None
    difference = theirs - ours
    mean = float(w @ difference)
    spread = float(w**2 @ (difference - mean) ** 2) * n / (n - 1)
    return Gain(mean / whole, math.sqrt(spread) / whole, n)


def within_one_standard_error(sample: Sample, best: Array, others: Sequence[Array]) -> list[bool]:
    """Say which trends predict as well as the best, within one standard error of the difference.

    The one-standard-error rule of Breiman, Friedman, Olshen and Stone (1984), on paired rows.
    """
    found = [gain(sample, best, off) for off in others]
    return [one is not None and one.share <= one.se for one in found]


def _weights(sample: Sample) -> Array:
    return np.broadcast_to(mean_one(sample), sample.n)
