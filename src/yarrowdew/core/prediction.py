"""Numbers read off a trend: y at a given x, and x at a given y."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

import numpy as np

from yarrowdew.core.arithmetic import computed
from yarrowdew.core.trends.base import BandKind, Crossing, TrendFit
from yarrowdew.core.trends.intervals.bands import band_of


@dataclass(frozen=True, slots=True)
class Reading:
    """y at a given x.

    Attributes
    ----------
    x, y : float
        Where, and the fitted value there; NaN where the trend has none.
    mean_low, mean_high : float or None
        Confidence interval of the mean; None where the form has no band.
    new_low, new_high : float or None
        Prediction interval of one new row.
    carried_on : bool
        Whether x lies outside the data.
    """

    x: float
    y: float
    mean_low: float | None
    mean_high: float | None
    new_low: float | None
    new_high: float | None
    carried_on: bool


@dataclass(frozen=True, slots=True)
class Solution:
    """x at a given y; see `Crossing` for the numbers."""

    y: float
    crossing: Crossing
    carried_on: bool


def read_at(fit: TrendFit, x: float, level: float, kind: BandKind = "confidence") -> Reading:
    """Read y off the trend at `x`, with both intervals at `level`.

    The interval of the mean is that of a band of a kind: for this x, or for the whole line.
    """
    at = np.array([x], dtype=np.float64)
    with computed("What is read off"):
        mean = band_of(fit, at, level, kind)
        new = fit.band(at, level, "prediction")
        fitted = float(fit.predict(at)[0])
    return Reading(
        x=x,
        y=fitted,
        mean_low=None if mean is None else float(mean.low[0]),
        mean_high=None if mean is None else float(mean.high[0]),
        new_low=None if new is None else float(new.low[0]),
        new_high=None if new is None else float(new.high[0]),
        carried_on=not _within(x, fit),
    )


def solve_for(
    fit: TrendFit, y: float, level: float, within: tuple[float, float] | None = None
) -> tuple[Solution, ...]:
    """Find every x at which the trend reaches `y`, with intervals at `level`.

    `within` is the range over which the trend is drawn; the data's where None.
    """
    with computed("What is read off"):
        crossings = fit.crossings(y, level, within)
    return tuple(
        Solution(y, crossing, crossing.x is not None and not _within(crossing.x, fit))
        for crossing in map(_existing, crossings)
    )


def _existing(crossing: Crossing) -> Crossing:
    """A crossing whose numbers all exist; one too far away to be written is none."""
    if crossing.x is not None and not math.isfinite(crossing.x):
        return Crossing(None, None, None, "It lies too far away to be written as a number.")
    ends = [v if v is None or math.isfinite(v) else None for v in (crossing.low, crossing.high)]
    return replace(crossing, low=ends[0], high=ends[1])


def _within(x: float, fit: TrendFit) -> bool:
    low, high = fit.x_range
    return low <= x <= high
