"""The Deming line: two methods that measure one quantity, each with an error of its own.

The line whose rows lie nearest in both directions at once, where the variance of the errors of y is a
known multiple of that of x (Deming 1943; Linnet 1993). Intervals are by the jackknife.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import ClassVar

import numpy as np

from yarrowdew.core.equation import EquationForm
from yarrowdew.core.errors import FitError
from yarrowdew.core.intervals import ratio, t_p_value, t_quantile
from yarrowdew.core.sample import Array, Sample
from yarrowdew.core.trends.assumptions import Assumption, of_curve, of_intervals, of_rows
from yarrowdew.core.trends.base import (
    Coefficient,
    FitWithoutShare,
    Interval,
    mean_one,
    needs_rows,
    spread_of,
)
from yarrowdew.core.trends.families.straight import (
    LINE_LABELS,
    linear_form,
    linear_form_about,
    units_of_line,
)
from yarrowdew.core.trends.family import Entry, Family, setting
from yarrowdew.core.trends.protocol import PointwiseKind, check_pointwise


@dataclass(frozen=True, slots=True, kw_only=True)
class DemingSettings:
    """Settings of a Deming line."""

    ratio: float = setting(
        1.0,
        "Error variance of y over that of x",
        "How many times as large the variance of the errors of y is as that of x; 1 for methods that "
        "are as precise as each other.",
        above=0.0,
    )


@dataclass(frozen=True, slots=True, kw_only=True)
class DemingLine(FitWithoutShare):
    """A Deming line.

    Attributes
    ----------
    slope, mean_x, mean_y : float
    covariance : ndarray, shape (2, 2)
        Of the height at `mean_x` and of the slope, by the jackknife.
    ratio : float
    agreement : float or None
        Lin’s concordance correlation.
    """

    allows_any_scatter: ClassVar[bool] = True

    slope: float
    mean_x: float
    mean_y: float
    covariance: Array
    ratio: float
    agreement: float | None

    @property
    def measures(self) -> tuple[tuple[str, float], ...]:
        """Concordance of the two methods."""
        return () if self.agreement is None else (("Concordance (Lin)", self.agreement),)

    @property
    def p_value(self) -> float | None:
        """Of the hypothesis that the slope is zero."""
        t = ratio(self.slope, math.sqrt(self.covariance[1, 1]))
        return None if math.isnan(t) else t_p_value(t, self.degrees_of_freedom)

    @property
    def assumptions(self) -> tuple[Assumption, ...]:
        """What the line and its intervals rest on."""
        return (
            of_curve(
                "Both variables measure one quantity with errors; the variance of the errors of y is "
                f"{self.ratio:g} times that of x at every level."
            ),
            of_rows("Rows are independent of one another."),
            of_intervals(
                "Standard errors are by the jackknife: the line is fitted without each row in turn."
            ),
        )

    @property
    def form(self) -> EquationForm:
        """The line as printed."""
        return linear_form(self._intercept, self.slope)

    def form_about(self, origin: float) -> EquationForm:
        """The line in x counted from another origin."""
        return linear_form_about(self, self.slope, origin)

    @property
    def _intercept(self) -> float:
        return self.mean_y - self.slope * self.mean_x

    def coefficients(self, level: float) -> tuple[Coefficient, ...]:
        """A and b."""
        t = t_quantile(level, self.degrees_of_freedom)
        a_se = float(self._se(np.zeros(1))[0])
        b_se = math.sqrt(max(float(self.covariance[1, 1]), 0.0))
        return (
            Coefficient.of("a", self._intercept, a_se, t),
            Coefficient.of("b", self.slope, b_se, t),
        )

    def predict(self, x: Array) -> Array:
        """Y of the line at each x."""
        return self.mean_y + self.slope * (x - self.mean_x)

    def band(self, x: Array, level: float, kind: PointwiseKind) -> Interval | None:
        """Pointwise band of the line; there is none for a new row."""
        check_pointwise(kind)
        if kind == "prediction":
            return None
        half = t_quantile(level, self.degrees_of_freedom) * self._se(x)
        fitted = self.predict(x)
        return Interval(fitted - half, fitted + half)

    def _se(self, x: Array) -> Array:
        dx = x - self.mean_x
        c = self.covariance
        variance = c[0, 0] + 2 * dx * c[0, 1] + dx * dx * c[1, 1]
        return np.asarray(np.sqrt(np.maximum(variance, 0)))


def _slope(xx: Array, xy: Array, yy: Array, error: float) -> Array:
    """Slope from sums of squares and products."""
    apart = yy - error * xx
    root = np.hypot(apart, 2 * math.sqrt(error) * xy)
    # Of two forms of the same number the one that loses no digits.
    with np.errstate(divide="ignore", invalid="ignore"):
        return np.where(apart >= 0, (apart + root) / (2 * xy), 2 * error * xy / (root - apart))


def fit(sample: Sample, settings: DemingSettings) -> DemingLine:
    """Fit a Deming line.

    Raises
    ------
    FitError
        If there are too few rows, x and y do not go together, or there are weights.
    """
    what = "A Deming line"
    needs_rows(sample, 4, what)
    if sample.weights is not None:
        raise FitError(f"{what} has no weights.", "Leave the weights out.")
    x, y, n = sample.x, sample.y, sample.n
    mean_x, mean_y = float(x.mean()), float(y.mean())
    dx, dy = x - mean_x, y - mean_y
    xx, xy, yy = float(np.dot(dx, dx)), float(np.dot(dx, dy)), float(np.dot(dy, dy))
    if not abs(xy) > 1e-14 * math.sqrt(xx * yy):
        raise FitError(
            f"{what} needs two variables that go together; here they do not at all.",
            "Choose two measurements of one quantity.",
        )
    slope = float(_slope(np.array(xx), np.array(xy), np.array(yy), settings.ratio))
    # Without each row: sums about the other rows' means.
    few = n / (n - 1)
    slopes = _slope(xx - few * dx * dx, xy - few * dx * dy, yy - few * dy * dy, settings.ratio)
    means_x, means_y = -dx / (n - 1), -dy / (n - 1)
    heights = means_y - slopes * means_x
    known = np.isfinite(slopes)
    if not known.all():
        raise FitError(
            "Without one row x and y do not go together at all, so there are no standard errors.",
            "Add rows.",
        )
    both = np.column_stack([heights, slopes])
    off = both - both.mean(axis=0)
    residual = y - mean_y - slope * dx
    total = xx + yy + n * (mean_x - mean_y) ** 2
    return DemingLine(
        family=FAMILY.name,
        n=n,
        x_range=sample.x_range,
        sse=float(np.sum(mean_one(sample) * residual * residual)),
        sst=spread_of(sample),
        degrees_of_freedom=n - 2,
        parameters=2,
        slope=slope,
        mean_x=mean_x,
        mean_y=mean_y,
        covariance=(n - 1) / n * (off.T @ off),
        ratio=settings.ratio,
        agreement=2 * xy / total if total > 0 else None,
    )


FAMILY = Family(
    name="deming",
    label="Deming line",
    entry=Entry(
        method="orthogonal distances under a known ratio of error variances (Deming 1943, Linnet 1993); concordance: Lin (1989)",
        intervals="jackknife (Linnet 1993)",
        exactness="approximate (see the table)",
    ),
    note="two methods, both with errors",
    settings=DemingSettings,
    fit=fit,
    units=units_of_line,
    one_slope=True,
    r_squared_about="nothing",
    takes_units=False,
    coefficient_labels=LINE_LABELS,
)
