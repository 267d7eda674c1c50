"""The cubic smoothing spline, with its penalty by generalised cross-validation or given.

Minimises Σ w (y − f(x))² + λ ∫ f″². In the value form of Green and Silverman (1994, ch. 2): a
natural cubic spline through values at knots, with second derivatives from a banded system. Up to
`EXACT_DISTINCT` distinct x every one of them is a knot and the spline is the exact minimiser; above,
and where rows share their x, knots stand at fewer evenly spread rows. The problem is turned once into its own axes (Demmler and
Reinsch 1975), on which every penalty costs a sum over knots. The band is Wahba's (1983).
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import NamedTuple

import numpy as np
import scipy

from yarrowdew.core.arithmetic import apart
from yarrowdew.core.errors import FitError
from yarrowdew.core.intervals import t_quantile
from yarrowdew.core.sample import Array, Sample
from yarrowdew.core.trends.assumptions import (
    EVEN_SCATTER,
    Assumption,
    of_curve,
    of_intervals,
)
from yarrowdew.core.trends.base import (
    BaseFit,
    Interval,
    mean_one,
    needs_rows,
    spread_of,
)
from yarrowdew.core.trends.family import Candidate, Entry, Family, setting
from yarrowdew.core.trends.protocol import PointwiseKind, check_pointwise

EXACT_DISTINCT = 200
MOST_KNOTS_TIED, FEWEST_KNOTS_TIED = 35, 20
"""Where each x has two rows or more, knots stand at a quarter of them within these (Ruppert 2002):
cross-validation takes what the rows of one x have in common for a bend."""
_KNOTS_AGAIN = 100
MOST_LEVERAGES = 4096


@dataclass(frozen=True, slots=True, kw_only=True)
class SmoothingSpline(BaseFit):
    """A fitted smoothing spline.

    Attributes
    ----------
    knots, values, bends : ndarray, shape (k,)
        Places, and the value and second derivative there.
    half : ndarray, shape (k, k)
        H with (NᵀWN + λΩ)⁻¹ = H Hᵀ for the values at the knots.
    second : ndarray, shape (k, k)
        From values at the knots to second derivatives there.
    penalty : float
        λ, on x scaled to a range of 1.
    was_given : bool
    is_exact : bool
    """

    knots: Array
    values: Array
    bends: Array
    half: Array
    second: Array
    penalty: float
    was_given: bool
    is_exact: bool

    @property
    def assumptions(self) -> tuple[Assumption, ...]:
        """What the intervals rest on."""
        chosen = "given" if self.was_given else "chosen by generalised cross-validation"
        at = "at every different x" if self.is_exact else f"at {len(self.knots)} of the rows"
        return (
            of_curve("The mean of y is smooth in x."),
            EVEN_SCATTER,
            of_curve(
                f"The penalty ({self.penalty:.3g}) was {chosen}; knots stand {at}. The curve is "
                f"equivalent to {self.parameters:.1f} coefficients."
            ),
            of_curve("R² is the share of variation; it grows as the penalty shrinks."),
            of_intervals(
                "The band is Wahba's Bayesian one: right on average over the curve, not at every x."
            ),
        )

    def predict(self, x: Array) -> Array:
        """Fitted y; straight beyond the data."""
        return np.asarray(_natural(self.knots, x).value(self.values, self.bends))

    def band(self, x: Array, level: float, kind: PointwiseKind) -> Interval:
        """Pointwise Bayesian band."""
        check_pointwise(kind)
        variance = self._variance(x)
        if kind == "prediction":
            variance = variance + 1
        half = t_quantile(level, self.degrees_of_freedom) * self.residual_sd * np.sqrt(variance)
        fitted = self.predict(x)
        return Interval(fitted - half, fitted + half)

    def refit(self, sample: Sample) -> SmoothingSpline:
        """The curve through other rows, as smooth as this one, at fewer knots.

        Cross-validation would take rows drawn twice for proof of every wiggle.
        """
        laid = _laid_out(sample, _KNOTS_AGAIN)
        values = scipy.linalg.solve(
            laid.gram + self.penalty * laid.omega, laid.right, assume_a="pos"
        )
        none = np.zeros((0, 0))
        return replace(
            self,
            n=sample.n,
            x_range=(laid.low, laid.low + laid.range_),
            knots=laid.knots,
            values=values + laid.middle,
            bends=(laid.second @ values) / laid.range_**2,
            half=none,
            second=none,
        )

    def leverage(self, sample: Sample) -> Array:
        """Diagonal of the hat matrix."""
        at = np.unique(sample.x)
        if len(at) > MOST_LEVERAGES:
            # It is as smooth as the curve, and read off between so many places.
            at = at[np.linspace(0, len(at) - 1, MOST_LEVERAGES).astype(np.intp)]
        variance = np.interp(sample.x, at, self._variance(at))
        return np.asarray(np.minimum(variance * mean_one(sample), 1.0))

    def _variance(self, x: Array) -> Array:
        """Diagonal of N (NᵀWN + λΩ)⁻¹ Nᵀ, in blocks so that no large matrix is held."""
        out = np.empty(len(x))
        bends = self.second @ self.half
        for start in range(0, len(x), 4096):
            part = _natural(self.knots, x[start : start + 4096])
            rows = part.value(self.half, bends)
            out[start : start + 4096] = np.einsum("ij,ij->i", rows, rows)
        return out


@dataclass(frozen=True, slots=True, kw_only=True)
class SplineSettings:
    """Settings of a smoothing spline."""

    penalty: float | None = setting(
        None,
        "Penalty",
        "Of roughness, on x scaled to a range of 1; found by cross-validation where null.",
        low=0,
        high=1e12,
        slider=(1e-8, 100),
        scale="log",
        free="found from the rows",
        starts=0.001,
    )


def fit(sample: Sample, settings: SplineSettings) -> SmoothingSpline:
    """Fit a cubic smoothing spline.

    Parameters
    ----------
    sample : Sample
        At least five pairs with four distinct x.
    settings : SplineSettings

    Raises
    ------
    FitError
        If there are too few rows, or the penalty is below zero.
    """
    if settings.penalty is not None and settings.penalty < 0:
        raise FitError("The penalty cannot be negative.", "Give a positive one, or none.")
    laid = _laid_out(sample, EXACT_DISTINCT)
    low, range_, middle = laid.low, laid.range_, laid.middle
    gram, right, omega, second = laid.gram, laid.right, laid.omega, laid.second
    w, y, design = laid.w, sample.y, laid.design
    # Axes on which both the data and the roughness are diagonal.
    lower = scipy.linalg.cholesky(gram, lower=True)
    inverse = scipy.linalg.solve_triangular(lower, np.eye(len(gram)), lower=True)
    rough, axes = scipy.linalg.eigh(inverse @ omega @ inverse.T)
    rough = np.clip(rough, 0, None)
    rough[:2] = 0  # straight lines are not rough
    turned = inverse.T @ axes
    along = turned.T @ right
    about = y - middle
    whole = turned @ along
    floor = about - design.value(whole, second @ whole)
    base = float(np.dot(w * floor, floor))

    def parts(penalty: float) -> tuple[float, float]:
        left = penalty * rough / (1 + penalty * rough)
        return base + float(np.sum((left * along) ** 2)), float(np.sum(1 - left))

    n = sample.n
    penalty = settings.penalty if settings.penalty is not None else _validated(parts, rough, n)
    sse, edf = parts(penalty)
    if n - edf < 0.5:
        raise FitError(
            "The penalty is so small that the spline passes through every row.",
            "Give a larger penalty.",
        )
    shrunk = 1 / (1 + penalty * rough)
    values = turned @ (shrunk * along)
    return SmoothingSpline(
        family=FAMILY.name,
        n=n,
        x_range=(low, low + range_),
        sse=sse,
        sst=spread_of(sample),
        degrees_of_freedom=n - edf,
        parameters=edf,
        knots=laid.knots,
        values=values + middle,
        bends=(second @ values) / range_**2,
        half=turned * np.sqrt(shrunk),
        second=second / range_**2,
        penalty=penalty,
        was_given=settings.penalty is not None,
        is_exact=laid.is_exact,
    )


class _LaidOut(NamedTuple):
    """A spline's normal equations over its values at the knots, on x scaled to a range of 1.

    Attributes
    ----------
    knots : ndarray, shape (k,)
    is_exact : bool
        Whether every different x is a knot.
    low, range_, middle : float
        Where x begins and how far it goes; the mean of y, which was taken away.
    w : ndarray
        Weights of the rows.
    design : _Natural
    second, omega : ndarray, shape (k, k)
        See `_roughness`.
    gram, right : ndarray
        NᵀWN and NᵀWy.
    """

    knots: Array
    is_exact: bool
    low: float
    range_: float
    middle: float
    w: Array
    design: _Natural
    second: Array
    omega: Array
    gram: Array
    right: Array


def _laid_out(sample: Sample, most_knots: int) -> _LaidOut:
    needs_rows(sample, 5, "A smoothing spline", distinct=4)
    x, y = sample.x, sample.y
    w = np.broadcast_to(np.asarray(mean_one(sample), dtype=np.float64), x.shape)
    low, range_ = float(x.min()), float(np.ptp(x))
    # Between knots that lie closer than can be told apart no bend is determined.
    knots = apart(np.unique(x))
    if len(x) >= 2 * len(knots):
        tied = min(max(len(knots) // 4, FEWEST_KNOTS_TIED), MOST_KNOTS_TIED)
        most_knots = min(most_knots, tied)
    is_exact = len(knots) <= most_knots
    if len(knots) < 4:  # as many as a bend needs
        raise FitError(
            "A smoothing spline needs at least four values of x that lie apart.",
            "Choose a simpler form.",
        )
    if not is_exact:
        knots = knots[np.linspace(0, len(knots) - 1, most_knots).astype(np.intp)]
    scaled = (knots - low) / range_
    second, omega = _roughness(scaled)
    middle = float(np.average(y, weights=w))
    design = _natural(scaled, (x - low) / range_)
    gram, right = design.normal(w, y - middle, second)
    # So that it can be solved even where hardly any row lies between two knots.
    gram = gram + 1e-13 * np.trace(gram) / len(gram) * np.eye(len(gram))
    return _LaidOut(knots, is_exact, low, range_, middle, w, design, second, omega, gram, right)


def _validated(parts: Callable[[float], tuple[float, float]], rough: Array, n: int) -> float:
    """The penalty with the least generalised cross-validation (Craven and Wahba 1979)."""
    some = rough[2:][rough[2:] > 0]
    low, high = -math.log(some[-1]) - 12, -math.log(some[0]) + 12

    def score(log_penalty: float) -> float:
        sse, edf = parts(math.exp(log_penalty))
        return n * sse / (n - edf) ** 2 if n - edf > 0.5 else math.inf

    grid = np.linspace(low, high, 121)
    scores = [score(v) for v in grid]
    best = int(np.argmin(scores))
    ends = grid[max(0, best - 1)], grid[min(len(grid) - 1, best + 1)]
    found = scipy.optimize.minimize_scalar(
        score, bounds=ends, method="bounded", options={"xatol": 1e-6}
    )
    return math.exp(float(found.x))


@dataclass(frozen=True, slots=True)
class _Natural:
    """Places between knots: a natural spline's value there is linear in values and bends."""

    left: np.ndarray
    a: Array
    b: Array
    c: Array
    d: Array

    def value(self, values: Array, bends: Array) -> Array:
        """Value of splines whose values and bends at the knots are given, shape (k,) or (k, m)."""
        i, j = self.left, self.left + 1
        shape = (-1,) + (1,) * (values.ndim - 1)
        a, b, c, d = (v.reshape(shape) for v in (self.a, self.b, self.c, self.d))
        return np.asarray(a * values[i] + b * values[j] + c * bends[i] + d * bends[j])

    def normal(self, w: Array, y: Array, second: Array) -> tuple[Array, Array]:
        """NᵀWN and NᵀWy over values at the knots, without forming N."""
        k = len(second)
        columns = (self.left, self.left + 1, self.left + k, self.left + 1 + k)
        factors = (self.a, self.b, self.c, self.d)
        gram = np.zeros((2 * k, 2 * k))
        right = np.zeros(2 * k)
        for p, (i, u) in enumerate(zip(columns, factors, strict=True)):
            right += np.bincount(i, w * u * y, minlength=2 * k)
            for q, v in enumerate(factors):
                if q < p:
                    continue
                # Which column goes with which is fixed by the interval: one count over intervals.
                sums = np.bincount(self.left, w * u * v, minlength=k - 1)
                rows, cols = np.arange(k - 1) + _OFFSET[p](k), np.arange(k - 1) + _OFFSET[q](k)
                gram[rows, cols] += sums
                if p != q:
                    gram[cols, rows] += sums
        whole = np.vstack([np.eye(k), second])
        return whole.T @ gram @ whole, whole.T @ right


