"""Counts of rows by what they hold: by their words, and by what they lack."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from yarrowdew.core.aggregates.aggregation import Group, PairAggregation, Rows

MOST_VALUES = 100_000
"""Of more different values than this it is not kept how many rows have each."""


@dataclass(frozen=True, slots=True)
class LabelCounts:
    """Rows with each value of a variable, where there are not too many.

    Attributes
    ----------
    counts : mapping of str or None to int
        None for rows without a value; nothing else where there are more than `MOST_VALUES`.
    n : int
        Rows with a value.
    too_many : bool
    """

    counts: Mapping[Group, int]
    n: int = 0
    too_many: bool = False

    @classmethod
    def of(cls, counts: Mapping[Group, int], n: int, *, too_many: bool = False) -> LabelCounts:
        """Hold counts, or only how many rows there are where values are too many."""
        if too_many or len(counts) > MOST_VALUES + (None in counts):
            lacking: dict[Group, int] = {None: counts[None]} if None in counts else {}
            return cls(lacking, n, too_many=True)
        return cls(counts, n)

    def merge(self, other: LabelCounts) -> LabelCounts:
        """Add up."""
        out = dict(self.counts)
        for label, count in other.counts.items():
            out[label] = out.get(label, 0) + count
        too_many = self.too_many or other.too_many
        return LabelCounts.of(out, self.n + other.n, too_many=too_many)


@dataclass(frozen=True, slots=True)
class LabelsAggregation:
    """Rows with each value of a variable."""

    name: str
    numbers: Sequence[str] = ()

    @property
    def labels(self) -> Sequence[str]:
        """The variable."""
        return (self.name,)

    def of(self, rows: Rows) -> LabelCounts:
        """Count."""
        labels = rows.labels[self.name]
        found = np.bincount(labels.codes + 1, minlength=len(labels.names) + 1)
        counts: dict[Group, int] = {None: int(found[0])} if found[0] else {}
        named = zip(labels.names, found[1:], strict=True)
        counts |= {name: int(count) for name, count in named if count}
        return LabelCounts.of(counts, int(found[1:].sum()))


@dataclass(frozen=True, slots=True)
class LackingAggregation(PairAggregation[LabelCounts]):
    """Rows by which of two variables they lack: "x", "y" or "both"; None where both are there."""

    def of(self, rows: Rows) -> LabelCounts:
        """Count."""
        has_x, has_y = (np.isfinite(rows.numbers[name]) for name in (self.x, self.y))
        counts = {
            None: int(np.count_nonzero(has_x & has_y)),
            "x": int(np.count_nonzero(has_y & ~has_x)),
            "y": int(np.count_nonzero(has_x & ~has_y)),
        }
        counts["both"] = len(has_x) - sum(counts.values())
        held = {name: count for name, count in counts.items() if count}
        return LabelCounts.of(held, len(has_x) - counts[None])


@dataclass(frozen=True, slots=True)
class ThereAggregation:
    """Rows by how many of several variables they have: "all" or "some" of them; None for none."""

    numbers: tuple[str, ...]
    labels: Sequence[str] = ()

    def of(self, rows: Rows) -> LabelCounts:
        """Count."""
        there = sum(np.isfinite(rows.numbers[name]).astype(np.int64) for name in self.numbers)
        found = np.asarray(there)
        whole, some = (
            int(np.count_nonzero(found == len(self.numbers))),
            int(np.count_nonzero(found)),
        )
        held = {"all": whole, "some": some - whole, None: len(found) - some}
        return LabelCounts.of({name: count for name, count in held.items() if count}, some)
