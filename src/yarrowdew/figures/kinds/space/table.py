"""The 3-D scatterplot: a mark for each row in a box of three axes."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from itertools import combinations

import numpy as np

from yarrowdew.core.arithmetic import computed
from yarrowdew.core.sample import Mask
from yarrowdew.core.surfaces.diagnostics import diagnose_surface
from yarrowdew.figures.document.figure import FigureBase
from yarrowdew.figures.document.space import Plane, Space
from yarrowdew.figures.kinds.base import FigureKind, KindAnswer
from yarrowdew.figures.kinds.space.planes import (
    MOST_PLANES,
    PlaneReport,
    off_planes,
    opposed_planes,
    planes_of,
    report_of,
)
from yarrowdew.figures.kinds.space.words import Axes3, FittedPlane, plane_cautions
from yarrowdew.figures.pipeline.answer_models import (
    MOST_ROWS_LISTED,
    AnswerBase,
    AxisAnswer,
    RowsNotDrawn,
    axis_answer,
    colour_answer,
    counts_of,
    size_answer,
)
from yarrowdew.figures.pipeline.axis_values import AxisValues
from yarrowdew.figures.pipeline.groups import Groups, called
from yarrowdew.figures.pipeline.marks import marks_of
from yarrowdew.figures.pipeline.naming import markers_of, names_of
from yarrowdew.figures.pipeline.points import DrawnPoints, Points, points_of
from yarrowdew.figures.pipeline.residual_diagnostics import (
    LineResiduals,
    ResidualDiagnostics,
    checked,
)
from yarrowdew.figures.pipeline.sizes import sizes_of
from yarrowdew.figures.pipeline.view import View
from yarrowdew.figures.text.words import in_sentence
from yarrowdew.figures.wire.base import OnWire
from yarrowdew.figures.wire.reports import Caution
from yarrowdew.tables.errors import TableError
from yarrowdew.tables.table import Table

_LEFT_TO_PAIRS = frozenset({"trends", "error_bars", "connect", "margins", "references"})


class SpaceAnswer(OnWire):
    """Everything that a 3-D scatterplot adds; its marks have a column `depth`."""

    depth: AxisAnswer
    planes: list[PlaneReport]


def part_of(document: FigureBase) -> Space:
    """Take the third axis of a document of this kind."""
    space = getattr(document, "space", None)
    assert isinstance(space, Space)  # noqa: S101 (a document of this kind has one)
    return space


def answer(view: View, most_marks: int | None, cautioned: bool) -> KindAnswer:
    """Work out the points, their planes, and what these say."""
    space = part_of(view.document)
    first, points, axes = _placed_points(view)
    depth, drawn = axes.depth, points.drawn
    planes, problems = _planes(axes, space.plane, points)
    sizes = sizes_of(points, [])
    text = first.marks.text
    markers = None if text is None else markers_of(points.table, text)
    x, y = (axis_answer(a, v) for a, v in ((points.x, drawn.x), (points.y, drawn.y)))
    common = AnswerBase(
        table=view.table.name,
        x=x,
        y=y,
        colour=None if points.colour is None else colour_answer(points.colour, drawn),
        size=None if sizes is None else size_answer(sizes, drawn),
        names=names_of(
            points,
            drawn.places,
            lambda: off_planes(planes, points.table.rows),
            depth.values,
        ),
        markers=None if markers is None else markers.texts,
        counts=counts_of(view, drawn, points.set_aside, _not_drawn(points, axes)),
        cautions=_cautions(axes, space.plane, planes, points) if cautioned else [],
        problems=[*problems, *left_of_pair(view.document), *points.problems],
    )
    part = SpaceAnswer(
        depth=axis_answer(depth, drawn.take(depth.values)),
        planes=[
            report_of(axes, space.plane, one, code_of(one, space.plane, points.groups))
            for one in planes
            if space.plane is not None
        ],
    )
    marks = marks_of(
        points,
        drawn.thinned(most_marks),
        sizes=sizes,
        markers=markers,
        more={"depth": depth.values},
    )
    return KindAnswer(common, part, marks)


def _placed_points(view: View) -> tuple[FigureBase, Points, Axes3]:
    """The points of a box, with the three axes on which they stand."""
    # Of several variables up a box has room for the first.
    first = view.document.model_copy(update={"y": view.document.y[:1]})
    points = points_of(replace(view, document=first))
    depth = AxisValues.of(view.table, part_of(first).variable, "the z variable")
    known = points.x.known & points.y.known & depth.known
    drawn = DrawnPoints.of(points.x.values, points.y.values, known)
    return first, replace(points, drawn=drawn), Axes3(points.x, depth, points.y)


def _leavings(view: View, place: int) -> ResidualDiagnostics:
    plane = part_of(view.document).plane
    if plane is None or place != 0:
        raise TableError("The figure has no plane.", "Add one first.")
    _, points, axes = _placed_points(view)
    groups = None if plane.by is None else Groups.of(points.table, plane.by)
    with computed("The residuals of this plane"):
        parts = [
            LineResiduals(one.group, one.of.rows, diagnose_surface(one.fit, one.of))
            for one in planes_of(axes, plane, groups, points.set_aside)
            if one.fit is not None
        ]
    return checked(ResidualDiagnostics(points, parts, groups, axes.depth), "plane")


def _planes(
    axes: Axes3, plane: Plane | None, points: Points
) -> tuple[list[FittedPlane], list[str]]:
    if plane is None:
        return [], []
    try:
        groups = None if plane.by is None else Groups.of(points.table, plane.by)
    except TableError as error:
        return [], [str(error)]
    problems = []
    if groups is not None and len(groups.present()) > MOST_PLANES:
        problems.append(
            f"'{plane.by}' has {len(groups.present()):,} categories: a plane is fitted to each "
            f"of the first {MOST_PLANES}."
        )
    return planes_of(axes, plane, groups, points.set_aside), problems


def _cautions(
    axes: Axes3, plane: Plane | None, planes: list[FittedPlane], points: Points
) -> list[Caution]:
    if plane is None:
        return []
    found = opposed_planes(axes, plane, points.groups, points.set_aside)
    return found + [c for one in planes for c in plane_cautions(axes, one, points.rows)]


def code_of(one: FittedPlane, plane: Plane, colours: Groups | None) -> int | None:
    """The code of a plane's group among the colours; None where these are of something else."""
    if one.group is None or colours is None or colours.variable.name != plane.by:
        return None
    return colours.labels.index(one.group) if one.group in colours.labels else None


