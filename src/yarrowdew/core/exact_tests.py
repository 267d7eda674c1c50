"""Tests of ranks by counting every way in which the ranks could have fallen."""

from __future__ import annotations

import math
from collections.abc import Sequence
from functools import lru_cache
from itertools import combinations

import numpy as np

from yarrowdew.core.sample import Array

MOST_PAIRED = 10
"""Rows up to which the order of one variable by another is tested so."""
MOST_TOGETHER = 50
"""Rows of two groups together up to which their ranks are tested so."""
MOST_WAYS = 200_000
"""Ways to part rows into several groups up to which each of them is counted."""
_ROUNDING = 1e-9


def paired_ranks_p(x: Array, y: Array) -> float:
    """Share of all orders of y in which the ranks go together as much, either way.

    Parameters
    ----------
    x, y : ndarray, shape (n,)
        Ranks, tied ones at their mean; at most `MOST_PAIRED`.
    """
    a, b = _doubled(x), _doubled(y)
    n = len(a)
    counts = _sums_of_products(tuple(sorted(a)), tuple(sorted(b)))
    centre = sum(a) * sum(b)
    off = abs(n * sum(p * q for p, q in zip(a, b, strict=True)) - centre)
    as_far = sum(count for total, count in counts if abs(n * total - centre) >= off)
    return as_far / math.factorial(n)


@lru_cache(maxsize=64)
def _sums_of_products(a: tuple[int, ...], b: tuple[int, ...]) -> list[tuple[int, int]]:
    """How often each sum of products comes about over all orders of b.

    By the sets of b that the first of a have taken: what is left does not depend on their order.
    """
    most = sum(p * q for p, q in zip(a, b, strict=True))
    of_set = {0: np.ones(1, dtype=np.int64)}
    for p in a:
        after: dict[int, np.ndarray] = {}
        for taken, counts in of_set.items():
            for i, q in enumerate(b):
                if taken >> i & 1:
                    continue
                held = after.setdefault(taken | 1 << i, np.zeros(most + 1, dtype=np.int64))
                held[p * q : p * q + len(counts)] += counts[: most + 1 - p * q]
        of_set = after
    (found,) = of_set.values()
    return [(int(total), int(found[total])) for total in np.flatnonzero(found)]


def rank_sum_p(ranks: Array, first: int) -> float:
    """Share of all ways to choose the first group in which its ranks are as far from the middle.

    Parameters
    ----------
    ranks : ndarray, shape (n + m,)
        Of both groups together, the first group first, tied ones at their mean; at most
        `MOST_TOGETHER`.
    first : int
        How many rows the first group has.
    """
    doubled = _doubled(ranks)
    whole = len(doubled)
    counts = subset_sums(doubled, first)
    centre = first * sum(doubled)
    off = abs(whole * sum(doubled[:first]) - centre)
    totals = np.arange(len(counts), dtype=np.int64)
    as_far = counts[np.abs(whole * totals - centre) >= off].sum()
    return float(as_far / math.comb(whole, first))


def subset_sums(values: Sequence[int], size: int) -> Array:
    """How many choices of so many values have each sum; counts are exact below 2 ** 53."""
    most = sum(sorted(values)[len(values) - size :])
    counts = np.zeros((size + 1, most + 1))
    counts[0, 0] = 1
    for done, value in enumerate(values, 1):
        for taken in range(min(done, size), 0, -1):
            counts[taken, value:] += counts[taken - 1, : most + 1 - value]
    return np.asarray(counts[size])


def ways(sizes: Sequence[int]) -> int:
    """In how many ways rows can be parted into groups of such sizes."""
    return math.factorial(sum(sizes)) // math.prod(math.factorial(size) for size in sizes)


def several_ranks_p(ranks: Array, sizes: Sequence[int]) -> float:
    """Share of all ways to part the rows in which the groups' ranks differ as much.

    Parameters
    ----------
    ranks : ndarray, shape (n,)
        Of all groups one after the other, tied ones at their mean.
    sizes : sequence of int
        Of the groups; at most `MOST_WAYS` ways to part the rows.
    """
    ends = np.cumsum(sizes)[:-1]
    seen = sum(float(part.sum()) ** 2 / len(part) for part in np.split(ranks, ends))
    left, spread = ranks[None, :], np.zeros(1)
    for size in sizes[:-1]:
        rows = left.shape[1]
        chosen = np.array(list(combinations(range(rows), size)))
        others = np.ones((len(chosen), rows), dtype=bool)
        np.put_along_axis(others, chosen, values=False, axis=1)
        rest = np.nonzero(others)[1].reshape(len(chosen), rows - size)
        sums = left[:, chosen].sum(axis=2)
        spread = (spread[:, None] + sums**2 / size).ravel()
        left = left[:, rest].reshape(-1, rows - size)
    spread = spread + left.sum(axis=1) ** 2 / sizes[-1]
    return float(np.count_nonzero(spread >= seen * (1 - _ROUNDING)) / len(spread))


def _doubled(ranks: Array) -> list[int]:
    """Twice the ranks: the mean of tied ones is a whole number or a half."""
    return [round(2 * float(rank)) for rank in ranks]
