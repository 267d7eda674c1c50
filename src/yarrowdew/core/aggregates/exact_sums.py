"""Sums that are exact, whatever the order in which their parts come.

A sum is held as a few numbers that do not overlap, whose own sum is exact (Shewchuk 1997); it is
rounded once, when it is asked for. What remains inexact are the numbers put in: sums over the rows
of one stretch, which are the same whoever makes them.
"""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from fractions import Fraction

import numpy as np

from yarrowdew.core.arithmetic import beyond
from yarrowdew.core.sample import Array

STRETCH = 1 << 16
"""So many rows are added up at once: few enough to stay near the processor."""


def stretches(rows: int) -> Iterator[slice]:
    """Cut rows into stretches."""
    for start in range(0, rows, STRETCH):
        yield slice(start, min(start + STRETCH, rows))


@dataclass(frozen=True, slots=True)
class ExactSums:
    """Several sums, each exact.

    Attributes
    ----------
    terms : tuple of tuple of float
        For each sum, numbers that do not overlap, smallest first.
    """

    terms: tuple[tuple[float, ...], ...]

    @classmethod
    def zero(cls, count: int) -> ExactSums:
        """So many sums of nothing."""
        return cls(((),) * count)

    @classmethod
    def of(cls, numbers: Sequence[float] | Array) -> ExactSums:
        """Sums of one number each."""
        return cls(tuple((float(v),) if v else () for v in numbers))

    def merge(self, other: ExactSums) -> ExactSums:
        """Add sums up, place by place."""
        return ExactSums(tuple(_added(a, b) for a, b in zip(self.terms, other.terms, strict=True)))

    def exact(self) -> list[Fraction]:
        """The sums as they are.

        Raises
        ------
        FitError
            If a sum is beyond what numbers hold.
        """
        found = [self.one(place) for place in range(len(self.terms))]
        held = [one for one in found if one is not None]
        if len(held) < len(found):
            raise beyond("A sum over all rows")
        return held

    def one(self, place: int) -> Fraction | None:
        """One of the sums; None where it is beyond what numbers hold."""
        try:
            return sum(map(Fraction, self.terms[place]), Fraction())
        except (OverflowError, ValueError):
            return None

    def rounded(self) -> Array:
        """The sums, each rounded once, shape (count,)."""
        return np.array([float(v) for v in self.exact()])


def _added(terms: tuple[float, ...], more: tuple[float, ...]) -> tuple[float, ...]:
    """Grow an expansion by numbers, so that none of its terms overlap."""
    out = list(terms)
    for number in more:
        x, kept = number, 0
        for y in out:
            big, small = (x, y) if abs(x) >= abs(y) else (y, x)
            total = big + small
            rest = small - (total - big)
            if rest:
                out[kept] = rest
                kept += 1
            x = total
        out[kept:] = [x] if x else []
        if not math.isfinite(x):
            # What cannot be held is said when the sum is asked for.
            return (x,)
    return tuple(out)
