"""Images of figures, drawn here as the page draws them."""

from __future__ import annotations

import hashlib
from typing import Annotated, Any

from fastapi import Header, Query, Request, Response

from yarrowdew.api.answering import Answering
from yarrowdew.api.models import CallsOut
from yarrowdew.api.problems import ProblemError
from yarrowdew.api.routing import api_router
from yarrowdew.api.state import JobsNow, SettingsNow, StoreNow, while_waited_for
from yarrowdew.drawing.calls import command_of, python_of
from yarrowdew.drawing.images import (
    IMAGE_TYPES,
    LEAST_DPI,
    MOST_DPI,
    USUAL_DPI,
    ImageFormat,
    Pictured,
    image_of,
)
from yarrowdew.figures.figure import FigureDocument

router = api_router("images")

Accept = Annotated[str, Header(description=f"One of: {', '.join(IMAGE_TYPES.values())}")]
Dpi = Annotated[
    float, Query(ge=LEAST_DPI, le=MOST_DPI, description="Dots per inch of PNG and JPEG")
]
_DRAWN: dict[int | str, dict[str, Any]] = {
    200: {
        "description": "The image, in the format that is accepted",
        "content": {
            kind: {"schema": {"type": "string", "format": "binary"}}
            for kind in IMAGE_TYPES.values()
        },
    }
}


@router.post("/images", response_class=Response, responses=_DRAWN)
def draw_document(
    document: FigureDocument,
    store: StoreNow,
    settings: SettingsNow,
    jobs: JobsNow,
    request: Request,
    accept: Accept = "*/*",
    dpi: Dpi = USUAL_DPI,
) -> Response:
    """Draw a figure document. Nothing is saved."""
    format = _accepted(accept)
    found = Answering(store, settings, document)
    with while_waited_for(request, jobs):
        answered = found.answer()
    drawn = image_of([Pictured(document, answered, found.table)], format, dpi=dpi)
    return _image(drawn, format, None)


@router.get("/figures/{figure_id}/image", response_class=Response, responses=_DRAWN)
def draw_figure(
    figure_id: str,
    store: StoreNow,
    settings: SettingsNow,
    jobs: JobsNow,
    request: Request,
    accept: Accept = "*/*",
    dpi: Dpi = USUAL_DPI,
    if_none_match: Annotated[str | None, Header()] = None,
) -> Response:
    """Draw a figure as it was last saved; 304 where it is as it was."""
    format = _accepted(accept)
    record = store.figures.get(figure_id)
    made = store.tables.record(record.document.table)
    looks = store.studies.get(made.study_id).categories
    number = [one.id for one in store.figures.of_study(made.study_id)].index(record.id) + 1
    said = f"{record.id} {record.revision} {number} {made.version} {looks} {format} {dpi}"
    tag = f'"{hashlib.blake2b(said.encode(), digest_size=12).hexdigest()}"'
    if if_none_match is not None and tag in if_none_match:
        return Response(status_code=304, headers={"ETag": tag})
    found = Answering(store, settings, record.document)
    with while_waited_for(request, jobs):
        answered = found.answer()
    drawn = image_of([Pictured(record.document, answered, found.table, number)], format, dpi=dpi)
    return _image(drawn, format, tag)


@router.post("/calls")
def write_calls(document: FigureDocument, store: StoreNow) -> CallsOut:
    """Write the calls that make a figure from its table's file: a command, and Python."""
    linked = store.datasets.link(document.table)
    table = linked.words if linked else store.tables.get(document.table, document.variables_used())
    # A dataset is where it is; of a table somebody saves a file.
    file = store.tables.record(document.table).dataset or f"{table.name}.csv"
    return CallsOut(
        command=command_of(document, table, file), python=python_of(document, table, file)
    )


def _accepted(accept: str) -> ImageFormat:
    """Choose the format that is wanted most (RFC 9110, section 12.5.1); SVG where any will do."""
    wanted: list[tuple[float, ImageFormat]] = []
    for part in accept.split(","):
        kind, *rest = (piece.strip() for piece in part.split(";"))
        weight = next((piece[2:] for piece in rest if piece.startswith("q=")), "1")
        try:
            quality = float(weight)
        except ValueError:
            quality = 0.0
        for format, media_type in IMAGE_TYPES.items():
            if quality > 0 and kind in (media_type, "*/*", f"{media_type.split('/')[0]}/*"):
                wanted.append((quality, format))
                break
    if not wanted:
        raise ProblemError(
            406,
            "A figure is available in none of the accepted formats.",
            f"Accept one of: {', '.join(IMAGE_TYPES.values())}.",
        )
    return max(wanted, key=lambda one: one[0])[1]


def _image(content: bytes, format: ImageFormat, tag: str | None) -> Response:
    headers = {"Vary": "Accept", "Cache-Control": "no-cache"}
    if tag is not None:
        headers["ETag"] = tag
    return Response(content, media_type=IMAGE_TYPES[format], headers=headers)
