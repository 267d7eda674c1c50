"""How strongly two variables go together."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from yarrowdew.core.intervals import normal_quantile, ratio, t_p_value
from yarrowdew.core.sample import Sample

_SAFE = 1e-100
"""Sums of squares beyond this or its inverse may have lost digits."""


@dataclass(frozen=True, slots=True)
class Correlation:
    """A correlation coefficient, its interval and p value; None where one does not exist."""

    r: float | None
    n: int
    low: float | None
    high: float | None
    p_value: float | None


def pearson(sample: Sample, level: float = 0.95) -> Correlation:
    """Pearson's product-moment correlation.

    Parameters
    ----------
    sample : Sample
        Complete pairs; weights are not used.
    level : float
        Of the interval, which is Fisher's z (1921) and needs four rows.

    Returns
    -------
    Correlation
        The p value is exact under normality (Student's t on n − 2); all but n are None where x
        or y has no spread or there are fewer than three rows.
    """
    n = sample.n
    if n < 3:
        return Correlation(None, n, None, None, None)
    dx = sample.x - sample.x.mean()
    dy = sample.y - sample.y.mean()
    with np.errstate(over="ignore", invalid="ignore"):
        sxx, syy, sxy = float(np.dot(dx, dx)), float(np.dot(dy, dy)), float(np.dot(dx, dy))
    if not (_SAFE < sxx < 1 / _SAFE and _SAFE < syy < 1 / _SAFE):
        # Sums that overflow or vanish are taken again of values scaled to at most one.
        x_scale, y_scale = float(np.abs(dx).max()), float(np.abs(dy).max())
        if x_scale == 0 or y_scale == 0:
            return Correlation(None, n, None, None, None)
        dx, dy = dx / x_scale, dy / y_scale
        sxx, syy, sxy = float(np.dot(dx, dx)), float(np.dot(dy, dy)), float(np.dot(dx, dy))
    r = max(-1.0, min(1.0, sxy / math.sqrt(sxx * syy)))
    p = t_p_value(ratio(r * math.sqrt(n - 2), math.sqrt((1 - r) * (1 + r))), n - 2)
    if n < 4:
        return Correlation(r, n, None, None, p)
    if abs(r) == 1:
        return Correlation(r, n, r, r, p)
    half = normal_quantile(level) / math.sqrt(n - 3)
    z = math.atanh(r)
    return Correlation(r, n, math.tanh(z - half), math.tanh(z + half), p)
