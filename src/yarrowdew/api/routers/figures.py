"""Figures: their documents, and the answer to a document."""

from __future__ import annotations

import uuid
from typing import Annotated

from fastapi import APIRouter, Header, Query, Response

from yarrowdew.api.models import FigureOut
from yarrowdew.api.problems import ProblemError, etag
from yarrowdew.api.state import StoreNow, figure_out
from yarrowdew.figures import Answer, FigureDocument, answer

ARROW_STREAM = "application/vnd.apache.arrow.stream"

router = APIRouter(tags=["figures"])


@router.post("/studies/{study_id}/figures", status_code=201)
def create_figure(
    study_id: str, document: FigureDocument, store: StoreNow, response: Response
) -> FigureOut:
    """Add a figure to a study."""
    record = store.create_figure(study_id, document)
    response.headers["Location"] = f"/api/figures/{record.id}"
    response.headers["ETag"] = etag(record.revision)
    return figure_out(record)


@router.get("/figures/{figure_id}")
def get_figure(figure_id: str, store: StoreNow, response: Response) -> FigureOut:
    """Show a figure as it was last saved."""
    record = store.figure(figure_id)
    response.headers["ETag"] = etag(record.revision)
    return figure_out(record)


@router.put("/figures/{figure_id}")
def save_figure(
    figure_id: str,
    document: FigureDocument,
    store: StoreNow,
    response: Response,
    if_match: Annotated[str | None, Header(description="The entity tag that was read")] = None,
) -> FigureOut:
    """Save a figure over the revision that was read; 412 when someone else saved first."""
    if if_match is None:
        raise ProblemError(
            428, "The request does not say which revision it changes.", "Send If-Match."
        )
    tag = if_match.strip().removeprefix("W/").strip('"')
    if tag != "*" and not tag.isdigit():
        raise ProblemError(400, f"If-Match is not an entity tag of a figure: {if_match}.")
    revision = store.figure(figure_id).revision if tag == "*" else int(tag)
    record = store.save_figure(figure_id, document, revision)
    response.headers["ETag"] = etag(record.revision)
    return figure_out(record)


@router.delete("/figures/{figure_id}", status_code=204)
def delete_figure(figure_id: str, store: StoreNow) -> None:
    """Delete a figure."""
    store.delete_figure(figure_id)


@router.post(
    "/answers",
    response_class=Response,
    responses={
        200: {
            "description": "Two parts: `answer` (JSON) and `marks` (Arrow IPC stream).",
            "content": {
                "multipart/form-data": {
                    "schema": {
                        "type": "object",
                        "required": ["answer", "marks"],
                        "properties": {
                            "answer": {"$ref": "#/components/schemas/Answer"},
                            "marks": {"type": "string", "format": "binary"},
                        },
                    },
                    "encoding": {
                        "answer": {"contentType": "application/json"},
                        "marks": {"contentType": ARROW_STREAM},
                    },
                }
            },
        }
    },
)
def answer_document(
    document: FigureDocument,
    store: StoreNow,
    most_marks: Annotated[
        int | None, Query(ge=1, description="For small pictures: at most so many marks")
    ] = None,
) -> Response:
    """Turn a figure document into everything needed to draw it. Nothing is saved."""
    table = store.table(document.table, document.variables_used())
    answered = answer(document, table, most_marks)
    return _parts(answered.answer, answered.marks)


def _parts(spoken: Answer, marks: bytes) -> Response:
    """Put both parts into one body, as browsers read it without help (RFC 7578)."""
    boundary = uuid.uuid4().hex
    opening = (
        f"--{boundary}\r\n"
        'Content-Disposition: form-data; name="answer"\r\n'
        "Content-Type: application/json\r\n\r\n"
    )
    between = (
        f"\r\n--{boundary}\r\n"
        'Content-Disposition: form-data; name="marks"; filename="marks.arrow"\r\n'
        f"Content-Type: {ARROW_STREAM}\r\n\r\n"
    )
    body = b"".join(
        (
            opening.encode(),
            spoken.model_dump_json().encode(),
            between.encode(),
            marks,
            f"\r\n--{boundary}--\r\n".encode(),
        )
    )
    return Response(body, media_type=f"multipart/form-data; boundary={boundary}")
