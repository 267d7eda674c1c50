"""Files on their way into a study: sent, previewed, corrected, then taken or left."""

from __future__ import annotations

from dataclasses import replace
from typing import Annotated

from fastapi import Header, Query, Request, Response

from yarrowdew.api.models import (
    FigureOut,
    Preview,
    PreviewVariable,
    ReplaceIn,
    TableIn,
    TableOut,
    TableReplaced,
    TableTaken,
    UploadOut,
)
from yarrowdew.api.routing import api_router
from yarrowdew.api.state import (
    ACCEPTED,
    Expected,
    JobsNow,
    Prefer,
    SettingsNow,
    StoreNow,
    UploadsNow,
    add_with_figure,
    in_background,
)
from yarrowdew.api.uploads import Upload
from yarrowdew.figures.analyses.suggestion import suggest_figure
from yarrowdew.store import Store
from yarrowdew.store.packages import unpack_table
from yarrowdew.tables.errors import TableError
from yarrowdew.tables.kinds import could_be_category, texts_of
from yarrowdew.tables.reading import ReadOptions, ReadResult, altered, read_file
from yarrowdew.tables.reading.package import is_package
from yarrowdew.tables.reading.progress import Progress, part_of
from yarrowdew.tables.table import Kind

router = api_router("reading in")


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


@router.post("/uploads/{upload_id}/preview", response_model=Preview, responses=ACCEPTED)
def preview(
    upload_id: str,
    options: ReadOptions,
    uploads: UploadsNow,
    jobs: JobsNow,
    settings: SettingsNow,
    request: Request,
    prefer: Prefer = None,
) -> Preview | Response:
    """Show a file as it would be read, with every guess filled in."""
    upload = uploads.find(upload_id)

    def work(progress: Progress) -> Preview:
        result = read_file(
            upload.path, options, upload.name, part_of(progress, 0, 0.9), settings.limits
        )
        return _preview(result, upload.name)

    return in_background(prefer, jobs, request, work)


@router.delete("/uploads/{upload_id}", status_code=204)
def discard(upload_id: str, uploads: UploadsNow) -> None:
    """Leave a file: it is deleted."""
    uploads.discard(upload_id)


@router.post(
    "/studies/{study_id}/tables", status_code=201, response_model=TableTaken, responses=ACCEPTED
)
def take_in(
    study_id: str,
    wanted: TableIn,
    store: StoreNow,
    uploads: UploadsNow,
    jobs: JobsNow,
    settings: SettingsNow,
    request: Request,
    response: Response,
    prefer: Prefer = None,
) -> TableTaken | Response:
    """Take a file into a study, with the first figure of it."""
    upload = uploads.find(wanted.upload)
    store.studies.get(study_id)

    def work(progress: Progress) -> TableTaken:
        reading, storing = part_of(progress, 0, 0.6), part_of(progress, 0.6, 1)
        known = _with_its_figures(store, study_id, upload, wanted, progress)
        if known is not None:
            if not wanted.keep:
                uploads.discard(upload.id)
            return known
        result = read_file(upload.path, wanted.options, upload.name, reading, settings.limits)
        table = replace(result.table, name=wanted.name) if wanted.name else result.table
        taken = add_with_figure(
            store,
            study_id,
            table,
            sources=result.sources,
            options=result.options,
            progress=storing,
        )
        if not wanted.keep:
            uploads.discard(upload.id)
        response.headers["Location"] = f"/api/tables/{taken.table.id}"
        return taken

    return in_background(prefer, jobs, request, work)


def _with_its_figures(
    store: Store, study_id: str, upload: Upload, wanted: TableIn, progress: Progress
) -> TableTaken | None:
    """Take in a table that came with figures of ours."""
    with upload.path.open("rb") as file:
        if not is_package(file):
            return None
    content = upload.path.read_bytes()
    taken = unpack_table(
        store,
        study_id,
        content,
        upload.name,
        wanted.options,
        name=wanted.name or "",
        progress=progress,
    )
    if taken is None:
        return None
    record, figures = taken
    return TableTaken(
        table=TableOut.model_validate(record),
        figure=FigureOut.model_validate(figures[0]),
        problem=None,
    )


@router.put("/tables/{table_id}/rows", response_model=TableReplaced, responses=ACCEPTED)
def read_in_again(
    table_id: str,
    wanted: ReplaceIn,
    store: StoreNow,
    uploads: UploadsNow,
    jobs: JobsNow,
    settings: SettingsNow,
    request: Request,
    expected: Expected,
    prefer: Prefer = None,
) -> TableReplaced | Response:
    """Put the rows of a file in the place of a table's; its figures, labels and units stay."""
    upload = uploads.find(wanted.upload)
    store.tables.record(table_id)

    def work(progress: Progress) -> TableReplaced:
        result = read_file(
            upload.path, wanted.options, upload.name, part_of(progress, 0, 0.6), settings.limits
        )
        storing = part_of(progress, 0.6, 1)
        record, compared = store.tables.change(
            table_id,
            lambda draft: draft.replace(result.table, result.sources),
            progress=storing,
            options=result.options,
            expected=expected,
        )
        uploads.discard(upload.id)
        return TableReplaced(
            table=TableOut.model_validate(record), gone=compared.gone, new=compared.new
        )

    return in_background(prefer, jobs, request, work)


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
    head = texts_of(table.frame.head(result.first_rows.height))
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
        head=[list(row) for row in head.iter_rows()],
        altered=[
            list(row)
            for row in zip(
                *(
                    altered(result.first_rows[v.name], head[v.name], v.kind)
                    for v in table.variables
                ),
                strict=True,
            )
        ],
        cautions=cautions,
        sheets=list(result.sheets),
        ambiguous=list(result.ambiguous),
    )
