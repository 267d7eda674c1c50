"""What misleads people who look at a trend, found in the numbers.

Each function returns what it found, or None; the sentence is written by whoever knows the names.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import Protocol

import numpy as np
import scipy

from yarrowdew.core.arithmetic import scaled
from yarrowdew.core.association import pearson
from yarrowdew.core.intervals import ratio, t_p_value
from yarrowdew.core.sample import Array, Sample
from yarrowdew.core.trends import TrendFit, fit_trend
from yarrowdew.core.trends.base import Coefficient, at_least, mean_one
from yarrowdew.core.trends.scaled import unscaled
from yarrowdew.core.trends.straight import FAMILY as LINE
from yarrowdew.core.trends.straight import StraightLine

MANY_ON_ONE_PLACE = 0.2


@dataclass(frozen=True, slots=True)
class PullingRow:
    """One row that decides the slope.

    Attributes
    ----------
    row : int
        Its place in the arrays that the sample was made from.
    slope, slope_without : float
        The slope with it, and without it.
    """

    row: int
    slope: float
    slope_without: float

    @property
    def turns(self) -> bool:
        """Whether the slope's sign changes when the row is left out."""
        return self.slope * self.slope_without < 0


def pulling_row(fit: TrendFit, sample: Sample) -> PullingRow | None:
    """Find the row without which the slope moves by more than its standard error, or turns.

    Where several do, the one that moves it most.
    """
    changes = fit.slope_changes(sample)
    if changes is None:
        return None
    slope = next(c for c in fit.coefficients(0.95) if c.name == "b")
    worst = max(int(changes.argmax()), int(changes.argmin()), key=lambda row: abs(changes[row]))
    found = PullingRow(int(sample.rows[worst]), slope.value, slope.value + float(changes[worst]))
    moved = abs(float(changes[worst])) > (slope.se or 0.0)
    return found if moved or found.turns else None


class HasSlope(Protocol):
    """A fit whose coefficient b is a slope."""

    def coefficients(self, level: float) -> tuple[Coefficient, ...]:
        """Coefficients with intervals at `level`."""


def opposed_groups(whole: HasSlope, groups: Mapping[str, HasSlope], level: float) -> list[str]:
    """Name the groups whose slope is clearly the other way than the whole's.

    Clearly: the group's interval at `level` lies on the other side of zero. Lines only; a form
    without one slope has no direction.
    """
    direction = _slope_interval(whole, level)
    if direction is None:
        return []
    sign = np.sign(direction[1])
    opposed = []
    for name, fit in groups.items():
        interval = _slope_interval(fit, level)
        if interval is not None and max(sign * interval[0], sign * interval[2]) < 0:
            opposed.append(name)
    return opposed


MOST_LOOKED_AT = 20_000
"""Bends and fans show in so many rows as well as in all."""


@dataclass(frozen=True, slots=True)
class Bend:
    """A curve that fits clearly better than the straight line.

    Attributes
    ----------
    p_value : float
        Of the square's coefficient.
    share : float
        How much smaller a parabola's residual standard deviation is, as a share.
    """

    p_value: float
    share: float


def bend(fit: TrendFit, sample: Sample) -> Bend | None:
    """Find out whether the residuals of a straight line bend.

    A parabola has to fit better by more than chance (p below 0.001), and by enough to be seen:
    its residual standard deviation is at least 3 % smaller.
    """
    few = _some(sample)
    is_line = isinstance(unscaled(fit), StraightLine)
    if not is_line or few.n < 8 or len(at_least(few.x, 4)) < 4:
        return None
    line = fit_trend(few, LINE.name)
    if line.residual_sd <= 0:
        return None
    # What of the square the line has not, beside what it leaves (Frisch and Waugh 1933).
    w = mean_one(few)
    x, _ = scaled(few.x - few.x.mean())
    about = x - np.mean(w * x)
    square = about * about
    square -= np.mean(w * square)
    square -= about * (np.dot(w * about, square) / np.dot(w * about, about))
    left, _ = scaled(few.y - line.predict(few.x))
    of_line = float(np.dot(w * left, left))
    gain = float(np.dot(w * square, left)) ** 2 / float(np.dot(w * square, square))
    rest = max(of_line - gain, 0.0) / (few.n - 3)
    p = t_p_value(ratio(math.sqrt(gain), math.sqrt(rest)), few.n - 3)
    share = 1 - math.sqrt(rest / (of_line / (few.n - 2)))
    return Bend(p, share) if p < 0.001 and share >= 0.03 else None


@dataclass(frozen=True, slots=True)
class Fan:
    """Scatter that changes along x.

    Attributes
    ----------
    low, high : float
        Standard deviation of the residuals in the lowest and in the highest third of x.
    """

    low: float
    high: float


