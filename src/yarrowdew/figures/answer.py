"""The one answer to a figure document: everything needed to draw it, and what it says."""

from __future__ import annotations

import io
from dataclasses import dataclass
from typing import Literal

import numpy as np
import polars as pl
from pydantic import BaseModel, ConfigDict

from yarrowdew.core.sample import Array
from yarrowdew.core.trends import TrendFit
from yarrowdew.core.trends.base import BandKind
from yarrowdew.figures.cautions import Caution, crowding_caution, group_cautions, trend_cautions
from yarrowdew.figures.document import FigureDocument
from yarrowdew.figures.margins import MarginAnswer, margin_of
from yarrowdew.figures.naming import Markers, NamesAnswer, markers_of, named
from yarrowdew.figures.parts import Colour, Trend
from yarrowdew.figures.report import Axis, FitReport, Fitted, Groups, family_label, fit_groups
from yarrowdew.figures.shown import Amounts, Shown, amounts_of, shown_of
from yarrowdew.figures.words import in_sentence
from yarrowdew.tables.errors import TableError
from yarrowdew.tables.filters import kept_rows
from yarrowdew.tables.table import Kind, Table, Variable

CURVE_POINTS = 129
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


class BandCurve(_Answer):
    """A band at each x of its trend's curve."""

    kind: BandKind
    level: float
    low: list[float]
    high: list[float]


class TrendCurve(_Answer):
    """A fitted line as it is drawn, in places on the axes."""

    x: list[float]
    y: list[float]
    bands: list[BandCurve]


class WithAll(_Answer):
    """What a line would say if nothing were set aside."""

    n: int
    slope: float | None
    r_squared: float | None


class TrendAnswer(_Answer):
    """One fitted line: where it goes and what it says."""

    trend: int
    """Which of the document's trends."""
    family_label: str
    group_code: int | None
    """Place of its group among the colour's categories; null where it has no such colour."""
    report: FitReport
    curve: TrendCurve | None
    """Null where there is no fit."""
    with_all: WithAll | None
    """With the rows that are set aside; null where none of them is."""


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
    counts: Counts
    trends: list[TrendAnswer]
    cautions: list[Caution]
    problems: list[str]
    """What was asked for and could not be done, as sentences."""


@dataclass(frozen=True, slots=True)
class Answered:
    """An answer and its marks, as an Arrow IPC stream."""

    answer: Answer
    marks: bytes


