"""A fit by least squares whose covariance is found in another way than from its residuals alone."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from yarrowdew.core.intervals import ratio, t_p_value, t_quantile
from yarrowdew.core.sample import Array
from yarrowdew.core.trends.assumptions import About, Assumption, of_scatter
from yarrowdew.core.trends.families.straight import StraightLine
from yarrowdew.core.trends.fit_proxy import FitProxy
from yarrowdew.core.trends.protocol import (
    Coefficient,
    Crossing,
    HasTangent,
    Interval,
    PointwiseKind,
    TrendFit,
    check_pointwise,
)
from yarrowdew.core.trends.solvers.searching import searched


@dataclass(frozen=True)
class CovarianceFit(FitProxy):
    """A fit with standard errors from a covariance of its own.

    Attributes
    ----------
    covariance : ndarray, shape (p, p)
        Of the fit, in its columns T.
    """

    covariance: Array

    @property
    def test_df(self) -> float:
        """Degrees of freedom of Student's t in its intervals and tests."""
        return self.inner.degrees_of_freedom

    @property
    def new_row_sd(self) -> float:
        """How far a new row scatters about the line."""
        return self.inner.residual_sd

    @property
    def about_scatter(self) -> str:
        """What is supposed of the scatter, in place of what the fit inside supposes."""
        raise NotImplementedError

    @property
    def p_value(self) -> float | None:
        """Of a straight line: that its slope is zero."""
        if not isinstance(self.inner, StraightLine):
            return None
        t = ratio(self.inner.slope, self._se(tangents_of(self.inner)["b"]))
        return None if math.isnan(t) else t_p_value(t, self.test_df)

    @property
    def slope_se(self) -> float:
        """Standard error of the slope, where there is one."""
        return self._se(tangents_of(self.inner)["b"])

    @property
    def assumptions(self) -> tuple[Assumption, ...]:
        """What the intervals rest on."""
        return tuple(
            of_scatter(self.about_scatter) if each.about is About.SCATTER else each
            for each in self.inner.assumptions
        )

    def coefficients(self, level: float) -> tuple[Coefficient, ...]:
        """The same values, with their own intervals."""
        half = t_quantile(level, self.test_df)
        rows = tangents_of(self.inner)
        return tuple(
            Coefficient.of(c.name, c.value, self._se(rows[c.name]), half) if c.name in rows else c
            for c in self.inner.coefficients(level)
        )

    def band(self, x: Array, level: float, kind: PointwiseKind) -> Interval:
        """Pointwise band."""
        check_pointwise(kind)
        variance = self._variance(x)
        if kind == "prediction":
            variance = variance + self.new_row_sd**2
        half = t_quantile(level, self.test_df) * np.sqrt(variance)
        fitted = self.inner.predict(x)
        return Interval(fitted - half, fitted + half)

    def crossings(
        self, y: float, level: float, within: tuple[float, float] | None = None
    ) -> tuple[Crossing, ...]:
        """Every x at which the trend reaches `y`, with where the band does."""
        line = self.inner
        if not isinstance(line, StraightLine):
            return searched(self, y, level, within or line.x_range)
        if line.slope == 0:
            return line.crossings(y, level, within)
        return fieller(line, self._variance, y, level, self.test_df)

    def _variance(self, x: Array, over: float = 1.0) -> Array:
        """Of the mean at each x, in units of `over` squared."""
        t = tangent_of(self.inner, x) / over
        return np.asarray(np.einsum("ij,jk,ik->i", t, self.covariance, t))

    def _se(self, row: Array) -> float:
        return math.sqrt(float(row @ self.covariance @ row))


def fieller(
    line: StraightLine,
    variance: Callable[[Array, float], Array],
    y: float,
    level: float,
    df: float,
) -> tuple[Crossing, ...]:
    """Every x whose interval holds `y`: between the roots of a parabola in x (Fieller 1954)."""
    away = (y - line.pivot_y) / line.slope
    x = line.pivot_x + away
    # In units in which no square of a distance overflows.
    unit = max(abs(away), math.sqrt(line.spread / line.n)) or 1.0
    at = line.pivot_x + unit * np.array([-1.0, 0.0, 1.0])
    t = t_quantile(level, df)
    d = line.predict(at) - y
    height = float(np.abs(d).max()) or 1.0
    q = (d / height) ** 2 - variance(at, height / t)
    a, b, c = (q[2] + q[0]) / 2 - q[1], (q[2] - q[0]) / 2, q[1]
    root = b * b - 4 * a * c
    open_note = "The slope is too uncertain to close the interval"
    if root < 0:
        return (Crossing(x, None, None, f"{open_note}: every x agrees with this level."),)
    large = -(b + math.copysign(math.sqrt(root), b)) / 2
    ends = [ratio(large, a), ratio(c, large) if large else 0.0]
    first, second = sorted(line.pivot_x + unit * float(end) for end in ends)
    if a > 0:
        return (Crossing(x, first, second),)
    if x >= second:
        remark = f"{open_note} above; nor is x below {{}} ruled out."
        return (Crossing(x, second, None, remark, (("x", first),)),)
    remark = f"{open_note} below; nor is x above {{}} ruled out."
    return (Crossing(x, None, first, remark, (("x", second),)),)


def tangent_of(fit: TrendFit, x: Array) -> Array:
    """Return the columns T of a fit that has them, at each x."""
    assert isinstance(fit, HasTangent)  # noqa: S101 (it was, when it was wrapped)
    return fit.tangent(x)


def tangents_of(fit: TrendFit) -> dict[str, Array]:
    """Return coefficients of a fit as numbers in its columns T."""
    assert isinstance(fit, HasTangent)  # noqa: S101 (it was, when it was wrapped)
    return fit.coefficient_tangents()
