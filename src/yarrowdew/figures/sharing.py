"""What goes out when a figure is shared, and nothing else.

What is shared is worked out from a table that holds only the variables and the rows that were
agreed to: what is left out cannot be in it. So intervals and fits are those of the rows that go out.
"""

from __future__ import annotations

import base64
import io
from collections.abc import Callable, Iterable
from dataclasses import replace
from typing import Any

import numpy as np
import polars as pl
from pydantic import BaseModel, ConfigDict, Field

from yarrowdew.figures.answer import Answer, answer
from yarrowdew.figures.document import FigureDocument
from yarrowdew.figures.parts import Part, RowNumber, VariableName, Words
from yarrowdew.figures.plate import MOST_CELLS, OfCategory, PlateDocument, WithVariable
from yarrowdew.figures.report import Groups
from yarrowdew.figures.shown import labels_of_ups
from yarrowdew.tables.errors import TableError
from yarrowdew.tables.filters import kept_rows
from yarrowdew.tables.kinds import as_text
from yarrowdew.tables.naming import distinct_names
from yarrowdew.tables.table import Table, categories_of

Load = Callable[[str], Table]
"""Finds a table by its id."""


class ShareAsked(Part):
    """Figures to be shared, and what of their tables may go out."""

    title: Words
    figures: list[FigureDocument] = Field(min_length=1, max_length=MOST_CELLS)
    plate: PlateDocument | None = None
    """The page on which they stand together; its cells are the figures in their order."""
    hover: list[VariableName] = Field(default_factory=list, max_length=2000)
    """Variables beyond those drawn whose values can be read at each mark."""
    leave_out: list[VariableName] = Field(default_factory=list, max_length=2000)
    """Variables that must not go out: what they draw is taken off the figure."""
    rows_aside: bool = True
    """Whether rows that are set aside go out."""
    rows_left_out: list[RowNumber] = Field(default_factory=list, max_length=1_000_000)
    """Numbers of rows that must not go out."""


class _Told(BaseModel):
    model_config = ConfigDict(use_attribute_docstrings=True)


class OutgoingVariable(_Told):
    """A variable of a table that is shown."""

    name: str
    label: str
    drawn_as: list[str]
    """What it does on the figure: across, up, colour, size, names; nothing where empty."""
    needed: bool
    """Whether there is no figure without it."""
    goes_out: bool


class Outgoing(_Told):
    """What would go out: every variable that could be read, and how many rows."""

    variables: list[OutgoingVariable]
    rows: int
    rows_aside: int
    """Of them, how many are set aside."""
    rows_kept: int
    """Rows of the tables that stay: filtered out, left out, or without a place on the figure."""


class SharedVariable(_Told):
    """A variable whose values can be read at each mark."""

    name: str
    label: str
    unit: str
    kind: str


class SharedFigure(_Told):
    """A figure and everything needed to draw and read it."""

    document: FigureDocument
    answer: Answer
    marks: str
    """An Arrow IPC stream, in base64."""
    variables: list[SharedVariable]
    """Every variable that goes out."""
    hovered: list[str]
    """Names of the variables that can be read beyond those drawn."""
    rows: str
    """A column for each of `hovered`, in their order, and `row`: an Arrow IPC stream, in base64."""


class Shared(_Told):
    """What is shared, whole."""

    version: int = 1
    title: str
    figures: list[SharedFigure]
    plate: PlateDocument | None


