"""The answer to a figure document on the wire: what its colours, sizes, axes and counts say."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence, Set
from typing import Any, Literal

import numpy as np

from yarrowdew.core.arithmetic import scaled
from yarrowdew.core.sample import Array
from yarrowdew.figures.document.marks import Margin
from yarrowdew.figures.pipeline.axis_values import Amounts, AxisValues, check_drawable
from yarrowdew.figures.pipeline.differences import DifferenceAnswer
from yarrowdew.figures.pipeline.groups import Groups
from yarrowdew.figures.pipeline.margins import MarginAnswer, margin_of
from yarrowdew.figures.pipeline.naming import NamesAnswer
from yarrowdew.figures.pipeline.points import DrawnPoints, Points
from yarrowdew.figures.pipeline.view import View
from yarrowdew.figures.text.words import in_sentence
from yarrowdew.figures.wire.base import OnWire, VariableWords
from yarrowdew.figures.wire.reports import AssociationAnswer, Caution, SlopesAnswer, TrendAnswer

MOST_ROWS_LISTED = 1_000


class AxisAnswer(OnWire):
    """A variable on an axis, and the range of the values drawn; null where none are."""

    variable: VariableWords
    low: float | None
    high: float | None
    mean: float | None = None
    """Where a reference line asks for it."""
    median: float | None = None
    margin: list[MarginAnswer] = []


class SizeAnswer(OnWire):
    """Meaning of the sizes."""

    variable: VariableWords
    low: float | None
    """The smallest positive value drawn; null where there is none."""
    high: float | None
    non_positive: int
    """Drawn marks whose value has no size: zero or below."""
    missing: int


class ColourAnswer(OnWire):
    """Meaning of the colours."""

    variable: VariableWords
    scale: Literal["category", "amount"]
    categories: list[str] = []
    """The label of every category, in order; a mark's code is its place here."""
    values: list[str] = []
    """For each category its value, by which documents name it."""
    turns: list[int] = []
    """For each category its place among the study's colours."""
    colours: list[str | None] = []
    """For each category its own colour, where it was given one."""
    shown: list[bool] = []
    """Whether any drawn mark has the category."""
    low: float | None = None
    high: float | None = None
    missing: int = 0
    """How many drawn marks have no value."""


class RowsNotDrawn(OnWire):
    """Rows that could not be drawn, and why."""

    reason: str
    count: int
    rows: list[int]
    """At most a thousand of them, by their place in the table from 0."""

    @classmethod
    def lacking(cls, what: str, count: int, rows: Sequence[int] = ()) -> RowsNotDrawn:
        """Rows that lack a value, so that "6 rows" and the reason are a sentence."""
        verb = "lacks" if count == 1 else "lack"
        return cls(reason=f"{verb} {what}", count=count, rows=list(rows))


class Counts(OnWire):
    """Numbers of rows: in all, filtered, drawn and not drawn."""

    rows: int
    filtered: int
    """Rows that the figure's filter leaves out."""
    drawn: int
    set_aside: int
    not_drawn: list[RowsNotDrawn]


class CellSide(OnWire):
    """Cells along an axis: even between two values as the axis bends them."""

    low: float
    high: float
    count: int


class CellsAnswer(OnWire):
    """Grid in which rows are counted, where they are not drawn one by one."""

    across: CellSide
    up: CellSide
    rows: int
    """How many rows lie in them."""


class AnswerBase(OnWire):
    """Everything that a figure shows and says, apart from its marks.

    The marks come as an Arrow stream: `row`, `x`, `y`, `aside` (1 where the row is set aside) and,
    where they are asked for, `colour` (a category's code, or an amount), `size`, `text` (a place in
    `markers`, 65,535 without), `order` (of points that are connected), and the ends of error bars: `x_low`, `x_high`, `y_low`, `y_high`.
    """

    table: str
    x: AxisAnswer
    y: AxisAnswer
    counts: Counts
    colour: ColourAnswer | None = None
    size: SizeAnswer | None = None
    names: NamesAnswer | None = None
    markers: list[str] | None = None
    """Short texts used as markers."""
    cells: CellsAnswer | None = None
    """Of a dataset seen from afar: each mark is then a cell, and `count` how many rows lie in
    it."""
    trends: list[TrendAnswer] = []
    slopes: list[SlopesAnswer] = []
    differences: list[DifferenceAnswer] = []
    """Differences between readings of two groups."""
    association: AssociationAnswer | None = None
    """How the two variables go together; null where a trend is fitted."""
    cautions: list[Caution] = []
    problems: list[str] = []
    """What the document asks for and the data do not allow, as sentences."""


