"""The straight line, y = a + b x, with a free or a given intercept.

Least squares by centred sums in two passes (Chan, Golub and LeVeque 1983): the means first, then
sums of squares and products about them, with the correction that removes what rounding left in
the means. Intervals are exact under normal scatter (Draper and Smith 1998, ch. 1 and 3); the
interval for x at a given y is Fieller's (1954).
"""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

import numpy as np

from yarrowdew.core.aggregates.pair_sums import LineSums, PairSums
from yarrowdew.core.equation import EquationForm, Slot
from yarrowdew.core.errors import FitError
from yarrowdew.core.intervals import ratio, t_p_value, t_quantile
from yarrowdew.core.sample import Array, Sample
from yarrowdew.core.trends.assumptions import (
    INDEPENDENT_ROWS,
    Assumption,
    of_curve,
    of_scatter,
)
from yarrowdew.core.trends.base import (
    BaseFit,
    Coefficient,
    Crossing,
    Interval,
    TrendFit,
    Units,
    mean_one,
    needs_rows,
    needs_values,
    rest_of,
    settled,
)
from yarrowdew.core.trends.family import Candidate, Entry, Family, FromSums, setting
from yarrowdew.core.trends.protocol import PointwiseKind, check_pointwise

PLAIN_SCATTER = (
    of_scatter("The scatter about the line is the same everywhere and close to normal."),
)
_ASSUMPTIONS = (
    of_curve("The mean of y changes along a straight line with x."),
    *PLAIN_SCATTER,
    INDEPENDENT_ROWS,
)


@dataclass(frozen=True, slots=True, kw_only=True)
class StraightLine(BaseFit):
    """A fitted straight line.

    Attributes
    ----------
    intercept, slope : float
        a and b of y = a + b x.
    pivot_x, pivot_y : float
        The point through which every line in the band's family passes: the (weighted) means, or
        (0, intercept) where the intercept was given.
    pivot_variance : float
        Variance of the fit at the pivot over the residual variance: 1/n, or 0 where it is given.
    spread : float
        Sum of squares of x about `pivot_x`, weighted.
    intercept_given : bool
    y_unit : float
        What 1 stands for in units of the data, where it was fitted in others.
    """

    intercept: float
    slope: float
    pivot_x: float
    pivot_y: float
    pivot_variance: float
    spread: float
    intercept_given: bool
    y_unit: float = 1.0

    @property
    def slope_se(self) -> float:
        """Standard error of the slope."""
        return self.residual_sd / math.sqrt(self.spread)

    @property
    def adjusted_r_squared(self) -> float | None:
        """R² with each sum of squares over its degrees of freedom."""
        if self.sst <= 0:
            return None
        total = self.degrees_of_freedom + 1
        return 1 - (self.sse / self.degrees_of_freedom) / (self.sst / total)

    @property
    def p_value(self) -> float | None:
        """Two-sided, of the hypothesis that the slope is zero."""
        t = ratio(self.slope, self.slope_se)
        return None if math.isnan(t) else t_p_value(t, self.degrees_of_freedom)

    @property
    def assumptions(self) -> tuple[Assumption, ...]:
        """What the intervals rest on."""
        if self.intercept_given:
            return (
                *_ASSUMPTIONS,
                of_curve(
                    f"The line passes through y = {self.intercept * self.y_unit:g} at x = 0; R² is "
                    "about that value and cannot be compared with a line whose intercept is free."
                ),
            )
        return _ASSUMPTIONS

    @property
    def form(self) -> EquationForm:
        """The line as printed, without a where it is given as zero."""
        if self.intercept_given and self.intercept == 0:
            return EquationForm((self.slope,), _proportional, (Slot(0), " {x}"), ((1, -1),))
        return linear_form(self.intercept, self.slope)

    def form_about(self, origin: float) -> EquationForm:
        """The line in x counted from another origin."""
        return linear_form_about(self, self.slope, origin)

    def coefficients(self, level: float) -> tuple[Coefficient, ...]:
        """Intercept a and slope b; a given intercept has no standard error."""
        half = t_quantile(level, self.degrees_of_freedom)
        b_se = self.slope_se
        b = Coefficient.of("b", self.slope, b_se, half)
        if self.intercept_given:
            return Coefficient.given("a", self.intercept), b
        a_se = float(self._mean_se(np.zeros(1))[0])
        return Coefficient.of("a", self.intercept, a_se, half), b

    def predict(self, x: Array) -> Array:
        """Fitted y; taken from the pivot, where it loses no digits."""
        return self.pivot_y + self.slope * (x - self.pivot_x)

    def band(self, x: Array, level: float, kind: PointwiseKind) -> Interval:
        """Pointwise band; a prediction is for one new row of weight 1."""
        check_pointwise(kind)
        se = self._mean_se(x)
        if kind == "prediction":
            se = np.hypot(se, self.residual_sd)
        half = t_quantile(level, self.degrees_of_freedom) * se
        fitted = self.predict(x)
        return Interval(fitted - half, fitted + half)

    def crossings(
        self,
        y: float,
        level: float,
        within: tuple[float, float] | None = None,
    ) -> tuple[Crossing, ...]:
        """The one x at which the line reaches `y`, with Fieller's interval."""
        if self.slope == 0:
            return (
                Crossing(
                    None,
                    None,
                    None,
                    "The line is level at {} and never reaches {}.",
                    (("y", self.pivot_y), ("y", y)),
                ),
            )
        # Distances from the pivot, in a unit that keeps their squares from overflowing.
        away = (y - self.pivot_y) / self.slope
        reach = math.sqrt(self.pivot_variance * self.spread)
        unit = max(abs(away), reach) or 1.0
        d0, v = away / unit, (reach / unit) ** 2
        x = self.pivot_x + away
        t = t_quantile(level, self.degrees_of_freedom)
        # Fieller: every d with (d0 − d)² ≤ g (v + d²), where g is how uncertain the slope is.
        g = (t * self.slope_se / self.slope) ** 2
        root = g * (d0 * d0 + (1 - g) * v)
        open_note = "The slope is too uncertain to close the interval"
        if root < 0 or not math.isfinite(g):
            return (Crossing(x, None, None, f"{open_note}: every x agrees with this level."),)
        # The stable pair of roots: one by addition of like signs, the other from their product.
        large = d0 + math.copysign(math.sqrt(root), d0)
        ends = [ratio(large, 1 - g), ratio(d0 * d0 - g * v, large) if large else 0.0]
        first, second = sorted(self.pivot_x + unit * end for end in ends)
        if g < 1:
            return (Crossing(x, first, second),)
        if x >= second:
            remark = f"{open_note} above; nor is x below {{}} ruled out."
            return (Crossing(x, second, None, remark, (("x", first),)),)
        remark = f"{open_note} below; nor is x above {{}} ruled out."
        return (Crossing(x, None, first, remark, (("x", second),)),)

    def leverage(self, sample: Sample) -> Array:
        """Diagonal of the hat matrix."""
        found = sample.x - self.pivot_x
        found *= found
        found /= self.spread
        found += self.pivot_variance
        return found if sample.weights is None else np.asarray(found * mean_one(sample))

    def slope_changes(self, sample: Sample) -> Array:
        """Slope without each row minus the slope with it (Belsley, Kuh and Welsch 1980, ch. 2)."""
        dx = sample.x - self.pivot_x
        residual = sample.y - self.predict(sample.x)
        # A row with leverage 1 fixes the slope alone: without it there is no slope to compare.
        return -mean_one(sample) / self.spread * dx * residual / rest_of(self.leverage(sample))

    def tangent(self, x: Array) -> Array:
        """Columns of the mean and of the slope, of unit length over the rows."""
        slope = (x - self.pivot_x) / math.sqrt(self.spread)
        if self.intercept_given:
            return slope[:, None]
        return np.column_stack([np.full_like(x, math.sqrt(self.pivot_variance)), slope])

    def coefficient_tangents(self) -> dict[str, Array]:
        """Intercept and slope in these columns."""
        slope = 1 / math.sqrt(self.spread)
        if self.intercept_given:
            return {"b": np.array([slope])}
        return {"a": self.tangent(np.zeros(1))[0], "b": np.array([0.0, slope])}

    def _mean_se(self, x: Array) -> Array:
        """Return the standard error of the fitted mean at each x, shape (m,)."""
        variance = self.pivot_variance + (x - self.pivot_x) ** 2 / self.spread
        return self.residual_sd * np.sqrt(variance)


