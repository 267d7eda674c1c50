"""Fits in windows along x, and the smooth curve through them: the inside of a local regression."""

from __future__ import annotations

import math
from typing import NamedTuple

import numpy as np

from yarrowdew.core.arithmetic import apart
from yarrowdew.core.checkpoints import checkpoint
from yarrowdew.core.sample import Array

EXACT_DISTINCT = 300
ANCHORS = 200
SAMPLED = 300
BINS = 8_192
_AT_ONCE = 1 << 14
"""So many values of windows are worked on together: they stay near the processor."""
_FLAT = 1e-12


class Rows(NamedTuple):
    """Rows from left to right, with their weights."""

    x: Array
    y: Array
    w: Array | None


class Bins(NamedTuple):
    """Rows from left to right, taken together in groups of as many rows."""

    starts: np.ndarray

    @classmethod
    def of(cls, x: Array) -> Bins:
        return cls(np.unique(np.linspace(0, len(x), BINS, endpoint=False).astype(np.intp)))

    def gathered(self, rows: Rows, w: Array, robust: Array) -> tuple[Rows, Array]:
        """Weighted means of each group; what they weigh, and how robust passes change that.

        A mean weighs as much as the inverse of its variance, which is more than its rows' weights
        add up to where these are unequal.
        """
        weight = w * robust
        total, squares = (np.add.reduceat(v, self.starts) for v in (weight, weight * robust))
        there = total > 0
        x, y = (np.add.reduceat(weight * v, self.starts)[there] for v in (rows.x, rows.y))
        total, worth = total[there], total[there] ** 2 / squares[there]
        return Rows(x / total, y / total, worth), total / worth


def anchors_of(x: Array, most: int = EXACT_DISTINCT) -> tuple[Array, bool]:
    """Every distinct x of rows from left to right, or as many places, half of them even over x and
    half over the rows.
    """
    distinct = x[np.r_[True, x[1:] != x[:-1]]]
    if len(distinct) <= most:
        return apart(distinct), True
    half = min(ANCHORS, most) // 2
    rows = distinct[np.linspace(0, len(distinct) - 1, half).astype(np.intp)]
    even = np.linspace(x[0], x[-1], half)
    return apart(np.unique(np.concatenate([rows, even]))), False


class Windows(NamedTuple):
    """Windows of as many rows each: where each begins, and how far its furthest row lies."""

    first: np.ndarray
    reach: Array
    rows: int

    def over(self, values: Array, some: slice) -> Array:
        """Values of rows in some of the windows, shape (windows, rows)."""
        return np.asarray(
            np.lib.stride_tricks.sliding_window_view(values, self.rows)[self.first[some]]
        )


_FEWEST = {1: 5, 2: 8}
"""Rows that lines and parabolas look at, however short the span is."""


def count_of(n: int, span: float, bend: int) -> int:
    """How many of n rows each place looks at."""
    return max(_FEWEST[bend], math.ceil(span * n))


def windows_of(x: Array, anchors: Array, count: int) -> Windows:
    """The `count` rows nearest to each anchor.

    Rows are sorted, so that those rows stand together: the first of them is the first whose
    distance to the anchor is no larger than that of the row just past the window.
    """
    count = min(count, len(x))
    low = np.zeros(len(anchors), dtype=np.intp)
    high = np.full(len(anchors), len(x) - count, dtype=np.intp)
    while (low < high).any():
        middle = (low + high) // 2
        past = x[np.minimum(middle + count, len(x) - 1)]
        right = (anchors - x[middle] > past - anchors) & (middle < high)
        low = np.where(right, middle + 1, low)
        high = np.where(right, high, middle)
    reach = np.maximum(anchors - x[low], x[low + count - 1] - anchors)
    # With many rows on one place a window could have no width: it then takes the next place.
    for i in np.flatnonzero(reach == 0):
        further = np.abs(x - anchors[i])
        reach[i] = float(further[further > 0].min()) * 1.5
    return Windows(low, reach, count)


