"""Figures: their documents, and the answer to a document."""

from __future__ import annotations

import math
from typing import Annotated, Any

from fastapi import Query, Request, Response
from pydantic import BaseModel

from yarrowdew.api.answering import Answering, sources
from yarrowdew.api.models import FigureOut, InParts
from yarrowdew.api.multipart import Part, form_of
from yarrowdew.api.problems import etag
from yarrowdew.api.routing import api_router
from yarrowdew.api.state import (
    ACCEPTED,
    Expected,
    JobsNow,
    Meant,
    Prefer,
    SettingsNow,
    StoreNow,
    in_background,
    while_waited_for,
)
from yarrowdew.core.checkpoints import asking
from yarrowdew.figures.analyses.comparison import Comparison, ComparisonRequest, compare
from yarrowdew.figures.analyses.dataset_pairs import pairs_of_dataset
from yarrowdew.figures.analyses.pairs import PairsAnswer, PairsRequest, pairs_of
from yarrowdew.figures.analyses.residuals import ResidualsRequest, residual_table, residuals
from yarrowdew.figures.answer import ReadingsAnswer, readings_in
from yarrowdew.figures.dataset_answer import VisibleRange
from yarrowdew.figures.figure import FigureDocument
from yarrowdew.figures.sharing.dataset import Counted
from yarrowdew.tables.reading.progress import Progress
from yarrowdew.tables.writing import MEDIA_TYPES, Format, write_table

SeenEnds = Annotated[
    list[float] | None,
    Query(
        min_length=2,
        max_length=2,
        description="Of a dataset: from which value to which an axis is in view",
    ),
]
ARROW_STREAM = "application/vnd.apache.arrow.stream"

router = api_router("figures")


@router.post("/studies/{study_id}/figures", status_code=201)
def create_figure(
    study_id: str, document: FigureDocument, store: StoreNow, response: Response
) -> FigureOut:
    """Add a figure to a study."""
    record = store.figures.create(study_id, document)
    response.headers["Location"] = f"/api/figures/{record.id}"
    response.headers["ETag"] = etag(record.revision)
    return FigureOut.model_validate(record)


@router.get("/figures/{figure_id}")
def get_figure(figure_id: str, store: StoreNow, response: Response) -> FigureOut:
    """Show a figure as it was last saved."""
    record = store.figures.get(figure_id)
    response.headers["ETag"] = etag(record.revision)
    return FigureOut.model_validate(record)


@router.put("/figures/{figure_id}")
def save_figure(
    figure_id: str,
    document: FigureDocument,
    store: StoreNow,
    response: Response,
    expected: Meant,
) -> FigureOut:
    """Save a figure over the revision that was read; 412 when someone else saved first."""
    record = store.figures.save(figure_id, document, expected)
    response.headers["ETag"] = etag(record.revision)
    return FigureOut.model_validate(record)


@router.delete("/figures/{figure_id}", status_code=204)
def delete_figure(figure_id: str, store: StoreNow, expected: Expected) -> None:
    """Delete a figure, which can be brought back; with If-Match, only the revision that is
    meant.
    """
    store.figures.delete(figure_id, expected)


@router.post("/figures/{figure_id}/return")
def return_figure(figure_id: str, store: StoreNow, response: Response) -> FigureOut:
    """Bring back a figure that was deleted."""
    record = store.figures.restore(figure_id)
    response.headers["ETag"] = etag(record.revision)
    return FigureOut.model_validate(record)


def _in_parts(description: str, **more: str) -> dict[int | str, dict[str, Any]]:
    """Describe a response of several parts to OpenAPI."""
    schemas = {name: {"$ref": f"#/components/schemas/{model}"} for name, model in more.items()}
    return {
        200: {
            "description": description,
            "content": {
                "multipart/form-data": {
                    "schema": {
                        "type": "object",
                        "required": [*schemas, "marks"],
                        "properties": {**schemas, "marks": {"type": "string", "format": "binary"}},
                    },
                    "encoding": {
                        **{name: {"contentType": "application/json"} for name in schemas},
                        "marks": {"contentType": ARROW_STREAM},
                    },
                }
            },
        }
    }


