"""The rows of a table: looked through, and changed."""

from __future__ import annotations

import datetime as dt
from typing import Annotated

from fastapi import Query, Response

from yarrowdew.api.edits import RowsEdit
from yarrowdew.api.models import RowOut, RowsOut, TableOut
from yarrowdew.api.routing import api_router
from yarrowdew.api.state import Expected, StoreNow, tagged
from yarrowdew.tables.draft import Cell, Draft
from yarrowdew.tables.errors import TableError
from yarrowdew.tables.field_roles import RowNumber
from yarrowdew.tables.row_pages import RowOrder
from yarrowdew.tables.table import Table

MOST_ROWS = 1_000
MOST_NUMBERS = 1_000_000

router = api_router("rows", "/tables/{table_id}/rows")


@router.get("")
def get_rows(
    table_id: str,
    store: StoreNow,
    row: Annotated[
        list[RowNumber] | None, Query(description="Numbers of rows, from 0", max_length=MOST_ROWS)
    ] = None,
    start: Annotated[int, Query(ge=0, lt=2**32)] = 0,
    count: Annotated[int, Query(ge=1, le=MOST_ROWS)] = 100,
    sort: Annotated[str | None, Query(max_length=200)] = None,
    descending: bool = False,
    find: Annotated[str, Query(max_length=500)] = "",
) -> RowsOut:
    """Show rows with all their values: those named, or a stretch of them in an order."""
    linked = store.datasets.link(table_id)
    if linked is not None:
        if sort is not None or find:
            raise TableError(
                "The rows of a dataset are looked through in their order alone.",
                "Use a row filter on a figure instead.",
            )
        found = linked.dataset.rows_at(row if row is not None else range(start, start + count))
        return _rows(found, found.rows if row is not None else linked.dataset.rows)
    if row is not None:
        table = store.tables.get(table_id)
        places = table.places_of(row)
        part = Table(
            table.name, table.variables, table.frame[places.tolist()], table.row_ids()[places]
        )
        return _rows(part, len(places))
    order = RowOrder(sort=sort, descending=descending, find=find)
    part, total = store.tables.rows(table_id, order, start, count)
    return _rows(part, total)


@router.get("/numbers")
def get_numbers(
    table_id: str,
    store: StoreNow,
    start: Annotated[int, Query(ge=0, lt=2**32)] = 0,
    count: Annotated[int, Query(ge=1, le=MOST_NUMBERS)] = MOST_NUMBERS,
    sort: Annotated[str | None, Query(max_length=200)] = None,
    descending: bool = False,
    find: Annotated[str, Query(max_length=500)] = "",
) -> list[int]:
    """Show the numbers of a stretch of rows in an order, without their values."""
    order = RowOrder(sort=sort, descending=descending, find=find)
    return [int(row) for row in store.tables.ids_in_order(table_id, order)[start : start + count]]


@router.patch("")
def edit_rows(
    table_id: str, edit: RowsEdit, store: StoreNow, response: Response, expected: Expected
) -> TableOut:
    """Write values, add and delete rows, or paste a block, as one step that can be undone."""

    def work(draft: Draft) -> None:
        if edit.add is not None:
            draft.add_rows(edit.add.count, edit.add.before)
        draft.write([Cell(c.row, c.variable, c.text) for c in edit.cells])
        if edit.paste is not None:
            ids = store.tables.ids_in_order(table_id, edit.paste.order)[edit.paste.start :]
            draft.paste(
                ids[: len(edit.paste.block)].tolist(), edit.paste.variable, edit.paste.block
            )
        if edit.delete:
            draft.delete_rows(edit.delete)

    record, _ = store.tables.change(table_id, work, expected=expected)
    return tagged(record, response)


def _rows(part: Table, total: int) -> RowsOut:
    values = part.frame.iter_rows(named=True)
    return RowsOut(
        rows=[
            RowOut(row=id_, values={name: _plain(value) for name, value in found.items()})
            for id_, found in zip(part.row_ids().tolist(), values, strict=True)
        ],
        total=total,
    )


def _plain(value: object) -> float | str | None:
    if value is None or isinstance(value, float | str):
        return value
    if isinstance(value, dt.datetime):
        # Seconds, and fractions of them, only where there are some.
        whole = value.second == 0 and value.microsecond == 0
        return value.isoformat(sep=" ", timespec="minutes" if whole else "auto")
    return str(value)