def left_of_pair(document: FigureBase) -> list[str]:
    """What was set for the pair and has no place here."""
    left = []
    if len(document.y) > 1:
        left.append(
            "Of several y variables only the first is shown: each of the three axes has room for one."
        )
    if document.size is not None and document.size.influence:
        left.append("Marks are sized by influence on a line, and here is none.")
    return left


def _not_drawn(points: Points, axes: Axes3) -> list[RowsNotDrawn]:
    """Find the rows that have no place, by what they lack."""
    of = {a.variable.name: a for a in (axes.up, axes.across, axes.depth)}
    lacks = {name: ~axis.known for name, axis in of.items()}
    found = []
    for count in range(1, len(of) + 1):
        for names in combinations(of, count):
            lacking = np.logical_and.reduce(
                [lacks[name] if name in names else ~lacks[name] for name in of]
            )
            rows = np.flatnonzero(lacking)
            if len(rows):
                words = " and ".join(in_sentence(of[name].variable) for name in names)
                listed = points.rows[rows[:MOST_ROWS_LISTED]].tolist()
                found.append(RowsNotDrawn.lacking(words, len(rows), listed))
    return found


def _needed(document: FigureBase) -> Sequence[str]:
    return [document.x, document.y[0], part_of(document).variable]


def _placed(document: FigureBase, table: Table) -> Mask:
    columns = (table.frame[table.variable(name).name] for name in _needed(document))
    return np.asarray(
        np.logical_and.reduce([column.is_not_null().to_numpy() for column in columns])
    )


def _entries(document: FigureBase, table: Table) -> set[str]:
    plane = part_of(document).plane
    found = called(table, document.colour.variable if document.colour else None)
    return found | called(table, plane.by if plane else None)


def _counting(document: FigureBase) -> FigureBase:
    """Of several variables up only the first counts."""
    return document.model_copy(update={"y": document.y[:1]})


KIND = FigureKind(
    name="3-D scatterplot",
    label="3-D scatterplot",
    shows=frozenset(FigureBase.model_fields) - _LEFT_TO_PAIRS,
    counting=_counting,
    answer=answer,
    needed=_needed,
    placed=_placed,
    entries=_entries,
    residuals=_leavings,
    part_name="space",
    part=Space,
    part_holds="its third variable",
    dataset_module="yarrowdew.figures.kinds.space.dataset",
    answered=SpaceAnswer,
)
