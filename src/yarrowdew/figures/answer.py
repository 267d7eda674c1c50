"""The one answer to a figure document: everything needed to draw it, and what it says."""

from __future__ import annotations

import io
import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from types import MappingProxyType
from typing import Any, Literal

import numpy as np
import polars as pl
from pydantic import BaseModel, ConfigDict

from yarrowdew.core.arithmetic import computed, scaled
from yarrowdew.core.diagnostics import cooks_distance
from yarrowdew.core.errors import FitError
from yarrowdew.core.sample import Array
from yarrowdew.figures.cautions import Caution, crowding_caution, missing_caution
from yarrowdew.figures.document import FigureDocument
from yarrowdew.figures.margins import MarginAnswer, margin_of
from yarrowdew.figures.matrix import MatrixAnswer, matrix_of
from yarrowdew.figures.naming import Markers, NamesAnswer, markers_of, named
from yarrowdew.figures.parts import Colour, Matrix
from yarrowdew.figures.report import Axis, FitReport, Fitted, Groups
from yarrowdew.figures.shown import Amounts, Shown, amounts_of, shown_of
from yarrowdew.figures.trends import (
    AssociationAnswer,
    SlopesAnswer,
    TrendAnswer,
    association_of,
    trends_of,
)
from yarrowdew.figures.words import in_sentence
from yarrowdew.tables.errors import TableError
from yarrowdew.tables.filters import kept_rows
from yarrowdew.tables.table import Kind, Table, Variable

MOST_ROWS_LISTED = 1_000


class _Answer(BaseModel):
    model_config = ConfigDict(use_attribute_docstrings=True)


class VariableWords(_Answer):
    """How a variable is written on the figure."""

    name: str
    label: str
    in_sentence: str
    unit: str
    kind: Kind


class AxisAnswer(_Answer):
    """A variable on an axis and the ends of what is drawn; null where nothing is."""

    variable: VariableWords
    low: float | None
    high: float | None
    mean: float | None = None
    """Where a reference line asks for it."""
    median: float | None = None
    margin: list[MarginAnswer] = []


class SizeAnswer(_Answer):
    """What sizes stand for."""

    variable: VariableWords
    low: float | None
    """The smallest positive value drawn; null where there is none."""
    high: float | None
    non_positive: int
    """Drawn marks whose value has no size: zero or below."""
    missing: int


class ColourAnswer(_Answer):
    """What colours stand for."""

    variable: VariableWords
    scale: Literal["category", "amount"]
    categories: list[str] = []
    """Every category as it is called, in order; a mark's code is its place here."""
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


class RowsNotDrawn(_Answer):
    """Rows that could not be drawn, and why."""

    reason: str
    count: int
    rows: list[int]
    """At most a thousand of them, by their place in the table from 0."""


class Counts(_Answer):
    """How many rows there are, and what became of them."""

    rows: int
    filtered: int
    """Rows that the figure's filter leaves out."""
    drawn: int
    set_aside: int
    not_drawn: list[RowsNotDrawn]


class Answer(_Answer):
    """What a figure shows and says, beside the marks themselves.

    The marks come as an Arrow stream: `row`, `x`, `y`, `aside` (1 where the row is set aside) and,
    where they are asked for, `colour` (a category's code, or an amount), `size`, `text` (a place in
    `markers`, 65,535 without), `order` (of points that are connected), and the ends of error bars: `x_low`, `x_high`, `y_low`, `y_high`.
    """

    table: str
    x: AxisAnswer
    y: AxisAnswer
    colour: ColourAnswer | None
    size: SizeAnswer | None
    names: NamesAnswer | None
    markers: list[str] | None
    """Short texts that stand in the place of markers."""
    matrix: MatrixAnswer | None = None
    """Of a scatterplot matrix; the rest is that of its first pair."""
    counts: Counts
    trends: list[TrendAnswer]
    slopes: list[SlopesAnswer]
    association: AssociationAnswer | None
    """How the two variables go together; null where a trend is fitted."""
    cautions: list[Caution]
    problems: list[str]
    """What was asked for and could not be done, as sentences."""


