"""The reduced major axis: the standardised major axis of two measured variables.

Neither variable predicts the other: the slope is the ratio of their standard deviations, with the
sign of their correlation. Intervals are those of Warton, Wright, Falster and Westoby (2006, table 4).
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from yarrowdew.core.aggregates.pair_sums import PairSums
from yarrowdew.core.equation import EquationForm
from yarrowdew.core.errors import FitError
from yarrowdew.core.intervals import ratio, t_p_value, t_quantile
from yarrowdew.core.sample import Array, Sample
from yarrowdew.core.trends.assumptions import Assumption, of_curve, of_scatter
from yarrowdew.core.trends.base import (
    BaseFit,
    Coefficient,
    Crossing,
    mean_one,
    needs_rows,
    needs_values,
)
from yarrowdew.core.trends.families.straight import (
    LINE_LABELS,
    StraightLine,
    fit_line,
    line_of_parts,
    linear_form,
    linear_form_about,
    units_of_line,
)
from yarrowdew.core.trends.family import Entry, Family, FromSums, NoSettings


@dataclass(frozen=True, slots=True, kw_only=True)
class BalancedLine(BaseFit):
    """A standardised major axis.

    Attributes
    ----------
    slope : float
    mean_x, mean_y : float
        The point through which it passes.
    r : float
        Correlation of x and y.
    """

    slope: float
    mean_x: float
    mean_y: float
    r: float

    @property
    def r_squared(self) -> float | None:
        """Square of the correlation: what either variable accounts for of the other."""
        return self.r * self.r

    @property
    def adjusted_r_squared(self) -> float | None:
        """R² adjusted for the two coefficients."""
        return 1 - (1 - self.r * self.r) * (self.n - 1) / self.degrees_of_freedom

    @property
    def aicc(self) -> float | None:
        """None: the line does not minimise residuals of y."""
        return None

    @property
    def p_value(self) -> float | None:
        """Of the hypothesis that the two are not correlated."""
        t = ratio(
            self.r * math.sqrt(self.degrees_of_freedom), math.sqrt((1 - self.r) * (1 + self.r))
        )
        return t_p_value(t, self.degrees_of_freedom)

    @property
    def assumptions(self) -> tuple[Assumption, ...]:
        """What the line and its intervals rest on."""
        return (
            of_curve(
                "Both variables are measured, with errors in proportion to their spread, and neither "
                "predicts the other."
            ),
            of_scatter(
                "The two are close to jointly normal, and rows are independent of one another."
            ),
            of_curve(
                "The line describes how the two go together; it is steeper than the line that "
                "predicts y from x, and has no band."
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
        """A and b with the intervals of Warton et al."""
        df = self.degrees_of_freedom
        t = t_quantile(level, df)
        rest = (1 - self.r) * (1 + self.r)
        b_se = abs(self.slope) * math.sqrt(rest / df)
        share = rest * t * t / df
        ends = sorted(
            self.slope * (math.sqrt(share + 1) + sign * math.sqrt(share)) for sign in (-1, 1)
        )
        # Variance of the residual axis y − b x, over n − 2.
        spread = self.sse / df
        a_se = math.hypot(math.sqrt(spread / self.n), self.mean_x * b_se)
        return (
            Coefficient.of("a", self._intercept, a_se, t),
            Coefficient("b", self.slope, b_se, ends[0], ends[1]),
        )

    def predict(self, x: Array) -> Array:
        """Y of the line at each x."""
        return self.mean_y + self.slope * (x - self.mean_x)

    def crossings(
        self,
        y: float,
        level: float,
        within: tuple[float, float] | None = None,
    ) -> tuple[Crossing, ...]:
        """The one x of the line at `y`."""
        x = self.mean_x + (y - self.mean_y) / self.slope
        return (Crossing(x, None, None, "This form has no band, and so no interval for x."),)


def fit(sample: Sample, settings: NoSettings) -> BalancedLine:
    """Fit a standardised major axis.

    Parameters
    ----------
    sample : Sample
        At least three pairs in which both variables vary.

    Raises
    ------
    FitError
        If there are too few rows, or a variable has no spread or no correlation with the other.
    """
    needs_rows(sample, 3, "A reduced major axis")

    def left(slope: float) -> float:
        residual = sample.y - line.pivot_y - slope * (sample.x - line.pivot_x)
        return float(np.sum(mean_one(sample) * residual * residual))

    line = fit_line(sample)
    return _along(line, left)


def _of_parts(sums: PairSums) -> BalancedLine:
    needs_values(sums.n, sums.distinct, 3, "A reduced major axis")
    return _along(line_of_parts(sums), sums.balanced_left)


def _along(line: StraightLine, left: Callable[[float], float]) -> BalancedLine:
    """Turn a line of least squares; `left` is the sum of squares that a slope leaves."""
    if line.sst <= 0 or line.slope == 0:
        raise FitError(
            "y does not change with x, so the reduced major axis has no direction.",
            "Choose a straight line, which may be level.",
        )
    slope = math.copysign(math.sqrt(line.sst / line.spread), line.slope)
    r = max(-1.0, min(1.0, line.slope * math.sqrt(line.spread / line.sst)))
    return BalancedLine(
        family=FAMILY.name,
        n=line.n,
        x_range=line.x_range,
        sse=left(slope),
        sst=line.sst,
        degrees_of_freedom=line.n - 2,
        parameters=2,
        slope=slope,
        mean_x=line.pivot_x,
        mean_y=line.pivot_y,
        r=r,
    )


FAMILY = Family(
    name="reduced-major-axis",
    was=("balanced",),
    label="reduced major axis",
    entry=Entry(
        method="ratio of standard deviations",
        intervals="Warton and others (2006)",
        exactness="approximate below about 20 rows (91 % at 6)",
    ),
    note="errors in both variables",
    settings=NoSettings,
    fit=fit,
    units=units_of_line,
    has_band=False,
    one_slope=True,
    from_sums=FromSums(fit=lambda sums, _: _of_parts(sums)),
    coefficient_labels=LINE_LABELS,
)
