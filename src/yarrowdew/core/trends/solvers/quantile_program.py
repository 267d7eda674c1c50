"""The linear program of a quantile line (Koenker and Bassett 1978), for any number of rows."""

from __future__ import annotations

import numpy as np
import scipy

from yarrowdew.core.checkpoints import checkpoint
from yarrowdew.core.errors import FitError
from yarrowdew.core.sample import Array, Mask

AT_ONCE = 12_000
"""Rows that enter one program; of more, those that are surely above or below stay outside."""
_ROUNDS = 12
_SEED = 20310401


def solved(design: Array, y: Array, share: float) -> Array:
    """Solve the program for all rows."""
    n = len(y)
    if n <= AT_ONCE:
        return _program(design, y, share, np.ones(n, dtype=bool), np.zeros(n, dtype=bool))
    some = np.random.default_rng(_SEED).choice(n, max(AT_ONCE // 2, n // 10), replace=False)
    values = solved(design[some], y[some], share)
    width = AT_ONCE // 2
    inside = above = np.zeros(n, dtype=bool)
    for _ in range(_ROUNDS):
        checkpoint()
        off = y - design @ values
        near = int(np.clip(share * n, width / 2, n - width / 2))
        low, high = np.partition(off, [max(0, near - width // 2), min(n - 1, near + width // 2)])[
            [max(0, near - width // 2), min(n - 1, near + width // 2)]
        ]
        inside, above = (off >= low) & (off <= high), off > high
        for _again in range(_ROUNDS):
            try:
                values = _program(design, y, share, inside, above)
            except FitError:
                break
            off = y - design @ values
            wrong = ~inside & ((off < 0) == above) & (off != 0)
            if not wrong.any():
                return values
            inside = inside | wrong
            above = above & ~inside
        width = min(4 * AT_ONCE, width * 2)
    raise FitError("The quantile line was not found within the time that is given to it.")


def _program(design: Array, y: Array, share: float, inside: Mask, above: Mask) -> Array:
    """Solve the dual over the rows inside; the others are known to lie above or below.

    The dual: maximise yᵀd for 0 ≤ d ≤ 1 with Xᵀd = (1 − τ) Xᵀ1; d is 1 above the line, 0 below it.
    """
    wanted = (1 - share) * design.sum(axis=0) - design[above].sum(axis=0)
    found = scipy.optimize.linprog(
        -y[inside], A_eq=design[inside].T, b_eq=wanted, bounds=(0, 1), method="highs"
    )
    if found.status != 0:
        raise FitError("The quantile line could not be found.", "Choose another quantile.")
    return _through_rows(design[inside], y[inside], -np.asarray(found.eqlin.marginals))


def _through_rows(design: Array, y: Array, values: Array) -> Array:
    """The line passes through as many rows as it has coefficients: taken from them, it is exact."""
    count = design.shape[1]
    nearest = np.argsort(np.abs(y - design @ values), kind="stable")
    rows: list[int] = []
    for i in nearest[: 8 * count]:
        if np.linalg.matrix_rank(design[[*rows, int(i)]], tol=1e-8) == len(rows) + 1:
            rows.append(int(i))
        if len(rows) == count:
            exact = np.linalg.solve(design[rows], y[rows])
            near = np.abs(exact - values).max() <= 1e-6 * (1 + np.abs(values).max())
            return np.asarray(exact) if near else values
    return values
