"""What misleads people who look at a trend, found in the numbers.

Each function returns what it found, or None; the sentence is written by whoever knows the names.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any, Protocol

import numpy as np
import scipy

from yarrowdew.core.arithmetic import scaled
from yarrowdew.core.association import pearson
from yarrowdew.core.errors import FitError
from yarrowdew.core.influence import is_clear
from yarrowdew.core.intervals import ratio, t_p_value
from yarrowdew.core.sample import Array, Sample
from yarrowdew.core.trends import Family, TrendFit, fit_trend
from yarrowdew.core.trends.base import Coefficient, at_least, mean_one
from yarrowdew.core.trends.families.straight import FAMILY as LINE
from yarrowdew.core.trends.families.straight import StraightLine
from yarrowdew.core.trends.scaled import unscaled

MANY_ON_ONE_PLACE = 0.2


def free_intercept(fit: TrendFit, sample: Sample) -> Coefficient | None:
    """Find the intercept of a free line, where one through the origin leaves it out and it is
    clear.
    """
    line = unscaled(fit)
    if not isinstance(line, StraightLine) or line.intercept_given is False or line.intercept != 0:
        return None
    try:
        found = next(c for c in fit_trend(sample, LINE.name).coefficients(0.95) if c.name == "a")
    except FitError:
        return None
    return found if is_clear(found) else None


class HasSlope(Protocol):
    """A fit whose coefficient b is a slope."""

    def coefficients(self, level: float) -> tuple[Coefficient, ...]:
        """Coefficients with intervals at `level`."""


@dataclass(frozen=True, slots=True)
class Opposed:
    """Groups that go another way than all rows together, or than one another.

    Attributes
    ----------
    rising, falling : list of str
        Groups whose slope is clearly above, and clearly below zero.
    whole : int
        1 where that of all rows clearly rises, −1 where it falls, 0 where neither is clear.
    """

    rising: list[str]
    falling: list[str]
    whole: int


def opposed_groups(whole: HasSlope, groups: Mapping[str, HasSlope], level: float) -> Opposed | None:
    """Find groups that clearly go the other way; None where there are none.

    Clearly: the interval lies on one side of zero, at a level that allows for as many groups
    (Bonferroni). Lines only; a form without one slope has no direction.
    """
    every = _slope_interval(whole, level)
    if every is None or not groups:
        return None
    strict = 1 - (1 - level) / len(groups)
    rising, falling = [], []
    for name, fit in groups.items():
        interval = _slope_interval(fit, strict)
        if interval is not None and interval[0] > 0:
            rising.append(name)
        elif interval is not None and interval[2] < 0:
            falling.append(name)
    sign = 1 if every[0] > 0 else -1 if every[2] < 0 else 0
    against = falling if sign > 0 else rising if sign < 0 else (rising and falling)
    return Opposed(rising, falling, sign) if against else None


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


def cut_off(sample: Sample, family: Family[Any], settings: Any) -> Bend | None:
    """Find out whether a smooth cuts off bends that one which follows the rows more closely shows.

    By the approximate F test of Cleveland and Devlin (1988, section 4) against half its span: p below
    0.001, and 3 % less residual scatter.
    """
    both = family.closer(family.settings() if settings is None else settings)
    few = _some(sample)
    if both is None or few.n < 20:
        return None
    try:
        stiff, loose = (fit_trend(few, family.name, one) for one in both)
    except FitError:
        return None
    between = stiff.degrees_of_freedom - loose.degrees_of_freedom
    if between <= 0 or loose.degrees_of_freedom < 5 or loose.residual_sd <= 0:
        return None
    share = 1 - loose.residual_sd / stiff.residual_sd
    if not share >= 0.03:
        return None
    # In units of the smaller scatter, so that no square overflows.
    whole = (stiff.residual_sd / loose.residual_sd) ** 2 * stiff.degrees_of_freedom
    f = (whole - loose.degrees_of_freedom) / between
    p = float(scipy.special.fdtrc(between, loose.degrees_of_freedom, max(f, 0.0)))
    return Bend(p, share) if p < 0.001 else None


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


def shortens_mean_interval(skewness: float, n: int) -> bool:
    """Whether Student's interval of a mean covers clearly less often than it says.

    By the first term of its Edgeworth expansion (Hall 1992, section 2.6) a 95 % interval loses
    0.25 γ²/n: 2 % where γ²/n is 0.08. The skewness must also be more than 2.33 of its standard
    errors under normality, which few of many normal samples reach.
    """
    if n < 8:
        return False
    error = math.sqrt(6 * n * (n - 1) / ((n - 2) * (n + 1) * (n + 3)))
    return skewness**2 / n > 0.08 and abs(skewness) > 2.33 * error


def heavy_tails(values: Array) -> float | None:
    """Excess kurtosis, where it is above 2 and clearly that of no normal variable.

    Clearly: p below 0.001 in the test of Anscombe and Glynn (1983), for 20 values or more.
    """
    n = values.size
    if n < 20:
        return None
    about, _ = scaled(values)
    about = about - about.mean()
    variance = float(np.mean(about**2))
    if variance <= 0:
        return None
    kurtosis = float(np.mean((about**2 / variance) ** 2))
    if kurtosis <= 5:
        return None
    mean = 3 * (n - 1) / (n + 1)
    spread = 24 * n * (n - 2) * (n - 3) / ((n + 1) ** 2 * (n + 3) * (n + 5))
    standard = (kurtosis - mean) / math.sqrt(spread)
    skew = 6 * (n * n - 5 * n + 2) / ((n + 7) * (n + 9))
    skew *= math.sqrt(6 * (n + 3) * (n + 5) / (n * (n - 2) * (n - 3)))
    a = 6 + 8 / skew * (2 / skew + math.sqrt(1 + 4 / skew**2))
    root = (1 - 2 / a) / (1 + standard * math.sqrt(2 / (a - 4)))
    z = (1 - 2 / (9 * a) - math.copysign(abs(root) ** (1 / 3), root)) / math.sqrt(2 / (9 * a))
    return kurtosis - 3 if scipy.special.ndtr(-z) < 0.0005 else None


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