def outgoing(asked: ShareAsked, load: Load) -> Outgoing:
    """List what would go out.

    Raises
    ------
    TableError
        If a variable is to be left out without which there is no figure.
    """
    found: dict[str, OutgoingVariable] = {}
    rows: dict[str, set[int]] = {}
    aside: dict[str, set[int]] = {}
    whole: dict[str, int] = {}
    for place, document in enumerate(asked.figures):
        table = load(document.table)
        roles = _roles(document)
        varied = (
            asked.plate.cells[place].varied
            if asked.plate and place < len(asked.plate.cells)
            else None
        )
        if isinstance(varied, OfCategory | WithVariable):
            roles.setdefault(varied.variable, []).append("heading")
        goes = _going(asked, _reduced_document(asked, document), table)
        for v in table.variables:
            drawn = [*dict.fromkeys(roles.get(v.name, []))]
            known = found.setdefault(
                v.name,
                OutgoingVariable(
                    name=v.name, label=v.label, drawn_as=[], needed=False, goes_out=False
                ),
            )
            known.drawn_as += [role for role in drawn if role not in known.drawn_as]
            known.needed |= v.name in _needed(document)
            known.goes_out |= v.name in goes or (
                "heading" in drawn and v.name not in asked.leave_out
            )
        kept = _kept(asked, document, table)
        rows.setdefault(document.table, set()).update(kept.row_ids().tolist())
        own = set(document.set_aside) & set(kept.row_ids().tolist())
        aside.setdefault(document.table, set()).update(own)
        whole[document.table] = table.rows
    going = sum(map(len, rows.values()))
    return Outgoing(
        variables=list(found.values()),
        rows=going,
        rows_aside=sum(map(len, aside.values())),
        rows_kept=sum(whole.values()) - going,
    )


def shared(asked: ShareAsked, load: Load) -> Shared:
    """Make what is shared, from what may go out alone.

    Raises
    ------
    TableError
        If a variable is to be left out without which there is no figure.
    """
    figures = [_shared_figure(asked, document, load(document.table)) for document in asked.figures]
    return Shared(title=asked.title, figures=figures, plate=_plate(asked, load))


def _shared_figure(asked: ShareAsked, document: FigureDocument, table: Table) -> SharedFigure:
    kept = _kept(asked, document, table)
    reduced = _reduced_document(asked, document, kept.row_ids().tolist())
    needed = set(reduced.variables_used())
    going = _going(asked, reduced, table)
    small = _only(kept, needed | going)
    _forget_categories(reduced, small)
    answered = answer(reduced, small)
    for part in answered.answer.counts.not_drawn:
        part.rows = []
    answered.answer.table = ""
    drawn = set(_roles(reduced))
    hovered = [name for name in small.frame.columns if name in going - drawn]
    # A variable may be called as the column of row numbers is: columns are read by their places.
    columns = distinct_names(["row", *hovered])[1:]
    rows = pl.DataFrame(
        [
            *(small.frame[name].alias(to) for name, to in zip(hovered, columns, strict=True)),
            pl.Series("row", small.row_ids(), dtype=pl.UInt32),
        ]
    )
    return SharedFigure(
        document=reduced,
        answer=answered.answer,
        marks=base64.b64encode(answered.marks).decode(),
        variables=[
            SharedVariable(name=v.name, label=v.label, unit=v.unit, kind=v.kind.value)
            for v in table.variables
            if v.name in going
        ],
        hovered=hovered,
        rows=base64.b64encode(_stream(rows)).decode(),
    )


def _plate(asked: ShareAsked, load: Load) -> PlateDocument | None:
    """The page on which figures stand, without what it knows of those things that stay."""
    if asked.plate is None:
        return None
    plate = asked.plate.model_copy(deep=True, update={"name": None})
    for place, cell in enumerate(plate.cells):
        cell.figure = str(place)
        varied = cell.varied
        if not isinstance(varied, OfCategory | WithVariable):
            continue
        document = asked.figures[place] if place < len(asked.figures) else None
        if document is None or varied.variable in asked.leave_out:
            cell.varied = None
        elif isinstance(varied, OfCategory):
            kept = _kept(asked, document, load(document.table))
            values = kept.frame[kept.variable(varied.variable).name]
            if varied.value not in set(as_text(values.drop_nulls()).to_list()):
                cell.varied = None
    return plate


