"""The local smooth: straight lines or parabolas fitted about each place with falling weights.

Cleveland (1979): tricube weights over the nearest rows that make up the span, and bisquare weights
against residuals in robust passes. Up to `EXACT_DISTINCT` distinct x the fit is made at each of
them; above, at as many anchors spread over the rows, with cubic Hermite interpolation of the
fitted value and slope between them. The smooth is linear in y once the robust weights are fixed, so
that its degrees of freedom are those of Cleveland and Devlin (1988): δ₁²/δ₂, where δ₁ comes from
the operator's diagonal and row lengths, and δ₂ from its share on at most `SAMPLED` of the rows.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Literal, NamedTuple

import numpy as np

from yarrowdew.core.arithmetic import apart
from yarrowdew.core.checkpoints import checkpoint
from yarrowdew.core.errors import FitError
from yarrowdew.core.intervals import t_quantile
from yarrowdew.core.sample import Array, Sample
from yarrowdew.core.trends.base import (
    BandKind,
    BaseFit,
    Interval,
    mean_one,
    needs_rows,
    spread_of,
)
from yarrowdew.core.trends.family import Candidate, Family, setting

EXACT_DISTINCT = 300
ANCHORS = 200
SAMPLED = 300
ROW_BY_ROW, BINS = 200_000, 8_192
LEAST_SPAN, MOST_PASSES = 0.1, 4


@dataclass(frozen=True, slots=True, kw_only=True)
class LocalSmooth(BaseFit):
    """A fitted local smooth.

    Attributes
    ----------
    anchors : ndarray, shape (a,)
        Places at which it was fitted, ascending.
    values, slopes : ndarray, shape (a,)
        Fitted value and slope there.
    lengths : ndarray, shape (a,)
        Standard error there over the residual standard deviation: length of the operator's row.
    own : ndarray, shape (a,)
        Weight that a row of weight 1 at the anchor has in its own fitted value.
    sigma : float
        Residual standard deviation that intervals rest on; with robust passes from pseudovalues.
    bend, passes : int
    span : float
    is_exact : bool
        Whether the fit was made at every distinct x.
    is_binned : bool
        Whether rows next to one another were taken together.
    """

    anchors: Array
    values: Array
    slopes: Array
    lengths: Array
    own: Array
    sigma: float
    bend: int
    passes: int
    span: float
    is_exact: bool
    is_binned: bool = False

    @property
    def residual_sd(self) -> float:
        """Residual standard deviation, in units of y."""
        return self.sigma

    @property
    def assumptions(self) -> tuple[str, ...]:
        """What the intervals rest on."""
        how = "at every different x" if self.is_exact else f"at {len(self.anchors)} places"
        out = [
            "The mean of y is smooth in x: over the span it hardly departs from "
            + ("a straight line." if self.bend == 1 else "a parabola."),
            "The scatter about it is the same everywhere and close to normal.",
            "R² is the share of variation accounted for; it grows as the span shrinks.",
            f"The band is approximate (Cleveland and Devlin); the curve is fitted {how}"
            + ("." if self.is_exact else " and interpolated between them."),
        ]
        if self.is_binned:
            out.append(
                f"Above {ROW_BY_ROW:,} rows, those next to one another are taken together in "
                f"{BINS:,} groups of as many rows, by their weighted means."
            )
        if self.passes:
            out.append(f"Odd rows count less, by {self.passes} robust passes.")
        return tuple(out)

    def predict(self, x: Array) -> Array:
        """Fitted y; beyond the data along the last straight line."""
        return _hermite(self.anchors, self.values, self.slopes, x)

    def band(self, x: Array, level: float, kind: BandKind) -> Interval:
        """Pointwise band, approximate."""
        length = np.interp(x, self.anchors, self.lengths)
        se = self.sigma * (np.hypot(length, 1) if kind == "prediction" else length)
        half = t_quantile(level, self.degrees_of_freedom) * se
        fitted = self.predict(x)
        return Interval(fitted - half, fitted + half)

    def leverage(self, sample: Sample) -> Array:
        """Diagonal of the operator."""
        own = np.interp(sample.x, self.anchors, self.own) * mean_one(sample)
        return np.asarray(np.clip(own, 0, 1))


@dataclass(frozen=True, slots=True, kw_only=True)
class LocalSettings:
    """What is set about a local smooth."""

    span: float = setting(
        0.5,
        "Span",
        "Share of the rows that each place looks at.",
        low=LEAST_SPAN,
        high=1,
        slider=(LEAST_SPAN, 1),
        scale="share",
        suffix="of the rows",
    )
    bend: Literal[1, 2] = setting(
        1,
        "Fitted locally",
        "Whether lines or parabolas are fitted.",
        choices={1: "straight lines", 2: "parabolas"},
    )
    passes: int = setting(
        2,
        "Robust passes",
        "How often odd rows are made to count less.",
        low=0,
        high=MOST_PASSES,
        slider=(0, MOST_PASSES),
    )


def fit(sample: Sample, settings: LocalSettings) -> LocalSmooth:
    """Fit a local smooth.

    Parameters
    ----------
    sample : Sample
        At least five pairs with four distinct x.
    settings : LocalSettings

    Raises
    ------
    FitError
        If there are too few rows, or the span holds too few different x.
    """
    needs_rows(sample, 5, "A local smooth", distinct=4)
    span, bend = settings.span, settings.bend
    if not LEAST_SPAN <= span <= 1:
        raise FitError(f"A span of {span:g} is not offered.", "Choose one from 0.1 to 1.")
    if not 0 <= settings.passes <= MOST_PASSES:
        raise FitError("Robust passes run from 0 to 4.", "Choose fewer.")
    order = np.argsort(sample.x, kind="stable")
    x, y = sample.x[order], sample.y[order]
    w = np.ones(sample.n) if sample.weights is None else np.asarray(mean_one(sample))[order]
    rows = _Rows(x, y, None if sample.weights is None else w)
    bins = _Bins.of(x) if len(x) > ROW_BY_ROW else None
    anchors, is_exact = _anchors(x)
    robust = np.ones(len(x))
    near, counted = (rows, robust) if bins is None else bins.gathered(rows, w, robust)
    windows = _windows(near.x, anchors, max(bend + 2, math.ceil(span * len(near.x))))
    values, slopes, lengths, own = _fit_at(anchors, windows, near, counted, bend)
    for _ in range(settings.passes):
        residual = y - _hermite(anchors, values, slopes, x)
        scale = 6 * float(np.median(np.abs(residual)))
        if scale == 0:
            break
        robust = np.clip(1 - (residual / scale) ** 2, 0, None) ** 2
        near, counted = (rows, robust) if bins is None else bins.gathered(rows, w, robust)
        windows = _windows(near.x, anchors, max(bend + 2, math.ceil(span * len(near.x))))
        values, slopes, lengths, own = _fit_at(anchors, windows, near, counted, bend)
    residual = y - _hermite(anchors, values, slopes, x)
    trace = float(np.sum(np.interp(x, anchors, own) * w))
    squares = float(np.sum(np.interp(x, anchors, lengths) ** 2 * w))
    delta1 = max(len(x) - 2 * trace + squares, 1e-9 * len(x))
    if delta1 < 1:
        raise FitError(
            "The span is so short that the smooth passes through almost every row.",
            "Choose a wider span, or add rows.",
        )
    delta2 = _second_moment(x, w, span, bend, delta1)
    sse = float(np.sum(w * residual * residual))
    return LocalSmooth(
        family=FAMILY.name,
        n=sample.n,
        x_range=(float(x[0]), float(x[-1])),
        sse=sse,
        sst=spread_of(sample),
        degrees_of_freedom=delta1 * delta1 / delta2,
        parameters=trace,
        anchors=anchors,
        values=values,
        slopes=slopes,
        lengths=lengths,
        own=own,
        sigma=math.sqrt(_spread(residual, w, settings.passes) / delta1),
        bend=bend,
        passes=settings.passes,
        span=span,
        is_exact=is_exact,
        is_binned=bins is not None,
    )


class _Rows(NamedTuple):
    """Rows from left to right, with their weights."""

    x: Array
    y: Array
    w: Array | None


class _Bins(NamedTuple):
    """Rows from left to right, taken together in groups of as many rows."""

    starts: np.ndarray

    @classmethod
    def of(cls, x: Array) -> _Bins:
        return cls(np.unique(np.linspace(0, len(x), BINS, endpoint=False).astype(np.intp)))

    def gathered(self, rows: _Rows, w: Array, robust: Array) -> tuple[_Rows, Array]:
        """Weighted means of each group; what they weigh, and how robust passes change that.

        A mean weighs as much as the inverse of its variance, which is more than its rows' weights
        add up to where these are unequal.
        """
        weight = w * robust
        total, squares = (np.add.reduceat(v, self.starts) for v in (weight, weight * robust))
        there = total > 0
        x, y = (np.add.reduceat(weight * v, self.starts)[there] for v in (rows.x, rows.y))
        total, worth = total[there], total[there] ** 2 / squares[there]
        return _Rows(x / total, y / total, worth), total / worth


def _anchors(x: Array) -> tuple[Array, bool]:
    """Every distinct x, or as many places, half of them even over x and half over the rows."""
    distinct = apart(np.unique(x))
    if len(distinct) <= EXACT_DISTINCT:
        return distinct, True
    rows = distinct[np.linspace(0, len(distinct) - 1, ANCHORS // 2).astype(np.intp)]
    even = np.linspace(x[0], x[-1], ANCHORS // 2)
    return apart(np.unique(np.concatenate([rows, even]))), False


def _windows(x: Array, anchors: Array, count: int) -> list[tuple[int, int, float]]:
    """The `count` rows nearest to each anchor, and how far the furthest of them lies.

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
    out = []
    for anchor, start in zip(anchors, low, strict=True):
        first, last = int(start), int(start) + count
        reach = max(anchor - x[first], x[last - 1] - anchor)
        # With many rows on one place the window could have no width: it then takes the next place.
        if reach == 0:
            further = np.abs(x - anchor)
            reach = float(further[further > 0].min()) * 1.5
        out.append((first, last, float(reach)))
    return out


