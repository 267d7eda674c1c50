"""Forms that are straight lines on logarithms: fitted there, and brought back to x and y."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np

from yarrowdew.core.aggregates.pair_sums import PairSums
from yarrowdew.core.equation import EquationForm, Slot, round_place
from yarrowdew.core.intervals import t_quantile
from yarrowdew.core.sample import Array, Sample
from yarrowdew.core.trends.assumptions import (
    EVEN_SCATTER,
    INDEPENDENT_ROWS,
    About,
    Assumption,
    of_curve,
    of_scatter,
)
from yarrowdew.core.trends.base import (
    BaseFit,
    Coefficient,
    Crossing,
    Interval,
    check_logs,
    mean_one,
    on_logs,
    spread_of,
)
from yarrowdew.core.trends.families.straight import (
    PLAIN_SCATTER,
    StraightLine,
    fit_line,
    line_of_parts,
)
from yarrowdew.core.trends.protocol import PointwiseKind, TrendFit, check_pointwise

Logged = Literal["x", "y", "both"]


@dataclass(frozen=True, slots=True, kw_only=True)
class LineOnLogarithms(BaseFit):
    """A straight line on logarithms of x, of y, or of both.

    Attributes
    ----------
    line : StraightLine
        The line on the scale on which it was fitted.
    logged : {"x", "y", "both"}
        What was taken in logarithms.
    meaning : str
        What the mean of y is taken to do, as a sentence.
    origin : float
        The x at which a is the value of the curve: 0 for an exponential, 1 for a power law, or a
        place among the data where y there is too small or too large to be written.
    mean_log : float or None
        Mean of ln y, of rows that count alike.
    robust_line : TrendFit or None
        The same line with intervals found in another way, where they are.
    """

    line: StraightLine
    logged: Logged
    meaning: str
    origin: float
    mean_log: float | None = None
    robust_line: TrendFit | None = None

    @property
    def _inference(self) -> TrendFit:
        """The line that intervals and tests are taken from."""
        return self.robust_line or self.line

    @property
    def p_value(self) -> float | None:
        """Of the hypothesis that the slope on logarithms is zero."""
        return self._inference.p_value

    @property
    def aicc(self) -> float | None:
        """Of y: that of ln y, with what brings its likelihood to the scale of y.

        So it may be compared with that of a form that was fitted on y itself.
        """
        of_line = self.line.aicc
        if not self._logs_y or of_line is None:
            return of_line
        return None if self.mean_log is None else of_line + 2 * self.n * self.mean_log

    @property
    def r_squared_log(self) -> float | None:
        """R² on the scale of ln y."""
        return self.line.r_squared if self._logs_y else None

    @property
    def assumptions(self) -> tuple[Assumption, ...]:
        """What the intervals rest on."""
        # That of the line, whose intervals may be found in another way.
        of_line = tuple(a for a in self._inference.assumptions if a.about is About.SCATTER)
        is_plain = of_line == PLAIN_SCATTER
        if not self._logs_y:
            return (
                of_curve(self.meaning),
                *((EVEN_SCATTER,) if is_plain else of_line),
                INDEPENDENT_ROWS,
            )
        on_logs = of_scatter(
            "The scatter grows in proportion to y: on the scale of ln y it is the same everywhere "
            "and close to normal."
        )
        return (
            of_curve(self.meaning),
            *(
                (on_logs,)
                if is_plain
                else (of_scatter(f"On the scale of ln y: {a.text}") for a in of_line)
            ),
            of_curve("The curve is the median of y, which lies below its mean."),
            of_curve(
                "R² is on the scale of y as plotted; it cannot be compared with the R² on ln y."
            ),
        )

    @property
    def form(self) -> EquationForm:
        """The curve as printed, with a and b of its family."""
        a, b = self.line.intercept, self.line.slope
        if self.logged == "x":
            pattern = (Slot(0), Slot(1, joined=True), " ln {x}")
            return EquationForm((a, b), _logarithmic, pattern, ((1, 0), (1, 0)))
        at_origin = math.exp(float(self.line.predict(self._log_origin)[0]))
        if self.logged == "y":
            return exponential_form(at_origin, b, self.origin)
        return power_form(at_origin, b, self.origin)

    @property
    def _log_origin(self) -> Array:
        """The origin on the scale of the line."""
        return np.array([self.origin if self.logged == "y" else math.log(self.origin)])

    @property
    def _logs_y(self) -> bool:
        return self.logged != "x"

    def coefficients(self, level: float) -> tuple[Coefficient, ...]:
        """A and b; a of a fit on ln y is brought back, and its standard error by the delta
        method.
        """
        a, b = self._inference.coefficients(level)
        if not self._logs_y:
            return a, b
        at = self._log_origin
        mean = float(self.line.predict(at)[0])
        low, high = (float(end[0]) for end in self._line_band(at, level, "confidence"))
        half = (high - low) / 2
        se = half / t_quantile(level, self.line.degrees_of_freedom)
        value = math.exp(mean)
        ends = (_exp(mean - half), _exp(mean + half))
        return Coefficient("a", value, value * se, *ends), b

    def predict(self, x: Array) -> Array:
        """Fitted y; NaN where x has no logarithm."""
        return self._back(self.line.predict(self._across(x)))

    def band(self, x: Array, level: float, kind: PointwiseKind) -> Interval:
        """Pointwise band, brought back: it is not symmetric where y was taken in logarithms."""
        check_pointwise(kind)
        low, high = self._line_band(self._across(x), level, kind)
        return Interval(self._back(low), self._back(high))

    def crossings(
        self, y: float, level: float, within: tuple[float, float] | None = None
    ) -> tuple[Crossing, ...]:
        """The one x at which the curve reaches `y`, with Fieller's interval brought back."""
        if self._logs_y and y <= 0:
            note = "This form is above zero everywhere, so the level is never reached."
            return (Crossing(None, None, None, note),)
        found = self._inference.crossings(math.log(y) if self._logs_y else y, level, within)
        return tuple(
            Crossing(
                self._x(c.x),
                self._x(c.low),
                self._x(c.high),
                c.remark,
                tuple((axis, self._number(axis, value)) for axis, value in c.numbers),
            )
            for c in found
        )

    def leverage(self, sample: Sample) -> Array:
        """Diagonal of the hat matrix on the scale of the fit."""
        return self.line.leverage(self.on_line(sample))

    def left_out(self, sample: Sample) -> Array | None:
        """What is left when each row is left out, brought back to the scale of y."""
        inner = self.on_line(sample)
        out = self.line.left_out(inner)
        return None if out is None else sample.y - self._back(inner.y - out)

    def studentised(self, sample: Sample) -> Array | None:
        """Studentised residuals on the scale of the fit."""
        return self.line.studentised(self.on_line(sample))

    def slope_changes(self, sample: Sample) -> Array | None:
        """Change of b when each row is left out."""
        return self.line.slope_changes(self.on_line(sample))

    def _line_band(self, x: Array, level: float, kind: PointwiseKind) -> Interval:
        """Band on the scale of the fit."""
        found = self._inference.band(x, level, kind)
        return self.line.band(x, level, kind) if found is None else found

    def _across(self, x: Array) -> Array:
        if self.logged == "y":
            return x
        with np.errstate(divide="ignore", invalid="ignore"):
            return np.where(x > 0, np.log(x), np.nan)

    def _back(self, y: Array) -> Array:
        if not self._logs_y:
            return y
        with np.errstate(over="ignore"):
            return np.exp(y)

    def _x(self, value: float | None) -> float | None:
        if value is None or self.logged == "y":
            return value
        return _exp(value)

    def _number(self, axis: str, value: float) -> float:
        """Carry a number that a remark speaks of back to the scales of the data."""
        if axis == "x":
            return value if self.logged == "y" else _exp(value) or math.inf
        return (_exp(value) or math.inf) if self._logs_y else value

    def on_line(self, sample: Sample) -> Sample:
        """The rows on the scale on which they were fitted."""
        x = sample.x if self.logged == "y" else np.log(sample.x)
        y = np.log(sample.y) if self._logs_y else sample.y
        return Sample(x, y, sample.weights, sample.rows, sample.dropped)


