"""The moving average: the mean of y over a window of rows, or of x.

Rows that share an x are averaged first. Sums are running sums of y about its mean, so that nothing
large cancels. Where the window reaches past the data, or holds no row, there is no value, and no
gap is filled in.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np

from yarrowdew.core.errors import FitError
from yarrowdew.core.intervals import t_quantile
from yarrowdew.core.sample import Array, Sample
from yarrowdew.core.trends.assumptions import Assumption, of_curve, of_intervals
from yarrowdew.core.trends.base import (
    BaseFit,
    Interval,
    TrendFit,
    mean_one,
    needs_rows,
    spread_of,
)
from yarrowdew.core.trends.family import Entry, Family, setting
from yarrowdew.core.trends.protocol import PointwiseKind, check_pointwise

WindowUnit = Literal["rows", "x"]
Alignment = Literal["centred", "trailing"]
MOST_DRAWN = 2_000


@dataclass(frozen=True, slots=True, kw_only=True)
class MovingAverage(BaseFit):
    """A moving average.

    Attributes
    ----------
    at : ndarray, shape (k,)
        Distinct x, ascending.
    values : ndarray, shape (k,)
        Mean over the window there; NaN where there is none.
    ses : ndarray, shape (k,)
        Standard error of each mean from the spread inside its window; NaN below two rows.
    counts : ndarray, shape (k,)
        How many places each window holds.
    window : float
    window_unit, alignment : str
    x_unit : float
        What a width of 1 stands for in units of the data, where it was fitted in others.
    """

    at: Array
    values: Array
    ses: Array
    counts: Array
    window: float
    window_unit: WindowUnit
    alignment: Alignment
    x_unit: float = 1.0

    @property
    def assumptions(self) -> tuple[Assumption, ...]:
        """What the average is, and what its band rests on."""
        unit = "rows" if self.window_unit == "rows" else "units of x"
        width = self.window * self.x_unit
        where = "about its place" if self.alignment == "centred" else "that ends at its place"
        out = [of_curve(f"Each value is the mean of y over a window of {width:g} {unit} {where}.")]
        if self.alignment == "trailing":
            out.append(of_curve("A trailing average lags behind the data by half its window."))
        out.append(
            of_intervals(
                "A band, where one is asked for, is that of a mean: t times its standard error."
            )
        )
        out.append(of_curve("R² is the share of variation; it grows as the window shrinks."))
        return tuple(out)

    def predict(self, x: Array) -> Array:
        """Average at each x, straight between places of the data; NaN where there is none."""
        return self._between(x, self.values)

    def band(self, x: Array, level: float, kind: PointwiseKind) -> Interval | None:
        """Standard-error band of the mean; there is none for a new row."""
        check_pointwise(kind)
        if kind == "prediction":
            return None
        df = np.maximum(self.counts - 1, 1)
        quantiles = {float(d): t_quantile(level, float(d)) for d in np.unique(df)}
        half = np.array([quantiles[float(d)] for d in df]) * self.ses
        return Interval(self._between(x, self.values - half), self._between(x, self.values + half))

    def curve_alone(self) -> MovingAverage:
        """The average at as many places as are ever drawn, without its band."""
        kept = self.at if len(self.at) <= MOST_DRAWN else self.drawn_at(MOST_DRAWN)
        none = np.zeros(0)
        # Gaps have a place of their own among those drawn, which is NaN.
        return replace(
            self, at=kept, values=self.predict(kept), ses=none, counts=none, window_unit="rows"
        )

    def drawn_at(self, points: int) -> Array:
        """At the places of the data, or at some of them where they are very many."""
        most = max(points, MOST_DRAWN)
        at = self.at
        if len(at) > most:
            at = at[np.linspace(0, len(at) - 1, most).astype(np.intp)]
        gaps = np.flatnonzero(self._is_gap)
        return np.sort(np.concatenate([at, (self.at[gaps] + self.at[gaps + 1]) / 2]))

    @property
    def _is_gap(self) -> np.ndarray:
        """Between which places no window of x reaches from one to the next."""
        wide = np.diff(self.at) > self.window
        return wide if self.window_unit == "x" else np.zeros_like(wide)

    def _between(self, x: Array, values: Array) -> Array:
        i = np.clip(np.searchsorted(self.at, x, side="right") - 1, 0, len(self.at) - 2)
        with np.errstate(over="ignore"):
            t = (x - self.at[i]) / (self.at[i + 1] - self.at[i])
        # At a place of the data its own value, though a neighbour may have none.
        inside = np.clip(t, 0, 1)
        left = np.where(t == 1, 0.0, values[i]) * (1 - inside)
        right = np.where(t == 0, 0.0, values[i + 1]) * inside
        nowhere = (t < 0) | (t > 1) | (self._is_gap[i] & (t > 0) & (t < 1))
        return np.where(nowhere, np.nan, left + right)


@dataclass(frozen=True, slots=True, kw_only=True)
class MovingAverageSettings:
    """Settings of a moving average."""

    window: float = setting(
        7,
        "Window",
        "Its width.",
        above=0,
        high=1e12,
        slider=(1, 201),
        suffix="rows",
        counted_by="window_unit",
    )
    window_unit: WindowUnit = setting(
        "rows",
        "The window counts",
        "Unit of the width: rows, or units of x.",
        choices={"rows": "rows", "x": "units of x"},
    )
    alignment: Alignment = setting(
        "centred",
        "The window lies",
        "Whether the window is centred on each x or ends there.",
        choices={"centred": "about its place", "trailing": "up to its place"},
    )


def fit(sample: Sample, settings: MovingAverageSettings) -> MovingAverage:
    """Average over a moving window.

    Parameters
    ----------
    sample : Sample
        At least three pairs with two distinct x.
    settings : MovingAverageSettings

    Raises
    ------
    FitError
        If there are too few rows, or no window holds a row.
    """
    needs_rows(sample, 3, "A moving average")
    window, unit, alignment = settings.window, settings.window_unit, settings.alignment
    if not window > 0:
        raise FitError("A window must be wider than 0.", "Give a positive one.")
    w = mean_one(sample)
    at, where = np.unique(sample.x, return_inverse=True)
    weight = np.bincount(where, np.broadcast_to(np.asarray(w, dtype=np.float64), where.shape))
    middle = float(np.average(sample.y, weights=sample.weights))
    y = np.bincount(where, w * (sample.y - middle)) / weight
    if unit == "rows":
        values, ses, counts = _over_rows(y, round(window), alignment)
    else:
        values, ses, counts = _over_x(at, y, window, alignment)
    if not np.isfinite(values).any():
        raise FitError(
            f"A window of {window:g} {'rows' if unit == 'rows' else 'units of x'} is wider than "
            "the data.",
            "Choose a narrower one.",
        )
    values = values + middle
    fitted = values[where]
    known = np.isfinite(fitted)
    residual = np.where(known, sample.y - fitted, 0.0)
    rows = int(np.count_nonzero(known))
    inside = Sample(
        sample.x[known],
        sample.y[known],
        None if sample.weights is None else sample.weights[known],
        sample.rows[known],
    )
    places = int(np.count_nonzero(np.isfinite(values)))
    # A mean over m places is worth 1/m coefficients at each of them.
    worth = float(np.sum(1 / np.maximum(counts[np.isfinite(values)], 1)))
    return MovingAverage(
        family=FAMILY.name,
        n=sample.n,
        x_range=(float(at[0]), float(at[-1])),
        sse=float(np.sum(w * residual * residual)),
        sst=spread_of(inside) if places else 0.0,
        degrees_of_freedom=max(rows - worth, 1e-6),
        parameters=worth,
        at=at,
        values=values,
        ses=ses,
        counts=counts,
        window=float(round(window)) if unit == "rows" else window,
        window_unit=unit,
        alignment=alignment,
    )


def _over_rows(y: Array, window: int, alignment: Alignment) -> tuple[Array, Array, Array]:
    """Means over so many places; an even centred window counts its outermost two by half."""
    k = len(y)
    window = max(window, 1)
    values, ses = np.full(k, np.nan), np.full(k, np.nan)
    counts = np.full(k, float(window))
    sums, squares = (np.concatenate([[0.0], np.cumsum(v)]) for v in (y, y * y))
    half = window // 2
    if alignment == "centred" and window % 2 == 0:
        if k < window + 1:
            return values, ses, counts
        places = np.arange(half, k - half)
        total, square = (s[places + half + 1] - s[places - half] for s in (sums, squares))
        ends = y[places - half], y[places + half]
        total = total - (ends[0] + ends[1]) / 2
        square = square - (ends[0] ** 2 + ends[1] ** 2) / 2
    else:
        if k < window:
            return values, ses, counts
        back = half if alignment == "centred" else window - 1
        places = np.arange(back, back + k - window + 1)
        total, square = (s[places - back + window] - s[places - back] for s in (sums, squares))
    values[places], ses[places] = _mean_and_se(total, square, np.full(len(places), float(window)))
    return values, ses, counts


def _over_x(at: Array, y: Array, window: float, alignment: Alignment) -> tuple[Array, Array, Array]:
    """Means over places within so many units of x."""
    reach_back = window / 2 if alignment == "centred" else window
    reach_on = window / 2 if alignment == "centred" else 0.0
    first = np.searchsorted(at, at - reach_back, side="left")
    last = np.searchsorted(at, at + reach_on, side="right")
    sums, squares = (np.concatenate([[0.0], np.cumsum(v)]) for v in (y, y * y))
    counts = (last - first).astype(np.float64)
    values, ses = _mean_and_se(sums[last] - sums[first], squares[last] - squares[first], counts)
    whole = (at - reach_back >= at[0]) & (at + reach_on <= at[-1])
    return np.where(whole, values, np.nan), np.where(whole, ses, np.nan), counts


def _mean_and_se(total: Array, square: Array, counts: Array) -> tuple[Array, Array]:
    mean = total / counts
    with np.errstate(divide="ignore", invalid="ignore"):
        variance = np.maximum(square - total * mean, 0) / (counts - 1)
        se = np.sqrt(variance / counts)
    return mean, np.where(counts > 1, se, np.nan)


def _in_data_units(fit: TrendFit, x: int, _y: int) -> TrendFit:
    counts_x = isinstance(fit, MovingAverage) and fit.window_unit == "x"
    return replace(fit, x_unit=math.ldexp(1.0, x)) if counts_x else fit  # type: ignore[type-var]


FAMILY = Family(
    name="moving-average",
    label="moving average",
    entry=Entry(
        method="mean over a window",
        intervals="of a mean within the window",
        exactness="approximate",
    ),
    note="nonparametric",
    settings=MovingAverageSettings,
    fit=fit,
    seen_from=_in_data_units,
    has_band=False,
    is_smooth=True,
)
