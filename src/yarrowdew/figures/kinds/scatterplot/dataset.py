"""A scatterplot of a dataset: counts in cells, and the rows themselves once they are few."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from yarrowdew.core.aggregates.aggregation import (
    Aggregation,
    Group,
    PairsAggregation,
    TogetherAggregation,
)
from yarrowdew.core.aggregates.category_counts import LackingAggregation
from yarrowdew.core.aggregates.cell_counts import CellCounts, Grid
from yarrowdew.core.aggregates.cell_crops import cropped
from yarrowdew.core.aggregates.pair_sums import Ends, PairSums, Pivot
from yarrowdew.core.aggregates.view_rows import (
    WARPS,
    CellsAggregation,
    EndsAggregation,
    Gathered,
    Side,
    Warp,
    WithinAggregation,
    counts_in,
)
from yarrowdew.core.errors import UserFacingError
from yarrowdew.figures.cautions.dataset import NOT_SOUGHT, cautions_of_dataset
from yarrowdew.figures.datasets.answer_parts import (
    association_in,
    axis_of,
    cell_side,
    colour_of,
    not_shown,
)
from yarrowdew.figures.datasets.cache import SMALL_BYTES, cached_per_dataset
from yarrowdew.figures.datasets.groups import groups_in
from yarrowdew.figures.datasets.marks import marks_of_cells, marks_of_rows
from yarrowdew.figures.datasets.names import names_near
from yarrowdew.figures.datasets.pair_scan import MOST_ROWS_KEPT, PairScan
from yarrowdew.figures.datasets.request import DatasetRequest, VisibleRange
from yarrowdew.figures.datasets.view import DatasetView
from yarrowdew.figures.document.figure import FigureBase
from yarrowdew.figures.document.trends import TrendPart
from yarrowdew.figures.kinds.base import KindAnswer
from yarrowdew.figures.pipeline.answer_models import (
    AnswerBase,
    CellsAnswer,
    RowsNotDrawn,
)
from yarrowdew.figures.pipeline.answer_models import Counts as RowCounts
from yarrowdew.figures.pipeline.axis_values import AxisValues
from yarrowdew.figures.pipeline.curves import CurveAxes
from yarrowdew.figures.pipeline.fitting import MOST_LINES, Fitted, FittedTrend, parallel, request_of
from yarrowdew.figures.pipeline.groups import Groups
from yarrowdew.figures.pipeline.naming import NamesAnswer
from yarrowdew.figures.pipeline.readings import TrendReadings, answers_to, reading_of, slopes_of
from yarrowdew.figures.text.words import in_sentence
from yarrowdew.tables.datasets import Dataset
from yarrowdew.tables.errors import TableError
from yarrowdew.tables.table import Table

FEW_ROWS = 50_000
"""So many rows in view, or fewer, are drawn one by one."""
_SIDES = _ACROSS, _UP = 640, 500
_SMALL_SIDES = 64, 50
_FINER = ((1, 3), (4, 2), (math.inf, 1))
"""By the number of groups, so many times finer than they are drawn cells are counted: a look closer
needs no rows, and what is kept has a size."""


def answer(asked: DatasetRequest) -> KindAnswer:
    """Answer a scatterplot of a dataset, of one variable against another."""
    if len(set(asked.document.y)) > 1:
        raise TableError(
            "A figure of a dataset has one y variable.", "Choose one, and make more figures."
        )
    figure = _Figure.of(asked)
    scan = figure.scan()
    across, up = figure.visible_ends(scan, asked.visible)
    cells: Mapping[Group, CellCounts] = {}
    near = None
    rows = scan.at_most(across, up)
    if asked.counts_only or rows is None or rows > FEW_ROWS:
        sides = _SMALL_SIDES if asked.is_small else _SIDES
        cells = figure.cells_in(scan, across, up, sides)
        rows = sum(int(counts.cells.sum()) for counts in cells.values())
    if asked.counts_only and not cells:
        raise TableError(
            "There are no cells to count the rows in: a variable does not vary.",
            "Choose one that does.",
        )
    if rows <= FEW_ROWS and not asked.counts_only:
        near = figure.rows_in(scan, across, up)
        marks = marks_of_rows(near, figure.groups)
        told = None
    else:
        marks = marks_of_cells(cells, figure.groups, figure.warps)
        some = next(iter(cells.values()))
        told = CellsAnswer(across=cell_side(some.x), up=cell_side(some.y or some.x), rows=rows)
    return KindAnswer(figure.answer(scan, told, near), None, marks)


@dataclass(frozen=True, slots=True)
class _Figure:
    document: FigureBase
    view: DatasetView
    x: AxisValues
    y: AxisValues
    groups: Groups | None
    categories: Table

    @classmethod
    def of(cls, asked: DatasetRequest) -> _Figure:
        document, view = asked.document, asked.view
        x, y = view.axis(document.x, "the x variable"), view.axis(document.y[0], "the y variable")
        if x.variable.name == y.variable.name:
            raise TableError(
                f"'{x.variable.name}' is both the x and the y variable.",
                "Choose two different variables.",
            )
        groups = None
        if document.colour is not None:
            groups = groups_in(document.colour.variable, view, asked.categories)
        return cls(document, view, x, y, groups, asked.categories)

    @property
    def _by(self) -> str | None:
        return None if self.groups is None else self.groups.variable.name

    @property
    def warps(self) -> tuple[Warp, Warp]:
        """How each axis bends its values."""
        axes = self.document.axes
        return axes.x.scale, axes.y.scale

    def scan(self) -> PairScan:
        """Look at all rows once for what does not depend on the view, or remember it."""
        what = (self.x.variable, self.y.variable, self._by, self.warps)
        return cached_per_dataset(self.view.dataset, what, self._look, lambda found: found.size)

    def _look(self) -> PairScan:
        x, y = self.x.variable.name, self.y.variable.name
        near = Pivot(self.view.near(x), self.view.near(y))
        pairs = PairsAggregation(x, y, pivot=near)
        asks: list[Aggregation[Any]] = [pairs, LackingAggregation(x, y), EndsAggregation(x, y)]
        first = self.view.total(TogetherAggregation(tuple(asks))).parts
        # A line that is fitted asks for the same sums.
        sums: PairSums = self.view.remembered(pairs, None, lambda: first[0]).groups[None]
        labels = None if self._by is None else self.view.labels(self._by)
        ends = (_bent(sums.x_ends, self.warps[0]), _bent(sums.y_ends, self.warps[1]))
        cells = []
        if sums.n and all(low < high for low, high in ends):
            cells.append(self._counted(self.view.dataset, *ends))
        held = None if labels is None else labels.counts
        return PairScan(sums, first[1].counts, held, first[2], cells)

    def _sides(self, across: Ends, up: Ends) -> tuple[Side, Side]:
        groups = 1 if self.groups is None else len(self.groups.labels)
        finer = next(finer for most, finer in _FINER if groups <= most)
        return (
            Side(self.x.variable.name, Grid(*across, _ACROSS * finer), self.warps[0]),
            Side(self.y.variable.name, Grid(*up, _UP * finer), self.warps[1]),
        )

    def _counted(self, dataset: Dataset, across: Ends, up: Ends) -> Mapping[Group, CellCounts]:
        ask = CellsAggregation(*self._sides(across, up), self._by)
        return counts_in(replace(self.view, dataset=dataset).total(ask))

    def _near(self, scan: PairScan, across: Ends, up: Ends) -> Dataset:
        """The dataset without those parts that have no row in a view."""
        plain = [
            self._plain(side, warp) for side, warp in zip((across, up), self.warps, strict=True)
        ]
        return self.view.dataset.without(scan.ends.outside(plain[0], plain[1]))

    @staticmethod
    def _plain(side: Ends, warp: Warp) -> Ends:
        """Ends as values; what was bent and brought back may have lost its last digit."""
        low, high = (float(v) for v in WARPS[warp][1](np.array(side)))
        return low - 1e-12 * abs(low), high + 1e-12 * abs(high)

    def visible_ends(self, scan: PairScan, seen: VisibleRange) -> tuple[Ends, Ends]:
        """What is in view of what there is, in values as the axes bend them."""
        whole = (scan.sums.x_ends, scan.sums.y_ends)
        wanted = (seen.x or whole[0], seen.y or whole[1])
        out = []
        for ends, all_of_it, warp in zip(wanted, whole, self.warps, strict=True):
            low, high = _bent(all_of_it, warp)
            from_, to = _bent(ends, warp)
            from_, to = max(low, from_), min(high, to)
            out.append((from_, to) if from_ <= to else (low, low))
        return out[0], out[1]

    def cells_in(
        self, scan: PairScan, across: Ends, up: Ends, sides: tuple[int, int]
    ) -> Mapping[Group, CellCounts]:
        """Rows in the cells of a view: of what was counted finely, or by a look at the rows."""
        for counted in (*reversed(scan.cells),):
            held = _all_cropped(counted, across, up, sides)
            if held is not None:
                return held
        if not (across[0] < across[1] and up[0] < up[1]):
            return {}
        rows = scan.at_most(across, up)
        if rows is not None and rows <= MOST_ROWS_KEPT:
            # So few are kept themselves: whoever comes closer still waits no more.
            closer = self.rows_in(scan, across, up).counted(*self._sides(across, up))
        else:
            closer = self._counted(self._near(scan, across, up), across, up)
        scan.keep_cells(closer)
        return _all_cropped(closer, across, up, sides) or closer

    def rows_in(self, scan: PairScan, across: Ends, up: Ends) -> Gathered:
        """The rows of a view."""
        x, y = (
            self._plain(side, warp) for side, warp in zip((across, up), self.warps, strict=True)
        )
        held = scan.rows_in(x, y)
        if held is None:
            near = replace(self.view, dataset=self._near(scan, across, up))
            names = self.x.variable.name, self.y.variable.name
            held = near.total(WithinAggregation(*names, self._by, across=x, up=y)).rows()
            scan.keep_rows(x, y, held)
        return held

    def answer(
        self, scan: PairScan, cells: CellsAnswer | None, near: Gathered | None
    ) -> AnswerBase:
        """Everything beside the marks."""
        document, dataset = self.document, self.view.dataset
        trends, problems = self._trends()
        axes = CurveAxes(self.x.origin, self.y.origin, document.axes.x.scale, document.axes.y.scale)
        drawn = scan.sums.n
        rows = sum(scan.lacking.values())
        return AnswerBase(
            table=dataset.name,
            x=axis_of(self.x, scan.sums.x_ends),
            y=axis_of(self.y, scan.sums.y_ends),
            colour=None if self.groups is None else colour_of(self.groups, scan.labels or {}),
            names=self._names(near, trends),
            cells=cells,
            counts=RowCounts(
                rows=dataset.rows,
                filtered=dataset.rows - rows,
                drawn=drawn,
                set_aside=0,
                not_drawn=self._not_drawn(scan.lacking),
            ),
            trends=[one for trend in trends for one in answers_to(trend, self.groups, axes)],
            slopes=[one for trend in trends for one in slopes_of(trend)],
            association=None if document.trends else association_in(scan.sums),
            cautions=cautions_of_dataset(self.view, self.x, self.y, self.groups, trends),
            problems=[*problems, *not_shown(document, "from near" if near is None else "here")],
        )

    def _names(self, near: Gathered | None, trends: list[TrendReadings]) -> NamesAnswer | None:
        """Names of the rows in view; none where they are counted."""
        names = self.document.names
        if near is None or names is None:
            return None
        lines = trends[0].fitted.lines if trends else []
        return names_near(names, self.view.dataset, near, (self.x, self.y), lines)

    def _trends(self) -> tuple[list[TrendReadings], list[str]]:
        made, problems = [], []
        for place, trend in enumerate(self.document.trends):
            try:
                if trend.weights is not None:
                    raise TableError("A trend of a dataset has no weights.", "Leave them out.")
                groups = self._groups_of(trend)
                lines = self._lines(trend, groups)
            except UserFacingError as error:
                problems.append(str(error))
                continue
            shown = parallel(trend, lines)
            own = lines if shown is not lines else None
            fitted = FittedTrend(place, trend, groups, None, shown, [None] * len(shown), own)
            readings = [reading_of(line) for line in shown]
            for reading in readings:
                reading.report.assumptions.append(NOT_SOUGHT)
            made.append(TrendReadings(fitted, readings))
        return made, problems

    def _groups_of(self, trend: TrendPart) -> Groups | None:
        """The groups to each of which a trend is fitted; None where it is fitted to all rows."""
        if trend.by is None:
            return None
        if self.groups is not None and self.groups.variable.name == trend.by:
            return self.groups
        most = "to each of which a line can be fitted"
        return groups_in(trend.by, self.view, self.categories, MOST_LINES, most)

    def _lines(self, trend: TrendPart, groups: Groups | None) -> list[Fitted]:
        asked = request_of(trend, self.x, self.y, groups)
        labels = None if groups is None else groups.label_of
        return cached_per_dataset(
            self.view.dataset,
            (self.x, self.y, trend, labels),
            lambda: self.view.fit(asked, self.x, self.y, trend.by, labels),
            lambda lines: SMALL_BYTES * (1 + len(lines)),
        )

    def _not_drawn(self, lacking: Mapping[Group, int]) -> list[RowsNotDrawn]:
        x, y = in_sentence(self.x.variable), in_sentence(self.y.variable)
        reasons = {"y": y, "x": x, "both": f"{y} and {x}"}
        return [
            RowsNotDrawn.lacking(reason, lacking[lack])
            for lack, reason in reasons.items()
            if lacking.get(lack)
        ]


def _all_cropped(
    counted: Mapping[Group, CellCounts], across: Ends, up: Ends, sides: tuple[int, int]
) -> Mapping[Group, CellCounts] | None:
    """The cells of a view, of every group; None where these do not have them."""
    found = {group: cropped(one, across, up, sides) for group, one in counted.items()}
    held = {group: one for group, one in found.items() if one is not None}
    return held if len(held) == len(found) else None


def _bent(ends: Ends, warp: Warp) -> Ends:
    with np.errstate(all="ignore"):
        low, high = (float(v) for v in WARPS[warp][0](np.array(ends)))
    # Where an axis has no place for the smallest value it begins where places begin.
    if not np.isfinite(low):
        low = 0.0 if warp == "sqrt" else high - 35.0
    return low, high
