"""What families have in common, and what they ask of the rows."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from yarrowdew.core.arithmetic import between
from yarrowdew.core.equation import EquationForm
from yarrowdew.core.errors import FitError
from yarrowdew.core.intervals import HIGHEST_LEVEL
from yarrowdew.core.sample import Array, Sample
from yarrowdew.core.trends.assumptions import Assumption
from yarrowdew.core.trends.protocol import (
    BandKind,
    Coefficient,
    Correlation,
    Crossing,
    Interval,
    PointwiseKind,
    Scatter,
    TrendFit,
    Units,
    check_pointwise,
)
from yarrowdew.core.trends.solvers.searching import searched

__all__ = [
    "BandKind",
    "BaseFit",
    "Coefficient",
    "Correlation",
    "Crossing",
    "FitWithoutShare",
    "Interval",
    "Scatter",
    "TrendFit",
    "Units",
    "check_logs",
    "mean_one",
    "needs_rows",
    "needs_values",
    "on_logs",
    "settled",
    "spread_of",
]


@dataclass(frozen=True, slots=True, kw_only=True)
class BaseFit:
    """What families have in common; see `TrendFit`.

    Attributes
    ----------
    sse : float
        Residual sum of squares on the scale of y, weighted.
    sst : float
        Sum of squares of y about its mean, or about a given intercept, weighted.
    """

    family: str
    n: int
    x_range: tuple[float, float]
    sse: float
    sst: float
    degrees_of_freedom: float
    parameters: float

    @property
    def residual_sd(self) -> float:
        """Residual standard deviation, in units of y."""
        return math.sqrt(self.sse / self.degrees_of_freedom)

    @property
    def r_squared(self) -> float | None:
        """1 − SSE/SST on the scale of y. None where y does not vary."""
        return 1 - self.sse / self.sst if self.sst > 0 else None

    @property
    def adjusted_r_squared(self) -> float | None:
        """R² with each sum of squares over its degrees of freedom."""
        if self.sst <= 0:
            return None
        return 1 - (self.sse / self.degrees_of_freedom) / (self.sst / (self.n - 1))

    @property
    def r_squared_log(self) -> float | None:
        """None: the fit was made on y itself."""
        return None

    @property
    def measures(self) -> tuple[tuple[str, float], ...]:
        """None, unless the family has some."""
        return ()

    @property
    def p_value(self) -> float | None:
        """None, unless the family has a test."""
        return None

    @property
    def aicc(self) -> float | None:
        """Akaike's criterion with the correction of Hurvich and Tsai (1989), for normal scatter.

        None for a perfect fit, or where there are too few rows for the correction.
        """
        k = self.parameters + 1
        if self.sse <= 0 or self.n - k - 1 <= 0:
            return None
        return float(
            self.n * math.log(self.sse / self.n) + 2 * k + 2 * k * (k + 1) / (self.n - k - 1)
        )

    @property
    def assumptions(self) -> tuple[Assumption, ...]:
        """None that are known."""
        return ()

    @property
    def form(self) -> EquationForm | None:
        """None, unless the family has an equation."""
        return None

    def form_about(self, origin: float) -> EquationForm | None:
        """Return None, unless the family has an equation that can be counted from elsewhere."""
        return None

    def coefficients(self, level: float) -> tuple[Coefficient, ...]:
        """Return none, unless the family has coefficients."""
        return ()

    def coefficient_values(self) -> dict[str, float]:
        """Coefficients by name; families whose intervals are costly say them without these."""
        return {c.name: c.value for c in self.coefficients(HIGHEST_LEVEL)}

    @property
    def correlations(self) -> tuple[Correlation, ...]:
        """None, unless the family tells them."""
        return ()

    def predict(self, x: Array) -> Array:
        """Fitted y at each x."""
        raise NotImplementedError

    def band(self, x: Array, level: float, kind: PointwiseKind) -> Interval | None:
        """Return None, unless the family has a band."""
        check_pointwise(kind)
        return None

    def drawn_at(self, points: int) -> Array:
        """Evenly over the data."""
        return between(*self.x_range, points)

    def crossings(
        self, y: float, level: float, within: tuple[float, float] | None = None
    ) -> tuple[Crossing, ...]:
        """Every x in `within` where the curve meets `y`, each with where its band does."""
        return searched(self, y, level, within or self.x_range)

    def leverage(self, sample: Sample) -> Array | None:
        """Return None, unless the family has a hat matrix."""
        return None

    def left_out(self, sample: Sample) -> Array | None:
        """Residuals over one less the leverage (Allen 1974)."""
        leverage = self.leverage(sample)
        if leverage is None:
            return None
        return (sample.y - self.predict(sample.x)) / rest_of(leverage)

    def studentised(self, sample: Sample) -> Array | None:
        """Internally studentised residuals (Cook and Weisberg 1982, ch. 2)."""
        leverage = self.leverage(sample)
        if leverage is None or self.sse <= 0:
            return None
        residual = (sample.y - self.predict(sample.x)) * np.sqrt(mean_one(sample))
        return np.asarray(residual / (self.residual_sd * np.sqrt(rest_of(leverage))))

    def slope_changes(self, sample: Sample) -> Array | None:
        """Return None, unless the family has one slope."""
        return None


@dataclass(frozen=True, slots=True, kw_only=True)
class FitWithoutShare(BaseFit):
    """A fit of which no share of variation is told, nor a criterion of least squares."""

    @property
    def r_squared(self) -> float | None:
        """None: see `measures`."""
        return None

    @property
    def adjusted_r_squared(self) -> float | None:
        """None."""
        return None

    @property
    def aicc(self) -> float | None:
        """None: it does not minimise squares."""
        return None


def mean_one(sample: Sample) -> Array | float:
    """Weights scaled to a mean of one, so that standard deviations keep the units of y."""
    if sample.weights is None:
        return 1.0
    mean = float(sample.weights.mean())
    return sample.weights / mean


def rest_of(leverage: Array) -> Array:
    """One less the leverage; a row that fixes the fit alone has nothing to be compared with."""
    rest = 1 - leverage
    return rest if rest.min() > 1e-12 else np.where(leverage < 1 - 1e-12, rest, np.inf)


def settled(sse: float, sst: float, n: int) -> float:
    """A residual sum below what rounding alone leaves is a perfect fit, and is called one."""
    return 0.0 if sse < n * (np.finfo(np.float64).eps * math.sqrt(max(sst, 0.0))) ** 2 else sse


def spread_of(sample: Sample) -> float:
    """Sum of squares of y about its mean, weighted."""
    w = mean_one(sample)
    about = sample.y - float(np.average(sample.y, weights=sample.weights))
    about -= float(np.average(about, weights=sample.weights))
    return float(np.sum(w * about * about))


def needs_rows(sample: Sample, rows: int, what: str, *, distinct: int = 2) -> None:
    """Raise FitError where there are fewer rows, or fewer different x, than a form needs."""
    few = sample.n <= _FEW
    different = np.unique(sample.x) if few else at_least(sample.x, distinct)
    needs_values(sample.n, different, rows, what, distinct=distinct)


def needs_values(
    n: int, different: Sequence[float] | Array, rows: int, what: str, *, distinct: int = 2
) -> None:
    """Raise FitError for rows of which only so many of the different x are known; see
    `needs_rows`.
    """
    if n < rows:
        have = "no rows" if n == 0 else "1 row" if n == 1 else f"{n} rows"
        raise FitError(
            f"{what} needs at least {_NUMERALS.get(rows, rows)} rows with both values; "
            f"here there {'is' if n == 1 else 'are'} {have}.",
            "Add rows, or bring some back.",
        )
    found = len(different)
    if found == 1 and distinct == 2:
        raise FitError(
            f"Every row has the same x ({different[0]:g}), so no slope can be found.",
            "A trend needs at least two different values of x.",
        )
    if found < distinct:
        raise FitError(
            f"{what} needs at least {_NUMERALS.get(distinct, distinct)} different values of x; "
            f"here there {'is' if found == 1 else 'are'} {found}.",
            "Choose a simpler form.",
        )


_FIRST, _FEW = 100, 10_000
_NUMERALS = {2: "two", 3: "three", 4: "four", 5: "five", 6: "six", 10: "ten"}


def at_least(x: Array, wanted: int) -> Array:
    """Different values, looked for only until there are as many as are wanted."""
    for some in (x[:_FIRST], x[:_FEW], x):
        found = np.unique(some)
        if len(found) >= wanted:
            break
    return found


def on_logs(values: Array, which: str) -> Array:
    """Natural logarithms.

    Raises
    ------
    FitError
        If a value is not positive.
    """
    check_logs(int(np.count_nonzero(values <= 0)), which)
    return np.log(values)


def check_logs(bad: int, which: str) -> None:
    """Raise FitError where so many rows have no logarithm."""
    if bad:
        raise FitError(
            f"{bad:,} {'row has' if bad == 1 else 'rows have'} {which} at or below 0, "
            "which has no logarithm.",
            "Leave such rows out with a row filter, or choose another form.",
        )
