"""How far rows lie from the middle of all."""

from __future__ import annotations

import numpy as np

from yarrowdew.core.arithmetic import scaled
from yarrowdew.core.sample import Array


def _about_mean(values: Array) -> Array:
    inner, _ = scaled(values)
    about = inner - inner.mean()
    return np.asarray(about / (float(np.abs(about).max()) or 1.0))


def distance_from_middle(*axes: Array) -> Array:
    """Mahalanobis distance of each row from the means (Mahalanobis 1936).

    Parameters
    ----------
    *axes : ndarray of float64, shape (n,)
        Finite values on each axis.

    Returns
    -------
    ndarray of float64, shape (n,)
        Without units; where the rows lie on one line, along it only.
    """
    if len(axes[0]) == 0:
        return np.empty(0)
    centred = np.column_stack([_about_mean(values) for values in axes])
    spread = centred.T @ centred / max(1, len(axes[0]) - 1)
    # The pseudoinverse leaves out a direction in which nothing varies.
    squared: Array = ((centred @ np.linalg.pinv(spread)) * centred).sum(axis=1)
    return np.asarray(np.sqrt(np.maximum(0.0, squared)), dtype=np.float64)
