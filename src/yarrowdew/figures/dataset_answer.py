"""The answer to a figure of a dataset, whose rows are never together."""

from __future__ import annotations

from dataclasses import replace
from importlib import import_module

from yarrowdew.figures.answer import Answered, answered
from yarrowdew.figures.datasets.request import DatasetRequest, VisibleRange
from yarrowdew.figures.datasets.view import DatasetView
from yarrowdew.figures.figure import FigureDocument
from yarrowdew.figures.kinds.base import KindAnswer
from yarrowdew.tables.errors import TableError
from yarrowdew.tables.table import Table

__all__ = ["VisibleRange", "answer_dataset"]


def answer_dataset(
    document: FigureDocument,
    view: DatasetView,
    seen: VisibleRange = VisibleRange(),
    *,
    categories: Table | None = None,
    is_small: bool = False,
    counts_only: bool = False,
) -> Answered:
    """Work out everything that a figure of a dataset needs to be drawn.

    Parameters
    ----------
    document : FigureDocument
    view : DatasetView
    seen : VisibleRange
        What is in view: cells are those of the view, and rows are given where they are few.
    categories : Table, optional
        That says how the study orders and colours categories.
    is_small : bool
        For a small picture: a tenth of the cells along each side.
    counts_only : bool
        That rows are counted even where they are few.

    Raises
    ------
    TableError
        If a dataset cannot be shown so, or a variable does not exist.
    """
    document = document.reduced()
    kind = document.of_kind
    if not kind.dataset_module:
        raise TableError(
            f"A {document.kind} cannot be drawn from a dataset, which is read in chunks.",
            "Show it as a scatterplot, or import part of its rows.",
        )
    asked = DatasetRequest(
        document,
        replace(view, dataset=view.dataset.kept_by(document.rows)),
        categories or view.dataset.head,
        seen,
        is_small,
        counts_only,
    )
    found: KindAnswer = import_module(kind.dataset_module).answer(asked)
    return answered(kind, found)