def axis_answer(
    axis: AxisValues,
    values: Array,
    *,
    asked: Set[str] = frozenset(),
    margin: Margin = "none",
    codes: np.ndarray | None = None,
) -> AxisAnswer:
    """Say what stands on an axis, and the ends of what is drawn.

    Parameters
    ----------
    axis : AxisValues
    values : ndarray, shape (marks,)
        That are drawn.
    asked : set of str
        Of "mean" and "median", those that a reference line asks for.
    margin : {"none", "histogram", "density", "box"}
    codes : ndarray, shape (marks,), optional
        Of the groups whose distributions stand apart.
    """
    some = len(values) > 0
    low, high = (float(values.min()), float(values.max())) if some else (None, None)
    check_drawable(axis.variable, low, high)
    return AxisAnswer(
        variable=VariableWords.of(axis.variable),
        low=low,
        high=high,
        mean=_middle(values, np.mean) if some and "mean" in asked else None,
        median=_middle(values, np.median) if some and "median" in asked else None,
        margin=margin_of(margin, values, codes),
    )


def _middle(values: Array, of: Callable[[Array], np.floating[Any]]) -> float:
    inner, exponent = scaled(values)
    return math.ldexp(float(of(inner)), exponent)


def size_answer(size: Amounts, drawn: DrawnPoints) -> SizeAnswer:
    """Say what sizes stand for among the points drawn."""
    values = drawn.take(size.values)
    present = values[np.isfinite(values)]
    positive = present[present > 0]
    low, high = (float(positive.min()), float(positive.max())) if len(positive) else (None, None)
    check_drawable(size.variable, low, high)
    return SizeAnswer(
        variable=VariableWords.of(size.variable),
        low=low,
        high=high,
        non_positive=len(present) - len(positive),
        missing=len(values) - len(present),
    )


def colour_answer(coloured: Groups | Amounts, drawn: DrawnPoints) -> ColourAnswer:
    """Say what colours stand for among the points drawn."""
    if isinstance(coloured, Groups):
        counts = np.bincount(drawn.take(coloured.codes), minlength=Groups.NONE + 1)
        return ColourAnswer(
            variable=VariableWords.of(coloured.variable),
            scale="category",
            categories=list[str](coloured.labels),
            values=[look.value for look in coloured.looks],
            turns=[look.colour_index for look in coloured.looks],
            colours=[look.colour for look in coloured.looks],
            shown=[bool(c) for c in counts[: len(coloured.labels)]],
            missing=int(counts[Groups.NONE]),
        )
    values = drawn.take(coloured.values)
    present = values[np.isfinite(values)]
    low, high = (float(present.min()), float(present.max())) if len(present) else (None, None)
    check_drawable(coloured.variable, low, high)
    return ColourAnswer(
        variable=VariableWords.of(coloured.variable),
        scale="amount",
        low=low,
        high=high,
        missing=len(values) - len(present),
    )


def counts_of(
    view: View, drawn: DrawnPoints, aside: np.ndarray, without: list[RowsNotDrawn]
) -> Counts:
    """Count what became of the rows."""
    return Counts(
        rows=view.rows,
        filtered=view.rows - view.table.rows,
        drawn=len(drawn.places),
        set_aside=int(np.count_nonzero(drawn.take(aside))),
        not_drawn=without,
    )


def not_drawn(points: Points) -> list[RowsNotDrawn]:
    """Find the rows that have no place, by what they lack."""
    x, y = points.x.variable, points.y.variable
    if points.drawn.is_complete:
        return []
    has_x, has_y = points.x.known, points.y.known
    if x.name == y.name:
        reasons = [(in_sentence(x), ~has_x)]
    else:
        reasons = [
            (in_sentence(y), has_x & ~has_y),
            (in_sentence(x), has_y & ~has_x),
            (f"{in_sentence(y)} and {in_sentence(x)}", ~has_x & ~has_y),
        ]
    out = []
    for reason, mask in reasons:
        rows = np.flatnonzero(mask)
        if len(rows):
            listed = points.rows[rows[:MOST_ROWS_LISTED]].tolist()
            out.append(RowsNotDrawn.lacking(reason, len(rows), listed))
    return out
