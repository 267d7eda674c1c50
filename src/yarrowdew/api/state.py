"""What routers work with."""

from __future__ import annotations

import re
import time
from collections.abc import Callable, Iterator, Mapping
from contextlib import contextmanager
from typing import Annotated, Any, TypeVar

import polars as pl
from anyio import from_thread
from fastapi import Depends, Header, Request, Response
from pydantic import BaseModel

from yarrowdew.api.jobs import Job, Jobs
from yarrowdew.api.models import FigureOut, JobOut, PlateOut, StudyOut, TableOut, TableTaken
from yarrowdew.api.problems import ProblemError, etag
from yarrowdew.api.settings import Settings
from yarrowdew.api.uploads import Uploads
from yarrowdew.core.checkpoints import asking
from yarrowdew.figures.suggestion import suggest_figure
from yarrowdew.store import FigureRecord, Store
from yarrowdew.store.documents import PlateRecord
from yarrowdew.store.reading import TableRecord
from yarrowdew.store.studies import StudyRecord
from yarrowdew.tables import Table, TableError
from yarrowdew.tables.reading import ReadOptions
from yarrowdew.tables.reading.progress import Progress, StoppedError, unheard

Result = TypeVar("Result", bound=BaseModel)
Prefer = Annotated[
    str | None, Header(description="respond-async: answer with a job at once, and do the work then")
]

IfMatch = Annotated[str | None, Header(description="The entity tag that was read")]

ACCEPTED: dict[int | str, dict[str, Any]] = {202: {"model": JobOut}}


def _store(request: Request) -> Store:
    store: Store = request.app.state.store
    return store


def _uploads(request: Request) -> Uploads:
    uploads: Uploads = request.app.state.uploads
    return uploads


def _settings(request: Request) -> Settings:
    settings: Settings = request.app.state.settings
    return settings


def _jobs(request: Request) -> Jobs:
    jobs: Jobs = request.app.state.jobs
    return jobs


StoreNow = Annotated[Store, Depends(_store)]
UploadsNow = Annotated[Uploads, Depends(_uploads)]
JobsNow = Annotated[Jobs, Depends(_jobs)]
SettingsNow = Annotated[Settings, Depends(_settings)]


def study_out(record: StudyRecord) -> StudyOut:
    """Show a study."""
    return StudyOut(
        id=record.id,
        name=record.name,
        changed=record.changed,
        deleted=record.deleted,
        categories=record.categories,
        filters=record.filters,
        looks=record.looks,
    )


def table_out(record: TableRecord) -> TableOut:
    """Show a table."""
    return TableOut(
        id=record.id,
        study=record.study_id,
        name=record.name,
        version=record.version,
        options=record.options,
        summary=record.summary,
    )


def tagged(record: TableRecord, response: Response) -> TableOut:
    """Show a table, with its version as the entity tag."""
    response.headers["ETag"] = etag(record.version)
    return table_out(record)


def add_with_figure(
    store: Store,
    study_id: str,
    table: Table,
    *,
    sources: Mapping[str, pl.Series] | None = None,
    options: ReadOptions | None = None,
    progress: Progress = unheard,
) -> TableTaken:
    """Add a table to a study, with the figure it starts with where it can have one."""
    figures, problem = [], None
    try:
        figures.append(suggest_figure(table, ""))
    except TableError as error:
        problem = str(error)
    record = store.add_table(study_id, table, figures, sources, options=options, progress=progress)
    made = [f for f in store.figures(study_id) if f.document.table == record.id]
    return TableTaken(
        table=table_out(record), figure=figure_out(made[0]) if made else None, problem=problem
    )


def figure_out(record: FigureRecord) -> FigureOut:
    """Show a figure."""
    return FigureOut(
        id=record.id,
        study=record.study_id,
        revision=record.revision,
        document=record.document,
    )


def plate_out(record: PlateRecord) -> PlateOut:
    """Show a plate."""
    return PlateOut(
        id=record.id, study=record.study_id, revision=record.revision, document=record.document
    )


def revision_of(if_match: str | None, current: Callable[[], int]) -> int:
    """Read which revision a request changes; 428 where it does not say."""
    if if_match is None:
        raise ProblemError(
            428, "The request does not say which revision it changes.", "Send If-Match."
        )
    meant = expected_of(if_match)
    return current() if meant is None else meant


def expected_of(if_match: str | None) -> int | None:
    """Read which version a request is meant for; None where any will do."""
    if if_match is None or if_match.strip() == "*":
        return None
    found = _TAG.match(if_match.strip())
    if found is None:
        raise ProblemError(400, f"If-Match is not an entity tag of ours: {if_match[:80]}.")
    return int(found[1] or found[2])


_TAG = re.compile(r'^(?:W/)?"([0-9]{1,18})"$|^([0-9]{1,18})$')
"""An entity tag as `etag` writes it (RFC 9110, section 8.8.3); the quotes may be forgotten."""


def _while_waited_for(request: Request, jobs: Jobs) -> Progress:
    asked = time.monotonic()

    def listen(_share: float) -> None:
        nonlocal asked
        if jobs.closing:
            raise StoppedError
        now = time.monotonic()
        if now - asked > _LOOKED_EVERY:
            asked = now
            if from_thread.run(request.is_disconnected):
                raise StoppedError

    return listen


_LOOKED_EVERY = 0.5
"""Seconds after which a request is looked after, whether anybody waits for its answer."""


def job_out(job: Job) -> JobOut:
    """Show work that goes on in the background."""
    return JobOut.model_validate(
        {
            "id": job.id,
            "state": job.state,
            "progress": job.progress,
            "result": job.result,
            "problem": job.problem,
        }
    )


@contextmanager
def while_waited_for(request: Request, jobs: Jobs) -> Iterator[None]:
    """End the work inside where nobody waits for its answer any more."""
    listen = _while_waited_for(request, jobs)
    with asking(lambda: listen(0.0)):
        yield


def in_background(
    prefer: str | None, jobs: Jobs, request: Request, work: Callable[[Progress], Result]
) -> Result | Response:
    """Do work at once, or as a job where the request prefers not to wait (RFC 7240).

    What is done at once ends where nobody waits for it any more: the connection is closed, or the
    server is being stopped.
    """
    if prefer is None or "respond-async" not in prefer:
        return work(_while_waited_for(request, jobs))
    job = jobs.start(work)
    return Response(
        job_out(job).model_dump_json(),
        status_code=202,
        media_type="application/json",
        headers={"Location": f"/api/jobs/{job.id}", "Preference-Applied": "respond-async"},
    )
