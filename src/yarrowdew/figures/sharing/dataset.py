"""A figure of a dataset as it is shared: its counts in cells, and never its rows."""

from __future__ import annotations

import base64
from dataclasses import dataclass, replace
from typing import Any

import numpy as np
import polars as pl

from yarrowdew.figures.answer import Answered
from yarrowdew.figures.dataset_answer import answer_dataset
from yarrowdew.figures.datasets.view import DatasetView
from yarrowdew.figures.document.marks import ErrorBars
from yarrowdew.figures.figure import FigureDocument
from yarrowdew.figures.sharing.models import SharedFigure, SharedVariable, ShareRequest
from yarrowdew.figures.sharing.redaction import reduced_for, roles_of
from yarrowdew.tables.arrow import arrow_stream
from yarrowdew.tables.table import Table


@dataclass(frozen=True, slots=True)
class Counted:
    """A dataset of which figures are shared.

    Attributes
    ----------
    view : DatasetView
    words : Table
        Its variables and first rows, with how the study orders and colours categories.
    """

    view: DatasetView
    words: Table


def words_of(source: Table | Counted) -> Table:
    """What knows the variables of a table or of a dataset."""
    return source.words if isinstance(source, Counted) else source


def drawn_of(document: FigureDocument, source: Table | Counted) -> FigureDocument:
    """A document without what is not drawn of a dataset that is counted, and so does not go out."""
    if not isinstance(source, Counted):
        return document
    nothing = {"names": None, "size": None, "connect": None, "error_bars": ErrorBars()}
    return document.model_copy(update=nothing)


def going_of(asked: ShareRequest, reduced: FigureDocument, source: Table | Counted) -> set[str]:
    """Name every variable whose values go out; of a dataset those that are drawn, and no others."""
    known = {v.name for v in words_of(source).variables}
    more = set() if isinstance(source, Counted) else set(asked.hover)
    return (set(roles_of(reduced)) | more) & known - set(asked.leave_out)


def count_out(asked: ShareRequest, document: FigureDocument, source: Counted) -> int:
    """How many rows are counted in the cells that go out."""
    return _counted(asked, document, source)[1].answer.counts.drawn


def shared_counts(asked: ShareRequest, document: FigureDocument, source: Counted) -> SharedFigure:
    """Make what is shared of a figure of a dataset.

    Raises
    ------
    TableError
        If a variable is to be left out without which there is no figure, or there are no cells.
    """
    reduced, answered = _counted(asked, document, source)
    told = answered.answer
    told.table = ""
    told.counts = told.counts.model_copy(
        update={"rows": told.counts.drawn, "filtered": 0, "not_drawn": []}
    )
    going = going_of(asked, reduced, source)
    return SharedFigure(
        document=reduced,
        answer=told,
        marks=base64.b64encode(answered.marks).decode(),
        variables=[
            SharedVariable(name=v.name, label=v.label, unit=v.unit, kind=v.kind.value)
            for v in source.words.variables
            if v.name in going
        ],
        hovered=[],
        rows=base64.b64encode(arrow_stream({"row": np.empty(0, np.uint32)})).decode(),
    )


def _counted(
    asked: ShareRequest, document: FigureDocument, source: Counted
) -> tuple[FigureDocument, Answered]:
    view, words = source.view, source.words
    # Which rows are kept is not told; that they are kept is.
    dataset = view.dataset.kept_by(document.rows)
    aside = [] if asked.rows_aside else document.set_aside
    out = sorted({*asked.rows_left_out.get(document.table, []), *aside})
    view = replace(view, dataset=replace(dataset, left_out=tuple(out)))
    whole = reduced_for(asked, document, words, rows=frozenset())
    first = answer_dataset(whole, view, categories=words, counts_only=True)
    labels = _labels(first)
    first = _only_drawn(first)
    called = {line.report.group for line in first.answer.trends if line.report.group is not None}
    if first.answer.colour is not None:
        called |= set(first.answer.colour.categories)
    distribution = getattr(first.answer, "distribution", None)
    if distribution is not None:
        called |= {group.group for group in distribution.groups if group.group is not None}
    # What the study calls otherwise goes out under that name alone.
    called |= {value for value, label in labels.items() if label in called}
    reduced = reduced_for(
        asked, document, words, rows=frozenset(), categories=called, called=labels
    )
    named = {
        name: tuple(one for one in categories if {one.value, one.shown} & called)
        for name, categories in words.categories.items()
    }
    told = replace(words, categories=named)
    found = answer_dataset(reduced, view, categories=told, counts_only=True)
    return reduced, _only_drawn(found)


def _labels(found: Answered) -> dict[str, str]:
    """What the study calls each category of the colours and of the lines, by its value."""
    colour = found.answer.colour
    labels = {} if colour is None else dict(zip(colour.values, colour.categories, strict=True))
    for line in found.answer.trends:
        if line.group_value is not None and line.report.group is not None:
            labels[line.group_value] = line.report.group
    return labels


def _only_drawn(found: Answered) -> Answered:
    """Take off what speaks of categories of which no row is drawn."""
    told = found.answer
    told.trends = [
        line.model_copy(update={"group_value": line.report.group})
        for line in told.trends
        if line.report.n
    ]
    if told.colour is not None:
        drawn = _codes_drawn(found)
        shown = [code in drawn for code in range(len(told.colour.categories))]
        # Marks name categories by their places, which stay.
        names = [c if there else "" for c, there in zip(told.colour.categories, shown, strict=True)]
        told.colour = told.colour.model_copy(
            update={"categories": names, "values": names, "shown": shown}
        )
    return found


def _codes_drawn(found: Answered) -> set[int | None]:
    """The colours of which something is drawn."""
    told: Any = found.answer
    if told.distribution is not None:
        return {group.code for group in told.distribution.groups}
    if told.matrix is not None:
        margins = [one for v in told.matrix.variables for one in (*v.histogram, *v.density)]
        cells = [
            one for c in told.matrix.cells for one in (*c.counts, *c.groups, *c.curves, *c.contours)
        ]
        return {one.code for one in (*margins, *cells)}
    return set(pl.read_ipc_stream(found.marks)["colour"].unique())
