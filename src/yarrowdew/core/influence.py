"""Rows that decide a line, and what the line is without them."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace

import numpy as np

from yarrowdew.core.errors import FitError
from yarrowdew.core.intervals import t_p_value
from yarrowdew.core.sample import Sample
from yarrowdew.core.trends import TrendFit
from yarrowdew.core.trends.base import Coefficient


@dataclass(frozen=True, slots=True)
class InfluentialRow:
    """One row without which a line is another.

    Attributes
    ----------
    row : int
        Its place in the arrays that the sample was made from.
    slope, without : Coefficient
        The slope with it, and without it, with their intervals.
    sd, sd_without : float
        Residual standard deviation with it, and without it.
    p_value : float
        Of the outlier test: how likely one row of so many lies so far from the others' line.
    """

    row: int
    slope: Coefficient
    without: Coefficient
    sd: float
    sd_without: float
    p_value: float


_SHARES_ITS_PLACE = 0.5
"""A row whose leverage is larger decides more of its own fitted value than all others do."""
_MOVED = 3.0
"""In standard errors of the slope."""
_OUTLYING = 0.04
_FEWEST_TESTED = 8


def influential_row(
    fit: TrendFit,
    sample: Sample,
    again: Callable[[Sample], TrendFit],
    level: float = 0.95,
    *,
    fits: int = 1,
) -> InfluentialRow | None:
    """Find a row that lies off the line of all others, or on which it hangs whether there is a trend.

    By the outlier test on the externally studentised residual, for the number of rows (Cook and
    Weisberg 1982, section 2.2.2), so that normal scatter is said to have one in 5 % of tables at
    most; or by a leverage above one half where the slope is clear with the row or without it alone.

    Parameters
    ----------
    fit : TrendFit
    sample : Sample
    again : callable
        Fits the same form to other rows.
    level : float
        Of the intervals by which a slope is clear.
    fits : int
        How many fits are looked at, which the outlier test allows for.
    """
    leverage, studentised = fit.leverage(sample), fit.studentised(sample)
    changes = fit.slope_changes(sample)
    df = fit.degrees_of_freedom
    if leverage is None or studentised is None or changes is None or sample.n < _FEWEST_TESTED:
        return None

    def without(place: int) -> TrendFit | None:
        try:
            return again(without_row(sample, int(sample.rows[place])))
        except FitError:
            return None

    with np.errstate(all="ignore"):
        outer = studentised * np.sqrt((df - 1) / np.maximum(df - studentised**2, 0.0))
    outer = np.where(np.isnan(outer), 0.0, outer)
    furthest = int(np.argmax(np.abs(outer)))
    p = min(1.0, fits * sample.n * t_p_value(float(outer[furthest]), df - 1))
    if p < _OUTLYING:
        return _compared(fit, without(furthest), int(sample.rows[furthest]), p, level)
    heaviest = int(np.argmax(leverage))
    if not _SHARES_ITS_PLACE < leverage[heaviest] < 1 - 1e-9:
        return None
    found = _compared(fit, without(heaviest), int(sample.rows[heaviest]), 1.0, level)
    if found is None:
        return None
    moved = abs(found.slope.value - found.without.value) > _MOVED * (found.slope.se or 0.0)
    return found if moved and is_clear(found.slope) != is_clear(found.without) else None


def _compared(
    fit: TrendFit, other: TrendFit | None, row: int, p: float, level: float
) -> InfluentialRow | None:
    if other is None:
        return None
    slopes = [
        next((c for c in one.coefficients(level) if c.name == "b"), None) for one in (fit, other)
    ]
    if slopes[0] is None or slopes[1] is None:
        return None
    return InfluentialRow(row, slopes[0], slopes[1], fit.residual_sd, other.residual_sd, p)


def is_clear(c: Coefficient) -> bool:
    return c.low is not None and c.high is not None and not c.low <= 0 <= c.high


def deciding_row(fit: TrendFit, sample: Sample) -> int | None:
    """Find the row that fixes a part of the fit alone: its leverage is 1, and it has no
    residual.
    """
    leverage = fit.leverage(sample)
    if leverage is None or sample.n <= fit.parameters:
        return None
    found = np.flatnonzero(leverage > 1 - 1e-9)
    return int(sample.rows[found[0]]) if len(found) == 1 else None


def without_row(sample: Sample, row: int) -> Sample:
    """A sample without one of its rows, named by its place in the arrays it was made from."""
    keep = sample.rows != row
    return replace(sample.take(keep), dropped=sample.dropped)