_OFFSET = (lambda _: 0, lambda _: 1, lambda k: k, lambda k: k + 1)


def _natural(knots: Array, x: Array) -> _Natural:
    """Green and Silverman (1994), eq. 2.18; straight lines beyond the knots."""
    left = np.clip(np.searchsorted(knots, x, side="right") - 1, 0, len(knots) - 2)
    h = knots[left + 1] - knots[left]
    t = (x - knots[left]) / h
    s = np.clip(t, 0, 1)
    a, b = 1 - t, t
    # Beyond the ends the line goes on with the end's slope.
    past = t - s
    c = -(h * h) / 6 * (s * (1 - s) * (2 - s) + past * np.where(past < 0, 2, -1))
    d = -(h * h) / 6 * (s * (1 - s) * (1 + s) + past * np.where(past < 0, 1, -2))
    return _Natural(left, a, b, c, d)


def _roughness(knots: Array) -> tuple[Array, Array]:
    """From values to second derivatives at the knots, and the roughness matrix Q R⁻¹ Qᵀ."""
    k = len(knots)
    h = np.diff(knots)
    q = np.zeros((k, k - 2))
    inner = np.arange(k - 2)
    q[inner, inner] = 1 / h[:-1]
    q[inner + 1, inner] = -1 / h[:-1] - 1 / h[1:]
    q[inner + 2, inner] = 1 / h[1:]
    banded = np.zeros((2, k - 2))
    banded[1] = (h[:-1] + h[1:]) / 3
    banded[0, 1:] = h[1:-1] / 6
    bends = scipy.linalg.solveh_banded(banded, q.T)
    second = np.zeros((k, k))
    second[1:-1] = bends
    return second, q @ bends


FAMILY = Family(
    name="spline",
    label="smoothing spline",
    entry=Entry(
        method="natural cubic spline, penalty by GCV (Green and Silverman 1994); where each x has two rows or more, 20 to 35 knots (Ruppert 2002)",
        intervals="Wahba (1983)",
        exactness="approximate; over all places together",
    ),
    note="nonparametric",
    settings=SplineSettings,
    fit=fit,
    is_smooth=True,
    candidates=(Candidate("smoothing spline", SplineSettings()),),
)