class Readings(_Answer):
    """What a figure says, without what it draws."""

    fits: list[FitReport]
    slopes: list[SlopesAnswer]
    association: AssociationAnswer | None
    cautions: list[Caution]
    problems: list[str]


def readings(document: FigureDocument, table: Table) -> Readings:
    """Work out what a figure says; see `answer`."""
    found = answer(document, table, most_marks=1).answer
    return Readings(
        fits=[trend.report for trend in found.trends],
        slopes=found.slopes,
        association=found.association,
        cautions=found.cautions,
        problems=found.problems,
    )


@dataclass(frozen=True, slots=True)
class Answered:
    """An answer and its marks, as an Arrow IPC stream."""

    answer: Answer
    marks: bytes


def answer(
    document: FigureDocument,
    table: Table,
    most_marks: int | None = None,
    *,
    cautioned: bool = True,
) -> Answered:
    """Work out everything that a figure needs to be drawn.

    Parameters
    ----------
    document : FigureDocument
    table : Table
        With at least the columns that the document uses.
    most_marks : int, optional
        For small pictures: at most so many marks, taken evenly from all rows.
    cautioned : bool
        Whether to look for what misleads, which a small picture does not show.

    Raises
    ------
    TableError
        If a variable does not exist or cannot stand where it is asked for.
    """
    with np.errstate(all="ignore"):
        return _answered(document, table, most_marks, cautioned=cautioned)


def _answered(
    document: FigureDocument, table: Table, most_marks: int | None, *, cautioned: bool
) -> Answered:
    whole = table
    if document.rows is not None:
        table = table.where(kept_rows(table, document.rows))
    if document.kind == "scatterplot matrix":
        return _matrix_answer(document, whole, table, most_marks)
    shown = shown_of(document, table)
    x, y = shown.x, shown.y
    aside = np.zeros(shown.table.rows, dtype=bool)
    aside[np.isin(shown.rows, document.set_aside)] = True
    has_x, has_y = np.isfinite(x.values), np.isfinite(y.values)
    drawn = _Drawn.of(x.values, y.values, has_x & has_y)
    coloured = _coloured(document.colour, shown)
    codes = coloured.codes[drawn.rows] if isinstance(coloured, Groups) else None
    trends = trends_of(document, shown, coloured=coloured, aside=aside, cautioned=cautioned)
    cautions = [
        *trends.cautions,
        *(missing_caution(x, y) if cautioned else []),
        *(crowding_caution(drawn.x, drawn.y) if cautioned else []),
    ]
    size = _sized(document, shown, trends.fitted)
    texts = document.marks.text
    markers = None if texts is None else markers_of(shown.table, texts)
    return Answered(
        Answer(
            table=table.name,
            x=_axis(x, drawn.x, document, "x", codes),
            y=_axis(y, drawn.y, document, "y", codes),
            colour=None if coloured is None else _colour_answer(coloured, drawn.rows),
            size=None if size is None else _size_answer(size, drawn.rows),
            names=named(document, shown, drawn.rows, trends.fitted),
            markers=None if markers is None else markers.texts,
            counts=Counts(
                rows=whole.rows,
                filtered=whole.rows - table.rows,
                drawn=len(drawn.rows),
                set_aside=int(np.count_nonzero(aside[drawn.rows])),
                not_drawn=_not_drawn(x.variable, y.variable, has_x, has_y, shown.rows),
            ),
            trends=trends.answers,
            slopes=trends.slopes,
            association=None if document.trends else association_of(shown, aside),
            cautions=cautions,
            problems=[*trends.problems, *shown.problems],
        ),
        _marks(
            drawn.thinned(most_marks),
            shown,
            coloured=coloured,
            size=size,
            markers=markers,
            aside=aside,
        ),
    )


