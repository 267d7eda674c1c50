"""Quantile lines: a line or parabola below which a given share of the rows lies.

Koenker and Bassett 1978. The linear program is solved exactly, in its dual form. Above
some thousand rows most of them are known to lie above or below the line from a fit to some of the rows
(Portnoy and Koenker 1997, section 5): only those near to it enter the program, and what was assumed
of the others is checked, so that the result is that of all rows.

The interval of a straight line's slope inverts the rank test, each row counted by its own density
at the line, so that the scatter may differ from place to place (Koenker and Machado 1999). Other
intervals and the band rest on the same densities, estimated from lines for quantiles to either side
(Hendricks and Koenker 1992) at the distance of Hall and Sheather (1988).
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass, replace
from functools import cache
from typing import ClassVar, Literal

import numpy as np
import scipy

from yarrowdew.core.equation import EquationForm, Slot
from yarrowdew.core.errors import FitError
from yarrowdew.core.intervals import check_level, normal_quantile
from yarrowdew.core.sample import Array, Sample
from yarrowdew.core.trends.assumptions import Assumption, of_curve, of_intervals, of_rows
from yarrowdew.core.trends.base import (
    BaseFit,
    Coefficient,
    Interval,
    Units,
    needs_rows,
    spread_of,
)
from yarrowdew.core.trends.family import Entry, Family, setting
from yarrowdew.core.trends.protocol import PointwiseKind, check_pointwise
from yarrowdew.core.trends.solvers.quantile_program import solved

_MOST_RANKED = 100_000
_NO_ROWS = np.zeros(0, dtype=np.intp)


@dataclass(frozen=True, slots=True, kw_only=True)
class QuantileSettings:
    """Settings of a quantile line."""

    quantile: float = setting(
        0.5,
        "Rows below the line",
        "The share of the rows that lies below the line.",
        low=0.01,
        high=0.99,
        slider=(0.01, 0.99),
        scale="share",
    )
    bend: Literal[1, 2] = setting(
        1,
        "Bend of the line",
        "Whether it is straight or a parabola.",
        choices={1: "straight", 2: "parabola"},
    )


@dataclass(frozen=True, slots=True, kw_only=True)
class QuantileLine(BaseFit):
    """A fitted quantile line.

    Attributes
    ----------
    quantile : float
    values : ndarray, shape (p,)
        Of powers of u = (x − pivot) / scale.
    density_of : callable
        Works the density of each row at the line out, shape (n,), when it is asked for; None where
        the rows are too few to tell. Fits to resampled rows never ask.
    covariance_of : callable
        The same for the covariance, shape (p, p).
    pivot, scale : float
    sample : Sample
        The rows, for the rank test.
    """

    allows_any_scatter: ClassVar[bool] = True

    quantile: float
    values: Array
    density_of: Callable[[], Array | None]
    covariance_of: Callable[[], Array | None]
    pivot: float
    scale: float
    sample: Sample

    @property
    def covariance(self) -> Array | None:
        """Of the coefficients of powers of u."""
        return self.covariance_of()

    @property
    def r_squared(self) -> float | None:
        """None: a quantile accounts for no share of a variance."""
        return None

    @property
    def adjusted_r_squared(self) -> float | None:
        """None: a quantile accounts for no share of a variance."""
        return None

    @property
    def aicc(self) -> float | None:
        """None: the likelihood is not that of normal scatter."""
        return None

    @property
    def assumptions(self) -> tuple[Assumption, ...]:
        """What the intervals rest on."""
        share = f"{100 * self.quantile:.3g}"
        out = [
            of_curve(
                f"For every x, {share} % of the values of y lie below the line; their scatter may "
                "have any form, and another one for each x."
            ),
            of_rows("Rows are independent of one another."),
        ]
        if len(self.values) == 2 and self.n <= _MOST_RANKED and self.sample.weights is None:
            out.append(
                of_intervals(
                    "The interval of the slope inverts the rank test (Koenker and Machado 1999)."
                )
            )
        out.append(
            of_intervals(
                "Other intervals, and the band, are approximate: they rest on how closely rows lie "
                "at the line (Hendricks and Koenker 1992)."
                if self.covariance is not None
                else "There are too few rows beside the line for a band."
            )
        )
        return tuple(out)

    @property
    def _powers(self) -> Array:
        """Coefficients of powers of x − pivot."""
        return np.asarray(self.values / self.scale ** np.arange(len(self.values)))

    @property
    def form(self) -> EquationForm:
        """The line as printed."""
        rows = _about(self.pivot, 0.0, self.scale, len(self.values))
        return _power_form((rows @ self.values).tolist(), None)

    def form_about(self, origin: float) -> EquationForm:
        """The line in x counted from another origin."""
        rows = _about(self.pivot, origin, self.scale, len(self.values))
        return _power_form((rows @ self.values).tolist(), origin)

    def coefficients(self, level: float) -> tuple[Coefficient, ...]:
        """Of powers of x."""
        count = len(self.values)
        rows = _about(self.pivot, 0.0, self.scale, count)
        half = normal_quantile(level)
        out = []
        for (name, value), row in zip(self.coefficient_values().items(), rows, strict=True):
            if self.covariance is None:
                out.append(Coefficient(name, value, None, None, None))
            else:
                se = float(np.sqrt(row @ self.covariance @ row))
                out.append(Coefficient.of(name, value, se, half))
        if count == 2 and self.n <= _MOST_RANKED and self.sample.weights is None:
            low, high = _rank_interval(
                self.sample, self.quantile, out[1].value, level, self.density_of()
            )
            out[1] = Coefficient("b", out[1].value, out[1].se, low, high)
        return tuple(out)

    def coefficient_values(self) -> dict[str, float]:
        """Without the density of the rows at the line."""
        rows = _about(self.pivot, 0.0, self.scale, len(self.values))
        names = ("a", "b") if len(self.values) == 2 else ("b0", "b1", "b2")
        return {name: float(row @ self.values) for name, row in zip(names, rows, strict=True)}

    def curve_alone(self) -> QuantileLine:
        """The line without its rows."""
        return replace(
            self, density_of=_nothing, covariance_of=_nothing, sample=self.sample.take(_NO_ROWS)
        )

    def predict(self, x: Array) -> Array:
        """The line at each x."""
        return np.asarray(_design(self._u(x), len(self.values)) @ self.values)

    def band(self, x: Array, level: float, kind: PointwiseKind) -> Interval | None:
        """Pointwise band of the line itself; a quantile predicts no new row."""
        check_pointwise(kind)
        if kind == "prediction" or self.covariance is None:
            return None
        design = _design(self._u(x), len(self.values))
        variance = np.einsum("ij,jk,ik->i", design, self.covariance, design)
        half = normal_quantile(level) * np.sqrt(variance)
        line = design @ self.values
        return Interval(line - half, line + half)

    def _u(self, x: Array) -> Array:
        return np.asarray((x - self.pivot) / self.scale)


def fit(sample: Sample, settings: QuantileSettings) -> QuantileLine:
    """Fit a quantile line.

    Raises
    ------
    FitError
        If there are too few rows for such a quantile, or x has too few values.
    """
    count = int(settings.bend) + 1
    share = settings.quantile
    needs_rows(sample, count + 1, "A quantile line", distinct=count)
    beside = min(share, 1 - share) * sample.n
    if beside < 1:
        raise FitError(
            f"{100 * share:.3g} % of {sample.n} rows is less than one row on one side of the line.",
            "Choose a quantile nearer to the middle, or add rows.",
        )
    pivot = float(sample.x.min()) / 2 + float(sample.x.max()) / 2
    scale = float(np.ptp(sample.x)) / 2
    design = _design((sample.x - pivot) / scale, count)
    y, weights = sample.y, sample.weights
    if weights is not None:
        # A row of weight w counts as w rows: its residual is weighted.
        w = weights / weights.mean()
        design, y = design * w[:, None], y * w
    unit = float(np.ptp(sample.y)) or 1.0
    middle = float(np.median(sample.y))
    shifted = (y - middle * design[:, 0]) / unit
    values = solved(design, shifted, share)
    values = values * unit
    values[0] += middle
    fitted = _design((sample.x - pivot) / scale, count) @ values
    density_of = cache(lambda: _densities(design, shifted, share))
    return QuantileLine(
        family=FAMILY.name,
        n=sample.n,
        x_range=(float(sample.x.min()), float(sample.x.max())),
        sse=float(np.sum((sample.y - fitted) ** 2)),
        sst=spread_of(sample),
        degrees_of_freedom=sample.n - count,
        parameters=count,
        quantile=share,
        values=values,
        density_of=density_of,
        covariance_of=cache(lambda: _covariance(design, density_of(), share, unit)),
        pivot=pivot,
        scale=scale,
        sample=sample,
    )


def _design(u: Array, count: int) -> Array:
    return np.vander(u, count, increasing=True)


def _about(pivot: float, origin: float, scale: float, count: int) -> Array:
    """From powers of (x − pivot) / scale to powers of x − origin."""
    rows = np.zeros((count, count))
    for power in range(count):
        for k in range(power + 1):
            shift = (origin - pivot) ** (power - k)
            rows[k, power] = math.comb(power, k) * shift / scale**power
    return rows


def _nothing() -> None:
    """What a line without its rows knows of them."""


def _densities(design: Array, y: Array, share: float) -> Array | None:
    """Density of each row at the line, from lines for quantiles to either side (Hendricks and
    Koenker 1992).
    """
    n = len(y)
    reach = min(_bandwidth(n, share), 0.9 * share, 0.9 * (1 - share))
    if reach * n < 2:
        return None
    low, high = (solved(design, y, share + side) for side in (-reach, reach))
    apart = design @ (high - low)
    floor = 1e-6 * float(np.abs(apart).mean())
    if not floor > 0:
        return None
    return np.where(apart > floor, 2 * reach / np.maximum(apart, floor), 0.0)


def _covariance(design: Array, density: Array | None, share: float, unit: float) -> Array | None:
    """Covariance of the coefficients: τ(1 − τ) H⁻¹ J H⁻¹, with the density of each row in H.

    In units of y, of which the densities are counted in `unit`.
    """
    if density is None:
        return None
    bread = design.T @ (density[:, None] * design)
    try:
        inverse = np.linalg.inv(bread)
    except np.linalg.LinAlgError:
        return None
    covariance = share * (1 - share) * inverse @ (design.T @ design) @ inverse
    return covariance * unit**2 if np.isfinite(covariance).all() else None


def _bandwidth(n: int, share: float) -> float:
    """Hall and Sheather (1988), for a 95 % interval."""
    z = float(scipy.special.ndtri(share))
    density = math.exp(-z * z / 2) / math.sqrt(2 * math.pi)
    return float(
        n ** (-1 / 3)
        * normal_quantile(0.95) ** (2 / 3)
        * (1.5 * density**2 / (2 * z * z + 1)) ** (1 / 3)
    )


def _rank_interval(
    sample: Sample, share: float, slope: float, level: float, density: Array | None
) -> tuple[float | None, float | None]:
    """Every slope that the rank test does not rule out (Koenker and Machado 1999).

    For a slope b the test statistic is the sum of x − x̄ over the rows that lie above the share-th
    quantile of y − b x, less what is due; it falls as b grows. In x̄ each row counts by its density
    at the line, or as any other where that is not known. An end is None where it is open.
    """
    known = density is not None and density.sum() > 0
    middle = float(np.average(sample.x, weights=density if known else None))
    x, y = sample.x - middle, sample.y
    due = (1 - share) * float(x.sum())
    spread = math.sqrt(float(np.dot(x, x)) * share * (1 - share))
    most = float(scipy.special.ndtri(0.5 + check_level(level) / 2))
    rank = share * len(y)
    place = min(math.ceil(rank) - 1, len(y) - 1)

    def statistic(b: float) -> float:
        off = y - b * x
        at = float(np.partition(off, place)[place])
        above, level_rows = off > at, off == at
        # Rows at the quantile itself take what is left of the share that lies above.
        left = (1 - share) * len(y) - float(above.sum())
        part = left / max(int(level_rows.sum()), 1)
        return (float(x[above].sum()) + part * float(x[level_rows].sum()) - due) / spread

    step = (float(np.ptp(y)) or 1.0) / (float(np.ptp(x)) or 1.0) / math.sqrt(len(y))
    return (
        _where_crossed(lambda b: statistic(b) - most, slope, -step),
        _where_crossed(lambda b: -most - statistic(b), slope, step),
    )


def _where_crossed(beyond: Callable[[float], float], start: float, step: float) -> float | None:
    """Where a function that is at most 0 at the start comes to be above it, on one side."""
    inside, outside = start, start + step
    for _ in range(60):
        if beyond(outside) > 0:
            break
        inside, step = outside, 2 * step
        outside = start + step
    else:
        return None
    for _ in range(60):
        middle = inside / 2 + outside / 2
        if middle in (inside, outside):
            break
        if beyond(middle) > 0:
            outside = middle
        else:
            inside = middle
    return inside


def _power_form(values: list[float], origin: float | None) -> EquationForm:
    name: list[str | Slot] = [" {x}"]
    if origin is not None:
        name = [" ({x}", Slot(len(values), joined=True, exact=True), ")"]
    pattern: list[str | Slot] = [Slot(0)]
    for power in range(1, len(values)):
        pattern += [Slot(power, joined=True), *name]
        if power > 1:
            pattern.append(f"^{{{{{power}}}}}")
    held = tuple(values) if origin is None else (*values, -origin)
    units = tuple((1, -power) for power in range(len(values)))

    def evaluate(given: tuple[float, ...], x: Array) -> Array:
        at = x if origin is None else x + given[-1]
        return np.asarray(sum(v * at**k for k, v in enumerate(given[: len(values)])))

    return EquationForm(
        held, evaluate, tuple(pattern), units if origin is None else (*units, (0, 1))
    )


def _units(name: str) -> Units:
    return {"a": (1, 0), "b": (1, -1)}.get(name, (1, -int(name[-1]) if name[-1].isdigit() else 0))


FAMILY = Family(
    name="quantile",
    label="quantile line",
    entry=Entry(
        method="linear program, exactly (Koenker and Bassett 1978)",
        intervals="slope: inverted rank test, each row by its own density at the line (Koenker and Machado 1999); band: Hendricks and Koenker (1992)",
        exactness="approximate; 94 to 97 %, under a fan too",
    ),
    note="a share of the rows lies below",
    settings=QuantileSettings,
    fit=fit,
    units=_units,
    r_squared_about="nothing",
    said_as="{quantile %} quantile line",
    together={
        "10, 50 and 90 %": ({"quantile": 0.1}, {"quantile": 0.5}, {"quantile": 0.9}),
        "25, 50 and 75 %": ({"quantile": 0.25}, {"quantile": 0.5}, {"quantile": 0.75}),
    },
    coefficient_labels={"a": "Intercept a", "b": "Slope b"},
)
