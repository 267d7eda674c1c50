"""What is asked of a dataset so that a figure can be drawn."""

from __future__ import annotations

from dataclasses import dataclass

from yarrowdew.core.aggregates.pair_sums import Ends
from yarrowdew.figures.datasets.view import DatasetView
from yarrowdew.figures.document.figure import FigureBase
from yarrowdew.tables.table import Table


@dataclass(frozen=True, slots=True)
class VisibleRange:
    """What of a plot is in view, in values on its axes; all of it where None."""

    x: Ends | None = None
    y: Ends | None = None


@dataclass(frozen=True, slots=True)
class DatasetRequest:
    """A figure of a dataset that is to be drawn.

    Attributes
    ----------
    document : FigureBase
    view : DatasetView
        Of the rows that the document keeps.
    categories : Table
        That says how the study orders and colours categories.
    visible : VisibleRange
        Cells are those of the view, and rows are given where they are few.
    is_small : bool
        For a small picture: a tenth of the cells along each side.
    counts_only : bool
        That rows are counted even where they are few.
    """

    document: FigureBase
    view: DatasetView
    categories: Table
    visible: VisibleRange = VisibleRange()
    is_small: bool = False
    counts_only: bool = False