@dataclass(frozen=True, slots=True, kw_only=True)
class StraightSettings:
    """Settings of a straight line."""

    intercept: float | None = setting(
        None,
        "Intercept, where it is known",
        "y at x = 0, where it is given.",
        free="fitted",
        unit="y",
    )


def fit(sample: Sample, settings: StraightSettings) -> StraightLine:
    """Fit y = a + b x, with the intercept of the settings where one is given. See `fit_line`."""
    return fit_line(sample, settings.intercept)


def fit_line(sample: Sample, intercept: float | None = None) -> StraightLine:
    """Fit a straight line by (weighted) least squares.

    Parameters
    ----------
    sample : Sample
        At least three pairs (two where the intercept is given) with two distinct x. Weights are
        scaled to a mean of one, so that the residual standard deviation keeps the units of y.
    intercept : float, optional
        y at x = 0, where it is known; free by default.

    Returns
    -------
    StraightLine

    Raises
    ------
    FitError
        If there are too few rows, or x has no spread.
    """
    given = intercept is not None
    needed = 2 if given else 3
    if not given or sample.n < needed:
        needs_rows(sample, needed, "A straight line")
    x, y = sample.x, sample.y
    x_range = sample.x_range
    if given and x_range == (0.0, 0.0):
        raise only_zero()
    pivot_x, pivot_y = (0.0, intercept) if intercept is not None else _centre(sample)
    dx, dy = x - pivot_x, y - pivot_y
    w = mean_one(sample)
    # With equal weights the factor is left out: at a million rows it would cost a tenth more.
    wdx = dx if sample.weights is None else w * dx
    spread = float(np.dot(wdx, dx))
    slope = float(np.dot(wdx, dy)) / spread
    wdy = dy if sample.weights is None else w * dy
    sst = float(np.dot(wdy, dy))
    dy -= slope * dx
    sse = float(np.dot(dy if sample.weights is None else w * dy, dy))
    return line_from(
        LineSums(sample.n, x_range, pivot_x, pivot_y, spread, slope, sse, sst), intercept
    )


