"""Rows that resemble one another, which standard errors take as independent."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
import scipy

from yarrowdew.core.sample import Array, Sample
from yarrowdew.core.trends import TrendFit
from yarrowdew.core.trends.base import spread_of

MOST_ROWS = 20_000
"""Of more, the first looked at."""


@dataclass(frozen=True, slots=True)
class Alike:
    """Rows that resemble one another more than chance would make them.

    Attributes
    ----------
    correlation : float
        Of residuals of neighbours, or of residuals within a group.
    p_value : float
    """

    correlation: float
    p_value: float


_TELLING_ALIKE = 0.3
_FEWEST_ALIKE = 20
_SURELY = 0.001
_ROUNDING = 1e-20
"""Of all squares, what rounding leaves of a curve that passes through every row."""


def alike_neighbours(fit: TrendFit, sample: Sample, order: Array) -> Alike | None:
    """Find out whether residuals resemble those before them.

    By their lag-1 correlation (Durbin and Watson 1950 test the same), normal with a variance of
    1/n where rows are independent. It has to be clear (p below 0.001) and at least 0.3.

    Parameters
    ----------
    fit : TrendFit
    sample : Sample
    order : ndarray
        By which rows are put in order.
    """
    step = -(-sample.n // MOST_ROWS)
    # Neighbours stay neighbours only in a stretch without gaps.
    places = np.argsort(order, kind="stable")[: sample.n // step]
    residual = (sample.y - fit.predict(sample.x))[places]
    residual = residual - residual.mean()
    if len(residual) < _FEWEST_ALIKE or not np.isfinite(residual).all():
        return None
    squares = float(residual @ residual)
    if not squares > _ROUNDING * spread_of(sample):
        return None
    r = float(residual[1:] @ residual[:-1]) / squares
    p = float(scipy.special.ndtr(-r * math.sqrt(len(residual))))
    return Alike(r, p) if r >= _TELLING_ALIKE and p < _SURELY else None


def alike_in_groups(fit: TrendFit, sample: Sample, codes: np.ndarray) -> Alike | None:
    """Find out whether residuals resemble those of the same group.

    By the intraclass correlation (Donner 1986), with the F test of one-way analysis of variance.
    It has to be clear (p below 0.001) and at least 0.3, of at least three groups.
    """
    residual = sample.y - fit.predict(sample.x)
    _, group, sizes = np.unique(codes, return_inverse=True, return_counts=True)
    n, k = len(residual), len(sizes)
    if k < 3 or n < _FEWEST_ALIKE or n <= 2 * k or not np.isfinite(residual).all():
        return None
    means = np.bincount(group, residual) / sizes
    within = float(((residual - means[group]) ** 2).sum()) / (n - k)
    between = float(sizes @ (means - residual.mean()) ** 2) / (k - 1)
    if not within * (n - k) > _ROUNDING * spread_of(sample):
        return None
    size = (n - float((sizes.astype(np.float64) ** 2).sum()) / n) / (k - 1)
    r = (between - within) / (between + (size - 1) * within)
    p = float(scipy.special.fdtrc(k - 1, n - k, between / within))
    return Alike(r, p) if r >= _TELLING_ALIKE and p < _SURELY else None