def fit_at(
    anchors: Array,
    windows: Windows,
    rows: Rows,
    robust: Array,
    bend: int,
) -> tuple[Array, Array, Array, Array]:
    """Fit at each anchor: value, slope, length of the operator's row, own weight."""
    found = np.empty((4, len(anchors)))
    each = max(1, _AT_ONCE // windows.rows)
    for start in range(0, len(anchors), each):
        checkpoint()
        some = slice(start, start + each)
        reach = windows.reach[some]
        # Windows over rows that lie side by side, so that each is seen where it lies.
        x, y, sureness = (windows.over(part, some) for part in (rows.x, rows.y, robust))
        d, weight = _weighted(x - anchors[some, None], reach)
        weight *= sureness
        w = None if rows.w is None else windows.over(rows.w, some)
        if w is not None:
            weight *= w
        shares, by_slope, own = _shares(d, weight, bend)
        found[0, some] = np.einsum("ij,ij->i", shares, y)
        found[1, some] = np.einsum("ij,ij->i", by_slope, y) / reach
        by_variance = shares if w is None else shares / w
        found[2, some] = np.sqrt(np.einsum("ij,ij->i", by_variance, shares))
        found[3, some] = own
    return found[0], found[1], found[2], found[3]


def _weighted(d: Array, reach: Array) -> tuple[Array, Array]:
    """Distances as shares of the window's reach, and their tricube weights.

    The furthest row lies a little inside the reach, so that a window of few rows keeps its ends.
    """
    d = d / (reach * (1 + 1e-9))[:, None]
    k = np.abs(d)
    weight = 1 - k * k * k
    np.maximum(weight, 0, out=weight)
    return d, weight * weight * weight


def _shares(d: Array, weight: Array, bend: int) -> tuple[Array, Array, Array]:
    """Weighted polynomials about zero: what each row's y counts in their values and slopes.

    The third is the share in the value of a row that stands at zero with weight 1. Where the rows
    do not determine a bend, or a slope, the polynomial has none.

    Parameters
    ----------
    d, weight : ndarray, shape (windows, rows)
    """
    s0 = weight.sum(axis=1)
    some = s0 > 0
    s0 = np.where(some, s0, 1.0)
    mean = np.einsum("ij,ij->i", weight, d) / s0
    e = d - mean[:, None]
    we = weight * e
    s2 = np.einsum("ij,ij->i", we, e)
    sloped = some & (s2 > _FLAT * s0)
    steep = np.where(sloped, 1 / np.where(sloped, s2, 1.0), 0.0)
    shares = weight / s0[:, None] - (mean * steep)[:, None] * we
    by_slope = we * steep[:, None]
    own = 1 / s0 + mean * mean * steep
    if bend == 2:
        # The parabola's own part: e² with its constant and its line taken out.
        skew = np.einsum("ij,ij,ij->i", we, e, e) * steep
        q = e * e - skew[:, None] * e - (s2 / s0)[:, None]
        wq = weight * q
        s4 = np.einsum("ij,ij->i", wq, q)
        bent = sloped & (s4 > _FLAT * s0)
        bend_of = np.where(bent, 1 / np.where(bent, s4, 1.0), 0.0)
        at_zero = mean * mean + skew * mean - s2 / s0
        shares += (at_zero * bend_of)[:, None] * wq
        by_slope += ((-2 * mean - skew) * bend_of)[:, None] * wq
        own += at_zero * at_zero * bend_of
    if not some.all():
        shares[~some], by_slope[~some], own[~some] = 1 / d.shape[1], 0.0, 1.0
    return shares, by_slope, np.minimum(own, 1.0)


def second_moment(x: Array, w: Array, span: float, bend: int, delta1: float) -> float:
    """δ₂ = tr[((I − L)(I − L)ᵀ)²], from the operator on at most `SAMPLED` of the rows.

    n − δ₁ and n − δ₂ depend on how wiggly the smooth is, and hardly on how many rows there are:
    their ratio is taken from the sampled rows.
    """
    n = len(x)
    kept = np.unique(np.linspace(0, n - 1, min(n, SAMPLED)).astype(np.intp))
    x, w = x[kept], w[kept]
    m = len(kept)
    operator = np.zeros((m, m))
    count = count_of(m, span, bend)
    windows, every = windows_of(x, x, count), slice(None)
    d, weight = _weighted(windows.over(x, every) - x[:, None], windows.reach)
    columns = windows.first[:, None] + np.arange(windows.rows)
    shares, _, _ = _shares(d, weight * windows.over(w, every), bend)
    np.put_along_axis(operator, columns, shares, axis=1)
    rest = np.eye(m) - operator
    product = rest @ rest.T
    first_moment, second_moment = float(np.trace(product)), float(np.sum(product * product))
    if first_moment >= m:
        return delta1
    return max(n - (n - delta1) * (m - second_moment) / (m - first_moment), 1e-6 * n)


def spread(residual: Array, w: Array, passes: int) -> float:
    """Residual sum of squares; with robust passes of pseudovalues (Cleveland and Grosse 1991)."""
    if passes:
        scale = 6 * float(np.median(np.abs(residual)))
        if scale > 0:
            u = (residual / scale) ** 2
            inside = u < 1
            steepness = float(np.sum(np.where(inside, (1 - u) * (1 - 5 * u), 0)))
            if steepness > 0:
                pseudo = np.where(inside, (1 - u) ** 2 * residual, 0) * (len(u) / steepness)
                return float(np.sum(w * pseudo * pseudo))
    return float(np.sum(w * residual * residual))


def hermite(at: Array, values: Array, slopes: Array, x: Array, *, ascending: bool = False) -> Array:
    """Cubic Hermite interpolation; straight beyond the ends.

    `ascending` says that x is, which saves looking every place up.
    """
    h = np.diff(at)
    rise = np.diff(values)
    low, high = h * slopes[:-1], h * slopes[1:]
    # Of powers of the share t of each stretch: value = c0 + c1 t + c2 t² + c3 t³.
    cubic = (values[:-1], low, 3 * rise - 2 * low - high, low + high - 2 * rise)
    if ascending:
        ends = np.searchsorted(x, at[1:-1], side="left")
        counts = np.diff(np.concatenate([[0], ends, [len(x)]]))
        start, width, *c = (np.repeat(part, counts) for part in (at[:-1], h, *cubic))
    else:
        i = np.clip(np.searchsorted(at, x, side="right") - 1, 0, len(at) - 2)
        start, width, *c = (part[i] for part in (at[:-1], h, *cubic))
    t = (x - start) / width
    out = ((c[3] * t + c[2]) * t + c[1]) * t + c[0]
    if ascending and x[0] >= at[0] and x[-1] <= at[-1]:
        return np.asarray(out)
    out = np.where(x < at[0], values[0] + slopes[0] * (x - at[0]), out)
    return np.asarray(np.where(x > at[-1], values[-1] + slopes[-1] * (x - at[-1]), out))
