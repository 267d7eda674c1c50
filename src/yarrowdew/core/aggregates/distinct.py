"""How many different values there are among values that are never together.

Values are hashed, and of their hashes those are kept that end in so many zeros that the kept ones
are few (adaptive sampling, Wegman 1984; Flajolet 1990). What is kept depends on which values there
are alone: not on how often, in what order, or in which parts.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from yarrowdew.core.aggregates.exact_sums import stretches
from yarrowdew.core.aggregates.hashing import mixed
from yarrowdew.core.sample import Array

MOST_KEPT = 1 << 14
"""Up to so many different values are counted exactly."""
_MOST_WAITING = 4 * MOST_KEPT
RELATIVE_ERROR = 1.2 / math.sqrt(MOST_KEPT)
"""Standard error of more."""

Hashes = npt.NDArray[np.uint64]


@dataclass(frozen=True, slots=True)
class Distinct:
    """Different values.

    Attributes
    ----------
    zeros : int
        How many zeros the kept hashes end in.
    hashes : ndarray of uint64, shape (kept,)
        Ascending.
    """

    zeros: int
    hashes: Hashes

    @classmethod
    def of(cls, values: Array) -> Distinct:
        """Of values, shape (rows,), all finite."""
        found = cls(0, np.empty(0, dtype=np.uint64))
        waiting: list[Hashes] = []
        held = 0
        for some in stretches(len(values)):
            hashes = _hashed(values[some])
            kept = hashes[_ends_in(hashes, found.zeros)] if found.zeros else hashes
            waiting.append(kept)
            held += len(kept)
            # Several stretches are sorted at once; the first shows what need not be kept.
            if held > _MOST_WAITING or not found.zeros:
                found = _kept(found.zeros, found.hashes, *waiting)
                waiting, held = [], 0
        return _kept(found.zeros, found.hashes, *waiting)

    def merge(self, other: Distinct) -> Distinct:
        """The same of these values and of others."""
        return _kept(max(self.zeros, other.zeros), self.hashes, other.hashes)

    @property
    def count(self) -> int:
        """How many there are: exactly up to `MOST_KEPT`, else to within `RELATIVE_ERROR`."""
        return len(self.hashes) << self.zeros

    @property
    def is_exact(self) -> bool:
        """Whether every one is kept."""
        return self.zeros == 0


def _kept(zeros: int, *held: Hashes) -> Distinct:
    hashes = np.concatenate(held)
    hashes = np.sort(hashes[_ends_in(hashes, zeros)])
    hashes = hashes[np.append(True, hashes[1:] != hashes[:-1])] if len(hashes) else hashes
    while len(hashes) > MOST_KEPT:
        zeros += 1
        hashes = hashes[_ends_in(hashes, zeros)]
    return Distinct(zeros, hashes)


def _ends_in(hashes: Hashes, zeros: int) -> npt.NDArray[np.bool_]:
    return np.asarray((hashes & np.uint64((1 << zeros) - 1)) == 0)


def _hashed(values: Array) -> Hashes:
    # −0 and 0 are one value.
    return mixed((values + 0.0).view(np.uint64))