@router.post(
    "/answers",
    response_class=Response,
    responses=_in_parts(
        "Two parts: `answer` (JSON) and `marks` (Arrow IPC stream).", answer="Answer"
    )
    | ACCEPTED,
)
def answer_document(
    document: FigureDocument,
    store: StoreNow,
    settings: SettingsNow,
    jobs: JobsNow,
    request: Request,
    most_marks: Annotated[
        int | None, Query(ge=1, description="For small pictures: at most so many marks")
    ] = None,
    seen_x: SeenEnds = None,
    seen_y: SeenEnds = None,
    prefer: Prefer = None,
) -> Response:
    """Turn a figure document into everything needed to draw it. Nothing is saved."""
    found = Answering(store, settings, document)
    seen = VisibleRange(_ends(seen_x), _ends(seen_y))

    def work(tell: Progress) -> InParts:
        with asking(tell):
            answered = found.answer(most_marks, cautioned=most_marks is None, seen=seen)
        return _parts({"answer": answered.answer}, answered.marks)

    return _whole(in_background(prefer, jobs, request, work))


@router.post(
    "/residuals",
    response_class=Response,
    responses=_in_parts(
        "Three parts: the `document` of the figure of residuals, its `answer` and its `marks`.",
        document="FigureDocument",
        answer="Answer",
    ),
)
def answer_residuals(
    asked: ResidualsRequest, store: StoreNow, jobs: JobsNow, request: Request
) -> Response:
    """Turn a trend of a figure document into a figure of its residuals. Nothing is saved."""
    table = store.tables.get(asked.document.table, asked.document.variables_used())
    with while_waited_for(request, jobs):
        document, answered = residuals(asked, table)
    return _whole(_parts({"document": document, "answer": answered.answer}, answered.marks))


@router.post("/comparisons", response_model=Comparison, responses=ACCEPTED)
def compare_forms(
    asked: ComparisonRequest,
    store: StoreNow,
    jobs: JobsNow,
    request: Request,
    prefer: Prefer = None,
) -> Comparison | Response:
    """Fit every form of trend to the rows of one line, the best first."""
    table = store.tables.get(asked.document.table, asked.document.variables_used())
    return in_background(prefer, jobs, request, lambda tell: compare(asked, table, tell))


@router.post("/readings")
def read_document(
    document: FigureDocument, store: StoreNow, settings: SettingsNow
) -> ReadingsAnswer:
    """Say what a figure document says: fits, intervals, what is read off, cautions."""
    return readings_in(Answering(store, settings, document).answer(most_marks=1).answer)


@router.post("/fitted", response_class=Response)
def export_fitted(asked: ResidualsRequest, store: StoreNow, format: Format = "csv") -> Response:
    """Write the rows of a trend with fitted values, residuals and leverages."""
    table = store.tables.get(asked.document.table, asked.document.variables_used())
    made = residual_table(asked.document, table, asked.trend)
    media_type, _ = MEDIA_TYPES[format]
    return Response(write_table(made, format), media_type=media_type)


@router.post("/pairs", response_model=PairsAnswer, responses=ACCEPTED)
def list_pairs(
    asked: PairsRequest,
    store: StoreNow,
    settings: SettingsNow,
    jobs: JobsNow,
    request: Request,
    prefer: Prefer = None,
) -> PairsAnswer | Response:
    """Correlate every pair of number variables of a table, strongest first."""
    source = sources(store, settings)(asked.table)

    def work(tell: Progress) -> PairsAnswer:
        if not isinstance(source, Counted):
            return pairs_of(asked, source, tell)
        with asking(tell):
            return pairs_of_dataset(asked, source.view)

    return in_background(prefer, jobs, request, work)


def _ends(given: list[float] | None) -> tuple[float, float] | None:
    if given is None or not all(map(math.isfinite, given)):
        return None
    return min(given), max(given)


def _parts(spoken: dict[str, BaseModel], marks: bytes) -> InParts:
    """Put all parts of an answer into one body."""
    fields = [
        Part(name, "application/json", content.model_dump_json().encode())
        for name, content in spoken.items()
    ]
    body, media_type = form_of([*fields, Part("marks", ARROW_STREAM, marks, "marks.arrow")])
    return InParts(parts=[*spoken, "marks"], body=body, media_type=media_type)


def _whole(made: InParts | Response) -> Response:
    if isinstance(made, Response):
        return made
    return Response(made.body, media_type=made.media_type)
