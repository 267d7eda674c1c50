"""A 3-D scatterplot of a dataset: planes of all rows, and marks for some of them."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from yarrowdew.core.aggregates.aggregation import Group, RowsAggregation, TogetherAggregation
from yarrowdew.core.aggregates.sampling import RowSample
from yarrowdew.core.aggregates.triples import TripleNumbers, TripleNumbersAggregation
from yarrowdew.core.aggregates.view_rows import Gathered
from yarrowdew.core.surfaces.chunked import ChunkedSurface, SurfaceRequest, fit_surfaces_chunked
from yarrowdew.core.surfaces.surface import Triples
from yarrowdew.figures.cautions.dataset import NOT_SOUGHT
from yarrowdew.figures.datasets.answer_parts import axis_of, colour_of, not_shown
from yarrowdew.figures.datasets.cache import SMALL_BYTES, cached_per_dataset
from yarrowdew.figures.datasets.groups import groups_in
from yarrowdew.figures.datasets.marks import marks_of_rows
from yarrowdew.figures.datasets.request import DatasetRequest
from yarrowdew.figures.datasets.view import DatasetView
from yarrowdew.figures.document.space import Plane
from yarrowdew.figures.kinds.base import KindAnswer
from yarrowdew.figures.kinds.space.planes import MOST_PLANES, PlaneReport, report_of
from yarrowdew.figures.kinds.space.table import SpaceAnswer, code_of, left_of_pair, part_of
from yarrowdew.figures.kinds.space.words import Axes3, FittedPlane
from yarrowdew.figures.pipeline.answer_models import AnswerBase, RowsNotDrawn
from yarrowdew.figures.pipeline.answer_models import Counts as RowCounts
from yarrowdew.figures.pipeline.groups import Groups
from yarrowdew.figures.text.words import count_of, in_sentence
from yarrowdew.tables.categories import CategoryLabel, CategoryValue
from yarrowdew.tables.errors import TableError
from yarrowdew.tables.table import Table

MOST_MARKS, _SMALL = 6_000, 1_500
"""So many rows are drawn, and in a small picture."""
_ROW_BYTES = 64


@dataclass(frozen=True, slots=True)
class _PlaneByParts(FittedPlane):
    """A plane that was fitted to rows which were never together."""

    found: ChunkedSurface | None = None

    @property
    def n(self) -> int:
        """How many rows it was fitted to."""
        return 0 if self.found is None else self.found.n

    @property
    def dropped(self) -> Mapping[str, int]:
        """How many rows were left out, by reason."""
        return {"missing": 0 if self.found is None else self.found.numbers.missing}


def answer(asked: DatasetRequest) -> KindAnswer:
    """Fit the plane to all rows, and draw as many as can be told apart."""
    document, view = asked.document, asked.view
    space, dataset = part_of(document), view.dataset
    x, depth, y = (
        view.axis(name, place)
        for name, place in (
            (document.x, "the x variable"),
            (space.variable, "the z variable"),
            (document.y[0], "the y variable"),
        )
    )
    axes = Axes3(x, depth, y)
    if len({axis.variable.name for axis in (x, depth, y)}) < 3:
        raise TableError(
            "The same variable is on two of the three axes.",
            "Choose three different variables.",
        )
    if asked.counts_only:
        raise TableError(
            "A 3-D scatterplot shows rows of the dataset, and rows of a dataset are never shared.",
            "Share a pair of them, or a matrix.",
        )
    groups = None
    if document.colour is not None:
        groups = groups_in(document.colour.variable, view, asked.categories)
    numbers, samples = _scan(view, axes, groups)
    problems = [*left_of_pair(document), *not_shown(document)]
    planes: list[PlaneReport] = []
    if space.plane is not None:
        try:
            fitted = planes_of_dataset(view, axes, space.plane, asked.categories)
            planes = _reports(axes, space.plane, fitted, groups)
        except TableError as error:
            problems.append(str(error))
    drawn = _sampled_marks(axes, samples, _SMALL if asked.is_small else MOST_MARKS)
    if len(drawn.places) < numbers.of[0].n:
        problems.append(
            f"{count_of(len(drawn.places), 'row')} of {numbers.of[0].n:,} are drawn, each as "
            "likely as any other; a plane is of all of them."
        )
    labels = None if groups is None else view.labels(groups.variable.name).counts
    ends = [(one.low, one.high) for one in numbers.of]
    names = [in_sentence(axis.variable) for axis in (y, x, depth)]
    lacking = [RowsNotDrawn.lacking(f"{names[0]}, {names[1]} or {names[2]}", numbers.missing)]
    common = AnswerBase(
        table=dataset.name,
        x=axis_of(x, ends[0]),
        y=axis_of(y, ends[2]),
        colour=None if groups is None else colour_of(groups, labels or {}),
        counts=RowCounts(
            rows=dataset.rows,
            filtered=dataset.rows - numbers.of[0].n - numbers.missing,
            drawn=numbers.of[0].n,
            set_aside=0,
            not_drawn=lacking if numbers.missing else [],
        ),
        problems=problems,
    )
    part = SpaceAnswer(depth=axis_of(depth, ends[1]), planes=planes)
    return KindAnswer(common, part, marks_of_rows(drawn, groups))


def _names(axes: Axes3) -> tuple[str, str, str]:
    return axes.across.variable.name, axes.depth.variable.name, axes.up.variable.name


def _near(view: DatasetView, axes: Axes3) -> tuple[float, float, float]:
    of = (axes.across, axes.depth, axes.up)
    a, b, c = (view.near(axis.variable.name) - axis.origin for axis in of)
    return a, b, c


def _scan(
    view: DatasetView, axes: Axes3, groups: Groups | None
) -> tuple[TripleNumbers, Mapping[Group, RowSample]]:
    """Look at all rows for their ends, and for some of them."""
    names = _names(axes)
    by = None if groups is None else groups.variable.name

    def look() -> tuple[TripleNumbers, Mapping[Group, RowSample]]:
        near = (view.near(names[0]), view.near(names[1]), view.near(names[2]))
        asks = TogetherAggregation(
            (
                TripleNumbersAggregation(*names, near=near),
                RowsAggregation(names, MOST_MARKS, by, also_none=True),
            )
        )
        numbers, samples = view.total(asks).parts
        return numbers.groups[None], samples.groups

    return cached_per_dataset(
        view.dataset,
        ("space", names, by),
        look,
        lambda found: SMALL_BYTES + _ROW_BYTES * sum(len(one.rows) for one in found[1].values()),
    )


def _sampled_marks(axes: Axes3, samples: Mapping[Group, RowSample], most: int) -> Gathered:
    """A sample of all rows, of those of the groups; each with its group."""
    nothing = np.empty(0)
    rows = np.concatenate([nothing.astype(np.int64), *(one.rows for one in samples.values())])
    columns: dict[str, np.ndarray] = {
        name: np.concatenate([nothing, *(one.columns[name] for one in samples.values())])
        for name in _names(axes)
    }
    columns["group"] = np.concatenate(
        [
            nothing.astype(object),
            *(np.full(len(one.rows), group, dtype=object) for group, one in samples.items()),
        ]
    )
    found = RowSample.of(rows, columns, most)
    x, depth, y = _names(axes)
    held = {"x": x, "y": y, "depth": depth, "group": "group"}
    return Gathered(found.rows, {as_: found.columns[name] for as_, name in held.items()})


def planes_of_dataset(
    view: DatasetView, axes: Axes3, plane: Plane, categories: Table
) -> list[FittedPlane]:
    """Fit a plane to the whole of a dataset, or to each category; see `planes_of`.

    Raises
    ------
    TableError
        If there are too many categories.
    """
    groups = None
    if plane.by is not None:
        most = "to each of which a plane is fitted at most"
        groups = groups_in(plane.by, view, categories, MOST_PLANES, most)
    wanted = SurfaceRequest(
        *_names(axes),
        None if groups is None else groups.variable.name,
        _near(view, axes),
        plane.degree,
    )
    origins = {axis.variable.name: axis.origin for axis in (axes.across, axes.depth, axes.up)}
    found = cached_per_dataset(
        view.dataset,
        wanted,
        lambda: fit_surfaces_chunked(lambda ask: view.total(ask, origins), wanted),
        lambda made: SMALL_BYTES * (1 + len(made)),
    )
    none = np.empty(0)
    nothing = Triples(none, none, none, np.empty(0, dtype=np.intp))
    order: list[tuple[CategoryLabel | None, CategoryValue | None]] = [(None, None)]
    if groups is not None:
        order = [(label, value) for value, label in groups.label_of.items() if value in found]
    return [
        _PlaneByParts(label, value, nothing, one.fit, one.problem, one)
        for label, value in order
        for one in (found[value],)
    ]


def _reports(
    axes: Axes3, plane: Plane, planes: list[FittedPlane], colours: Groups | None
) -> list[PlaneReport]:
    out = []
    for one in planes:
        report = report_of(axes, plane, one, code_of(one, plane, colours))
        if one.fit is not None:
            report.assumptions.append(NOT_SOUGHT)
        out.append(report)
    return out
