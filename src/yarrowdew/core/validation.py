"""How far rows lie from a trend that was fitted without them, where no formula tells it."""

from __future__ import annotations

import math
from collections.abc import Callable

import numpy as np

from yarrowdew.core.checkpoints import checkpoint
from yarrowdew.core.errors import FitError
from yarrowdew.core.sample import Sample
from yarrowdew.core.trends.base import mean_one
from yarrowdew.core.trends.protocol import TrendFit

PARTS = 10
_MOST_ROWS = 5_000
_SEED = 20310401


def cross_validated_error(sample: Sample, again: Callable[[Sample], TrendFit]) -> float | None:
    """Root mean square distance of rows from trends fitted without the part they belong to.

    Ten parts, drawn with a seed (Stone 1974). Of many rows so many are looked at, evenly from left
    to right.

    Parameters
    ----------
    sample : Sample
    again : callable
        Fits the family to other rows.

    Returns
    -------
    float or None
        None where the rows are too few, or a part cannot be left out.
    """
    if sample.n > _MOST_ROWS:
        order = np.argsort(sample.x, kind="stable")
        sample = sample.take(order[np.linspace(0, sample.n - 1, _MOST_ROWS).astype(np.intp)])
    if sample.n < PARTS:
        return None
    part = np.random.default_rng(_SEED).permutation(sample.n) % PARTS
    off = np.full(sample.n, np.nan)
    for k in range(PARTS):
        checkpoint()
        out = part == k
        try:
            off[out] = sample.y[out] - again(sample.take(~out)).predict(sample.x[out])
        except FitError:
            return None
    known = np.isfinite(off)
    if known.mean() < 0.5:
        return None
    w = np.broadcast_to(mean_one(sample), sample.n)
    error = math.sqrt(float(np.average(off[known] ** 2, weights=w[known])))
    return error if math.isfinite(error) else None