def fan(fit: TrendFit, sample: Sample) -> Fan | None:
    """Find out whether the residuals fan out (Koenker's form of Breusch and Pagan's test, 1981).

    The test has to be clear (p below 0.001), and the scatter of the outer thirds of the rows to
    differ by half or more. Fits on ln y expect it, and weighted ones allow for it.
    """
    few = _some(sample)
    if few.n < 24 or few.weights is not None or fit.r_squared_log is not None:
        return None
    residual = few.y - fit.predict(few.x)
    known = np.isfinite(residual)
    x, residual = few.x[known], residual[known]
    if x.size < 24 or float(np.ptp(x)) == 0:
        return None
    found = pearson(Sample(x, residual**2, None, np.arange(x.size)))
    if found.r is None or scipy.special.chdtrc(1, x.size * found.r**2) >= 0.001:
        return None
    ends = np.quantile(x, [1 / 3, 2 / 3])
    low, high = (float(residual[part].std()) for part in (x <= ends[0], x >= ends[1]))
    if min(low, high) <= 0 or max(low, high) / min(low, high) < 1.5:
        return None
    return Fan(low, high)


def uneven_missing(x: Array, y: Array) -> tuple[float, float] | None:
    """Shares of rows without y among those with a low and with a high x, if they clearly differ.

    Clearly: at least five are missing, one share is three times the other or more, and chance would
    make them differ so in fewer than one case in a hundred.
    """
    has_x, has_y = np.isfinite(x), np.isfinite(y)
    if has_y.all():
        return None
    missing = ~has_y[has_x]
    total = int(np.count_nonzero(missing))
    if total < 5 or missing.size < 20:
        return None
    is_high = x[has_x] > np.median(x[has_x])
    counts = [int(np.count_nonzero(missing & part)) for part in (~is_high, is_high)]
    sizes = [int(np.count_nonzero(part)) for part in (~is_high, is_high)]
    if min(sizes) == 0:
        return None
    low, high = counts[0] / sizes[0], counts[1] / sizes[1]
    if max(low, high) < 3 * min(low, high):
        return None
    # Of all missing rows each falls into the high half with that half's share of the rows.
    share = sizes[1] / (sizes[0] + sizes[1])
    more = max(counts[1], 0) if high > low else counts[0]
    chance = share if high > low else 1 - share
    p = float(scipy.special.bdtrc(more - 1, total, chance)) if more else 1.0
    return (low, high) if 2 * p < 0.01 else None


def without_row(sample: Sample, row: int) -> Sample:
    """A sample without one of its rows, named by its place in the arrays it was made from."""
    keep = sample.rows != row
    return replace(sample.take(keep), dropped=sample.dropped)


def _some(sample: Sample) -> Sample:
    """Every k-th row, so that a million cost no more than some thousands."""
    step = -(-sample.n // MOST_LOOKED_AT)
    return sample if step <= 1 else sample.take(np.arange(0, sample.n, step))


def may_hide(x: Array, y: Array, share: float) -> bool:
    """Whether more than a share of rows could stand where an earlier row stands.

    Found without putting them in order: rows that fall into different ones of many slots stand
    apart, whatever else is true of them.
    """
    slots = 4 << max(x.size, 1).bit_length()
    key, other = ((values + 0.0).view(np.uint64) for values in (x, y))
    key *= _ODD
    other *= _OTHER_ODD
    key += other
    key >>= np.uint64(65 - slots.bit_length())
    taken = np.zeros(slots, dtype=np.bool_)
    # As NumPy counts places, so that they are not turned into that one by one.
    taken[key.view(np.intp)] = True
    return x.size - int(np.count_nonzero(taken)) >= share * x.size


def share_hidden(x: Array, y: Array) -> float:
    """Share of rows that stand exactly where an earlier row stands, from 0 to 1."""
    if x.size == 0:
        return 0.0
    # Both values mixed into one key of 64 bits: one fast sort instead of two slow ones. Two places
    # among a million share a key by chance once in ten million tables.
    key = _mixed(x) * _ODD + _mixed(y)
    key.sort()
    return float(np.count_nonzero(key[1:] == key[:-1])) / x.size


_ODD = np.uint64(0x9E37_79B9_7F4A_7C15)
_OTHER_ODD = np.uint64(0xC2B2_AE3D_27D4_EB4F)


def _mixed(values: Array) -> np.ndarray:
    """Spread the bits of each value over 64 bits (the finaliser of Steele et al. 2014)."""
    z = (values + 0.0).view(np.uint64)  # adding zero makes −0 and 0 the same bits
    z = (z ^ (z >> np.uint64(30))) * np.uint64(0xBF58_476D_1CE4_E5B9)
    z = (z ^ (z >> np.uint64(27))) * np.uint64(0x94D0_49BB_1331_11EB)
    return np.asarray(z ^ (z >> np.uint64(31)))


def _slope_interval(fit: HasSlope, level: float) -> tuple[float, float, float] | None:
    for c in fit.coefficients(level):
        if c.name == "b" and c.low is not None and c.high is not None:
            return c.low, c.value, c.high
    return None