def _fit_at(
    anchors: Array,
    windows: list[tuple[int, int, float]],
    rows: _Rows,
    robust: Array,
    bend: int,
) -> tuple[Array, Array, Array, Array]:
    """Fit at each anchor: value, slope, length of the operator's row, own weight."""
    found = np.empty((4, len(anchors)))
    for i, (anchor, (first, last, reach)) in enumerate(zip(anchors, windows, strict=True)):
        checkpoint()
        d, weight = _weighted(rows.x[first:last] - anchor, reach)
        weight *= robust[first:last]
        w = rows.w
        if w is not None:
            weight *= w[first:last]
        shares, by_slope, own = _shares(d, weight, bend)
        y = rows.y[first:last]
        found[0, i] = float(np.dot(shares, y))
        found[1, i] = float(np.dot(by_slope, y)) / reach
        by_variance = shares if w is None else shares / w[first:last]
        found[2, i] = math.sqrt(float(np.dot(by_variance, shares)))
        found[3, i] = own
    return found[0], found[1], found[2], found[3]


def _weighted(d: Array, reach: float) -> tuple[Array, Array]:
    """Distances as shares of the window's reach, and their tricube weights.

    The furthest row lies a little inside the reach, so that a window of few rows keeps its ends.
    """
    d = d / (reach * (1 + 1e-9))
    k = np.abs(d)
    weight = 1 - k * k * k
    np.maximum(weight, 0, out=weight)
    return d, weight * weight * weight


