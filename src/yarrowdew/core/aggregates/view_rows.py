"""What is asked of every part for what is in view of a plot: counts in its cells, or the rows."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Any, Literal

import numpy as np
import numpy.typing as npt

from yarrowdew.core.aggregates.aggregation import Group, Labels, PairAggregation, Rows, Together
from yarrowdew.core.aggregates.cell_counts import CellCounts, Grid, Tally
from yarrowdew.core.aggregates.exact_sums import stretches
from yarrowdew.core.aggregates.pair_sums import Ends, ends_of
from yarrowdew.core.aggregates.partials import Grouped
from yarrowdew.core.sample import Array

Warp = Literal["linear", "log", "sqrt"]
WARPS: dict[Warp, tuple[Callable[[Array], Array], Callable[[Array], Array]]] = {
    "linear": (lambda values: values, lambda warped: warped),
    "log": (np.log, np.exp),
    "sqrt": (np.sqrt, np.square),
}
"""How values are bent before cells are even on an axis, and the way back."""

_TOGETHER = 1 << 17
"""So many rows are counted at once for several plots: as many as stay near the processor."""


@dataclass(frozen=True, slots=True)
class Side:
    """An axis cut into cells that are even as it is drawn; the grid's ends are bent values."""

    name: str
    grid: Grid
    warp: Warp = "linear"

    def of(self, rows: Rows) -> Array:
        """Bent values; NaN or infinite where there is none."""
        with np.errstate(all="ignore"):
            return WARPS[self.warp][0](rows.numbers[self.name])


@dataclass(frozen=True, slots=True)
class CellsAggregation:
    """Rows in each cell of a plot, of each group by itself."""

    x: Side
    y: Side
    by: str | None = None

    @property
    def numbers(self) -> Sequence[str]:
        """Both variables."""
        return (self.x.name, self.y.name)

    @property
    def labels(self) -> Sequence[str]:
        """What tells groups apart."""
        return () if self.by is None else (self.by,)

    def of(self, rows: Rows) -> Grouped[Tally]:
        """Count; rows without a group are one of their own."""
        x, y = self.x.of(rows), self.y.of(rows)
        if self.by is None:
            return Grouped({None: Tally.of_each(self.x.grid, x, self.y.grid, y)[0]})
        labels = rows.labels[self.by]
        names: list[Group] = [*labels.names, None]
        codes = np.where(labels.codes < 0, len(labels.names), labels.codes)
        there = np.bincount(codes, minlength=len(names)) > 0
        counted = Tally.of_each(self.x.grid, x, self.y.grid, y, groups=codes, count=len(names))
        return Grouped(
            {name: one for name, one, some in zip(names, counted, there, strict=True) if some}
        )


def counts_in(found: Grouped[Tally]) -> Mapping[Group, CellCounts]:
    """What was counted of each group."""
    return {name: one.counts() for name, one in found.groups.items()}


@dataclass(frozen=True, slots=True)
class CellsOfPairsAggregation:
    """Rows in each cell of several plots: where each variable lies is found once for all of them.

    Attributes
    ----------
    sides : tuple of Side
        All with as many cells.
    pairs : tuple of (int, int)
        For each plot, which side goes across and which one up.
    by : str or None
    """

    sides: tuple[Side, ...]
    pairs: tuple[tuple[int, int], ...]
    by: str | None = None

    @property
    def numbers(self) -> Sequence[str]:
        """All variables."""
        return tuple(side.name for side in self.sides)

    @property
    def labels(self) -> Sequence[str]:
        """What tells groups apart."""
        return () if self.by is None else (self.by,)

    def of(self, rows: Rows) -> Together:
        """Count; rows without a group are one of their own."""
        names: list[Group] = [None]
        own = None
        if self.by is not None:
            labels = rows.labels[self.by]
            names = [*labels.names, None]
            own = np.where(labels.codes < 0, len(labels.names), labels.codes)
        across = self.sides[0].grid.cells
        size = across * across
        found = np.zeros((len(self.pairs), len(names) * size), dtype=np.int64)
        values = [side.of(rows) for side in self.sides]
        for start in range(0, len(rows.places), _TOGETHER):
            some = slice(start, start + _TOGETHER)
            places = [side.grid.places(v[some]) for side, v in zip(self.sides, values, strict=True)]
            lacking = [bool((at < 0).any()) for at in places]
            groups = None if own is None else own[some] * size
            for place, (a, b) in enumerate(self.pairs):
                code = places[b] * across + places[a]
                if groups is not None:
                    code += groups
                if lacking[a] or lacking[b]:
                    code = code[(places[a] >= 0) & (places[b] >= 0)]
                found[place] += np.bincount(code, minlength=found.shape[1])
        return Together(
            tuple(
                self._grouped(pair, names, one) for pair, one in zip(self.pairs, found, strict=True)
            )
        )

    def _grouped(
        self, pair: tuple[int, int], names: Sequence[Group], counts: npt.NDArray[np.int64]
    ) -> Grouped[CellCounts]:
        x, y = (self.sides[place].grid for place in pair)
        each = counts.reshape(len(names), y.cells, x.cells)
        return Grouped(
            {
                name: CellCounts(x, y, cells, int(cells.sum()), 0)
                for name, cells in zip(names, each, strict=True)
                if cells.any()
            }
        )


