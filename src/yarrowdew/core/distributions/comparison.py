"""Groups of one number compared: differences of two, and whether any of several differ."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import scipy

from yarrowdew.core.concordance import ranks
from yarrowdew.core.exact_tests import (
    MOST_TOGETHER,
    MOST_WAYS,
    rank_sum_p,
    several_ranks_p,
    subset_sums,
    ways,
)
from yarrowdew.core.intervals import normal_quantile, t_p_value, t_quantile
from yarrowdew.core.register import documented
from yarrowdew.core.sample import Array

_STEPS = 200


@dataclass(frozen=True, slots=True)
class Difference:
    """How much larger the second of two groups is, with its interval and test.

    Attributes
    ----------
    value : float
    low, high : float or None
        None where so few rows leave no interval of the level.
    p_value : float
    """

    value: float
    low: float | None
    high: float | None
    p_value: float


@dataclass(frozen=True, slots=True)
class Moments:
    """What is known of a group of which means are compared.

    Attributes
    ----------
    n : int
    mean : float
    variance : float or None
        On n − 1; None for fewer than two values.
    """

    n: int
    mean: float
    variance: float | None

    @classmethod
    def of(cls, values: Array) -> Moments:
        """Of values, shape (n,)."""
        variance = float(values.var(ddof=1)) if len(values) > 1 else None
        return cls(len(values), float(values.mean()) if len(values) else 0.0, variance)


@documented(
    "distributions",
    "difference of two means",
    "Welch (1947), Satterthwaite (1946); intervals of pairs allow for their number (Bonferroni), p values by Holm (1979)",
    "approximate",
)
def mean_difference(first: Moments, second: Moments, level: float = 0.95) -> Difference | None:
    """Difference of means where groups scatter differently (Welch 1947, Satterthwaite 1946).

    None where a group has fewer than two values, or neither varies.
    """
    if first.variance is None or second.variance is None:
        return None
    parts = [first.variance / first.n, second.variance / second.n]
    total = sum(parts)
    if not total > 0 or not math.isfinite(total):
        return None
    df = total**2 / sum(
        part**2 / (one.n - 1) for part, one in zip(parts, (first, second), strict=True)
    )
    value = second.mean - first.mean
    half = t_quantile(level, df) * math.sqrt(total)
    return Difference(value, value - half, value + half, t_p_value(value / math.sqrt(total), df))


@documented(
    "distributions",
    "difference of locations",
    "Hodges and Lehmann (1963); p by Mann and Whitney (1947); interval by these or, where it reaches further, by Brunner and Munzel (2000)",
    "p exact up to 50 rows together, ties as they are; normal approximation above. The interval holds also where spreads differ (see the table of coverage); of skewed groups it is that of the median of all differences",
)
def shift(first: Array, second: Array, level: float = 0.95) -> Difference | None:
    """By how much the second group lies further on: the median of all differences between the two.

    Hodges and Lehmann (1963), with the test of Mann and Whitney (1947), which is exact up to
    `MOST_TOGETHER` rows. The interval leaves out at each end no more differences than either of two
    ways allows: the rank sum, which supposes equal spreads, exact up to as many rows (with ties it
    covers at least as often as it says) and above by the normal approximation with ties (Lehmann
    1975, section 2.3); and Brunner and Munzel's statistic (2000), which does not. Exact for any
    number of rows: differences are counted and not made. None where a group is empty or all values
    are one.
    """
    a, b = np.sort(first), np.sort(second)
    n, m = len(a), len(b)
    if min(n, m) < 1:
        return None
    pairs = n * m
    spread = _rank_spread(a, b)
    if not spread > 0:
        return None
    is_exact = n + m <= MOST_TOGETHER
    outside = _outside_exact(n, m, level) if is_exact else _outside(pairs, spread, level)
    middle = (_difference_at(a, b, (pairs - 1) // 2) + _difference_at(a, b, pairs // 2)) / 2
    low = high = None
    below, above = _outside_unequal(a, b, middle, outside, level) if outside else (0, 0)
    if below and above:
        low, high = _difference_at(a, b, below - 1), _difference_at(a, b, pairs - above)
    if is_exact:
        p = rank_sum_p(ranks(np.concatenate([a, b])), n)
    else:
        more = float(np.searchsorted(a, b, side="left").sum())
        ties = float(np.searchsorted(a, b, side="right").sum()) - more
        z = (more + ties / 2 - pairs / 2) / spread
        p = float(2 * scipy.special.ndtr(-abs(z)))
    return Difference(middle, low, high, p)


def _outside_unequal(a: Array, b: Array, middle: float, most: int, level: float) -> tuple[int, int]:
    """How many differences an interval leaves out at each end where spreads may be unequal.

    Of few rows, moves of `b` are refused one difference after the other; of many, whose placements
    hardly change from one end to the other, their variance at the middle is that of all moves.
    """
    n, m = len(a), len(b)
    if n + m > MOST_TOGETHER:
        _, se, t = _placements(a, b - middle, level)
        outside = min(most, max(0, math.floor(n * m * (0.5 - t * se) + 0.5)))
        return outside, outside

    ordered = np.sort(np.subtract.outer(b, a), axis=None)

    def is_refused(rank: int) -> bool:
        """Whether `b` moved to between this difference and the next is told apart from `a`."""
        moved = b - (ordered[rank] / 2 + ordered[rank + 1] / 2)
        share, se, t = _placements(a, moved, level)
        return abs(share - 0.5) > t * se

    last = n * m - 2
    below = next((k + 1 for k in range(most - 1) if not is_refused(k)), most)
    above = next((k + 1 for k in range(most - 1) if not is_refused(last - k)), most)
    return below, above


def _placements(a: Array, b: Array, level: float) -> tuple[float, float, float]:
    """Share of pairs with `b` above `a`, its standard error, and the quantile that goes with it.

    Both are sorted. Brunner and Munzel (2000), with Student's t by Satterthwaite's degrees of
    freedom.
    """
    n, m = len(a), len(b)
    of_a = (np.searchsorted(b, a, "left") + np.searchsorted(b, a, "right")) / (2 * m)
    of_b = (np.searchsorted(a, b, "left") + np.searchsorted(a, b, "right")) / (2 * n)
    share = float(of_b.mean())
    if min(n, m) < 2:
        return share, math.inf, 1.0
    parts = float(of_a.var(ddof=1)) / n, float(of_b.var(ddof=1)) / m
    total = sum(parts)
    if not total > 0:
        return share, 0.0, 1.0
    df = total**2 / (parts[0] ** 2 / (n - 1) + parts[1] ** 2 / (m - 1))
    return share, math.sqrt(total), t_quantile(level, df)


def _outside_exact(n: int, m: int, level: float) -> int:
    """How many differences an interval of the level leaves out at each end, by counting."""
    # The sum of n of the ranks from 1 on, less its least, counts differences below a value.
    counts = subset_sums(range(1, n + m + 1), n)[n * (n + 1) // 2 :]
    shares = np.cumsum(counts) / math.comb(n + m, n)
    return int(np.searchsorted(shares, (1 - level) / 2, side="right"))


def _outside(pairs: int, spread: float, level: float) -> int:
    """How many differences an interval of the level leaves out at each end, nearly."""
    return max(0, math.floor(pairs / 2 - normal_quantile(level) * spread + 0.5))


def _rank_spread(a: Array, b: Array) -> float:
    """Standard deviation of the count of pairs, with what ties take from it."""
    n, m = len(a), len(b)
    total = n + m
    _, counts = np.unique(np.concatenate([a, b]), return_counts=True)
    tied = float((counts.astype(np.float64) ** 3 - counts).sum())
    free = total + 1 - tied / (total * (total - 1))
    return math.sqrt(max(0.0, n * m / 12 * free))


def _difference_at(a: Array, b: Array, rank: int) -> float:
    """The difference b − a that so many differences are smaller than, or as small as."""
    low, high = float(b[0] - a[-1]), float(b[-1] - a[0])
    for _ in range(_STEPS):
        middle = low / 2 + high / 2
        if middle in (low, high):
            break
        # Differences up to `middle`: for each of b those of a that are at least b − middle.
        count = len(a) * len(b) - int(np.searchsorted(a, b - middle, side="left").sum())
        if count > rank:
            high = middle
        else:
            low = middle
    # What was closed in upon is a difference of two values, and as exact as they are.
    place = np.searchsorted(a, b - high, side="left")
    near = np.concatenate([b - a[np.clip(place + step, 0, len(a) - 1)] for step in (-1, 0)])
    return float(near[np.argmin(np.abs(near - high))])


@dataclass(frozen=True, slots=True)
class OfSeveral:
    """Whether any of several groups differ.

    Attributes
    ----------
    statistic : float
        F of the means, or H of the ranks.
    df : tuple of float
        One number of degrees of freedom for H, two for F.
    p_value : float
    is_exact : bool
        Whether the p value was counted.
    """

    statistic: float
    df: tuple[float, ...]
    p_value: float
    is_exact: bool = False


@documented(
    "distributions",
    "several means",
    "Welch’s F (1951)",
    "approximate",
)
def variance_analysis(groups: Sequence[Moments]) -> OfSeveral | None:
    """Whether means differ, where groups scatter differently (Welch 1951); None for too few
    values.
    """
    held = [one for one in groups if one.variance is not None and one.variance > 0]
    k = len(held)
    if k < 2 or k < len([one for one in groups if one.n]):
        return None
    weights = np.array([one.n / (one.variance or 1.0) for one in held])
    means = np.array([one.mean for one in held])
    total = float(weights.sum())
    centre = float(weights @ means) / total
    between = float(weights @ (means - centre) ** 2) / (k - 1)
    sizes = np.array([one.n for one in held])
    off = float(((1 - weights / total) ** 2 / (sizes - 1)).sum())
    f = between / (1 + 2 * (k - 2) / (k**2 - 1) * off)
    df = (k**2 - 1) / (3 * off)
    return OfSeveral(f, (float(k - 1), df), float(scipy.special.fdtrc(k - 1, df, f)))


@documented(
    "distributions",
    "several groups by ranks",
    "Kruskal and Wallis (1952)",
    "exact where the rows can be parted in 200,000 ways or fewer; χ² above",
)
def rank_analysis(groups: Sequence[Array]) -> OfSeveral | None:
    """Whether groups lie differently, by ranks (Kruskal and Wallis 1952), with ties.

    The p value is exact up to `MOST_TOGETHER` rows of two groups and `MOST_WAYS` ways to part the
    rows of more, and by χ² above.
    """
    held = [values for values in groups if len(values)]
    k = len(held)
    if k < 2:
        return None
    sizes = [len(values) for values in held]
    together = np.concatenate(held)
    n = len(together)
    _, counts = np.unique(together, return_counts=True)
    tied = 1 - float((counts.astype(np.float64) ** 3 - counts).sum()) / (float(n) ** 3 - n)
    if not tied > 0:
        return None
    ranked = ranks(together)
    sums = [float(part.sum()) ** 2 / len(part) for part in np.split(ranked, np.cumsum(sizes)[:-1])]
    h = max(0.0, (12 / (n * (n + 1)) * sum(sums) - 3 * (n + 1)) / tied)
    if k == 2 and n <= MOST_TOGETHER:
        return OfSeveral(h, (1.0,), rank_sum_p(ranked, sizes[0]), is_exact=True)
    if n <= MOST_TOGETHER and ways(sizes) <= MOST_WAYS:
        return OfSeveral(h, (float(k - 1),), several_ranks_p(ranked, sizes), is_exact=True)
    return OfSeveral(h, (float(k - 1),), float(scipy.special.chdtrc(k - 1, h)))
