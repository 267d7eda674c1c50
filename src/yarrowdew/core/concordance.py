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
    return inversions_of_ranks(dense_ranks(np.asarray(values)))


def inversions_of_ranks(ranks_: npt.NDArray[np.int64]) -> int:
    """Count as `inversions` does, from ranks that are there already."""
    n = len(ranks_)
    if n < 2:
        return 0
    # Equal values are ranked as they stand, so that none of them counts another.
    order = in_order(ranks_)
    bits = max((n - 1).bit_length(), _COMPARED_BITS)
    size = 1 << bits
    ranked = np.arange(size, dtype=np.int32)
    ranked[order] = np.arange(n, dtype=np.int32)
    count = 0
    place = np.arange(size, dtype=np.int32)
    ones = size // 2
    for bit in range(bits - 1, _COMPARED_BITS - 1, -1):
        half = 1 << bit
        groups = size // (2 * half)
        is_one = (ranked >> bit) & 1
        before = np.cumsum(is_one, dtype=np.int32)
        # All running sums, less those at the ones themselves, which are 1, 2, 3 …, and less the
        # `half` ones that each group before has put into the sums of a later group's zeros.
        count += int(before.sum(dtype=np.int64)) - ones * (ones + 1) // 2
        count -= half * half * (groups * (groups - 1) // 2)
        # Zeros go to the front of their group, ones behind them; without a branch it is faster.
        to = ((place >> (bit + 1)) << bit) + (place - before)
        to += is_one * (2 * before + (half - 1) - place)
        parted = np.empty_like(ranked)
        parted[to] = ranked
        ranked = parted
    # What is left are groups that differ in a few low bits: every pair of places is compared.
    low = (ranked & ((1 << _COMPARED_BITS) - 1)).astype(np.uint8).reshape(-1, 1 << _COMPARED_BITS)
    for gap in range(1, low.shape[1]):
        count += int(np.count_nonzero(low[:, :-gap] > low[:, gap:]))
    return count


_COMPARED_BITS = 5


def dense_ranks(values: np.ndarray) -> npt.NDArray[np.int64]:
    """Ranks from 0, one for each distinct value."""
    order = np.argsort(values)
    ordered = values[order]
    out = np.empty(len(values), dtype=np.int64)
    steps = np.zeros(len(values), dtype=np.int64)
    np.cumsum(ordered[1:] != ordered[:-1], out=steps[1:])
    out[order] = steps
    return out


_PLACE_BITS = 31
_PLACE = (1 << _PLACE_BITS) - 1


def in_order(first: npt.NDArray[np.int64]) -> npt.NDArray[np.int64]:
    """Stable order of ranks: rank and place in one key, of which one fast sort is made."""
    keys = (first << _PLACE_BITS) | np.arange(len(first))
    keys.sort()
    return keys & _PLACE


def sorted_pairs(
    x: npt.NDArray[np.int64], y: npt.NDArray[np.int64]
) -> tuple[npt.NDArray[np.int64], npt.NDArray[np.bool_]]:
    """Ranks of y in the order of x, and then of y; and where a pair is the same as the one
    before.
    """
    keys = (x << _PLACE_BITS) | y
    keys.sort()
    return keys & _PLACE, keys[1:] == keys[:-1]


def tie_sizes(values: npt.ArrayLike) -> npt.NDArray[np.int64]:
    """Return how often each distinct value occurs."""
    return np.unique(np.asarray(values), return_counts=True)[1].astype(np.int64)


def ranks(values: Array) -> Array:
    """Ranks from 1, tied values at the mean of theirs."""
    _, inverse, counts = np.unique(values, return_inverse=True, return_counts=True)
    last = np.cumsum(counts)
    return np.asarray((last - (counts - 1) / 2)[inverse])
