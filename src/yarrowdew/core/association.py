"""How strongly two variables go together."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import scipy

from yarrowdew.core.arithmetic import scaled
from yarrowdew.core.concordance import dense_ranks, inversions_of_ranks, ranks, sorted_pairs
from yarrowdew.core.exact_tests import MOST_PAIRED, paired_ranks_p
from yarrowdew.core.intervals import normal_quantile, ratio, t_p_value
from yarrowdew.core.register import documented
from yarrowdew.core.sample import Array, Sample

_SAFE = 1e-100
"""Sums of squares beyond this or its inverse may have lost digits."""


@dataclass(frozen=True, slots=True)
class Correlation:
    """A correlation coefficient, its interval and p value; None where one does not exist."""

    r: float | None
    n: int
    low: float | None
    high: float | None
    p_value: float | None


def pearson(sample: Sample, level: float = 0.95) -> Correlation:
    """Pearson's product-moment correlation.

    Parameters
    ----------
    sample : Sample
        Complete pairs; weights are not used.
    level : float
        Of the interval, which is Fisher's z (1921) and needs four rows.

    Returns
    -------
    Correlation
        The p value is exact under normality (Student's t on n − 2); all but n are None where x
        or y has no spread or there are fewer than three rows.
    """
    n = sample.n
    if n < 3:
        return Correlation(None, n, None, None, None)
    dx, dy = (_about_mean(v) for v in (sample.x, sample.y))
    sxx, syy, sxy = float(np.dot(dx, dx)), float(np.dot(dy, dy)), float(np.dot(dx, dy))
    if not (_SAFE < sxx < 1 / _SAFE and _SAFE < syy < 1 / _SAFE):
        # Sums that overflow or vanish are taken again of values scaled to at most one.
        x_scale, y_scale = float(np.abs(dx).max()), float(np.abs(dy).max())
        if x_scale == 0 or y_scale == 0:
            return Correlation(None, n, None, None, None)
        dx, dy = dx / x_scale, dy / y_scale
        sxx, syy, sxy = float(np.dot(dx, dx)), float(np.dot(dy, dy)), float(np.dot(dx, dy))
    return correlation_of(max(-1.0, min(1.0, sxy / math.sqrt(sxx * syy))), n, level)


@documented(
    "pairs",
    "Pearson’s r",
    "interval by Fisher (1921); p by Student’s t. Beside a straight line r stands with the line’s own test; with weights it is the root of the weighted R²; it is not shown beside another test",
    "supposes normal margins; a caution says where tails make it short",
)
def correlation_of(r: float | None, n: int, level: float = 0.95) -> Correlation:
    """Say what a product-moment correlation of n rows is worth; see `pearson`."""
    if r is None or n < 3:
        return Correlation(None, n, None, None, None)
    p = t_p_value(ratio(r * math.sqrt(n - 2), math.sqrt((1 - r) * (1 + r))), n - 2)
    if n < 4:
        return Correlation(r, n, None, None, p)
    if abs(r) == 1:
        return Correlation(r, n, r, r, p)
    half = normal_quantile(level) / math.sqrt(n - 3)
    z = math.atanh(r)
    return Correlation(r, n, math.tanh(z - half), math.tanh(z + half), p)


def _about_mean(values: Array) -> Array:
    """Values less their mean, in a unit in which they can be added up."""
    inner, _ = scaled(values)
    return np.asarray(inner - inner.mean())


@documented(
    "pairs",
    "Spearman’s ρ",
    "p by all orders up to 10 rows, Student’s t above; interval by Bonett and Wright (2000), none where the order is perfect",
    "p exact up to 10 rows, ties as they are",
)
def spearman(sample: Sample, level: float = 0.95) -> Correlation:
    """Spearman's rank correlation, tied values at the mean of their ranks.

    Parameters
    ----------
    sample : Sample
        Complete pairs; weights are not used.
    level : float
        Of the interval: Fisher's z with the variance of Bonett and Wright (2000).

    Returns
    -------
    Correlation
        The p value is exact up to `MOST_PAIRED` rows, with ties as they are, and Student's t on
        n − 2 above. Without an interval where the order is the same throughout, or the reverse.
    """
    n, rows = sample.n, np.arange(sample.n)
    x, y = ranks(sample.x), ranks(sample.y)
    of_ranks = pearson(Sample(x, y, None, rows), level)
    r = of_ranks.r
    if r is None:
        return of_ranks
    p = paired_ranks_p(x, y) if n <= MOST_PAIRED else of_ranks.p_value
    if of_ranks.low is None or abs(r) == 1:
        return Correlation(r, n, None, None, p)
    half = normal_quantile(level) * math.sqrt((1 + r * r / 2) / (n - 3))
    z = math.atanh(r)
    return Correlation(r, n, math.tanh(z - half), math.tanh(z + half), p)


EXACT_KENDALL = 170
"""Rows up to which Kendall's p value is exact, where nothing is tied."""


@documented(
    "pairs",
    "Kendall’s τ-b",
    "p by Kendall’s S; interval by Fieller, Hartley and Pearson (1957), none where the order is perfect",
    "p exact to 170 rows without ties",
)
def kendall(sample: Sample, level: float = 0.95) -> Correlation:
    """Kendall's τ-b, in O(n log n) (Knight 1966).

    Parameters
    ----------
    sample : Sample
        Complete pairs; weights are not used.
    level : float
        Of the interval: Fisher's z with the variance of Fieller, Hartley and Pearson (1957).

    Returns
    -------
    Correlation
        The p value is exact up to `EXACT_KENDALL` rows without ties, and else from the normal
        approximation with the variance of tied ranks (Kendall 1970, ch. 4).
    """
    n = sample.n
    if n < 3:
        return Correlation(None, n, None, None, None)
    x, y = dense_ranks(sample.x), dense_ranks(sample.y)
    x_sizes, y_sizes = np.bincount(x), np.bincount(y)
    total = n * (n - 1) // 2
    x_ties, y_ties = (int(np.sum(t * (t - 1) // 2)) for t in (x_sizes, y_sizes))
    if total in (x_ties, y_ties):
        return Correlation(None, n, None, None, None)
    y, is_same = sorted_pairs(x, y)
    # Pairs tied in both: every run of one pair counts as a group.
    runs = np.bincount(np.concatenate([[0], np.cumsum(~is_same)]))
    both = int(np.sum(runs * (runs - 1) // 2))
    discordant = inversions_of_ranks(y)
    s = total - x_ties - y_ties + both - 2 * discordant
    tau = s / math.sqrt(float(total - x_ties) * float(total - y_ties))
    tau = max(-1.0, min(1.0, tau))
    p = _kendall_p(s, n, x_sizes, y_sizes, discordant)
    if n < 5 or abs(tau) == 1:
        return Correlation(tau, n, None, None, p)
    half = normal_quantile(level) * math.sqrt(0.437 / (n - 4))
    z = math.atanh(tau)
    return Correlation(tau, n, math.tanh(z - half), math.tanh(z + half), p)


def _kendall_p(s: int, n: int, x_sizes: np.ndarray, y_sizes: np.ndarray, discordant: int) -> float:
    tied = bool((x_sizes > 1).any() or (y_sizes > 1).any())
    if not tied and n <= EXACT_KENDALL:
        return exact_kendall_p(n, discordant)
    variance = kendall_variance(n, x_sizes, y_sizes)
    if variance <= 0:
        return 1.0
    return float(scipy.special.erfc(abs(s) / math.sqrt(2 * variance)))


def kendall_variance(n: int, x_sizes: np.ndarray, y_sizes: np.ndarray) -> float:
    """Variance of Kendall's S where the null hypothesis holds, with ties (Kendall 1970, ch. 4).

    Parameters
    ----------
    n : int
    x_sizes, y_sizes : ndarray
        How often each distinct value occurs.
    """
    t, u = (np.asarray(v, dtype=np.float64) for v in (x_sizes, y_sizes))

    def sums(v: Array) -> tuple[float, float, float]:
        return (
            float(np.sum(v * (v - 1) * (2 * v + 5))),
            float(np.sum(v * (v - 1) * (v - 2))),
            float(np.sum(v * (v - 1))),
        )

    (t0, t1, t2), (u0, u1, u2) = sums(t), sums(u)
    m = float(n)
    out = (m * (m - 1) * (2 * m + 5) - t0 - u0) / 18
    if n > 2:
        out += t1 * u1 / (9 * m * (m - 1) * (m - 2))
    return out + t2 * u2 / (2 * m * (m - 1))


def exact_kendall_p(n: int, discordant: int) -> float:
    """Share of all orders that have as few inversions, or as many, by their counts (Kendall)."""
    most = n * (n - 1) // 2
    fewer = min(discordant, most - discordant)
    if 2 * fewer == most:
        return 1.0
    # Shares, not counts: those of n rows are the running means of those of n − 1.
    shares = np.zeros(fewer + 1)
    shares[0] = 1.0
    for k in range(2, n + 1):
        summed = np.cumsum(shares)
        if k < len(summed):
            summed[k:] -= np.cumsum(shares)[:-k]
        shares = summed / k
    return float(min(1.0, 2 * shares.sum()))


@documented(
    "pairs",
    "lists of pairs",
    "p values adjusted by Holm (1979) for the number of pairs",
    "holds whatever the pairs have in common",
)
def holm(p_values: Sequence[float | None]) -> list[float | None]:
    """Adjust p values for having looked at all of them (Holm 1979); None stays None."""
    known = [(p, i) for i, p in enumerate(p_values) if p is not None]
    out: list[float | None] = [None] * len(p_values)
    largest = 0.0
    for rank, (p, i) in enumerate(sorted(known)):
        largest = max(largest, min(1.0, p * (len(known) - rank)))
        out[i] = largest
    return out


EXACT_DISTANCE = 1_500
"""Rows up to which the distance correlation is exact; above, of so many evenly chosen rows."""


@documented(
    "pairs",
    "distance correlation",
    "Székely and Rizzo (2013)",
    "p approximate",
)
def distance_correlation(sample: Sample, level: float = 0.95) -> Correlation:
    """Distance correlation (Székely, Rizzo and Bakirov 2007): 0 only where nothing goes together.

    It sees bent relations, too. Above `EXACT_DISTANCE` rows it is that of so many rows, taken
    evenly in the order given.

    Returns
    -------
    Correlation
        From 0 to 1, without an interval. The p value is Székely and Rizzo's (2013) t test on the
        unbiased estimate.
    """
    n = sample.n
    if n < 4:
        return Correlation(None, n, None, None, None)
    kept = np.unique(np.linspace(0, n - 1, min(n, EXACT_DISTANCE)).astype(np.intp))
    x, y = (scaled(v[kept])[0] for v in (sample.x, sample.y))
    x, y = ((v - v.mean()) / (float(np.abs(v - v.mean()).max()) or 1.0) for v in (x, y))
    if np.ptp(x) == 0 or np.ptp(y) == 0:
        return Correlation(None, n, None, None, None)
    a, b = (np.abs(v[:, None] - v[None, :]) for v in (x, y))
    m = len(kept)
    centred = [d - d.mean(axis=0) - d.mean(axis=1)[:, None] + d.mean() for d in (a, b)]
    covariance = float(np.mean(centred[0] * centred[1]))
    spread = math.sqrt(float(np.mean(centred[0] ** 2)) * float(np.mean(centred[1] ** 2)))
    r = math.sqrt(max(covariance, 0.0) / spread) if spread > 0 else 0.0
    return Correlation(min(r, 1.0), n, None, None, _distance_p(a, b, m))


def _distance_p(a: Array, b: Array, m: int) -> float:
    """T test of independence on the U-centred distances (Székely and Rizzo 2013)."""
    off = ~np.eye(m, dtype=bool)
    centred = []
    for d in (a, b):
        rows = d.sum(axis=0) / (m - 2)
        u = d - rows[:, None] - rows[None, :] + d.sum() / ((m - 1) * (m - 2))
        centred.append(np.where(off, u, 0.0))
    spread = math.sqrt(float(np.sum(centred[0] ** 2)) * float(np.sum(centred[1] ** 2)))
    unbiased = float(np.sum(centred[0] * centred[1])) / spread if spread else 0.0
    df = m * (m - 3) / 2 - 1
    t = ratio(unbiased * math.sqrt(df), math.sqrt(max(1 - unbiased**2, 0.0)))
    return float(scipy.special.stdtr(df, -t))
