"""Curves of one slope by maximum likelihood: the mean of y is a function of a + b x.

Iteratively reweighted least squares (McCullagh and Nelder 1989, section 2.5), which is Newton's method
where the function is the natural one of the distribution. Intervals are by profile likelihood
(Venzon and Moolgavkar 1988) up to `MOST_PROFILED` rows, and by the curvature at the maximum above,
where the two agree.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass, field, replace
from typing import NamedTuple

import numpy as np
import scipy

from yarrowdew.core.checkpoints import checkpoint
from yarrowdew.core.errors import FitError
from yarrowdew.core.intervals import normal_quantile, t_quantile
from yarrowdew.core.sample import Array, Sample
from yarrowdew.core.trends.base import Coefficient, Crossing, FitWithoutShare, Interval
from yarrowdew.core.trends.protocol import PointwiseKind, check_pointwise

MOST_PROFILED, MOST_PENALISED = 20_000, 2_000
"""With a penalty, whose profile takes a search for each place, fewer rows are profiled."""
_STEEPEST = 80.0
"""No penalised curve is steeper, in units of the spread of x."""
_STEPS = 300
_SAME = 1e-13
_LEVEL = 1e-9
"""A slope of so small a share of its standard error is rounding."""
_FURTHEST = 16
"""An end of an interval is looked for up to 2 to this power of standard errors away: then it is open."""


@dataclass(frozen=True, slots=True)
class Distribution:
    """What y is drawn from, about its mean.

    Attributes
    ----------
    mean : callable
        From a + b x to the mean of y.
    link : callable
        From a mean back to a + b x; infinite where no mean is so far.
    pull : callable
        From y and its mean to the slope of the likelihood of each row in a + b x.
    curvature : callable
        From the mean to how far that slope is expected to change: what a row is worth.
    loss : callable
        From y and a + b x to what each row takes off the likelihood, up to what is the same for
        every curve.
    """

    mean: Callable[[Array], Array]
    link: Callable[[float], float]
    pull: Callable[[Array, Array], Array]
    curvature: Callable[[Array], Array]
    loss: Callable[[Array, Array], Array]


class Rows(NamedTuple):
    """Rows with x counted from its middle in units of its spread, each of a weight."""

    z: Array
    y: Array
    weight: Array | float


@dataclass(frozen=True, slots=True)
class Curve:
    """A curve in z, and how well it is known.

    Attributes
    ----------
    at_middle, slope : float
        Of a + b z.
    covariance : ndarray, shape (2, 2)
        Of both, for a dispersion of 1.
    objective : float
        Twice the loss there, less the penalty where there is one.
    """

    at_middle: float
    slope: float
    covariance: Array
    objective: float


@dataclass(frozen=True, slots=True)
class Problem:
    """Rows and a distribution, with the penalty of Firth (1993) or without.

    Attributes
    ----------
    rows : Rows
    of : Distribution
    is_penalised : bool
    """

    rows: Rows
    of: Distribution
    is_penalised: bool = False

    def objective(self, eta: Array) -> float:
        """Twice the loss at a + b z, less the penalty."""
        z, y, weight = self.rows
        found = 2 * float(np.sum(weight * self.of.loss(y, eta)))
        if self.is_penalised:
            curvature = weight * self.of.curvature(self.of.mean(eta))
            found -= math.log(max(_determinant(z, curvature), 1e-300))
        return found

    def solve(self, start: tuple[float, float]) -> Curve:
        """Find the maximum by Newton's method, with shorter steps where a whole one is too long.

        Raises
        ------
        FitError
            If it is not reached.
        """
        z, y, weight = self.rows
        a, b = start
        held = self.objective(a + b * z)
        before = np.zeros(2)
        for _ in range(_STEPS):
            checkpoint()
            mean = self.of.mean(a + b * z)
            curvature = weight * self.of.curvature(mean)
            inverse = _inverse(z, curvature)
            off = weight * self.of.pull(y, mean)
            if self.is_penalised:
                # Each row's share of the fit, by which Firth moves it towards a half.
                share = curvature * (inverse[0, 0] + 2 * inverse[0, 1] * z + inverse[1, 1] * z * z)
                off = off + share * (0.5 - mean)
            gradient = np.array([off.sum(), np.dot(off, z)])
            step = inverse @ gradient
            # Where one more step wins next to nothing it is the last, and doubles the digits; with a
            # penalty, which the curvature leaves out, it does not.
            enough = _SAME * (1e-4 if self.is_penalised else 1) * (abs(held) + 1)
            if float(gradient @ step) <= enough:
                return Curve(a + float(step[0]), b + float(step[1]), inverse, held)
            if self.is_penalised and float(step @ before) < 0:
                # The curvature leaves the penalty out, and steps to and fro across the maximum.
                step = step / 2
            before = step
            for _ in range(40):
                new = self.objective(a + step[0] + (b + step[1]) * z)
                if new <= held + _SAME * (abs(held) + 1):
                    break
                step = step / 2
            a, b, held = a + float(step[0]), b + float(step[1]), new
        raise FitError(
            "The likelihood is still rising when the search ends.",
            "Look for rows far from all others, or choose another trend.",
        )

    def least_along(self, fixed: Array, along: Array, start: float) -> tuple[float, float]:
        """The least objective of `fixed` + c `along`, and the c where it stands."""
        if self.is_penalised:
            found = scipy.optimize.minimize_scalar(
                lambda c: self.objective(fixed + c * along),
                bounds=(-_STEEPEST, _STEEPEST),
                method="bounded",
                options={"xatol": 1e-9},
            )
            return float(found.fun), float(found.x)
        _, y, weight = self.rows
        c, held = start, self.objective(fixed + start * along)
        for _ in range(_STEPS):
            mean = self.of.mean(fixed + c * along)
            gradient = float(np.sum(weight * self.of.pull(y, mean) * along))
            curvature = float(np.sum(weight * self.of.curvature(mean) * along * along))
            if not curvature > 0:
                break
            step = gradient / curvature
            if gradient * step <= _SAME * (abs(held) + 1):
                return held, c + step
            for _ in range(40):
                new = self.objective(fixed + (c + step) * along)
                if new <= held + _SAME * (abs(held) + 1):
                    break
                step /= 2
            c, held = c + step, new
        return held, c


def _moments(z: Array, curvature: Array) -> tuple[float, float, float]:
    wz = curvature * z
    return float(np.sum(curvature)), float(np.sum(wz)), float(np.dot(wz, z))


def _determinant(z: Array, curvature: Array) -> float:
    s0, s1, s2 = _moments(z, curvature)
    return s0 * s2 - s1 * s1


def _inverse(z: Array, curvature: Array) -> Array:
    s0, s1, s2 = _moments(z, curvature)
    determinant = s0 * s2 - s1 * s1
    if not (determinant > 0 and math.isfinite(determinant)):
        raise FitError(
            "The rows do not determine this curve: it is as good as level, or as good as a step.",
            "Look for rows far from all others, or choose another trend.",
        )
    return np.array([[s2, -s1], [-s1, s0]]) / determinant


@dataclass(frozen=True, slots=True, kw_only=True)
class LikelihoodFit(FitWithoutShare):
    """A curve by maximum likelihood; see `TrendFit`.

    Attributes
    ----------
    curve : Curve
    middle, unit : float
        z is x less `middle`, over `unit`.
    of : Distribution
    problem : Problem or None
        What intervals are profiled from; None of more than `MOST_PROFILED` rows.
    dispersion : float
        By which variances are larger than those of the distribution.
    test_df : float or None
        Degrees of freedom of the dispersion; None where it is not estimated.
    null_objective : float
        Of a level curve.
    measures_of_fit : tuple
        What is said of the fit in the place of R².
    excess : tuple of float, or None
        By how much the variance is larger than that of the distribution, and the p value of its
        being no larger; None where that is allowed for, or cannot be told.
    """

    curve: Curve
    middle: float
    unit: float
    of: Distribution
    problem: Problem | None
    dispersion: float
    test_df: float | None
    null_objective: float
    measures_of_fit: tuple[tuple[str, float], ...]
    excess: tuple[float, float] | None = None
    known: dict[tuple[object, ...], tuple[float | None, float | None]] = field(
        default_factory=dict, compare=False, repr=False
    )

    @property
    def slope(self) -> float:
        """Of a + b x."""
        return self.curve.slope / self.unit

    @property
    def intercept(self) -> float:
        """Of a + b x, at x = 0."""
        return self.curve.at_middle - self.slope * self.middle

    @property
    def measures(self) -> tuple[tuple[str, float], ...]:
        """What is said of the fit in the place of R²."""
        return self.measures_of_fit

    @property
    def p_value(self) -> float | None:
        """Of the likelihood-ratio test that y does not change with x."""
        gained = max(self.null_objective - self.curve.objective, 0.0) / self.dispersion
        if self.test_df is not None:
            return float(scipy.stats.f.sf(gained, 1, self.test_df))
        return float(scipy.special.chdtrc(1, gained))

    def _reach(self, level: float) -> float:
        """Standard errors to either side of an interval."""
        return normal_quantile(level) if self.test_df is None else t_quantile(level, self.test_df)

    def predict(self, x: Array) -> Array:
        """Mean of y at each x."""
        return self.of.mean(self._eta(x))

    def _eta(self, x: Array) -> Array:
        return self.curve.at_middle + self.curve.slope * ((x - self.middle) / self.unit)

    def band(self, x: Array, level: float, kind: PointwiseKind) -> Interval | None:
        """Band of the mean, by the curvature on the scale of a + b x; none for a new row."""
        check_pointwise(kind)
        if kind == "prediction":
            return None
        z = (x - self.middle) / self.unit
        c = self.curve.covariance
        variance = c[0, 0] + 2 * c[0, 1] * z + c[1, 1] * z * z
        half = self._reach(level) * np.sqrt(self.dispersion * np.maximum(variance, 0))
        eta = self._eta(x)
        return Interval(self.of.mean(eta - half), self.of.mean(eta + half))

    def coefficients(self, level: float) -> tuple[Coefficient, ...]:
        """A and b of a + b x; b by profile likelihood."""
        c = self.dispersion * self.curve.covariance
        at = -self.middle / self.unit
        a_se = math.sqrt(max(c[0, 0] + 2 * c[0, 1] * at + c[1, 1] * at * at, 0.0))
        a = Coefficient.of("a", self.intercept, a_se, self._reach(level))
        low, high = self._ends("slope", self.curve.slope, math.sqrt(c[1, 1]), level)
        return a, Coefficient(
            "b",
            self.slope,
            math.sqrt(c[1, 1]) / self.unit,
            None if low is None else low / self.unit,
            None if high is None else high / self.unit,
        )

    def coefficient_values(self) -> dict[str, float]:
        """A and b, without their intervals."""
        return {"a": self.intercept, "b": self.slope}

    def crossings(
        self, y: float, level: float, within: tuple[float, float] | None = None
    ) -> tuple[Crossing, ...]:
        """The one x at which the mean is `y`, with its interval by profile likelihood."""
        eta = self.of.link(y)
        if not math.isfinite(eta):
            return (Crossing(None, None, None, "The curve never reaches {}.", (("y", y),)),)
        if abs(self.curve.slope) <= _LEVEL * math.sqrt(self.curve.covariance[1, 1]):
            note = "The curve is level, and never reaches {}."
            return (Crossing(None, None, None, note, (("y", y),)),)
        z = (eta - self.curve.at_middle) / self.curve.slope
        c = self.dispersion * self.curve.covariance
        variance = c[0, 0] + 2 * c[0, 1] * z + c[1, 1] * z * z
        se = math.sqrt(max(variance, 0.0)) / abs(self.curve.slope)
        low, high = self._ends(("level", eta), z, se, level)
        x = self.middle + self.unit * z
        ends = [None if end is None else self.middle + self.unit * end for end in (low, high)]
        open_note = "" if None not in ends else "The slope is too uncertain to close the interval."
        return (Crossing(x, ends[0], ends[1], open_note),)

    def _ends(
        self, of: object, value: float, se: float, level: float
    ) -> tuple[float | None, float | None]:
        """Both ends of an interval in z; None at an end that is open."""
        reach = self._reach(level)
        if self.problem is None:
            return value - reach * se, value + reach * se
        key = (of, level)
        if key not in self.known:
            limit = self.dispersion * reach * reach
            self.known[key] = tuple(  # type: ignore[assignment]
                self._end(of, value, side * max(se, 1e-12), limit) for side in (-1, 1)
            )
        return self.known[key]

    def _end(self, of: object, value: float, step: float, limit: float) -> float | None:
        """Where the profile has risen by `limit`, on the side of `step`."""
        assert self.problem is not None  # noqa: S101 (asked for where there is one)
        z = self.problem.rows.z
        start = [self.curve.at_middle if of == "slope" else self.curve.slope]

        def risen(at: float) -> float:
            checkpoint()
            if of == "slope":
                fixed, along = at * z, np.ones_like(z)
            else:
                fixed, along = np.full_like(z, of[1]), z - at  # type: ignore[index]
            found, start[0] = self.problem.least_along(fixed, along, start[0])  # type: ignore[union-attr]
            return found - self.curve.objective - limit

        if risen(value) > 0:
            # Rounding leaves no profile to walk along.
            return None
        near, far = value, value + step
        for _ in range(_FURTHEST):
            if risen(far) > 0:
                return float(scipy.optimize.brentq(risen, near, far, xtol=1e-10, rtol=1e-10))
            near, far = far, value + 2 * (far - value)
        return None

    def curve_alone(self) -> LikelihoodFit:
        """The same curve, without the rows that its intervals are profiled from."""
        return replace(self, problem=None, known={})


def standardised(sample: Sample) -> tuple[Array, float, float]:
    """X counted from its middle in units of its spread."""
    low, high = sample.x_range
    middle = low / 2 + high / 2
    unit = high / 2 - low / 2
    return (sample.x - middle) / unit, middle, unit
