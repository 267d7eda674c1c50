"""What goes out when a figure is shared, and nothing else.

The document is built from the fields that may go out and from the names that were agreed to, and the
answer is worked out from a table that holds only the variables and the rows that were agreed to:
what is left out cannot be in it. So intervals and fits are those of the rows that go out.
"""

from __future__ import annotations

import base64
import re
from collections.abc import Callable, Iterator
from dataclasses import replace

import numpy as np
import polars as pl

from yarrowdew.figures.answer import answer
from yarrowdew.figures.document.plate import Cell, OfCategory, PlateDocument, WithVariable
from yarrowdew.figures.document.redaction import Agreed, built
from yarrowdew.figures.document.walking import named_in
from yarrowdew.figures.figure import FigureDocument
from yarrowdew.figures.pipeline.groups import called
from yarrowdew.figures.sharing.dataset import (
    Counted,
    count_out,
    drawn_of,
    going_of,
    shared_counts,
    words_of,
)
from yarrowdew.figures.sharing.models import (
    Outgoing,
    OutgoingVariable,
    Shared,
    SharedFigure,
    SharedVariable,
    ShareRequest,
)
from yarrowdew.figures.sharing.redaction import reduced_for, roles_of
from yarrowdew.tables.arrow import arrow_stream
from yarrowdew.tables.categories import Category
from yarrowdew.tables.filters import kept_rows
from yarrowdew.tables.kinds import as_text
from yarrowdew.tables.naming import distinct_names
from yarrowdew.tables.table import Table, categories_of

Load = Callable[[str], Table | Counted]
"""Finds a table or a dataset by its id."""


def outgoing(asked: ShareRequest, load: Load) -> Outgoing:
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
    counted: dict[str, int] = {}
    typed: list[str] = []
    for place, whole_document in enumerate(asked.figures):
        source = load(whole_document.table)
        document = drawn_of(whole_document, source)
        table = words_of(source)
        roles = roles_of(document)
        varied = (
            asked.plate.cells[place].varied
            if asked.plate and place < len(asked.plate.cells)
            else None
        )
        if isinstance(varied, OfCategory | WithVariable):
            roles.setdefault(varied.variable, []).append("heading")
        reduced = reduced_for(asked, document, table)
        goes = going_of(asked, reduced, source)
        typed += [s for s in _speaking_of(asked, reduced, table) if s not in typed]
        for v in table.variables:
            drawn = [*dict.fromkeys(roles.get(v.name, []))]
            if isinstance(source, Counted) and not drawn:
                # There are no marks at which it could be read.
                continue
            known = found.setdefault(
                v.name,
                OutgoingVariable(
                    name=v.name, label=v.label, drawn_as=[], needed=False, goes_out=False
                ),
            )
            known.drawn_as += [role for role in drawn if role not in known.drawn_as]
            known.needed |= v.name in document.of_kind.needed(document)
            known.goes_out |= v.name in goes or (
                "heading" in drawn and v.name not in asked.leave_out
            )
        if isinstance(source, Counted):
            counted[document.table] = count_out(asked, document, source)
            whole[document.table] = source.view.dataset.rows
            continue
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
        counted=sum(counted.values()),
        rows_kept=sum(whole.values()) - going,
        typed=typed,
    )


def shared(asked: ShareRequest, load: Load) -> Shared:
    """Make what is shared, from what may go out alone.

    Raises
    ------
    TableError
        If a variable is to be left out without which there is no figure.
    """
    figures = [_shared_figure(asked, document, load(document.table)) for document in asked.figures]
    return Shared(title=asked.title, figures=figures, plate=_plate(asked, load))


def _shared_figure(
    asked: ShareRequest, document: FigureDocument, table: Table | Counted
) -> SharedFigure:
    if isinstance(table, Counted):
        return shared_counts(asked, drawn_of(document, table), table)
    kept = _kept(asked, document, table)
    rows = set(kept.row_ids().tolist())
    reduced = reduced_for(asked, document, table, rows=rows)
    going = going_of(asked, reduced, table)
    small = _only(kept, set(reduced.variables_used()) | going)
    named = _categories(reduced, small)
    reduced = reduced_for(asked, document, table, rows=rows, categories=named)
    answered = answer(reduced, small)
    for part in answered.answer.counts.not_drawn:
        part.rows = []
    answered.answer.table = ""
    drawn = set(roles_of(reduced))
    hovered = [name for name in small.frame.columns if name in going - drawn]
    # A variable may be called as the column of row numbers is: columns are read by their places.
    columns = distinct_names(["row", *hovered])[1:]
    values = pl.DataFrame(
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
        rows=base64.b64encode(_stream(values)).decode(),
    )


