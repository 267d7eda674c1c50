"""A fit that stands before another: with other intervals, or in other units."""

from __future__ import annotations

from dataclasses import dataclass

from yarrowdew.core.equation import EquationForm
from yarrowdew.core.sample import Array, Sample
from yarrowdew.core.trends.assumptions import Assumption
from yarrowdew.core.trends.protocol import (
    Coefficient,
    Correlation,
    Crossing,
    Interval,
    PointwiseKind,
    TrendFit,
)


@dataclass(frozen=True)
class FitProxy:
    """A fit that asks another for everything that it does not answer itself.

    Attributes
    ----------
    inner : TrendFit
    """

    inner: TrendFit

    @property
    def family(self) -> str:
        """Name of the family in the registry."""
        return self.inner.family

    @property
    def n(self) -> int:
        """How many rows were fitted."""
        return self.inner.n

    @property
    def degrees_of_freedom(self) -> float:
        """Residual degrees of freedom."""
        return self.inner.degrees_of_freedom

    @property
    def parameters(self) -> float:
        """How many coefficients were fitted, or what is equivalent to them in a smooth."""
        return self.inner.parameters

    @property
    def x_range(self) -> tuple[float, float]:
        """Smallest and largest x fitted."""
        return self.inner.x_range

    @property
    def residual_sd(self) -> float:
        """Residual standard deviation, in units of y."""
        return self.inner.residual_sd

    @property
    def r_squared(self) -> float | None:
        """Share of variation, on the scale of y; None where y does not vary."""
        return self.inner.r_squared

    @property
    def adjusted_r_squared(self) -> float | None:
        """R² adjusted for the number of coefficients."""
        return self.inner.adjusted_r_squared

    @property
    def r_squared_log(self) -> float | None:
        """R² on the scale of ln y, where the fit was made there."""
        return self.inner.r_squared_log

    @property
    def measures(self) -> tuple[tuple[str, float], ...]:
        """What is said of how well it fits beside R², or in its place."""
        return self.inner.measures

    @property
    def p_value(self) -> float | None:
        """Of the hypothesis that y does not change with x."""
        return self.inner.p_value

    @property
    def aicc(self) -> float | None:
        """Akaike's criterion with its correction for few rows, on the scale of y."""
        return self.inner.aicc

    @property
    def assumptions(self) -> tuple[Assumption, ...]:
        """What the intervals rest on."""
        return self.inner.assumptions

    @property
    def form(self) -> EquationForm | None:
        """The equation, ready to be printed; None for a smooth, which has none."""
        return self.inner.form

    def form_about(self, origin: float) -> EquationForm | None:
        """The equation in x counted from another origin; None where the family has none."""
        return self.inner.form_about(origin)

    def coefficients(self, level: float) -> tuple[Coefficient, ...]:
        """Coefficients with intervals at `level`."""
        return self.inner.coefficients(level)

    def coefficient_values(self) -> dict[str, float]:
        """Coefficients by name, without what only their intervals need."""
        return self.inner.coefficient_values()

    @property
    def correlations(self) -> tuple[Correlation, ...]:
        """Of every two coefficients that were fitted, where that is worth telling."""
        return self.inner.correlations

    def predict(self, x: Array) -> Array:
        """Fitted y at each x, shape (m,); NaN where the trend has no place."""
        return self.inner.predict(x)

    def band(self, x: Array, level: float, kind: PointwiseKind) -> Interval | None:
        """Pointwise band at each x; None where there is none."""
        return self.inner.band(x, level, kind)

    def crossings(
        self, y: float, level: float, within: tuple[float, float] | None = None
    ) -> tuple[Crossing, ...]:
        """Every x at which the trend reaches `y`, or one crossing without x."""
        return self.inner.crossings(y, level, within)

    def drawn_at(self, points: int) -> Array:
        """Places at which the curve is drawn over the data."""
        return self.inner.drawn_at(points)

    def leverage(self, sample: Sample) -> Array | None:
        """Diagonal of the hat matrix, shape (n,); None where there is none."""
        return self.inner.leverage(sample)

    def left_out(self, sample: Sample) -> Array | None:
        """Distance of each row from the trend fitted without it, in units of y, shape (n,)."""
        return self.inner.left_out(sample)

    def studentised(self, sample: Sample) -> Array | None:
        """Residuals in units of their own standard error, shape (n,)."""
        return self.inner.studentised(sample)

    def slope_changes(self, sample: Sample) -> Array | None:
        """Change of slope when each row is left out, shape (n,); None without one slope."""
        return self.inner.slope_changes(sample)