def _shares(d: Array, weight: Array, bend: int) -> tuple[Array, Array, float]:
    """Weighted polynomial about zero: what each row's y counts in its value and in its slope.

    The third is the share in the value of a row that stands at zero with weight 1. Where the rows
    do not determine a bend, or a slope, the polynomial has none.
    """
    s0 = float(weight.sum())
    if s0 <= 0:
        return np.full(len(d), 1 / len(d)), np.zeros(len(d)), 1.0
    mean = float(np.dot(weight, d)) / s0
    e = d - mean
    we = weight * e
    s2 = float(np.dot(we, e))
    if s2 <= 1e-12 * s0:
        return weight / s0, np.zeros(len(d)), min(1 / s0, 1.0)
    shares = weight / s0 - (mean / s2) * we
    by_slope = we / s2
    own = 1 / s0 + mean * mean / s2
    if bend == 2:
        # The parabola's own part: e² with its constant and its line taken out.
        s3 = float(np.dot(we, e * e))
        q = e * e - (s3 / s2) * e - s2 / s0
        wq = weight * q
        s4 = float(np.dot(wq, q))
        if s4 > 1e-12 * s0:
            at_zero = mean * mean + (s3 / s2) * mean - s2 / s0
            shares += (at_zero / s4) * wq
            by_slope = by_slope + ((-2 * mean - s3 / s2) / s4) * wq
            own += at_zero * at_zero / s4
    return shares, by_slope, min(own, 1.0)