def _matrix_answer(
    document: FigureDocument, whole: Table, table: Table, most_marks: int | None
) -> Answered:
    """Answer to a scatterplot matrix: a mark for each row, with a place for each variable."""
    plain = _first_pair(document, table)
    shown = shown_of(plain, table)
    aside = np.isin(shown.rows, document.set_aside)
    coloured = _coloured(document.colour, shown)
    groups = coloured if isinstance(coloured, Groups) else None
    matrix, columns = matrix_of(document, table, groups, aside)
    values = list(columns.values())
    some = np.logical_or.reduce([np.isfinite(v) for v in values])
    drawn = _Drawn.of(shown.x.values, shown.y.values, some)
    answer = Answer(
        table=table.name,
        x=_axis(shown.x, shown.x.values[np.isfinite(shown.x.values)], plain, "x", None),
        y=_axis(shown.y, shown.y.values[np.isfinite(shown.y.values)], plain, "y", None),
        colour=None if coloured is None else _colour_answer(coloured, drawn.rows),
        size=None,
        names=None,
        markers=None,
        matrix=matrix,
        counts=Counts(
            rows=whole.rows,
            filtered=whole.rows - table.rows,
            drawn=len(drawn.rows),
            set_aside=int(np.count_nonzero(aside[drawn.rows])),
            not_drawn=[],
        ),
        trends=[],
        slopes=[],
        association=None,
        cautions=[],
        problems=[],
    )
    marks = _marks(
        drawn.thinned(most_marks),
        shown,
        coloured=coloured,
        size=None,
        markers=None,
        aside=aside,
        more=columns,
    )
    return Answered(answer, marks)


def _first_pair(document: FigureDocument, table: Table) -> FigureDocument:
    """A matrix's document as that of its first pair of numbers or dates."""
    names = (document.matrix or Matrix(variables=[document.x, *document.y])).variables
    on_axis = [name for name in names if table.variable(name).on_axis]
    if len(on_axis) < 2:  # a pair
        raise TableError(
            "A matrix needs at least two variables of numbers or dates.",
            "Add one; categories stand beside them as strips.",
        )
    return FigureDocument(table=document.table, x=on_axis[0], y=[on_axis[1]])


@dataclass(frozen=True, slots=True)
class _Drawn:
    """Rows that have a place on both axes, and where that is."""

    rows: np.ndarray
    x: Array
    y: Array

    @classmethod
    def of(cls, x: Array, y: Array, drawable: np.ndarray) -> _Drawn:
        rows = np.flatnonzero(drawable)
        # Where every row is drawn, the values are not copied.
        return cls(rows, x, y) if len(rows) == len(x) else cls(rows, x[rows], y[rows])

    def thinned(self, most: int | None) -> _Drawn:
        if most is None or len(self.rows) <= most:
            return self
        kept = np.linspace(0, len(self.rows) - 1, most).astype(np.intp)
        return _Drawn(self.rows[kept], self.x[kept], self.y[kept])


def _sized(document: FigureDocument, shown: Shown, fits: Sequence[Fitted]) -> Amounts | None:
    """What marks are sized by: a variable, or how far each row moves the first trend."""
    if document.size is None:
        return None
    if document.size.variable is not None:
        return amounts_of(shown.table, document.size.variable)
    distances = np.full(shown.table.rows, np.nan)
    for one in fits:
        if one.fit is None:
            continue
        try:
            with computed("Cook’s distance"):
                cook = cooks_distance(one.fit, one.sample)
        except FitError:
            continue
        rows = one.sample.rows
        if cook is not None:
            distances[rows] = np.where(np.isnan(distances[rows]), cook, distances[rows])
    return Amounts(Variable("", Kind.NUMBER, "Cook’s distance"), distances)


def _coloured(colour: Colour | None, shown: Shown) -> Groups | Amounts | None:
    if shown.series is not None:
        return shown.series
    if colour is None:
        return None
    variable = shown.table.variable(colour.variable)
    if variable.on_axis and colour.scale != "category":
        return amounts_of(shown.table, variable.name)
    if colour.scale == "amount":
        raise TableError(
            f"'{variable.name}' holds {'categories' if variable.kind is Kind.CATEGORY else 'text'}, "
            "which have no amount.",
            "Colour by category instead.",
            column=variable.name,
        )
    return Groups.of(shown.table, variable.name)


def _words(variable: Variable) -> VariableWords:
    return VariableWords(
        name=variable.name,
        label=variable.label,
        in_sentence=in_sentence(variable),
        unit=variable.unit,
        kind=variable.kind,
    )


