"""What every trend family offers, so that nothing above needs to know which one it holds."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass
from typing import Literal, NamedTuple, Protocol

import numpy as np
from scipy import optimize

from yarrowdew.core.arithmetic import between
from yarrowdew.core.equation import EquationForm
from yarrowdew.core.errors import FitError
from yarrowdew.core.sample import Array, Sample

BandKind = Literal["confidence", "prediction"]
Scatter = Literal["multiplicative", "additive"]

_SEARCHED = 1025

Units = tuple[int, int]
"""The powers of y and of x that a number is counted in."""


class Interval(NamedTuple):
    """Lower and upper ends at each x, shape (m,) each."""

    low: Array
    high: Array


@dataclass(frozen=True, slots=True)
class Coefficient:
    """One coefficient with its standard error and interval; None where one does not exist.

    Attributes
    ----------
    name : str
    value : float
    se, low, high : float or None
    was_given : bool
        Whether it was set and not fitted.
    """

    name: str
    value: float
    se: float | None
    low: float | None
    high: float | None
    was_given: bool = False

    @classmethod
    def of(cls, name: str, value: float, se: float, half: float) -> Coefficient:
        """Make one whose interval reaches `half` standard errors to either side."""
        return cls(name, value, se, value - half * se, value + half * se)

    @classmethod
    def given(cls, name: str, value: float) -> Coefficient:
        """Make one that was not fitted."""
        return cls(name, value, None, None, None, was_given=True)


@dataclass(frozen=True, slots=True)
class Crossing:
    """Where a trend reaches a level of y.

    Attributes
    ----------
    x : float or None
        The crossing; None where the level is never reached.
    low, high : float or None
        Ends of the interval for x; None at an end that is open.
    remark : str
        What a reader has to know beside the numbers, with ``{}`` for each of `numbers`; empty
        where there is nothing.
    numbers : tuple of ("x" or "y", float)
        Numbers that the remark speaks of, and on which axis they lie.
    """

    x: float | None
    low: float | None
    high: float | None
    remark: str = ""
    numbers: tuple[tuple[Literal["x", "y"], float], ...] = ()

    @property
    def note(self) -> str:
        """The remark, written out."""
        return self.remark.format(*(f"{value:.6g}" for _, value in self.numbers))


class TrendFit(Protocol):
    """A fitted trend."""

    @property
    def family(self) -> str:
        """Name of the family in the registry."""

    @property
    def n(self) -> int:
        """How many rows were fitted."""

    @property
    def degrees_of_freedom(self) -> float:
        """Residual degrees of freedom."""

    @property
    def parameters(self) -> float:
        """How many coefficients were fitted, or what is equivalent to them in a smooth."""

    @property
    def x_range(self) -> tuple[float, float]:
        """Smallest and largest x fitted."""

    @property
    def residual_sd(self) -> float:
        """Residual standard deviation, in units of y."""

    @property
    def r_squared(self) -> float | None:
        """Share of variation accounted for, on the scale of y; None where y does not vary."""

    @property
    def adjusted_r_squared(self) -> float | None:
        """R² adjusted for the number of coefficients."""

    @property
    def r_squared_log(self) -> float | None:
        """R² on the scale of ln y, where the fit was made there."""

    @property
    def p_value(self) -> float | None:
        """Of the hypothesis that y does not change with x."""

    @property
    def aicc(self) -> float | None:
        """Akaike's criterion with its correction for few rows, on the scale of y."""

    @property
    def assumptions(self) -> tuple[str, ...]:
        """What the intervals rest on, as sentences for a person."""

    @property
    def form(self) -> EquationForm | None:
        """The equation, ready to be printed; None for a smooth, which has none."""

    def form_about(self, origin: float) -> EquationForm | None:
        """The equation in x counted from another origin; None where the family has none."""

    def coefficients(self, level: float) -> tuple[Coefficient, ...]:
        """Coefficients with intervals at `level`."""

    def predict(self, x: Array) -> Array:
        """Fitted y at each x, shape (m,); NaN where the trend has no place."""

    def band(self, x: Array, level: float, kind: BandKind) -> Interval | None:
        """Pointwise band at each x, for the mean or for a new row; None where there is none."""

    def crossings(
        self, y: float, level: float, within: tuple[float, float] | None = None
    ) -> tuple[Crossing, ...]:
        """Every x at which the trend reaches `y`, or one crossing without x.

        Forms other than the straight line are searched over `within`, or over the data.
        """

    def drawn_at(self, points: int) -> Array:
        """Places at which the curve is drawn over the data."""

    def leverage(self, sample: Sample) -> Array | None:
        """Diagonal of the hat matrix, shape (n,); None where there is none."""

    def left_out(self, sample: Sample) -> Array | None:
        """Distance of each row from the trend fitted without it, in units of y, shape (n,)."""

    def studentised(self, sample: Sample) -> Array | None:
        """Residuals in units of their own standard error, shape (n,)."""

    def slope_changes(self, sample: Sample) -> Array | None:
        """Change of slope when each row is left out, shape (n,); None without one slope."""


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
    def form(self) -> EquationForm | None:
        """None, unless the family has an equation."""
        return None

    def form_about(self, origin: float) -> EquationForm | None:
        """Return None, unless the family has an equation that can be counted from elsewhere."""
        return None

    def coefficients(self, level: float) -> tuple[Coefficient, ...]:
        """Return none, unless the family has coefficients."""
        return ()

    def predict(self, x: Array) -> Array:
        """Fitted y at each x."""
        raise NotImplementedError

    def band(self, x: Array, level: float, kind: BandKind) -> Interval | None:
        """Return None, unless the family has a band."""
        return None

    def drawn_at(self, points: int) -> Array:
        """Evenly over the data."""
        return between(*self.x_range, points)

    def crossings(
        self, y: float, level: float, within: tuple[float, float] | None = None
    ) -> tuple[Crossing, ...]:
        """Every x in `within` where the curve meets `y`, each with where its band does."""
        return _searched(self, y, level, within or self.x_range)

    def leverage(self, sample: Sample) -> Array | None:
        """Return None, unless the family has a hat matrix."""
        return None

    def left_out(self, sample: Sample) -> Array | None:
        """Residuals over one less the leverage (Allen 1974)."""
        leverage = self.leverage(sample)
        if leverage is None:
            return None
        return (sample.y - self.predict(sample.x)) / _rest(leverage)

    def studentised(self, sample: Sample) -> Array | None:
        """Internally studentised residuals (Cook and Weisberg 1982, ch. 2)."""
        leverage = self.leverage(sample)
        if leverage is None or self.sse <= 0:
            return None
        residual = (sample.y - self.predict(sample.x)) * np.sqrt(mean_one(sample))
        return np.asarray(residual / (self.residual_sd * np.sqrt(_rest(leverage))))

    def slope_changes(self, sample: Sample) -> Array | None:
        """Return None, unless the family has one slope."""
        return None