@dataclass(frozen=True, slots=True)
class PartEnds:
    """Where the values of each part end, by the place of its first row.

    Attributes
    ----------
    ends : mapping of int to tuple of (tuple of float)
        Of both variables; infinite the wrong way round where a part has no value.
    """

    ends: Mapping[int, tuple[Ends, Ends]]

    def merge(self, other: PartEnds) -> PartEnds:
        """Put both together."""
        return PartEnds({**self.ends, **other.ends})

    def outside(self, across: Ends, up: Ends) -> frozenset[int]:
        """The parts of which no row lies within a view."""
        return frozenset(
            place
            for place, sides in self.ends.items()
            if any(
                high < low_seen or low > high_seen
                for (low, high), (low_seen, high_seen) in zip(sides, (across, up), strict=True)
            )
        )


@dataclass(frozen=True, slots=True)
class EndsAggregation(PairAggregation[PartEnds]):
    """Where the values of each part end."""

    def of(self, rows: Rows) -> PartEnds:
        """Look."""
        x, y = rows.numbers[self.x], rows.numbers[self.y]
        known = np.isfinite(x) & np.isfinite(y)
        return PartEnds({rows.part: (ends_of(x[known]), ends_of(y[known]))})


@dataclass(frozen=True, slots=True)
class Gathered:
    """Rows that are wanted as they are, in their order.

    Attributes
    ----------
    places : ndarray of int64, shape (rows,)
    columns : mapping of str to ndarray, shape (rows,)
    """

    places: npt.NDArray[np.int64]
    columns: Mapping[str, npt.NDArray[Any]]

    def within(self, across: Ends, up: Ends) -> Gathered:
        """Those whose x and y lie between some ends."""
        x, y = self.columns["x"], self.columns["y"]
        kept = (x >= across[0]) & (x <= across[1]) & (y >= up[0]) & (y <= up[1])
        return Gathered(self.places[kept], {name: v[kept] for name, v in self.columns.items()})

    def counted(self, across: Side, up: Side) -> Mapping[Group, CellCounts]:
        """Count them in cells, those of each group by themselves."""
        labels = {}
        if "group" in self.columns:
            names = list(dict.fromkeys(self.columns["group"].tolist()))
            known = [name for name in names if name is not None]
            code = {name: place for place, name in enumerate(known)} | {None: -1}
            codes = np.array([code[name] for name in self.columns["group"]], dtype=np.int64)
            labels["group"] = Labels(codes, known)
        numbers = {"x": self.columns["x"], "y": self.columns["y"]}
        ask = CellsAggregation(
            replace(across, name="x"), replace(up, name="y"), "group" if labels else None
        )
        return counts_in(ask.of(Rows(numbers, labels, self.places, 0)))


@dataclass(frozen=True, slots=True)
class Gathering:
    """Rows that are wanted as they are, from part to part; put in order once all are there."""

    pieces: tuple[Gathered, ...]

    def merge(self, other: Gathering) -> Gathering:
        """Put both together."""
        return Gathering(self.pieces + other.pieces)

    def rows(self) -> Gathered:
        """All of them, in their order."""
        places = np.concatenate([piece.places for piece in self.pieces])
        order = np.argsort(places, kind="stable")
        columns = {
            name: np.concatenate([piece.columns[name] for piece in self.pieces])[order]
            for name in self.pieces[0].columns
        }
        return Gathered(places[order], columns)


@dataclass(frozen=True, slots=True)
class WithinAggregation(PairAggregation[Gathering]):
    """The rows within a view, of which there are known to be few."""

    across: Ends = (-math.inf, math.inf)
    up: Ends = (-math.inf, math.inf)

    def of(self, rows: Rows) -> Gathering:
        """Take them."""
        x, y = rows.numbers[self.x], rows.numbers[self.y]
        found = []
        # A stretch at a time, which stays near the processor.
        for some in stretches(len(x)):
            across, up = x[some], y[some]
            within = (across >= self.across[0]) & (across <= self.across[1])
            within &= up >= self.up[0]
            within &= up <= self.up[1]
            found.append(np.flatnonzero(within) + some.start)
        inside = np.concatenate(found) if found else np.empty(0, dtype=np.intp)
        columns: dict[str, npt.NDArray[Any]] = {"x": x[inside], "y": y[inside]}
        if self.by is not None:
            labels = rows.labels[self.by]
            names = np.array([*labels.names, None], dtype=object)
            columns["group"] = names[labels.codes[inside]]
        return Gathering((Gathered(rows.places[inside], columns),))