def _roles(document: FigureDocument) -> dict[str, list[str]]:
    """Name what each variable draws whose values can be read off the figure."""
    roles: dict[str, list[str]] = {}

    def has(name: str | None, role: str) -> None:
        if name is not None:
            roles.setdefault(name, []).append(role)

    if document.kind == "scatterplot matrix" and document.matrix:
        for name in document.matrix.variables:
            has(name, "matrix")
    else:
        has(document.x, "across")
        for name in document.y:
            has(name, "up")
    for trend in document.trends:
        has(trend.by, "trend for each")
    for part, role in (
        (document.colour, "colour"),
        (document.size, "size"),
        (document.names, "names"),
        (document.connect, "order"),
    ):
        has(part.variable if part else None, role)
    has(document.marks.text, "text of marks")
    for bar in (document.error_bars.x, document.error_bars.y):
        for name in bar.variables() if bar else []:
            has(name, "error bars")
    return roles


def _needed(document: FigureDocument) -> list[str]:
    if document.kind == "scatterplot matrix" and document.matrix:
        return document.matrix.variables if len(document.matrix.variables) == 2 else []  # a pair
    return [document.x, *(document.y if len(document.y) == 1 else [])]


def _going(asked: ShareAsked, reduced: FigureDocument, table: Table) -> set[str]:
    """Name every variable of a table whose values go out."""
    known = {v.name for v in table.variables}
    return (set(_roles(reduced)) | set(asked.hover)) & known - set(asked.leave_out)


def _reduced_document(
    asked: ShareAsked, document: FigureDocument, rows: Iterable[int] | None = None
) -> FigureDocument:
    """Take off a document what must not go out, and what it knows of other rows."""
    left = set(asked.leave_out)
    lost = sorted(left & set(_needed(document)))
    if lost:
        raise TableError(
            f"Without '{lost[0]}' there is no figure to share.",
            "Let it go out, or share another figure.",
            column=lost[0],
        )
    plain = document.model_copy(deep=True)
    # The filter has done its work on the rows themselves; it may speak of what stays.
    plain.rows = None
    plain.name = None
    plain.table = ""
    _reduce_variables(plain, left)
    if plain.colour and plain.colour.variable in left:
        plain.colour = None
        plain.legend = plain.legend.model_copy(update={"title": None})
    for name in ("size", "names", "connect"):
        part = getattr(plain, name)
        if part and part.variable in left:
            setattr(plain, name, None)
    if plain.marks.text in left:
        plain.marks.text = None
    for side in ("x", "y"):
        bar = getattr(plain.error_bars, side)
        if bar and set(bar.variables()) & left:
            setattr(plain.error_bars, side, None)
    plain.trends = [t for t in plain.trends if not {t.by, t.weights} & left]
    if rows is not None:
        _forget_rows(plain, set(rows))
    return plain


def _reduce_variables(plain: FigureDocument, left: set[str]) -> None:
    """Take variables off those that go across and up, or off a matrix."""
    if plain.kind == "scatterplot matrix" and plain.matrix:
        plain.matrix.variables = [v for v in plain.matrix.variables if v not in left]
        if len(plain.matrix.variables) < 2:  # a pair
            raise TableError(
                "A matrix needs two variables that go out.", "Let more of them go out."
            )
        plain.x, plain.y = plain.matrix.variables[0], [plain.matrix.variables[1]]
        # A cell has no readings, and its trend is that of each colour.
        plain.matrix.trend.read_off = []
        if {plain.matrix.trend.by, plain.matrix.trend.weights} & left:
            plain.matrix.below, plain.matrix.above = (
                "points" if region == "trend" else region
                for region in (plain.matrix.below, plain.matrix.above)
            )
            plain.matrix.trend.by = plain.matrix.trend.weights = None
    else:
        plain.matrix = None
        plain.y = [v for v in plain.y if v not in left]
        if not plain.y:
            raise TableError(
                "Without all that goes up there is no figure to share.",
                "Let some of it go out, or share another figure.",
            )


