"""A trend fitted in other units, seen in those of the data.

Where values are so large or so small that their squares cannot be computed, a trend is fitted to
them divided by a power of two, which loses nothing, and what it says is brought back.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass, replace

import numpy as np

from yarrowdew.core.arithmetic import beyond
from yarrowdew.core.equation import EquationForm
from yarrowdew.core.sample import Array, Sample
from yarrowdew.core.trends.assumptions import Assumption, of_curve
from yarrowdew.core.trends.base import (
    Coefficient,
    Correlation,
    Crossing,
    Interval,
    TrendFit,
    Units,
)
from yarrowdew.core.trends.fit_proxy import FitProxy
from yarrowdew.core.trends.protocol import PointwiseKind


def in_units(sample: Sample, x: int, y: int, weight: int = 0) -> Sample:
    """Divide a sample's values by powers of two."""
    weights = sample.weights
    return Sample(
        np.ldexp(sample.x, -x),
        np.ldexp(sample.y, -y),
        weights if weights is None else np.ldexp(weights, -weight),
        sample.rows,
        sample.dropped,
        sample.errors and (np.ldexp(sample.errors[0], -x), np.ldexp(sample.errors[1], -y)),
        sample.clusters,
        sample.is_counted,
    )


@dataclass(frozen=True)
class ScaledFit(FitProxy):
    """A fit made in other units; see `TrendFit`.

    Attributes
    ----------
    inner : TrendFit
        As it was fitted.
    x_exponent, y_exponent : int
        x and y were divided by 2 to these powers.
    units : callable
        From a coefficient's name to the powers of y and x that it is counted in.
    data_range : tuple of float
        Smallest and largest x.
    """

    x_exponent: int
    y_exponent: int
    units: Callable[[str], Units]
    data_range: tuple[float, float]

    @property
    def x_range(self) -> tuple[float, float]:
        """Smallest and largest x fitted."""
        return self.data_range

    @property
    def residual_sd(self) -> float:
        """Residual standard deviation, in units of y."""
        return self._y(self.inner.residual_sd)

    @property
    def aicc(self) -> float | None:
        """Akaike's criterion in units of y."""
        inner = self.inner.aicc
        return None if inner is None else inner + 2 * self.n * self.y_exponent * math.log(2)

    @property
    def assumptions(self) -> tuple[Assumption, ...]:
        """What the intervals rest on."""
        return (
            *self.inner.assumptions,
            of_curve(
                "The values are very large or very small: it was fitted to them in other units, and "
                "brought back."
            ),
        )

    @property
    def form(self) -> EquationForm | None:
        """The equation in units of the data."""
        return self._form(self.inner.form)

    def form_about(self, origin: float) -> EquationForm | None:
        """The equation about another origin of x."""
        return self._form(self.inner.form_about(math.ldexp(origin, -self.x_exponent)))

    def coefficients(self, level: float) -> tuple[Coefficient, ...]:
        """Coefficients in units of the data."""
        return tuple(self._coefficient(c) for c in self.inner.coefficients(level))

    def coefficient_values(self) -> dict[str, float]:
        """Coefficients in units of the data."""
        inner = self.inner.coefficient_values().items()
        return {name: self._back(value, self.units(name)) for name, value in inner}

    @property
    def correlations(self) -> tuple[Correlation, ...]:
        """Of coefficients; they have no units."""
        return self.inner.correlations

    def predict(self, x: Array) -> Array:
        """Fitted y at each x."""
        return np.ldexp(self.inner.predict(self._in(x)), self.y_exponent)

    def band(self, x: Array, level: float, kind: PointwiseKind) -> Interval | None:
        """Band at each x."""
        found = self.inner.band(self._in(x), level, kind)
        if found is None:
            return None
        return Interval(np.ldexp(found.low, self.y_exponent), np.ldexp(found.high, self.y_exponent))

    def crossings(
        self, y: float, level: float, within: tuple[float, float] | None = None
    ) -> tuple[Crossing, ...]:
        """Every x at which the trend reaches `y`."""
        inside = within and tuple(math.ldexp(end, -self.x_exponent) for end in within)
        found = self.inner.crossings(
            math.ldexp(y, -self.y_exponent), level, (inside[0], inside[1]) if inside else None
        )
        return tuple(
            replace(
                c,
                x=self._x(c.x),
                low=self._x(c.low),
                high=self._x(c.high),
                numbers=tuple(
                    (axis, self._y(v) if axis == "y" else self._x(v) or 0.0)
                    for axis, v in c.numbers
                ),
            )
            for c in found
        )

    def drawn_at(self, points: int) -> Array:
        """Places at which the curve is drawn over the data."""
        return np.ldexp(self.inner.drawn_at(points), self.x_exponent)

    def leverage(self, sample: Sample) -> Array | None:
        """Diagonal of the hat matrix."""
        return self.inner.leverage(self._inside(sample))

    def left_out(self, sample: Sample) -> Array | None:
        """Distance of each row from the trend fitted without it."""
        found = self.inner.left_out(self._inside(sample))
        return None if found is None else np.ldexp(found, self.y_exponent)

    def studentised(self, sample: Sample) -> Array | None:
        """Residuals in units of their own standard error."""
        return self.inner.studentised(self._inside(sample))

    def slope_changes(self, sample: Sample) -> Array | None:
        """Change of slope when each row is left out."""
        found = self.inner.slope_changes(self._inside(sample))
        if found is None:
            return None
        y, x = self.units("b")
        return np.ldexp(found, y * self.y_exponent + x * self.x_exponent)

    def _in(self, x: Array) -> Array:
        return np.ldexp(x, -self.x_exponent)

    def _inside(self, sample: Sample) -> Sample:
        return in_units(sample, self.x_exponent, self.y_exponent)

    def _x(self, value: float | None) -> float | None:
        return None if value is None else math.ldexp(value, self.x_exponent)

    def _y(self, value: float) -> float:
        return math.ldexp(value, self.y_exponent)

    def _back(self, value: float, units: Units) -> float:
        """Bring a number back; one that no number can be written for is refused."""
        back = math.ldexp(value, units[0] * self.y_exponent + units[1] * self.x_exponent)
        if value and not back:
            raise beyond("A coefficient of this form")
        return back

    def _coefficient(self, c: Coefficient) -> Coefficient:
        units = self.units(c.name)

        def back(value: float | None) -> float | None:
            return None if value is None else self._back(value, units)

        return Coefficient(
            c.name,
            self._back(c.value, units),
            back(c.se),
            back(c.low),
            back(c.high),
            c.was_given,
        )

    def _form(self, form: EquationForm | None) -> EquationForm | None:
        if form is None:
            return None
        units = form.units
        values = tuple(self._back(v, u) for v, u in zip(form.values, units, strict=True))
        down = [-(u[0] * self.y_exponent + u[1] * self.x_exponent) for u in units]

        def evaluate(scaled: tuple[float, ...], x: Array) -> Array:
            inner = tuple(math.ldexp(v, d) for v, d in zip(scaled, down, strict=True))
            return np.ldexp(form.evaluate(inner, self._in(x)), self.y_exponent)

        return replace(form, values=values, evaluate=evaluate)


def unscaled(fit: TrendFit) -> TrendFit:
    """The fit itself, in whatever units it was made, and however its intervals are found."""
    while isinstance(fit, FitProxy):
        fit = fit.inner
    return fit