def answer(document: FigureDocument, table: Table, most_marks: int | None = None) -> Answered:
    """Work out everything that a figure needs to be drawn.

    Parameters
    ----------
    document : FigureDocument
    table : Table
        With at least the columns that the document uses.
    most_marks : int, optional
        For small pictures: at most so many marks, taken evenly from all rows. Nothing else
        changes.

    Raises
    ------
    TableError
        If a variable does not exist or cannot stand where it is asked for.
    """
    whole = table
    if document.rows is not None:
        table = table.where(kept_rows(table, document.rows))
    shown = shown_of(document, table)
    x, y = shown.x, shown.y
    aside = np.zeros(shown.table.rows, dtype=bool)
    aside[np.isin(shown.rows, document.set_aside)] = True
    has_x, has_y = np.isfinite(x.values), np.isfinite(y.values)
    drawn = _Drawn.of(x.values, y.values, has_x & has_y)
    coloured = _coloured(document.colour, shown)
    codes = coloured.codes[drawn.rows] if isinstance(coloured, Groups) else None
    fits, cautions, problems = _trends(document, shown, coloured=coloured, aside=aside)
    cautions += crowding_caution(drawn.x, drawn.y)
    problems += shown.problems
    size = None if document.size is None else amounts_of(shown.table, document.size.variable)
    texts = document.marks.text
    markers = None if texts is None else markers_of(shown.table, texts)
    return Answered(
        Answer(
            table=table.name,
            x=_axis(x, drawn.x, document, "x", codes),
            y=_axis(y, drawn.y, document, "y", codes),
            colour=None if coloured is None else _colour_answer(coloured, drawn.rows),
            size=None if size is None else _size_answer(size, drawn.rows),
            names=named(document, shown, drawn.rows, [f.fitted for f in fits]),
            markers=None if markers is None else markers.texts,
            counts=Counts(
                rows=whole.rows,
                filtered=whole.rows - table.rows,
                drawn=len(drawn.rows),
                set_aside=int(np.count_nonzero(aside[drawn.rows])),
                not_drawn=_not_drawn(x.variable, y.variable, has_x, has_y, shown.rows),
            ),
            trends=[f.answer for f in fits],
            cautions=cautions,
            problems=problems,
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
        mean=float(values.mean()) if some and "mean" in asked else None,
        median=float(np.median(values)) if some and "median" in asked else None,
        margin=margin_of(getattr(document.margins, side), values, codes),
    )


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


@dataclass(frozen=True, slots=True)
class _Trend:
    """One fitted line: what is sent of it, and the fit itself."""

    answer: TrendAnswer
    fitted: Fitted


def _trends(
    document: FigureDocument,
    shown: Shown,
    *,
    coloured: Groups | Amounts | None,
    aside: np.ndarray,
) -> tuple[list[_Trend], list[Caution], list[str]]:
    x, y = shown.x, shown.y
    out: list[_Trend] = []
    cautions: list[Caution] = []
    problems: list[str] = []
    fitted: dict[tuple[str, str | None, float, bool], list[Fitted]] = {}
    colours = coloured if isinstance(coloured, Groups) else None

    def fits_of(trend: Trend, groups: Groups | None, *, all_rows: bool = False) -> list[Fitted]:
        key = trend.family, groups.variable.name if groups else None, trend.level, all_rows
        if key not in fitted:
            fitted[key] = fit_groups(
                trend.family,
                x,
                y,
                groups=groups,
                ups=shown.ups if shown.series is not None else None,
                set_aside=None if all_rows else aside,
                level=trend.level,
            )
        return fitted[key]

    for place, trend in enumerate(document.trends):
        try:
            groups = shown.series
            if groups is None and trend.by is not None:
                groups = Groups.of(shown.table, trend.by)
        except TableError as error:
            problems.append(str(error))
            continue
        fits = fits_of(trend, groups)
        whole_fits = fits_of(trend, groups, all_rows=True) if aside.any() else [None] * len(fits)
        in_colour = groups is not None and colours is not None and groups.labels == colours.labels
        for one, every in zip(fits, whole_fits, strict=True):
            answer = TrendAnswer(
                trend=place,
                family_label=family_label(trend.family),
                group_code=colours.labels.index(one.report.group)
                if in_colour and colours is not None and one.report.group is not None
                else None,
                report=one.report,
                curve=None if one.fit is None else _curve(one.fit, trend, x, y),
                with_all=_with_all(one, every),
            )
            out.append(_Trend(answer, one))
        told_apart = groups or colours
        if shown.series is None and told_apart is not None and len(told_apart.labels) > 1:
            whole = fits_of(trend, None)[0].fit
            if whole is not None:
                each = fits if groups else fits_of(trend, told_apart)
                cautions += group_cautions(
                    whole, each, x, told_apart, fitted_each=groups is not None
                )
        cautions += trend_cautions(fits, shown.rows)
    return out, _once(cautions), problems


def _with_all(one: Fitted, every: Fitted | None) -> WithAll | None:
    if every is None or every.report.n == one.report.n:
        return None
    slope = next((c.value for c in every.report.coefficients if c.name == "b"), None)
    return WithAll(n=every.report.n, slope=slope, r_squared=every.report.r_squared)


def _once(cautions: list[Caution]) -> list[Caution]:
    seen: dict[str, Caution] = {}
    for caution in cautions:
        seen.setdefault(caution.title + caution.text, caution)
    return list(seen.values())


def _curve(fit: TrendFit, trend: Trend, x: Axis, y: Axis) -> TrendCurve:
    at = np.linspace(*fit.x_range, CURVE_POINTS)
    bands = []
    for band in trend.bands:
        low, high = fit.band(at, band.level, band.kind)
        bands.append(
            BandCurve(
                kind=band.kind,
                level=band.level,
                low=(low + y.origin).tolist(),
                high=(high + y.origin).tolist(),
            )
        )
    return TrendCurve(
        x=(at + x.origin).tolist(), y=(fit.predict(at) + y.origin).tolist(), bands=bands
    )


def _marks(
    drawn: _Drawn,
    shown: Shown,
    *,
    coloured: Groups | Amounts | None,
    size: Amounts | None,
    markers: Markers | None,
    aside: np.ndarray,
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
    columns |= {name: ends[rows] for name, ends in shown.bars.items()}
    stream = io.BytesIO()
    pl.DataFrame(columns).write_ipc_stream(
        stream, compression="uncompressed", compat_level=pl.CompatLevel.oldest()
    )
    return stream.getvalue()
