"""One variable: how many values there are and lack, their ends, mean and spread."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from yarrowdew.core.aggregates.exact_sums import ExactSums, stretches
from yarrowdew.core.sample import Array


@dataclass(frozen=True, slots=True)
class NumberSums:
    """Of one variable.

    Attributes
    ----------
    pivot : float
        About which sums are taken; the nearer to the mean, the fewer digits are lost.
    n, missing, infinite : int
        Values that are there, that are not, and that are infinite, which are none either.
    low, high : float
        Ends; infinite the wrong way round where there is no value.
    sums : ExactSums
        Of distances from the pivot, and of their squares.
    """

    pivot: float
    n: int
    missing: int
    infinite: int
    low: float
    high: float
    sums: ExactSums

    @classmethod
    def of(cls, values: Array, pivot: float) -> NumberSums:
        """Summarise values, shape (rows,); NaN where missing."""
        known = np.isfinite(values)
        kept = values if known.all() else values[known]
        sums = ExactSums.zero(2)
        for some in stretches(len(kept)):
            off = kept[some] - pivot
            sums = sums.merge(ExactSums.of((float(off.sum()), float(off @ off))))
        infinite = int(np.count_nonzero(np.isinf(values)))
        return cls(
            pivot,
            len(kept),
            len(values) - len(kept) - infinite,
            infinite,
            float(kept.min()) if len(kept) else math.inf,
            float(kept.max()) if len(kept) else -math.inf,
            sums,
        )

    def merge(self, other: NumberSums) -> NumberSums:
        """The same of these values and of others, about the same pivot."""
        if self.pivot != other.pivot:
            raise ValueError("sums about different pivots are not merged")
        return NumberSums(
            self.pivot,
            self.n + other.n,
            self.missing + other.missing,
            self.infinite + other.infinite,
            min(self.low, other.low),
            max(self.high, other.high),
            self.sums.merge(other.sums),
        )

    @property
    def mean(self) -> float | None:
        """None where there is no value, or they are beyond what can be added up."""
        total = self.sums.one(0)
        return None if total is None or not self.n else float(total / self.n) + self.pivot

    @property
    def sd(self) -> float | None:
        """Standard deviation on n − 1; None for fewer than two values, or beyond what can be
        added.
        """
        total, squares = self.sums.one(0), self.sums.one(1)
        if self.n < 2 or total is None or squares is None:
            return None
        return math.sqrt(max(float((squares - total * total / self.n) / (self.n - 1)), 0.0))