def line_from(sums: LineSums, intercept: float | None = None) -> StraightLine:
    """Make a line of its sums, with the intercept where one is given."""
    given = intercept is not None
    parameters = 1 if given else 2
    return StraightLine(
        family="origin" if intercept == 0 else FAMILY.name,
        n=sums.n,
        intercept=sums.pivot_y - sums.slope * sums.pivot_x if intercept is None else intercept,
        slope=sums.slope,
        pivot_x=sums.pivot_x,
        pivot_y=sums.pivot_y,
        pivot_variance=0.0 if given else 1 / sums.n,
        spread=sums.spread,
        sse=settled(sums.sse, sums.sst, sums.n),
        sst=sums.sst,
        degrees_of_freedom=sums.n - parameters,
        parameters=parameters,
        x_range=sums.x_range,
        intercept_given=given,
    )


def line_of_parts(sums: PairSums, intercept: float | None = None) -> StraightLine:
    """Fit a line to rows that came in parts; see `fit_line`.

    Raises
    ------
    FitError
        If there are too few rows, or x has no spread.
    """
    if intercept is None or sums.n < 2:
        needs_values(sums.n, sums.distinct, 3 if intercept is None else 2, "A straight line")
    elif sums.x_ends == (0.0, 0.0):
        raise only_zero()
    return line_from(sums.line(intercept), intercept)


def only_zero() -> FitError:
    """Say that a line through a given point at x = 0 has no slope."""
    return FitError(
        "Every row has x = 0, so no slope can be found.",
        "A trend through the origin needs a value of x other than 0.",
    )


def _centre(sample: Sample) -> tuple[float, float]:
    """Means of x and y; a second pass takes out the rounding of the first."""
    w = None if sample.weights is None else sample.weights
    first = [_mean(v, w) for v in (sample.x, sample.y)]
    if not all(map(math.isfinite, first)):
        raise FitError("The values are too large to be added up.", "Divide them by a constant.")
    x, y = (mean + _mean(v - mean, w) for v, mean in zip((sample.x, sample.y), first, strict=True))
    return x, y


def _mean(values: Array, weights: Array | None) -> float:
    # To average without weights costs what a mean does, and twice as much again to find that out.
    return float(values.mean() if weights is None else np.average(values, weights=weights))


def linear_form(intercept: float, slope: float) -> EquationForm:
    """Y = a + b x, ready to be printed."""
    pattern = (Slot(0), Slot(1, joined=True), " {x}")
    return EquationForm((intercept, slope), _linear, pattern, ((1, 0), (1, -1)))


def linear_form_about(line: TrendFit | BaseFit, slope: float, origin: float) -> EquationForm:
    """Y = a + b (x − origin), ready to be printed; a is taken from the line itself."""
    at_origin = float(line.predict(np.array([origin]))[0])
    minus_origin = Slot(2, joined=True, exact=True)
    return EquationForm(
        (at_origin, slope, -origin),
        _linear_about,
        (Slot(0), Slot(1, joined=True), " ({x}", minus_origin, ")"),
        ((1, 0), (1, -1), (0, 1)),
    )


def _linear_about(values: tuple[float, ...], x: Array) -> Array:
    return values[0] + values[1] * (x + values[2])


def _linear(values: tuple[float, ...], x: Array) -> Array:
    return values[0] + values[1] * x


def _proportional(values: tuple[float, ...], x: Array) -> Array:
    return values[0] * x


def units_of_line(name: str) -> Units:
    """Units of a and b of a line."""
    return (1, 0) if name == "a" else (1, -1)


LINE_LABELS = {"a": "Intercept a", "b": "Slope b"}


def line_in_data_units(fit: TrendFit, _x: int, y: int) -> TrendFit:
    """Say a given intercept in units of the data."""
    return replace(fit, y_unit=math.ldexp(1.0, y)) if isinstance(fit, StraightLine) else fit


FAMILY = Family(
    name="straight",
    label="straight line",
    entry=Entry(
        method="least squares in centred sums (Chan, Golub and LeVeque 1983)",
        intervals="Student's t; x at a level: Fieller (1954); simultaneous band: Working and Hotelling (1929)",
        exactness="exact under normal scatter",
    ),
    settings=StraightSettings,
    is_usual=True,
    fit=fit,
    units=units_of_line,
    seen_from=line_in_data_units,
    one_slope=True,
    least_squares_line=True,
    from_sums=FromSums(
        fit=lambda sums, settings: line_of_parts(sums, settings.intercept),
        intercept=lambda settings: settings.intercept,
    ),
    candidates=(Candidate("straight line", StraightSettings()),),
    coefficient_labels=LINE_LABELS,
)