_LARGEST_EXPONENT = 709.0
_FAR_FROM_DATA = 30.0
"""In ln y: where a lies so far from the values themselves, it is named at another origin."""


def _exp(value: float) -> float | None:
    """Raise e to a power; None where that is too large for a number."""
    return math.exp(value) if value < _LARGEST_EXPONENT else None


def origin_of(slope: float, middle: float, x_range: tuple[float, float], logged: Logged) -> float:
    """Choose the x at which a is named.

    Parameters
    ----------
    slope, middle : float
        Of the line on logarithms, and the middle of x on its scale.
    x_range : tuple of float
        Ends of x as it is given.
    logged : {"y", "both"}
    """
    usual = 0.0 if logged == "y" else 1.0
    if abs(slope * middle) <= _FAR_FROM_DATA:
        return usual
    low, high = x_range
    if logged == "y":
        return round_place(low / 2 + high / 2, high / 2 - low / 2)
    place = math.exp(middle)
    rounded = round_place(place, place / 10)
    return rounded if rounded > 0 else place


@dataclass(frozen=True, slots=True)
class OnLogarithms:
    """A form that is a straight line on logarithms.

    Attributes
    ----------
    family : str
    logged : {"x", "y", "both"}
        What is taken in logarithms.
    meaning : str
        What the mean of y is taken to do, as a sentence.
    """

    family: str
    logged: Logged
    meaning: str

    def fit(self, sample: Sample, *, x_name: str = "x", y_name: str = "y") -> LineOnLogarithms:
        """Fit it.

        Raises
        ------
        FitError
            If a value that is taken in logarithms is not positive, or no line can be fitted.
        """
        x = sample.x if self.logged == "y" else on_logs(sample.x, x_name)
        y = sample.y if self.logged == "x" else on_logs(sample.y, y_name)
        line = fit_line(Sample(x, y, sample.weights, sample.rows, sample.dropped))
        fit = self._made(line, sample.x_range)
        fit = replace(fit, mean_log=float(y.mean()))
        if self.logged == "x":
            return fit
        residual = sample.y - fit.predict(sample.x)
        sse = float(np.sum(mean_one(sample) * residual * residual))
        return replace(fit, sse=sse, sst=spread_of(sample))

    def fit_parts(self, sums: PairSums) -> LineOnLogarithms:
        """Fit it to rows that came in parts, its sums of squares being those on logarithms of y."""
        for bad, which in zip(sums.unlogged, "xy", strict=True):
            check_logs(bad, which)
        line = line_of_parts(sums)
        if self.logged != "y":
            low, high = sums.x_ends
            line = replace(line, x_range=(math.log(low), math.log(high)))
        return replace(self._made(line, sums.x_ends), mean_log=line.pivot_y)

    def _made(self, line: StraightLine, x_range: tuple[float, float]) -> LineOnLogarithms:
        logged = self.logged
        return LineOnLogarithms(
            family=self.family,
            n=line.n,
            x_range=x_range,
            sse=line.sse,
            sst=line.sst,
            degrees_of_freedom=line.degrees_of_freedom,
            parameters=2,
            line=line,
            logged=logged,
            meaning=self.meaning,
            origin=1.0 if logged == "x" else origin_of(line.slope, line.pivot_x, x_range, logged),
        )