def _axis(
    axis: Axis,
    values: Array,
    document: FigureDocument,
    side: Literal["x", "y"],
    codes: np.ndarray | None,
) -> AxisAnswer:
    asked = {r.at for r in document.references if r.axis == side}
    some = len(values) > 0
    return AxisAnswer(
        variable=_words(axis.variable),
        low=float(values.min()) if some else None,
        high=float(values.max()) if some else None,
        mean=_middle(values, np.mean) if some and "mean" in asked else None,
        median=_middle(values, np.median) if some and "median" in asked else None,
        margin=margin_of(getattr(document.margins, side), values, codes),
    )


def _middle(values: Array, of: Callable[[Array], np.floating[Any]]) -> float:
    inner, exponent = scaled(values)
    return math.ldexp(float(of(inner)), exponent)


def _size_answer(size: Amounts, drawn: np.ndarray) -> SizeAnswer:
    values = size.values[drawn]
    present = values[np.isfinite(values)]
    positive = present[present > 0]
    return SizeAnswer(
        variable=_words(size.variable),
        low=float(positive.min()) if len(positive) else None,
        high=float(positive.max()) if len(positive) else None,
        non_positive=len(present) - len(positive),
        missing=len(values) - len(present),
    )


def _colour_answer(coloured: Groups | Amounts, drawn: np.ndarray) -> ColourAnswer:
    if isinstance(coloured, Groups):
        counts = np.bincount(coloured.codes[drawn], minlength=Groups.NONE + 1)
        return ColourAnswer(
            variable=_words(coloured.variable),
            scale="category",
            categories=coloured.labels,
            turns=[look.turn for look in coloured.looks],
            colours=[look.colour for look in coloured.looks],
            shown=[bool(c) for c in counts[: len(coloured.labels)]],
            missing=int(counts[Groups.NONE]),
        )
    values = coloured.values[drawn]
    present = values[np.isfinite(values)]
    return ColourAnswer(
        variable=_words(coloured.variable),
        scale="amount",
        low=float(present.min()) if len(present) else None,
        high=float(present.max()) if len(present) else None,
        missing=len(values) - len(present),
    )


def _not_drawn(
    x: Variable, y: Variable, has_x: np.ndarray, has_y: np.ndarray, ids: np.ndarray
) -> list[RowsNotDrawn]:
    if x.name == y.name:
        reasons = [(in_sentence(x), ~has_x)]
    else:
        reasons = [
            (in_sentence(y), has_x & ~has_y),
            (in_sentence(x), has_y & ~has_x),
            (f"{in_sentence(y)} or {in_sentence(x)}", ~has_x & ~has_y),
        ]
    out = []
    for reason, mask in reasons:
        rows = np.flatnonzero(mask)
        if len(rows):
            listed = ids[rows[:MOST_ROWS_LISTED]].tolist()
            out.append(RowsNotDrawn(reason=f"without {reason}", count=len(rows), rows=listed))
    return out


def _marks(
    drawn: _Drawn,
    shown: Shown,
    *,
    coloured: Groups | Amounts | None,
    size: Amounts | None,
    markers: Markers | None,
    aside: np.ndarray,
    more: Mapping[str, Array] = MappingProxyType({}),
) -> bytes:
    rows = drawn.rows
    columns = {
        "row": shown.rows[rows].astype(np.uint32),
        "x": drawn.x,
        "y": drawn.y,
        "aside": aside[rows].astype(np.uint8),
    }
    if isinstance(coloured, Groups):
        columns["colour"] = coloured.codes[rows]
    elif coloured is not None:
        columns["colour"] = coloured.values[rows]
    if size is not None:
        columns["size"] = size.values[rows]
    if markers is not None:
        columns["text"] = markers.codes[rows]
    if shown.order is not None:
        columns["order"] = shown.order[rows]
    columns |= {name: values[rows] for name, values in (*shown.bars.items(), *more.items())}
    if size is not None:
        columns["size"] = np.where(np.isfinite(columns["size"]), columns["size"], np.nan)
    stream = io.BytesIO()
    pl.DataFrame(columns).write_ipc_stream(
        stream, compression="uncompressed", compat_level=pl.CompatLevel.oldest()
    )
    return stream.getvalue()
