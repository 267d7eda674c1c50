"""Quantiles of values that are never together, with a stated error.

A value's distance from a pivot is cut to its sign, its power of two and the next ten bits. Values
with the same cut are counted together: the cuts stand in the order of the values, merging them is
adding up counts, and a quantile is known to lie in its cell, whose half width is at most 2⁻¹¹ of its
distance from the pivot.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from yarrowdew.core.aggregates.exact_sums import stretches
from yarrowdew.core.sample import Array

_BITS = 10
_SHIFT = 52 - _BITS
_MOST_CELLS = 1 << 21
RELATIVE_ERROR = 2.0 ** -(_BITS + 1)
"""Of the distance from the pivot."""

Cuts = npt.NDArray[np.int64]


@dataclass(frozen=True, slots=True)
class Quantiles:
    """Counts of cut values.

    Attributes
    ----------
    pivot : float
    cuts : ndarray of int64, shape (k,)
        Ascending.
    counts : ndarray of int64, shape (k,)
    """

    pivot: float
    cuts: Cuts
    counts: npt.NDArray[np.int64]

    @classmethod
    def of(cls, values: Array, pivot: float) -> Quantiles:
        """Count values, shape (rows,); NaN where missing."""
        cuts = np.empty(len(values), dtype=np.int64)
        count = 0
        for some in stretches(len(values)):
            own = values[some]
            there = np.isfinite(own)
            kept = own if there.all() else own[there]
            cuts[count : count + len(kept)] = _cut(kept - pivot)
            count += len(kept)
        return cls(pivot, *_counted(cuts[:count]))

    def merge(self, other: Quantiles) -> Quantiles:
        """The same of these values and of others."""
        if self.pivot != other.pivot:
            raise ValueError("quantiles about different pivots are not merged")
        cuts, places = np.unique(np.concatenate([self.cuts, other.cuts]), return_inverse=True)
        counts = np.zeros(len(cuts), dtype=np.int64)
        np.add.at(counts, places, np.concatenate([self.counts, other.counts]))
        return Quantiles(self.pivot, cuts, counts)

    @property
    def n(self) -> int:
        """How many values were counted."""
        return int(self.counts.sum())

    def at(self, share: float) -> tuple[float, float] | None:
        """The cell in which a quantile lies.

        Parameters
        ----------
        share : float
            From 0 to 1: the quantile is the value with ⌈share · n⌉ values up to it.

        Returns
        -------
        tuple of float, or None
            Ends between which it lies; None where there is no value.
        """
        n = self.n
        if not n:
            return None
        return self.cell(min(max(int(np.ceil(share * n)), 1), n) - 1)

    def cell(self, rank: int) -> tuple[float, float]:
        """The cell in which the value lies that so many others come before."""
        low, high = (float(v) + self.pivot for v in _ends(self.cuts[self._place(rank)]))
        return low, high

    def held_in_cell(self, rank: int) -> int:
        """How many values lie in that cell."""
        return int(self.counts[self._place(rank)])

    def _place(self, rank: int) -> int:
        return int(np.searchsorted(np.cumsum(self.counts), rank + 1))

    def exactly(self, rank: int, values: Array, counts: npt.NDArray[np.int64]) -> float:
        """The value that so many others come before.

        Parameters
        ----------
        rank : int
        values, counts : ndarray, shape (k,)
            Different values, ascending, among which are all of its cell, and how often each is there.
        """
        place = self._place(rank)
        own = _cut(values - self.pivot) == self.cuts[place]
        left = rank - int(self.counts[:place].sum())
        among = np.searchsorted(np.cumsum(counts[own]), left + 1)
        return float(values[own][among])

    def middle(self, share: float) -> float | None:
        """The middle of that cell."""
        found = self.at(share)
        return None if found is None else found[0] / 2 + found[1] / 2


def _cut(off: Array) -> Cuts:
    """Cut numbers, keeping their order: bits of negative ones run backwards."""
    # −0 and 0 are one number.
    off = off + 0.0
    signed = off.view(np.int64)
    bits = np.abs(off).view(np.int64)
    bits >>= _SHIFT
    # All ones where a number is negative: the exclusive or turns its bits round.
    bits ^= signed >> 63
    return bits


def _counted(cuts: Cuts) -> tuple[Cuts, npt.NDArray[np.int64]]:
    """Different cuts, ascending, and how often each is there."""
    if not len(cuts):
        return cuts, cuts
    low = cuts.min()
    if cuts.max() - low > _MOST_CELLS:
        found, counts = np.unique(cuts, return_counts=True)
        return found, counts.astype(np.int64)
    # Counting in cells is many times as fast as sorting, where there are not too many of them.
    cuts -= low
    counts = np.bincount(cuts)
    there = np.flatnonzero(counts)
    return there + low, counts[there].astype(np.int64)


def _ends(cut: np.int64) -> Array:
    """Between which numbers a cut holds."""
    bits = -cut - 1 if cut < 0 else cut
    ends = (np.array([bits, bits + 1], dtype=np.int64) << _SHIFT).view(np.float64)
    return np.asarray(-ends[::-1] if cut < 0 else ends)