def _second_moment(x: Array, w: Array, span: float, bend: int, delta1: float) -> float:
    """δ₂ = tr[((I − L)(I − L)ᵀ)²], from the operator on at most `SAMPLED` of the rows.

    n − δ₁ and n − δ₂ depend on how wiggly the smooth is, and hardly on how many rows there are:
    their ratio is taken from the sampled rows.
    """
    n = len(x)
    kept = np.unique(np.linspace(0, n - 1, min(n, SAMPLED)).astype(np.intp))
    x, w = x[kept], w[kept]
    m = len(kept)
    operator = np.zeros((m, m))
    count = max(bend + 2, math.ceil(span * m))
    for i, (first, last, reach) in enumerate(_windows(x, x, count)):
        d, weight = _weighted(x[first:last] - x[i], reach)
        operator[i, first:last] = _shares(d, weight * w[first:last], bend)[0]
    rest = np.eye(m) - operator
    product = rest @ rest.T
    first_moment, second_moment = float(np.trace(product)), float(np.sum(product * product))
    if first_moment >= m:
        return delta1
    return max(n - (n - delta1) * (m - second_moment) / (m - first_moment), 1e-6 * n)


def _spread(residual: Array, w: Array, passes: int) -> float:
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


def _hermite(at: Array, values: Array, slopes: Array, x: Array) -> Array:
    """Cubic Hermite interpolation; straight beyond the ends."""
    i = np.clip(np.searchsorted(at, x, side="right") - 1, 0, len(at) - 2)
    h = at[i + 1] - at[i]
    t = (x - at[i]) / h
    inside = np.clip(t, 0, 1)
    t2, t3 = inside * inside, inside * inside * inside
    out = (
        (2 * t3 - 3 * t2 + 1) * values[i]
        + (t3 - 2 * t2 + inside) * h * slopes[i]
        + (3 * t2 - 2 * t3) * values[i + 1]
        + (t3 - t2) * h * slopes[i + 1]
    )
    out = np.where(t < 0, values[0] + slopes[0] * (x - at[0]), out)
    return np.asarray(np.where(t > 1, values[-1] + slopes[-1] * (x - at[-1]), out))


FAMILY = Family(
    name="local",
    label="local smooth",
    note="no formula",
    settings=LocalSettings,
    is_usual=True,
    fit=fit,
    is_smooth=True,
    candidates=(Candidate("local smooth", LocalSettings()),),
)