def _categories(document: FigureDocument, small: Table) -> set[str]:
    """Every category that the figure itself tells apart."""
    found = set(document.of_kind.entries(document, small))
    for trend in document.trends:
        found |= called(small, trend.by)
    return found


def _speaking_of(asked: ShareRequest, reduced: FigureDocument, table: Table) -> Iterator[str]:
    """Find words typed on a figure that speak of variables which are left out."""
    texts = [text for text, _ in named_in(reduced, "words", only=reduced.shown())]
    for v in table.variables:
        if v.name not in asked.leave_out:
            continue
        called = "|".join(map(re.escape, {v.name, v.label}))
        spoken = re.compile(rf"(?<!\w)(?:{called})(?!\w)", re.IGNORECASE)
        for text in filter(spoken.search, (*texts, asked.title)):
            yield f"“{text[:80]}” speaks of {v.label}, which is left out."


def _plate(asked: ShareRequest, load: Load) -> PlateDocument | None:
    """Build the page on which figures stand, its cells each from what its own figure shows."""
    if asked.plate is None:
        return None
    cells = [_cell(asked, place, cell, load) for place, cell in enumerate(asked.plate.cells)]
    shown = set(PlateDocument.model_fields) - {"cells"}
    return built(asked.plate, Agreed(frozenset()), shown, cells=cells)


def _cell(asked: ShareRequest, place: int, cell: Cell, load: Load) -> Cell:
    agreed = Agreed(frozenset(), categories=frozenset())
    varied = cell.varied
    if isinstance(varied, OfCategory | WithVariable) and place < len(asked.figures):
        document = asked.figures[place]
        table = words_of(load(document.table))
        variables = {v.name for v in table.variables} - set(asked.leave_out)
        agreed = Agreed(variables, categories=frozenset())
        if isinstance(varied, OfCategory) and varied.variable in variables:
            values = _kept(asked, document, table).frame[varied.variable]
            agreed = Agreed(variables, categories=set(as_text(values.drop_nulls()).to_list()))
    return built(cell, agreed, figure=str(place))


def _kept(asked: ShareRequest, document: FigureDocument, table: Table) -> Table:
    """Keep the rows that go out: those that are drawn, but for those that are left out."""
    if document.rows is not None:
        table = table.where(kept_rows(table, document.rows))
    out = np.zeros(table.rows, dtype=bool)
    out[table.places_of(asked.rows_left_out.get(document.table, []))] = True
    if not asked.rows_aside:
        out[table.places_of(document.set_aside)] = True
    return table.where(pl.Series(~out & document.of_kind.placed(document, table)))


def _only(table: Table, names: set[str]) -> Table:
    """Keep some variables, and of their categories those that are there."""
    held = tuple(v for v in table.variables if v.name in names)
    columns: list[pl.Series] = []
    categories: dict[str, tuple[Category, ...]] = {}
    for v in held:
        column = table.frame[v.name]
        if categories_of(column):
            present = set(column.drop_nulls().unique().to_list())
            kept = [c for c in categories_of(column) if c in present]
            column = column.cast(pl.String).cast(pl.Enum(kept))
        columns.append(column)
        if v.name in table.categories:
            values = set(as_text(column.drop_nulls().unique()).to_list())
            categories[v.name] = tuple(c for c in table.categories[v.name] if c.value in values)
    return replace(table, variables=held, frame=pl.DataFrame(columns), categories=categories)


def _stream(frame: pl.DataFrame) -> bytes:
    plain = [
        column.cast(pl.String)
        if isinstance(column.dtype, pl.Enum) or column.dtype.is_temporal()
        else column
        for column in frame.get_columns()
    ]
    return arrow_stream(pl.DataFrame(plain))
