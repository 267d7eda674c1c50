"""The distribution: one number by itself, or one number for each category."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from typing import Any, TypeVar

import numpy as np

from yarrowdew.core.distributions.spread import spread
from yarrowdew.core.sample import Mask
from yarrowdew.figures.document.distribution import Distribution
from yarrowdew.figures.document.figure import FigureBase
from yarrowdew.figures.document.redaction import Agreed
from yarrowdew.figures.kinds.base import FigureKind, KindAnswer
from yarrowdew.figures.kinds.distribution.descriptions import (
    DistributionAnswer,
    GroupValues,
    ValuesOf,
    shapes_of,
    spreads_of,
)
from yarrowdew.figures.kinds.distribution.words import spread_cautions
from yarrowdew.figures.pipeline.answer_models import (
    MOST_ROWS_LISTED,
    AnswerBase,
    RowsNotDrawn,
    axis_answer,
    colour_answer,
    counts_of,
    size_answer,
)
from yarrowdew.figures.pipeline.axis_values import AxisValues
from yarrowdew.figures.pipeline.groups import Groups, called
from yarrowdew.figures.pipeline.marks import marks_of
from yarrowdew.figures.pipeline.naming import names_of
from yarrowdew.figures.pipeline.points import DrawnPoints, points_of
from yarrowdew.figures.pipeline.sizes import sizes_of
from yarrowdew.figures.pipeline.view import View
from yarrowdew.figures.text.words import in_sentence
from yarrowdew.tables.errors import TableError
from yarrowdew.tables.table import Table

_LEFT_TO_PAIRS = frozenset({"x", "y", "trends", "error_bars", "connect", "margins", "readings"})
MOST_GROUPS = 40


def part_of(document: FigureBase) -> Distribution:
    """Take what a document of this kind shows."""
    held = getattr(document, "distribution", None)
    assert isinstance(held, Distribution)  # noqa: S101 (a document of this kind has one)
    return held


def answer(view: View, most_marks: int | None, cautioned: bool) -> KindAnswer:
    """Describe every group, compare them, and say what that says."""
    asked = part_of(view.document)
    plain = view.document.model_copy(update={"x": asked.variable, "y": [asked.variable]})
    points = points_of(replace(view, document=plain))
    axis = points.x
    groups = None if asked.by is None else Groups.of(view.table, asked.by)
    known = axis.known if groups is None else axis.known & (groups.codes != Groups.NONE)
    drawn = DrawnPoints.of(axis.values, axis.values, known)
    points = replace(points, drawn=drawn)
    values = _values(view.table, asked, axis, groups, known & ~points.set_aside)
    held, shared = shapes_of(asked, values)
    part = spreads_of(asked, axis, held, groups, colours=points.groups, shared=shared)
    sizes = sizes_of(points, [])
    common = AnswerBase(
        table=view.table.name,
        x=axis_answer(axis, drawn.x, asked={r.at for r in view.document.references}),
        y=axis_answer(axis, drawn.x, asked={r.at for r in view.document.references}),
        colour=None if points.colour is None else colour_answer(points.colour, drawn),
        size=None if sizes is None else size_answer(sizes, drawn),
        names=names_of(points, drawn.places, lambda: None),
        counts=counts_of(view, drawn, points.set_aside, _not_drawn(view, axis, groups)),
        cautions=spread_cautions(axis.variable, held, groups) if cautioned else [],
        problems=width_problems(asked, part),
    )
    codes = np.zeros(view.table.rows) if groups is None else groups.codes.astype(np.float64)
    marks = marks_of(points, drawn.thinned(most_marks), sizes=sizes, more={"group": codes})
    return KindAnswer(common, part, marks)


def _values(
    table: Table, asked: Distribution, axis: AxisValues, groups: Groups | None, used: Mask
) -> list[ValuesOf]:
    """The groups that have values, in the order in which they are shown."""
    rows = table.row_ids()
    wanted: list[tuple[str | None, int | None, Mask]]
    if groups is None:
        wanted = [(None, None, used)]
    else:
        present = groups.present()
        check_groups(groups, len(present))
        wanted = [
            (groups.labels[int(code)], int(code), used & (groups.codes == code)) for code in present
        ]
    found = []
    for label, code, own in wanted:
        places = np.flatnonzero(own)
        if len(places):
            values = axis.values[places]
            spreads = spread(values, asked.level)
            found.append(ValuesOf(label, code, values, rows[places], spreads))
    return in_lanes(asked, found)


def check_groups(groups: Groups, count: int) -> None:
    """Raise TableError where there are more groups than stand side by side."""
    if count > MOST_GROUPS:
        raise TableError(
            f"'{groups.variable.name}' has {count:,} categories; a distribution shows "
            f"at most {MOST_GROUPS} side by side.",
            "Keep some with a row filter, or choose a variable with fewer.",
            column=groups.variable.name,
        )


Lane = TypeVar("Lane", ValuesOf, GroupValues)


def in_lanes(asked: Distribution, found: list[Lane]) -> list[Lane]:
    """Put groups in the order in which they are shown."""
    if asked.order == "name":
        return sorted(found, key=lambda one: (one.label or "").casefold())
    if asked.order == "median":
        return sorted(found, key=lambda one: one.spread.median.value)
    return found


def width_problems(asked: Distribution, part: DistributionAnswer) -> list[str]:
    """Say where bins are not as wide as they were asked for."""
    wanted, width = asked.bin_width, part.bin_width
    if not asked.histogram or wanted is None or width is None or width == wanted:
        return []
    return [f"Bins {wanted:g} wide do not suit these values: they are {width:g} wide."]


def _not_drawn(view: View, axis: AxisValues, groups: Groups | None) -> list[RowsNotDrawn]:
    lacks = [(in_sentence(axis.variable), ~axis.known)]
    if groups is not None:
        lacks.append((in_sentence(groups.variable), axis.known & (groups.codes == Groups.NONE)))
    ids = view.table.row_ids()
    return [
        RowsNotDrawn.lacking(
            what, int(mask.sum()), ids[np.flatnonzero(mask)[:MOST_ROWS_LISTED]].tolist()
        )
        for what, mask in lacks
        if mask.any()
    ]


def _needed(document: FigureBase) -> Sequence[str]:
    asked = part_of(document)
    # All rows in one lane would be another figure than the one that was agreed to.
    return [asked.variable, *([] if asked.by is None else [asked.by])]


def _standing(document: FigureBase, _agreed: Agreed) -> dict[str, Any]:
    """Its own variable stands for the pair that it does not show."""
    own = part_of(document).variable
    return {"x": own, "y": [own]}


def _placed(document: FigureBase, table: Table) -> Mask:
    asked = part_of(document)
    placed = table.frame[table.variable(asked.variable).name].is_not_null().to_numpy()
    if asked.by is not None:
        placed = placed & table.frame[table.variable(asked.by).name].is_not_null().to_numpy()
    return np.asarray(placed)


def _entries(document: FigureBase, table: Table) -> set[str]:
    found = called(table, document.colour.variable if document.colour else None)
    return found | called(table, part_of(document).by)


KIND = FigureKind(
    name="distribution",
    label="distribution",
    shows=frozenset(FigureBase.model_fields) - _LEFT_TO_PAIRS,
    answer=answer,
    needed=_needed,
    standing=_standing,
    placed=_placed,
    entries=_entries,
    dataset_module="yarrowdew.figures.kinds.distribution.dataset",
    part_name="distribution",
    part=Distribution,
    part_holds="its variable",
    answered=DistributionAnswer,
)
