"""A straight line where x and y are both measured with errors that are known for every row.

York, Evensen, López Martínez and De Basabe Delgado (2004), with errors of x and y that do not go
together: iteration to a fixed point of the slope, and standard errors from the places that the rows
are brought to on the line.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import ClassVar

import numpy as np
import scipy

from yarrowdew.core.checkpoints import checkpoint
from yarrowdew.core.equation import EquationForm
from yarrowdew.core.errors import FitError
from yarrowdew.core.intervals import normal_quantile, ratio
from yarrowdew.core.sample import Array, Sample
from yarrowdew.core.trends.assumptions import Assumption, of_curve, of_intervals, of_rows
from yarrowdew.core.trends.base import (
    BaseFit,
    Coefficient,
    Interval,
    needs_rows,
    spread_of,
)
from yarrowdew.core.trends.families.straight import (
    LINE_LABELS,
    linear_form,
    linear_form_about,
    units_of_line,
)
from yarrowdew.core.trends.family import Entry, Family, NoSettings
from yarrowdew.core.trends.protocol import PointwiseKind, check_pointwise

_STEPS = 500
_SAME = 1e-15
_MUCH = 0.01
"""Below such a probability the scatter is more, or less, than the error bars say."""


@dataclass(frozen=True, slots=True, kw_only=True)
class BothErrorsLine(BaseFit):
    """A line through rows with errors in both variables.

    Attributes
    ----------
    slope, slope_se : float
    pivot_x, pivot_y : float
        Where slope and height are independent: the weighted mean of the places on the line.
    pivot_variance : float
        Of the height there.
    misfit : float
        Weighted sum of squares about the line; its mean is the degrees of freedom.
    """

    allows_any_scatter: ClassVar[bool] = True

    slope: float
    slope_se: float
    pivot_x: float
    pivot_y: float
    pivot_variance: float
    misfit: float

    @property
    def aicc(self) -> float | None:
        """None: the line does not minimise residuals of y."""
        return None

    @property
    def p_value(self) -> float | None:
        """Of the hypothesis that the slope is zero, with errors as given."""
        z = ratio(self.slope, self.slope_se)
        return None if math.isnan(z) else math.erfc(abs(z) / math.sqrt(2))

    @property
    def assumptions(self) -> tuple[Assumption, ...]:
        """What the line and its intervals rest on."""
        df = self.degrees_of_freedom
        size = math.sqrt(self.misfit / df)
        more = float(scipy.special.chdtrc(df, self.misfit))
        both = (
            of_rows(
                "The error bars are one standard error long to either side, and rows are independent "
                "of one another; errors of x and y do not go together."
            ),
            of_intervals(
                "Intervals rest on the error bars alone, not on how far rows lie from the line."
            ),
        )
        times = f"{size:.2g} times as far from the line as their error bars say"
        if more < _MUCH:
            return (
                *both,
                of_curve(
                    f"Rows lie {times}: some error is not in them, or the form is not straight."
                ),
                of_intervals("Intervals are too narrow."),
            )
        if more > 1 - _MUCH:
            return (
                *both,
                of_curve(f"Rows lie only {times}: these are too long."),
                of_intervals("Intervals are too wide."),
            )
        return (*both, of_curve(f"Rows lie {times}."))

    @property
    def form(self) -> EquationForm:
        """The line as printed."""
        return linear_form(self.pivot_y - self.slope * self.pivot_x, self.slope)

    def form_about(self, origin: float) -> EquationForm:
        """The line in x counted from another origin."""
        return linear_form_about(self, self.slope, origin)

    def coefficients(self, level: float) -> tuple[Coefficient, ...]:
        """A and b with their intervals."""
        z = normal_quantile(level)
        a_se = math.hypot(math.sqrt(self.pivot_variance), self.pivot_x * self.slope_se)
        return (
            Coefficient.of("a", self.pivot_y - self.slope * self.pivot_x, a_se, z),
            Coefficient.of("b", self.slope, self.slope_se, z),
        )

    def predict(self, x: Array) -> Array:
        """The line at each x."""
        return self.pivot_y + self.slope * (x - self.pivot_x)

    def band(self, x: Array, level: float, kind: PointwiseKind) -> Interval | None:
        """Pointwise band of the line; there is none for a new row, whose errors are not known."""
        check_pointwise(kind)
        if kind == "prediction":
            return None
        se = np.hypot(math.sqrt(self.pivot_variance), (x - self.pivot_x) * self.slope_se)
        half = normal_quantile(level) * se
        fitted = self.predict(x)
        return Interval(fitted - half, fitted + half)


def fit(sample: Sample, settings: NoSettings) -> BothErrorsLine:
    """Fit a line to rows with errors in both variables.

    Raises
    ------
    FitError
        If there are no errors, too few rows, or no line is come to.
    """
    if sample.errors is None:
        raise FitError(
            "A line with errors in x and y rests on error bars of x and of y, and there are none of one.",
            "Put error bars on both axes, or choose a straight line.",
        )
    needs_rows(sample, 3, "A line with errors in x and y")
    if sample.weights is not None:
        raise FitError(
            "A line with errors in x and y is weighted by its error bars.", "Leave the weights out."
        )
    x, y, (x_se, y_se) = sample.x, sample.y, sample.errors
    slope = float(np.polyfit(x - x.mean(), y - y.mean(), 1)[0])
    for _ in range(_STEPS):
        checkpoint()
        before, (slope, w, beta, mean_x, mean_y) = slope, _step(x, y, x_se, y_se, slope)
        if not math.isfinite(slope) or abs(slope - before) <= _SAME * abs(slope):
            break
    if not math.isfinite(slope):
        raise FitError("No line could be found for these error bars.", "Look for bars of length 0.")
    total = float(w.sum())
    on_line = mean_x + beta
    pivot = float(np.dot(w, on_line)) / total
    off = on_line - pivot
    spread = float(np.dot(w, off * off))
    residual = y - (mean_y + slope * (x - mean_x))
    return BothErrorsLine(
        family=FAMILY.name,
        n=sample.n,
        x_range=(float(x.min()), float(x.max())),
        sse=float(np.dot(residual, residual)),
        sst=spread_of(sample),
        degrees_of_freedom=sample.n - 2,
        parameters=2,
        slope=slope,
        slope_se=1 / math.sqrt(spread),
        pivot_x=pivot,
        pivot_y=mean_y + slope * (pivot - mean_x),
        pivot_variance=1 / total,
        misfit=float(np.dot(w, residual * residual)),
    )


def _step(
    x: Array, y: Array, x_se: Array, y_se: Array, slope: float
) -> tuple[float, Array, Array, float, float]:
    """One step towards the slope, with weights, places on the line from the mean, and the mean."""
    w = 1 / (y_se**2 + (slope * x_se) ** 2)
    mean_x, mean_y = float(np.average(x, weights=w)), float(np.average(y, weights=w))
    u, v = x - mean_x, y - mean_y
    beta = w * (u * y_se**2 + slope * v * x_se**2)
    return float(np.dot(w * beta, v)) / float(np.dot(w * beta, u)), w, beta, mean_x, mean_y


FAMILY = Family(
    name="errors-in-variables",
    was=("both-errors",),
    label="line with errors in x and y",
    entry=Entry(
        method="York and others (2004)",
        intervals="of the points on the line",
        exactness="approximate",
    ),
    note="x and y have error bars",
    settings=NoSettings,
    fit=fit,
    units=units_of_line,
    one_slope=True,
    needs=("error bars",),
    coefficient_labels=LINE_LABELS,
)
