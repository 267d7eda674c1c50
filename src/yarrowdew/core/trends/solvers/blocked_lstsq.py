"""Least squares over stretches of rows, so that no large matrix is ever held."""

from __future__ import annotations

from collections.abc import Callable, Iterator

import numpy as np
import scipy

from yarrowdew.core.checkpoints import checkpoint
from yarrowdew.core.sample import Array, Sample
from yarrowdew.core.trends.base import mean_one

Curve = Callable[[Array, Array], Array]
"""From coefficients, shape (p,), and x, shape (m,), to y, shape (m,)."""
Slopes = Callable[[Array, Array], Array]
"""From coefficients and x to the derivatives by each coefficient, shape (m, p)."""

_STRETCH = 200_000
_STEPS = 20


def _parts(sample: Sample) -> Iterator[tuple[Array, Array, Array | float]]:
    """x, y and root weights in stretches, so that no large matrix is held."""
    w = mean_one(sample)
    for start in range(0, sample.n, _STRETCH):
        checkpoint()
        part = slice(start, start + _STRETCH)
        yield (
            sample.x[part],
            sample.y[part],
            np.sqrt(w[part]) if isinstance(w, np.ndarray) else 1.0,
        )


def _stacked(r: Array, part: Array) -> Array:
    """R of the QR decomposition of one matrix above another, of the first of which R is known."""
    whole = scipy.linalg.qr(np.vstack([r, part]), mode="r", overwrite_a=True)[0]
    return np.asarray(whole[: part.shape[1]], dtype=np.float64)


def triangle_of(
    sample: Sample, values: Array, free: list[int], curve: Curve, slopes: Slopes
) -> Array:
    """R of the QR decomposition of the Jacobian and the residuals beside it, stretch by stretch."""
    r: Array = np.zeros((0, len(free) + 1))
    for x, y, root in _parts(sample):
        with np.errstate(all="ignore"):
            off = (curve(values, x) - y) * root
        r = _stacked(r, np.column_stack([jacobian_of(values, x, root, free, slopes), off]))
    return r


def total_of(sample: Sample, values: Array, curve: Curve) -> float:
    """Residual sum of squares."""
    found = 0.0
    for x, y, root in _parts(sample):
        with np.errstate(all="ignore"):
            off = (curve(values, x) - y) * root
        found += float(np.dot(off, off))
    return found if np.isfinite(found) else np.inf


def descended(
    sample: Sample, start: Array, free: list[int], curve: Curve, slopes: Slopes
) -> tuple[float, Array]:
    """Gauss–Newton steps over all rows, from a minimum over many of them.

    Each step solves the least-squares problem by QR over stretches of rows; it is halved while it
    does not make the residuals smaller.
    """
    values, least = start.copy(), total_of(sample, start, curve)
    k = len(free)
    for _ in range(_STEPS):
        r = triangle_of(sample, values, free, curve, slopes)
        step = np.linalg.lstsq(r[:k, :k], r[:k, k], rcond=None)[0]
        for halving in range(8):
            tried = values.copy()
            tried[free] -= step * 0.5**halving
            now = total_of(sample, tried, curve)
            if now < least:
                break
        else:
            break
        gained = least - now
        values, least = tried, now
        if gained <= 1e-13 * least:
            break
    return least, values


def jacobian_of(
    values: Array, x: Array, root: Array | float, free: list[int], slopes: Slopes
) -> Array:
    with np.errstate(all="ignore"):
        found = slopes(values, x)[:, free]
    found = found * (np.asarray(root)[:, None] if np.ndim(root) else root)
    return np.where(np.isfinite(found), found, 0.0)
