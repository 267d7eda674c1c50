"""The scatterplot matrix: every pair of some variables on one page."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

import numpy as np
import polars as pl

from yarrowdew.core.sample import Mask
from yarrowdew.figures.document.figure import FigureBase
from yarrowdew.figures.document.matrix import Matrix
from yarrowdew.figures.document.redaction import Agreed
from yarrowdew.figures.kinds.base import FigureKind, KindAnswer
from yarrowdew.figures.kinds.matrix.cells import MatrixAnswer, matrix_of
from yarrowdew.figures.kinds.matrix.words import matrix_cautions
from yarrowdew.figures.pipeline.answer_models import (
    AnswerBase,
    axis_answer,
    colour_answer,
    counts_of,
)
from yarrowdew.figures.pipeline.axis_values import AxisValues
from yarrowdew.figures.pipeline.groups import Groups, called
from yarrowdew.figures.pipeline.marks import marks_of
from yarrowdew.figures.pipeline.points import DrawnPoints, Points, coloured_by
from yarrowdew.figures.pipeline.view import View
from yarrowdew.tables.errors import TableError
from yarrowdew.tables.table import Table

PAIR = 2
"""So many variables make a cell."""
_LEFT_TO_SCATTERPLOTS = frozenset(
    {
        "x",
        "y",
        "size",
        "names",
        "error_bars",
        "connect",
        "margins",
        "trends",
        "readings",
        "references",
        "notes",
        "axes",
    }
)


def part_of(document: FigureBase) -> Matrix:
    """Take the matrix of a document of this kind."""
    matrix = getattr(document, "matrix", None)
    assert isinstance(matrix, Matrix)  # noqa: S101 (a document of this kind has one)
    return matrix


def answer(view: View, most_marks: int | None, cautioned: bool) -> KindAnswer:
    """Answer with every cell, and a mark for each row with a place for each variable."""
    matrix = part_of(view.document)
    colour = coloured_by(view.document.colour, view.table)
    groups = colour if isinstance(colour, Groups) else None
    x_axis, y_axis = _first_pair(view.table, matrix)
    part, columns = matrix_of(matrix, view.table, groups, view.set_aside)
    some = np.logical_or.reduce([np.isfinite(v) for v in columns.values()])
    drawn = DrawnPoints.of(x_axis.values, y_axis.values, some)
    # Rows as points, with the first two variables of numbers or dates for their places.
    points = Points(
        document=view.document,
        table=view.table,
        rows=view.table.row_ids(),
        x=x_axis,
        y=y_axis,
        set_aside=view.set_aside,
        series=None,
        ups=[y_axis.variable],
        colour=colour,
        groups=groups,
        drawn=drawn,
        bars={},
        order=None,
    )
    x, y = (
        axis_answer(axis, axis.values[np.isfinite(axis.values)]) for axis in (points.x, points.y)
    )
    common = AnswerBase(
        table=view.table.name,
        x=x,
        y=y,
        colour=None if colour is None else colour_answer(colour, drawn),
        counts=counts_of(view, drawn, view.set_aside, []),
        cautions=matrix_cautions(part, columns, view.set_aside) if cautioned else [],
    )
    return KindAnswer(common, part, marks_of(points, drawn.thinned(most_marks), more=columns))


def _first_pair(table: Table, matrix: Matrix) -> tuple[AxisValues, AxisValues]:
    on_axis = [name for name in matrix.variables if table.variable(name).on_axis]
    if len(on_axis) < PAIR:
        raise TableError(
            "A matrix needs at least two variables of numbers or dates.",
            "Add one; categories are shown beside them as strips.",
        )
    x, y = (AxisValues.of(table, name, "a variable of a matrix") for name in on_axis[:PAIR])
    return x, y


def _counting(document: FigureBase) -> FigureBase:
    """A cell has no readings, and its trend is that of each colour."""
    plain = document.model_copy(deep=True)
    trend = part_of(plain).trend
    trend.read_off = []
    trend.by = trend.weights = None
    if trend.errors == "given":
        trend.errors = "equal"
    return plain


def _needed(document: FigureBase) -> Sequence[str]:
    variables = part_of(document).variables
    return variables if len(variables) == PAIR else []


def _standing(document: FigureBase, agreed: Agreed) -> dict[str, Any]:
    """The pair that would be opened first."""
    going = [v for v in part_of(document).variables if v in agreed.variables]
    if len(going) < PAIR:
        raise TableError(
            "A matrix needs two variables that are shared.", "Share more of its variables."
        )
    return {"x": going[0], "y": [going[1]]}


def _placed(document: FigureBase, table: Table) -> Mask:
    """A row that is in no pair has at most one of the variables."""
    present = sum(
        table.frame[table.variable(v).name].is_not_null().cast(pl.Int32)
        for v in part_of(document).variables
    )
    return np.asarray(present) >= PAIR


def _entries(document: FigureBase, table: Table) -> set[str]:
    return called(table, document.colour.variable if document.colour else None)


KIND = FigureKind(
    name="scatterplot matrix",
    label="matrix",
    shows=frozenset(FigureBase.model_fields) - _LEFT_TO_SCATTERPLOTS,
    counting=_counting,
    answer=answer,
    needed=_needed,
    standing=_standing,
    placed=_placed,
    entries=_entries,
    dataset_module="yarrowdew.figures.kinds.matrix.dataset",
    part_name="matrix",
    part=Matrix,
    part_holds="its variables",
    answered=MatrixAnswer,
)
