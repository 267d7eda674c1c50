"""What is asked of every part for the distribution of one variable, in three looks at the rows.

The first finds sums, ends, and in which cells the quantiles lie; the second the values in these
cells, and sums about the mean; the third counts between what both have found.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Generic, TypeVar

import numpy as np
import numpy.typing as npt

from yarrowdew.core.aggregates.aggregation import Group, Rows
from yarrowdew.core.aggregates.distinct import Distinct
from yarrowdew.core.aggregates.exact_sums import ExactSums, stretches
from yarrowdew.core.aggregates.numbers import NumberSums
from yarrowdew.core.aggregates.pair_sums import Ends
from yarrowdew.core.aggregates.partials import Grouped, Partial
from yarrowdew.core.aggregates.quantiles import Quantiles
from yarrowdew.core.distributions.density import GRID, DensityGrid, Steps
from yarrowdew.core.sample import Array

P = TypeVar("P", bound=Partial)
MOST_HELD = 1 << 21
"""So many different values are kept at most of where quantiles lie."""
_FEW_CELLS = 6


@dataclass(frozen=True, slots=True)
class OneAggregation(Generic[P]):
    """Something of one variable, of each group by itself."""

    name: str
    by: str | None = None

    @property
    def numbers(self) -> Sequence[str]:
        """The variable."""
        return (self.name,)

    @property
    def labels(self) -> Sequence[str]:
        """What tells groups apart."""
        return () if self.by is None else (self.by,)

    def _each(
        self, rows: Rows, made: Callable[[Group, Array], P | None], *, also_none: bool = False
    ) -> Grouped[P]:
        groups = rows.values_by(self.name, self.by, also_none=also_none)
        found = {group: made(group, values) for group, values in groups}
        return Grouped({group: one for group, one in found.items() if one is not None})


@dataclass(frozen=True, slots=True)
class Outline:
    """What the first look at some values finds.

    Attributes
    ----------
    sums : NumberSums
    quantiles : Quantiles
    distinct : Distinct
    whole : bool
        Whether all are whole numbers.
    """

    sums: NumberSums
    quantiles: Quantiles
    distinct: Distinct
    whole: bool

    def merge(self, other: Outline) -> Outline:
        """The same of these values and of others."""
        return Outline(
            self.sums.merge(other.sums),
            self.quantiles.merge(other.quantiles),
            self.distinct.merge(other.distinct),
            self.whole and other.whole,
        )


@dataclass(frozen=True, slots=True)
class OutlineAggregation(OneAggregation[Outline]):
    """The first look; values without a group are looked at, too."""

    pivot: float = 0.0

    def of(self, rows: Rows) -> Grouped[Outline]:
        """Look."""

        def made(_: Group, values: Array) -> Outline:
            there = np.isfinite(values)
            known = values if there.all() else values[there]
            return Outline(
                NumberSums.of(values, self.pivot),
                Quantiles.of(known, self.pivot),
                Distinct.of(known),
                all(bool((own == np.rint(own)).all()) for own in _known(known)),
            )

        return self._each(rows, made, also_none=True)


@dataclass(frozen=True, slots=True)
class ValueCounts:
    """Different values and how often each is there; nothing where they are too many.

    Attributes
    ----------
    values : ndarray of float64, shape (k,)
        Ascending.
    counts : ndarray of int64, shape (k,)
    too_many : bool
    """

    values: Array
    counts: npt.NDArray[np.int64]
    too_many: bool = False

    @classmethod
    def of(cls, values: Array, counts: npt.NDArray[np.int64] | None = None) -> ValueCounts:
        """Hold values, each with how often it is there."""
        # −0 and 0 are one value.
        found, places, held = np.unique(values + 0.0, return_inverse=True, return_counts=True)
        if len(found) > MOST_HELD:
            return cls(np.empty(0), np.empty(0, dtype=np.int64), too_many=True)
        if counts is not None:
            held = np.zeros(len(found), dtype=np.int64)
            np.add.at(held, places, counts)
        return cls(found, held.astype(np.int64, copy=False))

    def merge(self, other: ValueCounts) -> ValueCounts:
        """The same of these values and of others."""
        if self.too_many or other.too_many:
            return self if self.too_many else other
        return ValueCounts.of(
            np.concatenate([self.values, other.values]),
            np.concatenate([self.counts, other.counts]),
        )


@dataclass(frozen=True, slots=True)
class About:
    """What the second look at some values finds.

    Attributes
    ----------
    n : int
    centre, scale : float
        What is taken from a value, and by what it is then divided.
    powers : ExactSums
        Of such numbers, their squares, and their cubes.
    held : Held
        The values in cells that were asked for.
    """

    n: int
    centre: float
    scale: float
    powers: ExactSums
    held: ValueCounts

    @classmethod
    def of(cls, values: Array, centre: float, scale: float, cells: Sequence[Ends]) -> About:
        """Look at values, shape (rows,); NaN where missing."""
        powers, n = ExactSums.zero(3), 0
        held = [values[:0]]
        for own in _known(values):
            n += len(own)
            off = (own - centre) / scale
            squares = off * off
            powers = powers.merge(
                ExactSums.of((float(off.sum()), float(squares.sum()), float(squares @ off)))
            )
            held.append(own[_within(own, cells)])
        return cls(n, centre, scale, powers, ValueCounts.of(np.concatenate(held)))

    def merge(self, other: About) -> About:
        """The same of these values and of others."""
        return About(
            self.n + other.n,
            self.centre,
            self.scale,
            self.powers.merge(other.powers),
            self.held.merge(other.held),
        )


def _known(values: Array) -> Iterator[Array]:
    """Values that are there, stretch by stretch."""
    for some in stretches(len(values)):
        own = values[some]
        there = np.isfinite(own)
        yield own if there.all() else own[there]


def _within(values: Array, cells: Sequence[Ends]) -> npt.NDArray[np.bool_]:
    """Which values lie in one of some cells, which ascend and do not overlap."""
    if len(cells) <= _FEW_CELLS:
        inside = np.zeros(len(values), dtype=bool)
        for low, high in cells:
            inside |= (values >= low) & (values <= high)
        return inside
    lows, highs = np.array(cells).T
    at = np.searchsorted(lows, values, side="right") - 1
    return np.asarray((at >= 0) & (values <= highs[at]))


@dataclass(frozen=True, slots=True)
class AboutAggregation(OneAggregation[About]):
    """The second look: each group about its own mean, and all of them in the same cells."""

    about: Mapping[Group, tuple[float, float]] = field(default_factory=dict)
    cells: tuple[Ends, ...] = ()

    def of(self, rows: Rows) -> Grouped[About]:
        """Look; at groups without a mean nobody does."""

        def made(group: Group, values: Array) -> About | None:
            if group not in self.about:
                return None
            return About.of(values, *self.about[group], self.cells)

        return self._each(rows, made)


@dataclass(frozen=True, slots=True)
class Tallies:
    """What the third look at some values finds.

    Attributes
    ----------
    inside : tuple of float
        The smallest and the largest value that does not lie far out; infinite the wrong way round
        where there is none.
    far : int
        How many do.
    bars : ndarray of int64
        How many lie in each step of a histogram; empty where none was asked for.
    cells : ndarray of int64, shape (grids, cells)
        How many lie in each cell of each density.
    """

    inside: Ends
    far: int
    bars: npt.NDArray[np.int64]
    cells: npt.NDArray[np.int64]

    def merge(self, other: Tallies) -> Tallies:
        """The same of these values and of others."""
        return Tallies(
            (min(self.inside[0], other.inside[0]), max(self.inside[1], other.inside[1])),
            self.far + other.far,
            self.bars + other.bars,
            self.cells + other.cells,
        )


@dataclass(frozen=True, slots=True)
class TallyRequest:
    """What the third look counts of a group.

    Attributes
    ----------
    fences : tuple of float
        What lies outside of these lies far out; infinite where nobody asks.
    bars : Steps or None
    cells : tuple of DensityGrid
    """

    fences: Ends
    bars: Steps | None
    cells: tuple[DensityGrid, ...]

    def of(self, values: Array) -> Tallies:
        """Count values, shape (rows,); NaN where missing."""
        low, high, far = math.inf, -math.inf, 0
        bars = np.zeros(0 if self.bars is None else self.bars.bins, dtype=np.int64)
        cells = np.zeros((len(self.cells), GRID), dtype=np.int64)
        is_fenced = self.fences != (-math.inf, math.inf)
        for own in _known(values):
            if is_fenced and len(own):
                inside = own[(own >= self.fences[0]) & (own <= self.fences[1])]
                far += len(own) - len(inside)
                low, high = (
                    min(low, inside.min(initial=math.inf)),
                    max(high, inside.max(initial=-math.inf)),
                )
            if self.bars is not None:
                bars += self.bars.count(own)
            for place, grid in enumerate(self.cells):
                cells[place] += grid.count(own)
        return Tallies((float(low), float(high)), far, bars, cells)


@dataclass(frozen=True, slots=True)
class TalliesAggregation(OneAggregation[Tallies]):
    """The third look."""

    wanted: Mapping[Group, TallyRequest] = field(default_factory=dict)

    def of(self, rows: Rows) -> Grouped[Tallies]:
        """Look; at groups of which nothing is wanted nobody does."""

        def made(group: Group, values: Array) -> Tallies | None:
            return self.wanted[group].of(values) if group in self.wanted else None

        return self._each(rows, made)
