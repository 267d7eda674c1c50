"""A scatterplot matrix of a dataset: r from sums, and counts in cells where rows would be drawn."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from functools import partial

import numpy as np

from yarrowdew.core.aggregates.aggregation import Group
from yarrowdew.core.aggregates.cell_counts import CellCounts, Grid
from yarrowdew.core.aggregates.partials import merged
from yarrowdew.core.association import Correlation, correlation_of
from yarrowdew.core.distributions.contours import Contour, contours
from yarrowdew.core.distributions.density import Density
from yarrowdew.core.errors import FitError, UserFacingError
from yarrowdew.figures.datasets.answer_parts import axis_of, colour_of, not_shown
from yarrowdew.figures.datasets.cache import SMALL_BYTES, cached_per_dataset
from yarrowdew.figures.datasets.groups import groups_in
from yarrowdew.figures.datasets.marks import no_marks
from yarrowdew.figures.datasets.request import DatasetRequest
from yarrowdew.figures.document.matrix import Matrix
from yarrowdew.figures.kinds.base import KindAnswer
from yarrowdew.figures.kinds.matrix.cells import (
    CURVE_POINTS,
    SHARES,
    CellCurve,
    CountGrid,
    GroupR,
    MatrixAnswer,
    MatrixCell,
    MatrixVariable,
    contour_lines,
    in_company,
)
from yarrowdew.figures.kinds.matrix.dataset_scans import (
    Couple,
    MatrixLook,
    MatrixScan,
    ends_of_outline,
)
from yarrowdew.figures.kinds.matrix.table import PAIR, part_of
from yarrowdew.figures.pipeline.answer_models import AnswerBase
from yarrowdew.figures.pipeline.answer_models import Counts as RowCounts
from yarrowdew.figures.pipeline.axis_values import AxisValues
from yarrowdew.figures.pipeline.curves import CurveAxes, curve_of
from yarrowdew.figures.pipeline.fitting import request_of
from yarrowdew.figures.pipeline.groups import Groups
from yarrowdew.figures.pipeline.margins import MarginAnswer
from yarrowdew.tables.errors import TableError
from yarrowdew.tables.table import Kind

Densities = Mapping[tuple[str, Group], Density | None]


def answer(asked: DatasetRequest) -> KindAnswer:
    """Answer with every cell."""
    matrix, problems = part_of(asked.document), not_shown(asked.document)
    head, view = asked.view.dataset.head, asked.view
    named = list(dict.fromkeys(head.called(name).name for name in matrix.variables))
    names = [name for name in named if head.variable(name).on_axis]
    if len(names) < PAIR:
        raise TableError(
            "A matrix needs at least two variables of numbers or dates.",
            "Add one; a dataset shows only numbers and dates here.",
        )
    if len(names) < len(named):
        problems.append("Categories need all rows together, and have no strips here.")
    colour = asked.document.colour
    groups = None if colour is None else groups_in(colour.variable, view, asked.categories)
    by = None if groups is None else groups.variable.name
    look = MatrixLook(matrix, view, tuple(names), by)
    looked = look.looked()
    part = _Matrix(matrix, look, looked, groups).answer()
    first, second = (
        AxisValues(head.variable(v.name), np.empty(0), 0.0) for v in part.variables[:PAIR]
    )
    found = looked.there.counts
    drawn = found.get("all", 0) if matrix.missing == "complete" else looked.there.n
    labels = None if groups is None else view.labels(groups.variable.name).counts
    common = AnswerBase(
        table=view.dataset.name,
        x=axis_of(first, ends_of_outline(looked.outline(first.variable.name))),
        y=axis_of(second, ends_of_outline(looked.outline(second.variable.name))),
        colour=None if groups is None else colour_of(groups, labels or {}),
        counts=RowCounts(
            rows=view.dataset.rows,
            filtered=view.dataset.rows - sum(found.values()),
            drawn=drawn,
            set_aside=0,
            not_drawn=[],
        ),
        problems=problems,
    )
    return KindAnswer(common, part, no_marks(*(f"v{i}" for i in range(len(names)))))


@dataclass(frozen=True, slots=True)
class _Matrix:
    matrix: Matrix
    look: MatrixLook
    looked: MatrixScan
    groups: Groups | None

    def answer(self) -> MatrixAnswer:
        """Every cell, in the order in which variables are shown."""
        looked = self.looked
        found = {
            couple: correlation_of(one.correlation(), one.n) for couple, one in looked.sums.items()
        }
        names = list(self.look.names)
        if self.matrix.order == "together":
            place = {name: i for i, name in enumerate(names)}
            r = {(place[a], place[b]): one.r for (a, b), one in found.items()}
            names = [names[i] for i in in_company(len(names), r)]
        curves = {
            (name, group): looked.density(name, group)
            for name in names
            for group in looked.tallies.get(name, {})
        }
        return MatrixAnswer(
            variables=[self._variable(name, curves) for name in names],
            cells=[
                self._cell((i, j), (names[i], names[j]), found, curves)
                for j in range(len(names))
                for i in range(len(names))
                if i != j
            ],
            rows=sum(looked.there.counts.values()),
            complete=looked.there.counts.get("all", 0),
        )

    def _variable(self, name: str, densities: Densities) -> MatrixVariable:
        looked, wants = self.looked, self.matrix.diagonal
        variable, outline = self.look.view.dataset.head.variable(name), looked.outline(name)
        bars: list[MarginAnswer] = []
        curves: list[MarginAnswer] = []
        tallies = looked.tallies.get(name, {})
        for code, group in self._codes(tallies):
            counted, steps = tallies[group], looked.wanted[name][group].bars
            if wants in ("histogram", "both") and steps is not None:
                heights = counted.bars.astype(float).tolist()
                bars.append(MarginAnswer(code=code, at=steps.edges.tolist(), height=heights))
            curve = densities[name, group]
            if wants in ("density", "both") and curve is not None:
                heights = (curve.density * counted.cells[0].sum()).tolist()
                curves.append(MarginAnswer(code=code, at=curve.at.tolist(), height=heights))
        there = outline.sums.n > 0
        return MatrixVariable(
            name=name,
            label=variable.label,
            unit=variable.unit,
            is_date=variable.kind is Kind.DATE,
            low=outline.sums.low if there else None,
            high=outline.sums.high if there else None,
            missing=sum(looked.there.counts.values()) - outline.sums.n,
            histogram=bars,
            density=curves,
        )

    def _codes(self, held: Iterable[Group]) -> list[tuple[int | None, Group]]:
        """The groups that are there, by their code; all rows where they are not told apart."""
        there = set(held)
        if self.groups is None:
            return [(None, group) for group in there]
        looks = enumerate(self.groups.looks)
        return [(code, look.value) for code, look in looks if look.value in there]

    def _cell(
        self,
        at: tuple[int, int],
        names: Couple,
        found: Mapping[Couple, Correlation],
        densities: Densities,
    ) -> MatrixCell:
        couple = names if names in found else (names[1], names[0])
        c, turned = found[couple], couple != names
        region = self.matrix.below if at[1] > at[0] else self.matrix.above
        cell = MatrixCell(x=at[0], y=at[1], n=c.n, r=c.r, low=c.low, high=c.high, p_value=c.p_value)
        counts = self.looked.counts.get((*couple, self.look.cells(region)), {})
        counts = {group: one for group, one in counts.items() if one.cells.any()}
        if region == "r":
            groups = self.looked.by_group.get(couple, {})
            for code, group in self._codes(groups):
                own = correlation_of(groups[group].correlation(), groups[group].n)
                if own.r is not None and code is not None:
                    cell.groups.append(GroupR(code=code, n=own.n, r=own.r))
        elif region == "counts" and counts:
            cell.counts = [_grid(None, merged(counts.values()), turned)]
        elif region in ("points", "trend"):
            parts = self._codes(counts)
            if self.groups is not None and None in counts:
                parts.append((Groups.NONE, None))
            cell.counts = [_grid(code, counts[group], turned) for code, group in parts]
        elif region == "contours":
            for code, group in self._codes(counts):
                across, up = (densities.get((name, group)) for name in names)
                if across is not None and up is not None:
                    wide = across.bandwidth, up.bandwidth
                    made = partial(_contours, counts[group], turned, wide)
                    cell.contours += contour_lines(code, made)
        if region == "trend":
            cell.curves = self._curves(names)
        return cell

    def _curves(self, names: Couple) -> list[CellCurve]:
        """The trend of each colour; none where it cannot be fitted, as in so small a picture."""
        view, trend, by = self.look.shown, self.matrix.trend, self.look.by
        labels = None if self.groups is None else self.groups.label_of
        x, y = (view.axis(name, "a variable of a matrix") for name in names)
        try:
            lines = cached_per_dataset(
                view.dataset,
                ("cell", names, trend, by, labels),
                lambda: view.fit(request_of(trend, x, y), x, y, by, labels),
                lambda made: SMALL_BYTES * (1 + len(made)),
            )
        except UserFacingError:
            return []
        codes = (
            {} if self.groups is None else {name: i for i, name in enumerate(self.groups.labels)}
        )
        out = []
        for line in lines:
            fit, code = line.fit, None if line.group is None else codes[line.group]
            if fit is None:
                continue
            try:
                curve = curve_of(fit, trend.bands[:1], CurveAxes(x.origin, y.origin), CURVE_POINTS)
            except FitError:
                continue
            out.append(CellCurve(code=code, curve=curve))
        return out


def _sides(counts: CellCounts, turned: bool) -> tuple[Grid, Grid, np.ndarray]:
    """Across and up as the cell of a matrix has them."""
    x, y = counts.x, counts.y or counts.x
    return (y, x, counts.cells.T) if turned else (x, y, counts.cells)


def _grid(code: int | None, counts: CellCounts, turned: bool) -> CountGrid:
    x, y, cells = _sides(counts, turned)
    return CountGrid(
        code=code,
        x_low=x.low,
        x_high=x.high,
        y_low=y.low,
        y_high=y.high,
        across=x.cells,
        counts=cells.ravel().tolist(),
    )


def _contours(counts: CellCounts, turned: bool, bandwidths: tuple[float, float]) -> list[Contour]:
    """Contours of rows that all lie in the middle of their cells."""
    x, y, cells = _sides(counts, turned)
    up, across = np.nonzero(cells)
    middles = [(edges[:-1] / 2 + edges[1:] / 2) for edges in (x.edges(), y.edges())]
    held = cells[up, across].astype(np.float64)
    return contours(middles[0][across], middles[1][up], SHARES, held, bandwidths)
