"""Tables and their variables."""

from __future__ import annotations

from urllib.parse import quote

import polars as pl
from fastapi import Response

from yarrowdew.api.answering import change_table
from yarrowdew.api.edits import NewVariableIn, ShapeIn, SpreadIn, StackIn, TypedTableIn, VersionIn
from yarrowdew.api.models import (
    DerivedIn,
    ExpressionIn,
    ExpressionOut,
    TableOut,
    TableTaken,
    UnreadValue,
    VariableChanged,
    VariableIn,
    VariableName,
)
from yarrowdew.api.routing import api_router
from yarrowdew.api.state import (
    Expected,
    SettingsNow,
    StoreNow,
    add_with_figure,
    check_owned,
    tagged,
)
from yarrowdew.figures.analyses.suggestion import Suggestions, suggestions_of
from yarrowdew.store import Store
from yarrowdew.tables.draft import Draft, UnreadRows
from yarrowdew.tables.expressions import check_by_row, derive
from yarrowdew.tables.kinds import Marks, as_kind, as_text
from yarrowdew.tables.naming import distinct_names, label_of
from yarrowdew.tables.reshape import join, spread, stack
from yarrowdew.tables.table import Table, Variable
from yarrowdew.tables.writing import MEDIA_TYPES, Format, write_table

HEAD_ROWS = 8

router = api_router("tables")


@router.get("/tables/{table_id}")
def get_table(table_id: str, store: StoreNow, response: Response) -> TableOut:
    """Show a table without its values; its version is the entity tag."""
    return tagged(store.tables.record(table_id), response)


@router.delete("/tables/{table_id}", status_code=204)
def delete_table(table_id: str, store: StoreNow, expected: Expected) -> None:
    """Delete a table that no figure shows; it can be brought back."""
    store.tables.delete(table_id, expected)


@router.post("/tables/{table_id}/return")
def return_table(table_id: str, store: StoreNow, response: Response) -> TableOut:
    """Bring back a table that was deleted."""
    return tagged(store.tables.restore(table_id), response)


@router.get("/tables/{table_id}/suggestions")
def suggestions(table_id: str, store: StoreNow) -> Suggestions:
    """Say why a table starts with its figure, and list pairs that are worth a look."""
    linked = store.datasets.link(table_id)
    if linked is not None:
        return suggestions_of(linked.words, is_whole=False)
    return suggestions_of(store.tables.get(table_id))


@router.patch("/tables/{table_id}/variables/{name:path}")
def change_variable(
    table_id: str,
    name: str,
    change: VariableIn,
    store: StoreNow,
    settings: SettingsNow,
    response: Response,
    expected: Expected,
) -> VariableChanged:
    """Change a variable's label, unit or kind. No value is lost by changing the kind."""

    def work(draft: Draft) -> UnreadRows:
        draft.describe(name, change.label, change.unit)
        return (
            UnreadRows(0, [], []) if change.kind is None else draft.change_kind(name, change.kind)
        )

    record, unread = change_table(store, settings, table_id, work, expected)
    return VariableChanged(
        table=tagged(record, response),
        unread=unread.count,
        unread_values=[
            UnreadValue(row=row, value=value)
            for row, value in zip(unread.rows, unread.values, strict=True)
        ],
    )


@router.post("/tables/{table_id}/variables", status_code=201)
def derive_variable(
    table_id: str,
    wanted: DerivedIn,
    store: StoreNow,
    settings: SettingsNow,
    response: Response,
    expected: Expected,
) -> TableOut:
    """Add a variable made from others by an expression; one that is derived is made anew."""
    record, _ = change_table(
        store,
        settings,
        table_id,
        lambda draft: draft.derive(wanted.name, wanted.expression, wanted.label, wanted.unit),
        expected,
    )
    response.headers["Location"] = f"/api/tables/{table_id}/variables/{quote(wanted.name, safe='')}"
    return tagged(record, response)


@router.delete("/tables/{table_id}/variables/{name:path}")
def delete_variable(
    table_id: str,
    name: str,
    store: StoreNow,
    settings: SettingsNow,
    response: Response,
    expected: Expected,
) -> TableOut:
    """Delete a variable from which no other is made."""
    record, _ = change_table(
        store, settings, table_id, lambda draft: draft.delete_variable(name), expected
    )
    return tagged(record, response)


