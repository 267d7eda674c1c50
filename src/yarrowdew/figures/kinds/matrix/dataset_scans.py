"""What is looked for in all rows of a dataset for a scatterplot matrix."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from itertools import combinations
from typing import Any

import numpy as np

from yarrowdew.core.aggregates.aggregation import (
    Aggregation,
    Group,
    PairsAggregation,
    Rows,
    TogetherAggregation,
)
from yarrowdew.core.aggregates.category_counts import LabelCounts, ThereAggregation
from yarrowdew.core.aggregates.cell_counts import CellCounts, Grid
from yarrowdew.core.aggregates.distribution import (
    Outline,
    OutlineAggregation,
    Tallies,
    TalliesAggregation,
    TallyRequest,
)
from yarrowdew.core.aggregates.pair_sums import Ends, PairSums, Pivot
from yarrowdew.core.aggregates.partials import merged
from yarrowdew.core.aggregates.view_rows import CellsOfPairsAggregation, Side
from yarrowdew.core.arithmetic import computed
from yarrowdew.core.distributions.contours import COUNTED
from yarrowdew.core.distributions.density import Density, DensityGrid, Extent, Steps, steps_for
from yarrowdew.core.errors import FitError
from yarrowdew.figures.datasets.cache import SMALL_BYTES, cached_per_dataset
from yarrowdew.figures.datasets.view import DatasetView
from yarrowdew.figures.document.matrix import Matrix, Region
from yarrowdew.tables.filters import Condition, RowFilter

_ACROSS = 480
_FEWEST, _MOST = 32, 120
"""Cells of all pairs together stand side by side so many, and in one pair within these."""
_FINE = 256
"""Contours are of counts in so many cells along each side."""
Couple = tuple[str, str]


@dataclass(frozen=True, slots=True)
class MatrixScan:
    """What two looks at all rows found.

    Attributes
    ----------
    there : LabelCounts
        Rows by how many of the variables they have.
    sums : mapping of (str, str) to PairSums
    by_group : mapping of (str, str) to mapping of str to PairSums
        Nothing where groups are not told apart.
    outlines, wanted, tallies : mapping of str to mapping of str or None
        Of each variable and group.
    counts : mapping of (str, str, int) to mapping of str or None to Counts
        By the pair and the number of cells along a side, of each group.
    """

    there: LabelCounts
    sums: Mapping[Couple, PairSums]
    by_group: Mapping[Couple, Mapping[Group, PairSums]]
    outlines: Mapping[str, Mapping[Group, Outline]]
    wanted: Mapping[str, Mapping[Group, TallyRequest]]
    tallies: Mapping[str, Mapping[Group, Tallies]]
    counts: Mapping[tuple[str, str, int], Mapping[Group, CellCounts]]

    def outline(self, name: str) -> Outline:
        """Of all rows."""
        nothing = OutlineAggregation(name).of(
            Rows({name: np.empty(0)}, {}, np.empty(0, dtype=np.int64))
        )
        return merged([*self.outlines[name].values()] or nothing.groups.values())

    def density(self, name: str, group: Group) -> Density | None:
        """Of a variable in one group; None where it has none."""
        wanted, counted = self.wanted[name].get(group), self.tallies.get(name, {}).get(group)
        if wanted is None or counted is None or not wanted.cells:
            return None
        outline = self.outlines[name][group]
        try:
            with computed("A density"):
                return wanted.cells[0].density(
                    counted.cells[0],
                    distinct=lambda: outline.distinct.count,
                    sd=lambda: outline.sums.sd or 0.0,
                )
        except FitError:
            return None


@dataclass(frozen=True, slots=True)
class MatrixLook:
    """Looks at all rows for a matrix of some variables, in groups where these are told apart."""

    matrix: Matrix
    view: DatasetView
    names: tuple[str, ...]
    by: str | None

    @property
    def _couples(self) -> list[Couple]:
        return list(combinations(self.names, 2))

    @property
    def _regions(self) -> set[Region]:
        return {self.matrix.below, self.matrix.above}

    @property
    def shown(self) -> DatasetView:
        """Of the rows that every pair shows."""
        if self.matrix.missing == "pairwise":
            return self.view
        present = [Condition(variable=name, test="present") for name in self.names]
        kept = self.view.dataset.kept_by(RowFilter(conditions=present))
        return replace(self.view, dataset=kept)

    def looked(self) -> MatrixScan:
        """Look at all rows twice, or remember it."""
        what = (self.names, self.by, sorted(self._regions), self.matrix.missing)
        return cached_per_dataset(self.view.dataset, ("matrix", what), self._look, _size)

    def _look(self) -> MatrixScan:
        view, by = self.shown, self.by
        near = {name: view.near(name) for name in self.names}
        outlined = [OutlineAggregation(name, by, pivot=near[name]) for name in self.names]
        apart = self._couples if by is not None and "r" in self._regions else []
        grouped = [PairsAggregation(a, b, by, pivot=Pivot(near[a], near[b])) for a, b in apart]
        how_many = ThereAggregation(self.names)
        sums, found = view.pair_sums(self._couples, [how_many, *outlined, *grouped])
        there = found[0] if view is self.view else self.view.total(how_many)
        outlines = {name: one.groups for name, one in zip(self.names, found[1:], strict=False)}
        each = found[1 + len(self.names) :]
        by_group = {couple: one.groups for couple, one in zip(apart, each, strict=True)}
        ends = {
            name: ends_of_outline(merged(groups.values()))
            for name, groups in outlines.items()
            if groups
        }
        wanted = {name: _wanted(held, self.by is not None) for name, held in outlines.items()}
        tallies, counts = self._counted(view, wanted, ends)
        return MatrixScan(there, sums, by_group, outlines, wanted, tallies, counts)

    def _counted(
        self,
        view: DatasetView,
        wanted: Mapping[str, Mapping[Group, TallyRequest]],
        ends: Mapping[str, Ends],
    ) -> tuple[dict[str, Mapping[Group, Tallies]], dict[tuple[str, str, int], Any]]:
        """The second look: counts in cells, and along each variable."""
        shown = [name for name in self.names if _there(ends.get(name))]
        tall: list[Aggregation[Any]] = [
            TalliesAggregation(name, self.by, wanted=wanted[name]) for name in shown
        ]
        pairs = tuple(combinations(range(len(shown)), 2))
        sizes = sorted({self.cells(region) for region in self._regions} - {0}) if pairs else []
        grids = [
            CellsOfPairsAggregation(tuple(_side(n, ends[n], cells) for n in shown), pairs, self.by)
            for cells in sizes
        ]
        if not (tall or grids):
            return {}, {}
        parts = view.total(TogetherAggregation((*tall, *grids))).parts
        tallies = {name: one.groups for name, one in zip(shown, parts, strict=False)}
        counts = {
            (shown[a], shown[b], cells): one.groups
            for cells, together in zip(sizes, parts[len(shown) :], strict=True)
            for (a, b), one in zip(pairs, together.parts, strict=True)
        }
        return tallies, counts

    def cells(self, region: Region) -> int:
        """How many cells along each side a region needs; 0 where it shows no counts."""
        if region in ("points", "trend"):
            return max(_FEWEST, min(_MOST, _ACROSS // len(self.names)))
        return {"counts": COUNTED, "contours": _FINE}.get(region, 0)


def ends_of_outline(outline: Outline) -> Ends:
    return outline.sums.low, outline.sums.high


def _size(looked: MatrixScan) -> int:
    cells = sum(one.cells.nbytes for held in looked.counts.values() for one in held.values())
    groups = sum(len(held) for held in looked.outlines.values())
    return SMALL_BYTES * (1 + len(looked.sums)) + 65_536 * groups + cells


def _there(ends: Ends | None) -> bool:
    return ends is not None and ends[0] <= ends[1]


def _side(name: str, ends: Ends, cells: int) -> Side:
    low, high = ends
    return Side(name, Grid(*((low, high) if low < high else (low - 0.5, high + 0.5)), cells))


def _wanted(outlines: Mapping[Group, Outline], is_apart: bool) -> dict[Group, TallyRequest]:
    """What is counted of a variable: in steps that all groups share, and for densities."""
    held = {
        group: one
        for group, one in outlines.items()
        if one.sums.n and (group is not None or not is_apart)
    }
    if not held:
        return {}
    step = _steps(merged(outlines.values()), None)
    out = {}
    for group, one in held.items():
        low, high = ends_of_outline(one)
        cells = (DensityGrid.of(low, high),) if low < high else ()
        steps = None if step is None else _steps(one, step.step)
        out[group] = TallyRequest((-np.inf, np.inf), steps, cells)
    return out


def _steps(outline: Outline, step: float | None) -> Steps | None:
    """Steps of a histogram; none where there are no such steps."""
    try:
        with computed("A histogram"):
            found = steps_for(_extent(outline), step)
    except FitError:
        return None
    return found if np.isfinite(found.edges).all() else None


def _extent(outline: Outline) -> Extent:
    """With quartiles to within their cells, which says enough of how wide steps should be."""
    lower, upper = (outline.quantiles.middle(share) or 0.0 for share in (0.25, 0.75))
    sums = outline.sums
    return Extent(sums.n, sums.low, sums.high, (lower, upper), outline.whole)