def mean_one(sample: Sample) -> Array | float:
    """Weights scaled to a mean of one, so that standard deviations keep the units of y."""
    if sample.weights is None:
        return 1.0
    mean = float(sample.weights.mean())
    return sample.weights / mean


def _rest(leverage: Array) -> Array:
    """One less the leverage; a row that fixes the fit alone has nothing to be compared with."""
    return np.where(leverage < 1 - 1e-12, 1 - leverage, np.inf)


def spread_of(sample: Sample) -> float:
    """Sum of squares of y about its mean, weighted."""
    w = mean_one(sample)
    about = sample.y - float(np.average(sample.y, weights=sample.weights))
    about -= float(np.average(about, weights=sample.weights))
    return float(np.sum(w * about * about))


def needs_rows(sample: Sample, rows: int, what: str, *, distinct: int = 2) -> None:
    """Raise FitError where there are fewer rows, or fewer different x, than a form needs."""
    if sample.n < rows:
        have = "no rows" if sample.n == 0 else "1 row" if sample.n == 1 else f"{sample.n} rows"
        raise FitError(
            f"{what} needs at least {_NUMERALS.get(rows, rows)} rows with both values; "
            f"here there {'is' if sample.n == 1 else 'are'} {have}.",
            "Add rows, or bring some back.",
        )
    found = len(np.unique(sample.x)) if sample.n <= _FEW else _at_least(sample.x, distinct)
    if found == 1 and distinct == 2:
        raise FitError(
            f"Every row has the same x ({sample.x[0]:g}), so no slope can be found.",
            "A trend needs at least two different values across.",
        )
    if found < distinct:
        raise FitError(
            f"{what} needs at least {_NUMERALS.get(distinct, distinct)} different values across; "
            f"here there {'is' if found == 1 else 'are'} {found}.",
            "Choose a simpler form.",
        )


