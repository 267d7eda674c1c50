"""Counting pairs that stand in the wrong order, and pairs that are tied."""

from __future__ import annotations

import numpy as np
import numpy.typing as npt

from yarrowdew.core.sample import Array


def inversions(values: npt.ArrayLike) -> int:
    """Count pairs i < j with values[i] > values[j], in O(n log n).

    By the bits of the ranks, the highest first: within each group that agrees on all higher bits,
    every rank with a 0 counts those with a 1 that stand before it; then the group is parted into
    its zeros and its ones, each in its old order. Ranks fill a power of two, so that each group
    has as many zeros as ones, and one running sum over all groups counts for each of them.
    """
    order = ordering(np.asarray(values))
    n = len(order)
    if n < 2:
        return 0
    bits = (n - 1).bit_length()
    size = 1 << bits
    ranked = np.arange(size, dtype=np.int32)
    ranked[order] = np.arange(n, dtype=np.int32)
    count = 0
    place = np.arange(size, dtype=np.int32)
    ones = size // 2
    for bit in range(bits - 1, -1, -1):
        half = 1 << bit
        groups = size // (2 * half)
        is_one = (ranked >> bit) & 1
        before = np.cumsum(is_one, dtype=np.int32)
        # All running sums, less those at the ones themselves, which are 1, 2, 3 …, and less the
        # `half` ones that each group before has put into the sums of a later group's zeros.
        count += int(before.sum(dtype=np.int64)) - ones * (ones + 1) // 2
        count -= half * half * (groups * (groups - 1) // 2)
        start = (place >> (bit + 1)) << bit
        to = start + np.where(is_one, before + (half - 1), place - before)
        parted = np.empty_like(ranked)
        parted[to] = ranked
        ranked = parted
    return count


def ordering(values: np.ndarray) -> npt.NDArray[np.intp]:
    """Stable order of values; the faster unstable one where no two are equal."""
    order = np.argsort(values)
    ordered = values[order]
    if (ordered[1:] == ordered[:-1]).any():
        return np.argsort(values, kind="stable")
    return order


def tied_pairs(values: npt.ArrayLike) -> int:
    """Count pairs of equal values."""
    counts = tie_sizes(values)
    return int(np.sum(counts * (counts - 1) // 2))


def tie_sizes(values: npt.ArrayLike) -> npt.NDArray[np.int64]:
    """Return how often each distinct value occurs."""
    return np.unique(np.asarray(values), return_counts=True)[1].astype(np.int64)


def ranks(values: Array) -> Array:
    """Ranks from 1, tied values at the mean of theirs."""
    _, inverse, counts = np.unique(values, return_inverse=True, return_counts=True)
    last = np.cumsum(counts)
    return np.asarray((last - (counts - 1) / 2)[inverse])