def _forget_rows(document: FigureDocument, going: set[int]) -> None:
    """Take out of a document the numbers of rows that stay."""
    document.set_aside = [row for row in document.set_aside if row in going]
    for single in document.singled_out:
        single.rows = [row for row in single.rows if row in going]
    document.singled_out = [single for single in document.singled_out if single.rows]
    if document.names:
        document.names.rows = [row for row in document.names.rows if row in going]
        document.names.moved = {
            row: moved for row, moved in document.names.moved.items() if int(row) in going
        }


def _forget_categories(document: FigureDocument, table: Table) -> None:
    """Take out of a document every category that no row has which goes out, and every one that
    nothing on the figure stands for.
    """
    there = _entries(document, table)
    legend, marks = document.legend, document.marks
    legend.renamed = {entry: words for entry, words in legend.renamed.items() if entry in there}
    legend.hidden = [entry for entry in legend.hidden if entry in there]
    legend.order = [entry for entry in legend.order if entry in there]
    marks.each = {entry: look for entry, look in marks.each.items() if entry in there}
    marks.front = [entry for entry in marks.front if entry in there]
    for trend in document.trends:
        groups = there if len(document.y) > 1 else _called(table, trend.by)
        trend.read_off = [r for r in trend.read_off if r.group is None or r.group in groups]


def _entries(document: FigureDocument, table: Table) -> set[str]:
    """What the legend may speak of: categories that colour, or several variables that go up."""
    if len(document.y) > 1 and document.kind == "scatterplot":
        return set(labels_of_ups(document, table))
    return _called(table, document.colour.variable if document.colour else None)


def _called(table: Table, name: str | None) -> set[str]:
    """Values of a variable that some row has, and what figures call them."""
    if name is None or name not in table.frame.columns:
        return set()
    values = set(as_text(table.frame[name].drop_nulls().unique()).to_list())
    looks = {look.shown for look in table.looks.get(name, ()) if look.value in values}
    try:
        return values | looks | set(Groups.of(table, name).labels)
    except TableError:
        return values | looks


def _kept(asked: ShareAsked, document: FigureDocument, table: Table) -> Table:
    """Keep the rows that go out: those that are drawn, but for those that are left out."""
    if document.rows is not None:
        table = table.where(kept_rows(table, document.rows))
    out = np.isin(table.row_ids(), asked.rows_left_out)
    if not asked.rows_aside:
        out |= np.isin(table.row_ids(), document.set_aside)
    if document.kind == "scatterplot matrix" and document.matrix:
        # A row that is in no pair has at most one of the variables.
        present = sum(
            table.frame[table.variable(v).name].is_not_null().cast(pl.Int32)
            for v in document.matrix.variables
        )
        placed = np.asarray(present) >= 2  # a pair
    else:
        x, *ups = (table.frame[table.variable(n).name] for n in (document.x, *document.y))
        placed = np.any([up.is_not_null().to_numpy() for up in ups], axis=0)
        placed &= x.is_not_null().to_numpy()
    return table.where(pl.Series(~out & placed))


def _only(table: Table, names: set[str]) -> Table:
    """Keep some variables, and of their categories those that are there."""
    held = tuple(v for v in table.variables if v.name in names)
    columns: list[pl.Series] = []
    looks: dict[str, Any] = {}
    for v in held:
        column = table.frame[v.name]
        if categories_of(column):
            present = set(column.drop_nulls().unique().to_list())
            kept = [c for c in categories_of(column) if c in present]
            column = column.cast(pl.String).cast(pl.Enum(kept))
        columns.append(column)
        if v.name in table.looks:
            values = set(as_text(column.drop_nulls().unique()).to_list())
            looks[v.name] = tuple(look for look in table.looks[v.name] if look.value in values)
    return replace(table, variables=held, frame=pl.DataFrame(columns), looks=looks)


def _stream(frame: pl.DataFrame) -> bytes:
    buffer = io.BytesIO()
    plain = [
        column.cast(pl.String)
        if isinstance(column.dtype, pl.Enum) or column.dtype.is_temporal()
        else column
        for column in frame.get_columns()
    ]
    pl.DataFrame(plain).write_ipc_stream(buffer, compat_level=pl.CompatLevel.oldest())
    return buffer.getvalue()