def _logarithmic(values: tuple[float, ...], x: Array) -> Array:
    return values[0] + values[1] * np.log(x)


def exponential_form(a: float, b: float, origin: float = 0.0) -> EquationForm:
    """Y = a exp(b x), or about a named origin, ready to be printed."""
    if origin == 0:
        pattern = (Slot(0), " exp(", Slot(1), " {x})")
        return EquationForm((a, b), _exponential, pattern, ((1, 0), (0, -1)))
    return EquationForm(
        (a, b, -origin),
        _exponential_about,
        (Slot(0), " exp(", Slot(1), " ({x}", Slot(2, joined=True, exact=True), "))"),
        ((1, 0), (0, -1), (0, 1)),
    )


def power_form(a: float, b: float, origin: float = 1.0) -> EquationForm:
    """Y = a xᵇ, or in x over a named origin, ready to be printed."""
    if origin == 1:
        pattern = (Slot(0), " {x}^{{", Slot(1, raised=True), "}}")
        return EquationForm((a, b), _power, pattern, ((1, 0), (0, 0)))
    return EquationForm(
        (a, b, origin),
        _power_over,
        (Slot(0), " ({x} / ", Slot(2, exact=True), ")^{{", Slot(1, raised=True), "}}"),
        ((1, 0), (0, 0), (0, 1)),
    )


def _exponential(values: tuple[float, ...], x: Array) -> Array:
    return values[0] * np.exp(values[1] * x)


def _exponential_about(values: tuple[float, ...], x: Array) -> Array:
    return values[0] * np.exp(values[1] * (x + values[2]))


def _power(values: tuple[float, ...], x: Array) -> Array:
    return np.asarray(values[0] * x ** values[1])


def _power_over(values: tuple[float, ...], x: Array) -> Array:
    return np.asarray(values[0] * (x / values[2]) ** values[1])
