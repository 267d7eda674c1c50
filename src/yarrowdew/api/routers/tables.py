"""Tables and their rows."""

from __future__ import annotations

import datetime as dt
from typing import Annotated
from urllib.parse import quote

from fastapi import APIRouter, Query, Response

from yarrowdew.api.models import (
    DerivedIn,
    ExpressionIn,
    ExpressionOut,
    RowOut,
    RowsOut,
    TableOut,
    UnreadValue,
    VariableChanged,
    VariableIn,
)
from yarrowdew.api.state import StoreNow, table_out
from yarrowdew.store.store import UnreadRows
from yarrowdew.tables.expressions import derive
from yarrowdew.tables.kinds import as_text
from yarrowdew.tables.writing import MEDIA_TYPES, Format, write_table

MOST_ROWS = 1_000
HEAD_ROWS = 8

router = APIRouter(tags=["tables"])


@router.get("/tables/{table_id}")
def get_table(table_id: str, store: StoreNow) -> TableOut:
    """Show a table without its values."""
    return table_out(store.table_record(table_id))


@router.get("/tables/{table_id}/rows")
def get_rows(
    table_id: str,
    store: StoreNow,
    row: Annotated[
        list[int], Query(description="Places in the table, from 0", max_length=MOST_ROWS)
    ],
) -> RowsOut:
    """Show some rows with all their values; places that the table does not have are left out."""
    table = store.table(table_id)
    wanted = [r for r in row if 0 <= r < table.rows]
    values = table.frame[wanted].iter_rows(named=True)
    return RowsOut(
        rows=[
            RowOut(row=place, values={name: _plain(value) for name, value in found.items()})
            for place, found in zip(wanted, values, strict=True)
        ]
    )


@router.patch("/tables/{table_id}/variables/{name}")
def change_variable(
    table_id: str, name: str, change: VariableIn, store: StoreNow
) -> VariableChanged:
    """Change a variable's label, unit or kind. No value is lost by changing the kind."""
    record = store.describe_variable(table_id, name, change.label, change.unit)
    unread = UnreadRows(0, [], [])
    if change.kind is not None:
        record, unread = store.change_kind(table_id, name, change.kind)
    return VariableChanged(
        table=table_out(record),
        unread=unread.count,
        unread_values=[
            UnreadValue(row=row, value=value)
            for row, value in zip(unread.rows, unread.values, strict=True)
        ],
    )


@router.post("/tables/{table_id}/variables", status_code=201)
def derive_variable(
    table_id: str, wanted: DerivedIn, store: StoreNow, response: Response
) -> TableOut:
    """Add a variable made from others by an expression; one that is derived is made anew."""
    record = store.derive_variable(
        table_id, wanted.name, wanted.expression, wanted.label, wanted.unit
    )
    response.headers["Location"] = f"/api/tables/{table_id}/variables/{quote(wanted.name)}"
    return table_out(record)


@router.delete("/tables/{table_id}/variables/{name}")
def delete_variable(table_id: str, name: str, store: StoreNow) -> TableOut:
    """Delete a derived variable."""
    return table_out(store.delete_variable(table_id, name))


@router.post("/tables/{table_id}/expressions")
def try_expression(table_id: str, wanted: ExpressionIn, store: StoreNow) -> ExpressionOut:
    """Say what an expression would give, or where it is wrong. Nothing is saved."""
    derived = derive(store.table(table_id), wanted.expression)
    return ExpressionOut(
        kind=derived.kind,
        missing=derived.values.null_count(),
        head=as_text(derived.values.head(HEAD_ROWS)).to_list(),
    )


@router.get("/tables/{table_id}/export", response_class=Response)
def export_table(table_id: str, store: StoreNow, format: Format = "csv") -> Response:
    """Write a table as CSV, Parquet, or a Data Package that reads back the same."""
    table = store.table(table_id)
    media_type, ending = MEDIA_TYPES[format]
    name = quote(f"{table.name}.{ending}")
    return Response(
        write_table(table, format),
        media_type=media_type,
        headers={"Content-Disposition": f"attachment; filename*=UTF-8''{name}"},
    )


def _plain(value: object) -> float | str | None:
    if value is None or isinstance(value, float | str):
        return value
    if isinstance(value, dt.datetime):
        return value.isoformat(sep=" ", timespec="minutes")
    return str(value)