@router.put("/tables/{table_id}/variables/{name:path}", status_code=201)
def add_variable(
    table_id: str,
    name: VariableName,
    wanted: NewVariableIn,
    store: StoreNow,
    response: Response,
    expected: Expected,
) -> TableOut:
    """Add a variable without values, to be filled in; or one that tells chosen rows from others."""

    def work(draft: Draft) -> None:
        if wanted.chosen is None:
            draft.add_variable(name, wanted.kind, wanted.unit)
        else:
            draft.add_choice(name, wanted.chosen)

    record, _ = store.tables.change(table_id, work, expected=expected)
    return tagged(record, response)


@router.put("/tables/{table_id}/version")
def restore_version(
    table_id: str,
    wanted: VersionIn,
    store: StoreNow,
    response: Response,
    expected: Expected,
) -> TableOut:
    """Make a table what it was at one of its versions: so its changes are undone and redone.

    With If-Match, only where the version that is taken back is still the one that holds: nobody
    else's change goes with it.
    """
    record = store.tables.restore_version(table_id, wanted.version, expected)
    return tagged(record, response)


@router.post("/studies/{study_id}/typed-tables", status_code=201)
def type_table(
    study_id: str, wanted: TypedTableIn, store: StoreNow, response: Response
) -> TableTaken:
    """Make a table without values, to be typed into."""
    names = distinct_names([v.name for v in wanted.variables])
    variables = tuple(
        Variable(name, v.kind, label_of(name), v.unit)
        for name, v in zip(names, wanted.variables, strict=True)
    )
    blank = pl.Series([None] * wanted.rows, dtype=pl.String)
    frame = pl.DataFrame([as_kind(blank, v.kind, Marks()).values.alias(v.name) for v in variables])
    taken = add_with_figure(store, study_id, Table(wanted.name, variables, frame))
    response.headers["Location"] = f"/api/tables/{taken.table.id}"
    return taken


@router.post("/studies/{study_id}/shaped-tables", status_code=201)
def shape_table(study_id: str, wanted: ShapeIn, store: StoreNow, response: Response) -> TableTaken:
    """Make a table from others: columns stacked, values spread, or rows joined."""
    table = _own(store, study_id, wanted.table)
    if isinstance(wanted, StackIn):
        made = stack(table, wanted.variables, wanted.name, wanted.value, numbered=wanted.numbered)
    elif isinstance(wanted, SpreadIn):
        made = spread(table, wanted.name, wanted.value)
    else:
        other = _own(store, study_id, wanted.other)
        made = join(table, other, wanted.on, wanted.other_on, keep_all=wanted.keep_all)
    taken = add_with_figure(store, study_id, made)
    response.headers["Location"] = f"/api/tables/{taken.table.id}"
    return taken


def _own(store: Store, study_id: str, table_id: str) -> Table:
    check_owned(store, study_id, table_id)
    return store.tables.get(table_id)


@router.post("/tables/{table_id}/expressions")
def try_expression(table_id: str, wanted: ExpressionIn, store: StoreNow) -> ExpressionOut:
    """Say what an expression would give, or where it is wrong. Nothing is saved."""
    linked = store.datasets.link(table_id)
    if linked is not None:
        check_by_row(wanted.expression)
    derived = derive(
        store.tables.get(table_id) if linked is None else linked.words, wanted.expression
    )
    return ExpressionOut(
        kind=derived.kind,
        missing=derived.values.null_count(),
        head=as_text(derived.values.head(HEAD_ROWS)).to_list(),
    )


@router.get("/tables/{table_id}/export", response_class=Response)
def export_table(table_id: str, store: StoreNow, format: Format = "csv") -> Response:
    """Write a table as CSV, Parquet, or a Data Package that reads back the same."""
    table = store.tables.get(table_id)
    media_type, ending = MEDIA_TYPES[format]
    name = quote(f"{table.name}.{ending}")
    return Response(
        write_table(table, format),
        media_type=media_type,
        headers={"Content-Disposition": f"attachment; filename*=UTF-8''{name}"},
    )
