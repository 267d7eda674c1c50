"""The scatterplot, and the bubble chart where marks are sized: one mark for each row of a table."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from functools import partial
from typing import Literal

import numpy as np

from yarrowdew.core.arithmetic import computed
from yarrowdew.core.diagnostics import diagnose
from yarrowdew.core.parallel import submit
from yarrowdew.core.sample import Array, Mask
from yarrowdew.figures.cautions.figure import cautions_of
from yarrowdew.figures.document.figure import FigureBase
from yarrowdew.figures.kinds.base import FigureKind, KindAnswer
from yarrowdew.figures.pipeline.answer_models import (
    AnswerBase,
    AxisAnswer,
    axis_answer,
    colour_answer,
    counts_of,
    not_drawn,
    size_answer,
)
from yarrowdew.figures.pipeline.axis_values import Amounts, AxisValues
from yarrowdew.figures.pipeline.fitting import fit_of, fitted_of
from yarrowdew.figures.pipeline.groups import called
from yarrowdew.figures.pipeline.marks import marks_of
from yarrowdew.figures.pipeline.naming import markers_of, names_of, off_lines
from yarrowdew.figures.pipeline.points import labels_of_ups, points_of
from yarrowdew.figures.pipeline.readings import Reading, readings_of
from yarrowdew.figures.pipeline.residual_diagnostics import (
    LineResiduals,
    ResidualDiagnostics,
    checked,
)
from yarrowdew.figures.pipeline.sizes import sizes_of
from yarrowdew.figures.pipeline.view import View
from yarrowdew.tables.errors import TableError
from yarrowdew.tables.table import Table


def answer(view: View, most_marks: int | None, cautioned: bool) -> KindAnswer:
    """Work out points, fits, readings and cautions, in this order, and answer with them."""
    points = points_of(view)
    drawn = points.drawn
    document = points.document
    text = document.marks.text
    markers = None if text is None else markers_of(points.table, text)

    def begun(lines: Sequence[Reading]) -> tuple[Amounts | None, Callable[[], bytes]]:
        sizes = sizes_of(points, lines)
        seen = drawn.thinned(most_marks)
        write = partial(marks_of, points, seen, sizes=sizes, markers=markers)
        return sizes, submit(write, points.rows.size)

    # Unless fits say how large they are, marks are written while these are worked out.
    early = None if document.size and document.size.influence else begun(())
    fitted = fitted_of(points)
    readings = readings_of(fitted)
    sizes, marks = early or begun(readings.lines)
    cautions = cautions_of(points, readings) if cautioned else []
    codes = None if points.groups is None else drawn.take(points.groups.codes)
    common = AnswerBase(
        table=view.table.name,
        x=_axis(points.x, drawn.x, document, "x", codes),
        y=_axis(points.y, drawn.y, document, "y", codes),
        colour=None if points.colour is None else colour_answer(points.colour, drawn),
        size=None if sizes is None else size_answer(sizes, drawn),
        names=names_of(points, drawn.places, lambda: off_lines(points, readings.lines)),
        markers=None if markers is None else markers.texts,
        counts=counts_of(view, drawn, points.set_aside, not_drawn(points)),
        trends=readings.answers,
        slopes=readings.slopes if cautioned else [],
        differences=readings.differences,
        association=readings.association,
        cautions=cautions,
        problems=[*fitted.problems, *points.problems],
    )
    return KindAnswer(common, None, marks())


def _leavings(view: View, place: int) -> ResidualDiagnostics:
    trends = view.document.trends
    if not 0 <= place < len(trends):
        raise TableError(f"The figure has no trend {place + 1}.", "Add a trend first.")
    points = points_of(view)
    fitted = fit_of(points, place, trends[place])
    with computed("The residuals of this trend"):
        parts = [
            LineResiduals(line.group, line.sample.rows, diagnose(line.fit, line.sample))
            for line in fitted.lines
            if line.fit is not None
        ]
    return checked(ResidualDiagnostics(points, parts, fitted.groups), "line of this trend")


def _axis(
    axis: AxisValues,
    values: Array,
    document: FigureBase,
    side: Literal["x", "y"],
    codes: np.ndarray | None,
) -> AxisAnswer:
    asked = {r.at for r in document.references if r.axis == side}
    margin = document.margins.x if side == "x" else document.margins.y
    return axis_answer(axis, values, asked=asked, margin=margin, codes=codes)


def _needed(document: FigureBase) -> Sequence[str]:
    return [document.x, *(document.y if len(document.y) == 1 else [])]


def _placed(document: FigureBase, table: Table) -> Mask:
    x, *ups = (table.frame[table.variable(n).name] for n in (document.x, *document.y))
    placed = np.any([up.is_not_null().to_numpy() for up in ups], axis=0)
    return np.asarray(placed & x.is_not_null().to_numpy())


def _entries(document: FigureBase, table: Table) -> set[str]:
    if len(document.y) > 1:
        return set(labels_of_ups(document, table))
    return called(table, document.colour.variable if document.colour else None)


KIND = FigureKind(
    name="scatterplot",
    label="scatterplot",
    shows=frozenset(FigureBase.model_fields),
    answer=answer,
    needed=_needed,
    placed=_placed,
    entries=_entries,
    dataset_module="yarrowdew.figures.kinds.scatterplot.dataset",
    residuals=_leavings,
)
