"""Forms that are straight lines on logarithms: fitted there, and carried back to x and y."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Literal

import numpy as np

from yarrowdew.core.equation import EquationForm, Slot
from yarrowdew.core.sample import Array, Sample
from yarrowdew.core.trends.base import (
    BandKind,
    BaseFit,
    Coefficient,
    Crossing,
    Interval,
    mean_one,
    on_logs,
    spread_of,
)
from yarrowdew.core.trends.straight import StraightLine, fit_line

Logged = Literal["x", "y", "both"]


@dataclass(frozen=True, slots=True, kw_only=True)
class CarriedLine(BaseFit):
    """A straight line on logarithms of x, of y, or of both.

    Attributes
    ----------
    line : StraightLine
        The line on the scale on which it was fitted.
    logged : {"x", "y", "both"}
        What was taken in logarithms.
    meaning : str
        What the mean of y is taken to do, as a sentence.
    """

    line: StraightLine
    logged: Logged
    meaning: str

    @property
    def p_value(self) -> float | None:
        """Of the hypothesis that the slope on logarithms is zero."""
        return self.line.p_value

    @property
    def r_squared_log(self) -> float | None:
        """R² on the scale of ln y."""
        return self.line.r_squared if self._logs_y else None

    @property
    def assumptions(self) -> tuple[str, ...]:
        """What the intervals rest on."""
        if not self._logs_y:
            return (
                self.meaning,
                "The scatter about it is the same everywhere and close to normal.",
                "Rows are independent of one another, and x is known without error.",
            )
        return (
            self.meaning,
            "The scatter grows in proportion to y: on the scale of ln y it is the same everywhere "
            "and close to normal.",
            "The curve is the median of y, which lies below its mean.",
            "R² is on the scale of y as plotted; it cannot be compared with the R² on ln y.",
        )

    @property
    def form(self) -> EquationForm:
        """The curve as printed, with a and b of its family."""
        a, b = self.line.intercept, self.line.slope
        if self.logged == "x":
            return EquationForm((a, b), _logarithmic, (Slot(0), Slot(1, joined=True), " ln {x}"))
        if self.logged == "y":
            return exponential_form(math.exp(a), b)
        return power_form(math.exp(a), b)

    @property
    def _logs_y(self) -> bool:
        return self.logged != "x"

    def coefficients(self, level: float) -> tuple[Coefficient, ...]:
        """A and b; a of a fit on ln y is carried back, and its standard error by the delta method."""
        a, b = self.line.coefficients(level)
        if not self._logs_y or a.se is None or a.low is None or a.high is None:
            return a, b
        value = math.exp(a.value)
        back = Coefficient("a", value, value * a.se, math.exp(a.low), math.exp(a.high))
        return back, b

    def predict(self, x: Array) -> Array:
        """Fitted y; NaN where x has no logarithm."""
        return self._back(self.line.predict(self._across(x)))

    def band(self, x: Array, level: float, kind: BandKind) -> Interval:
        """Pointwise band, carried back: it is not symmetric where y was taken in logarithms."""
        low, high = self.line.band(self._across(x), level, kind)
        return Interval(self._back(low), self._back(high))

    def crossings(
        self, y: float, level: float, within: tuple[float, float] | None = None
    ) -> tuple[Crossing, ...]:
        """The one x at which the curve reaches `y`, with Fieller's interval carried back."""
        if self._logs_y and y <= 0:
            note = "This form is above zero everywhere, so the level is never reached."
            return (Crossing(None, None, None, note),)
        found = self.line.crossings(math.log(y) if self._logs_y else y, level, within)
        return tuple(Crossing(self._x(c.x), self._x(c.low), self._x(c.high), c.note) for c in found)

    def leverage(self, sample: Sample) -> Array:
        """Diagonal of the hat matrix on the scale of the fit."""
        return self.line.leverage(self._on_line(sample))

    def left_out(self, sample: Sample) -> Array | None:
        """What is left when each row is left out, carried back to the scale of y."""
        inner = self._on_line(sample)
        out = self.line.left_out(inner)
        return None if out is None else sample.y - self._back(inner.y - out)

    def studentised(self, sample: Sample) -> Array | None:
        """Studentised residuals on the scale of the fit."""
        return self.line.studentised(self._on_line(sample))

    def slope_changes(self, sample: Sample) -> Array | None:
        """Change of b when each row is left out."""
        return self.line.slope_changes(self._on_line(sample))

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
        return math.exp(value) if value < _LARGEST_EXPONENT else None

    def _on_line(self, sample: Sample) -> Sample:
        x = sample.x if self.logged == "y" else np.log(sample.x)
        y = np.log(sample.y) if self._logs_y else sample.y
        return Sample(x, y, sample.weights, sample.rows, sample.dropped)


_LARGEST_EXPONENT = 709.0


def carried(
    sample: Sample,
    *,
    family: str,
    logged: Logged,
    meaning: str,
    x_name: str = "x",
    y_name: str = "y",
) -> CarriedLine:
    """Fit a straight line on logarithms.

    Raises
    ------
    FitError
        If a value that is taken in logarithms is not positive, or no line can be fitted.
    """
    x = sample.x if logged == "y" else on_logs(sample.x, x_name)
    y = sample.y if logged == "x" else on_logs(sample.y, y_name)
    line = fit_line(Sample(x, y, sample.weights, sample.rows, sample.dropped))
    fit = CarriedLine(
        family=family,
        n=sample.n,
        x_range=(float(sample.x.min()), float(sample.x.max())),
        sse=line.sse,
        sst=line.sst,
        degrees_of_freedom=line.degrees_of_freedom,
        parameters=2,
        line=line,
        logged=logged,
        meaning=meaning,
    )
    if logged == "x":
        return fit
    residual = sample.y - fit.predict(sample.x)
    return CarriedLine(
        family=family,
        n=sample.n,
        x_range=fit.x_range,
        sse=float(np.sum(mean_one(sample) * residual * residual)),
        sst=spread_of(sample),
        degrees_of_freedom=line.degrees_of_freedom,
        parameters=2,
        line=line,
        logged=logged,
        meaning=meaning,
    )


def _logarithmic(values: tuple[float, ...], x: Array) -> Array:
    return values[0] + values[1] * np.log(x)


def exponential_form(a: float, b: float) -> EquationForm:
    """Y = a exp(b x), ready to be printed."""
    return EquationForm((a, b), _exponential, (Slot(0), " exp(", Slot(1), " {x})"))


def power_form(a: float, b: float) -> EquationForm:
    """Y = a xᵇ, ready to be printed."""
    return EquationForm((a, b), _power, (Slot(0), " {x}^{{", Slot(1, raised=True), "}}"))


def _exponential(values: tuple[float, ...], x: Array) -> Array:
    return values[0] * np.exp(values[1] * x)


def _power(values: tuple[float, ...], x: Array) -> Array:
    return np.asarray(values[0] * x ** values[1])
