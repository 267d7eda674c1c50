"""Files on their way into a study: sent, previewed, corrected, then taken or left."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Header, Query, Request, Response

from yarrowdew.api.models import Preview, PreviewVariable, TableIn, TableTaken, UploadOut
from yarrowdew.api.state import StoreNow, UploadsNow, figure_out, table_out
from yarrowdew.figures.suggestion import suggest_figure
from yarrowdew.tables import Kind, Table, TableError
from yarrowdew.tables.kinds import as_text, could_be_category
from yarrowdew.tables.reading import ReadOptions, ReadResult, read_file

PREVIEW_ROWS = 200

router = APIRouter(tags=["reading in"])


@router.post(
    "/uploads",
    status_code=201,
    openapi_extra={
        "requestBody": {
            "required": True,
            "content": {
                "application/octet-stream": {"schema": {"type": "string", "format": "binary"}}
            },
        }
    },
)
async def send_file(
    request: Request,
    response: Response,
    uploads: UploadsNow,
    name: Annotated[str, Query(max_length=300, description="The file's name")],
    content_length: Annotated[str | None, Header()] = None,
) -> UploadOut:
    """Send a file as the request's body. It waits for a day to be taken into a study."""
    uploads.check_size(content_length, name)
    upload = await uploads.receive(name, request.stream())
    response.headers["Location"] = f"/api/uploads/{upload.id}"
    return UploadOut(id=upload.id, name=upload.name, size=upload.size)


@router.post("/uploads/{upload_id}/preview")
def preview(upload_id: str, options: ReadOptions, uploads: UploadsNow) -> Preview:
    """Show a file as it would be read, with every guess filled in."""
    upload = uploads.find(upload_id)
    return _preview(read_file(upload.path, options, upload.name), upload.name)


@router.delete("/uploads/{upload_id}", status_code=204)
def discard(upload_id: str, uploads: UploadsNow) -> None:
    """Leave a file: it is deleted."""
    uploads.discard(upload_id)


@router.post("/studies/{study_id}/tables", status_code=201)
def take_in(
    study_id: str, wanted: TableIn, store: StoreNow, uploads: UploadsNow, response: Response
) -> TableTaken:
    """Take a file into a study, with the first figure of it."""
    upload = uploads.find(wanted.upload)
    result = read_file(upload.path, wanted.options, upload.name)
    table = result.table
    if wanted.name:
        table = Table(wanted.name, table.variables, table.frame)
    figures, problem = [], None
    try:
        figures.append(suggest_figure(table, ""))
    except TableError as error:
        problem = str(error)
    record = store.add_table(study_id, table, figures, result.sources)
    if not wanted.keep:
        uploads.discard(upload.id)
    response.headers["Location"] = f"/api/tables/{record.id}"
    made = [f for f in store.figures(study_id) if f.document.table == record.id]
    return TableTaken(
        table=table_out(record), figure=figure_out(made[0]) if made else None, problem=problem
    )


def _preview(result: ReadResult, name: str) -> Preview:
    table = result.table
    unread = {u.variable: u for u in result.unread}
    cautions = []
    try:
        suggest_figure(table, "")
    except TableError as error:
        cautions.append(str(error))
    for name_of_date in result.ambiguous:
        cautions.append(
            f"The dates of '{name_of_date}' read both ways round; say whether the day or the month "
            "comes first."
        )
    for u in result.unread:
        cautions.append(
            f"{u.count:,} {'value' if u.count == 1 else 'values'} of '{u.variable}' could not be "
            f"read and would be missing; the first is “{u.first_value}” in row {u.first_row:,}."
        )
    head = table.frame.head(PREVIEW_ROWS)
    return Preview(
        name=name,
        rows=table.rows,
        options=result.options,
        variables=[
            PreviewVariable(
                name=v.name,
                label=v.label,
                unit=v.unit,
                kind=v.kind,
                could_be_category=v.kind is Kind.NUMBER and could_be_category(table.frame[v.name]),
                missing=table.frame[v.name].null_count(),
                unread=unread[v.name].count if v.name in unread else 0,
                unread_example=f"{unread[v.name].first_value} (row {unread[v.name].first_row})"
                if v.name in unread
                else None,
            )
            for v in table.variables
        ],
        head=[list(row) for row in head.select(as_text(c) for c in head).iter_rows()],
        cautions=cautions,
        sheets=list(result.sheets),
        ambiguous=list(result.ambiguous),
    )
