"""Whether the best of many forms that were tried is better than chance would make the best of them.

Where a break or a period is searched for, the usual F test does not know of the search: among many
places one always fits well. Here the largest F of all is compared with the largest F of as many
places in normal noise on the same rows (the supremum test of Davies 1987, its distribution by
simulation).
"""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
import scipy

from yarrowdew.core.checkpoints import checkpoint
from yarrowdew.core.sample import Array, Sample
from yarrowdew.core.trends.base import mean_one

MOST_ROWS = 400
"""Of more rows, as many are taken evenly along x."""
DRAWS = 999
_SEED = 20310418
_AT_ONCE = 100
_NOTHING = 1e-9


def p_of_the_best(
    sample: Sample, forms: Callable[[Array], Array], null: Callable[[Array], Array]
) -> float | None:
    """P value of the best of many forms against a simpler one.

    Parameters
    ----------
    sample : Sample
    forms : callable
        From x, shape (n,), to the columns that each form adds, shape (forms, n, columns).
    null : callable
        From x to the columns of the simpler form, shape (n, columns).

    Returns
    -------
    float or None
        None where the simpler form leaves nothing, or there are too few rows.
    """
    order = np.argsort(sample.x, kind="stable")
    if sample.n > MOST_ROWS:
        order = order[np.linspace(0, sample.n - 1, MOST_ROWS).astype(np.intp)]
    few = sample.take(order)
    root = np.sqrt(np.broadcast_to(mean_one(few), (few.n,)))
    simple = np.linalg.qr(null(few.x) * root[:, None])[0]
    blocks = forms(few.x) * root[None, :, None]
    columns = blocks.shape[2]
    rest = few.n - simple.shape[1] - columns
    if rest < 1 or not len(blocks):
        return None
    basis = _each_orthonormal(blocks - simple @ (simple.T @ blocks))
    scattered = few.y * root
    seen = _best(basis, scattered[:, None] - simple @ (simple.T @ scattered[:, None]))[0]
    if not np.isfinite(seen):
        return None
    draw = np.random.default_rng(_SEED)
    as_good = 0
    for first in range(0, DRAWS, _AT_ONCE):
        checkpoint()
        noise = draw.standard_normal((few.n, min(_AT_ONCE, DRAWS - first)))
        as_good += int(np.count_nonzero(_best(basis, noise - simple @ (simple.T @ noise)) >= seen))
    p = (as_good + 1) / (DRAWS + 1)
    # No more than the forms' own p values together (Bonferroni): far out this says more.
    alone = float(scipy.special.betaincc(columns / 2, rest / 2, min(seen, 1.0)))
    return min(p, len(blocks) * alone) if as_good == 0 else p


def _each_orthonormal(blocks: Array) -> Array:
    """Columns of each form at right angles and of length one; zero where they say nothing."""
    out = np.zeros_like(blocks)
    size = np.sqrt((blocks**2).sum(axis=(1, 2), keepdims=True))
    for i in range(blocks.shape[2]):
        left = blocks[:, :, i]
        for j in range(i):
            left = left - (left * out[:, :, j]).sum(axis=1, keepdims=True) * out[:, :, j]
        length = np.sqrt((left**2).sum(axis=1, keepdims=True))
        is_there = length > _NOTHING * np.maximum(size[:, :, 0], _NOTHING)
        out[:, :, i] = np.where(is_there, left / np.where(is_there, length, 1.0), 0.0)
    return out


def _best(basis: Array, scattered: Array) -> Array:
    """Largest share of the squares of each column of scatter that any form takes up."""
    forms, rows, columns = basis.shape
    flat = np.moveaxis(basis, 1, 2).reshape(forms * columns, rows)
    taken = ((flat @ scattered) ** 2).reshape(forms, columns, -1).sum(axis=1).max(axis=0)
    with np.errstate(all="ignore"):
        return np.asarray(taken / (scattered**2).sum(axis=0))