_FEW = 10_000
_NUMERALS = {2: "two", 3: "three", 4: "four", 5: "five", 6: "six"}


def _at_least(x: Array, wanted: int) -> int:
    """How many different values there are, counted only as far as is wanted."""
    found = len(np.unique(x[:_FEW]))
    return found if found >= wanted else len(np.unique(x))


def on_logs(values: Array, which: str) -> Array:
    """Natural logarithms.

    Raises
    ------
    FitError
        If a value is not positive.
    """
    bad = int(np.count_nonzero(values <= 0))
    if bad:
        raise FitError(
            f"{bad:,} {'row has' if bad == 1 else 'rows have'} {which} at or below 0, "
            "which has no logarithm.",
            "Leave such rows out with a row filter, or choose another form.",
        )
    return np.log(values)


def _searched(
    fit: BaseFit, y: float, level: float, within: tuple[float, float]
) -> tuple[Crossing, ...]:
    at = between(*within, _SEARCHED)
    off = fit.predict(at) - y
    known = np.isfinite(off)
    places = [float(x) for x in at[known & (off == 0)]]
    turns = np.flatnonzero(known[:-1] & known[1:] & (np.sign(off[:-1]) * np.sign(off[1:]) < 0))
    for i in turns:
        places.append(_root(lambda x: float(fit.predict(np.array([x]))[0]) - y, at[i], at[i + 1]))
    if not places:
        if not known.any():
            return (Crossing(None, None, None, "The trend has no value here."),)
        nearest = int(np.nanargmin(np.abs(off)))
        return (
            Crossing(
                None,
                None,
                None,
                "The trend does not reach it; the nearest it comes is y = {} at x = {}.",
                (("y", float(off[nearest] + y)), ("x", float(at[nearest]))),
            ),
        )
    return tuple(_with_interval(fit, x, y, level, at) for x in sorted(places))


def _root(f: Callable[[float], float], low: float, high: float) -> float:
    return float(optimize.brentq(f, low, high, xtol=1e-12 * max(1.0, abs(low), abs(high))))


def _with_interval(fit: BaseFit, x: float, y: float, level: float, at: Array) -> Crossing:
    """Follow the band from a crossing to either side, until the level lies outside it."""
    band = fit.band(at, level, "confidence")
    if band is None:
        return Crossing(x, None, None, "This form has no band, and so no interval for x.")

    def outside(place: float) -> float:
        one = fit.band(np.array([place]), level, "confidence") or band
        return max(float(one.low[0]) - y, y - float(one.high[0]))

    out = (band.low > y) | (band.high < y)
    ends: list[float | None] = []
    for side in (np.flatnonzero(out & (at < x))[-1:], np.flatnonzero(out & (at > x))[:1]):
        if not len(side):
            ends.append(None)
            continue
        i = int(side[0])
        inner = float(at[i + 1]) if at[i] < x else float(at[i - 1])
        inner = min(inner, x) if at[i] < x else max(inner, x)
        ends.append(_root(outside, *sorted((float(at[i]), inner))) if outside(inner) < 0 else inner)
    open_ends = [word for word, end in zip(("below", "above"), ends, strict=True) if end is None]
    note = f"The interval is open {' and '.join(open_ends)}." if open_ends else ""
    return Crossing(x, ends[0], ends[1], note)
