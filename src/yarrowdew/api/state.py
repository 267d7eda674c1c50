"""What routers work with."""

from __future__ import annotations

import re
import time
from collections.abc import Callable, Iterator, Mapping
from contextlib import contextmanager
from typing import Annotated, Any, TypeVar, cast

import polars as pl
from anyio import from_thread
from fastapi import Depends, Header, Request, Response
from pydantic import BaseModel

from yarrowdew.api.jobs import Job, Jobs
from yarrowdew.api.models import FigureOut, JobOut, TableOut, TableTaken
from yarrowdew.api.problems import ProblemError, etag
from yarrowdew.api.settings import Settings
from yarrowdew.api.uploads import Uploads
from yarrowdew.core.checkpoints import asking
from yarrowdew.figures.analyses.suggestion import suggest_figure
from yarrowdew.store import NotFoundError, Store
from yarrowdew.store.table_queries import TableRecord
from yarrowdew.tables.errors import TableError
from yarrowdew.tables.reading import ReadOptions
from yarrowdew.tables.reading.progress import Progress, StoppedError, unheard
from yarrowdew.tables.table import Table

Result = TypeVar("Result", bound=BaseModel)
Prefer = Annotated[
    str | None,
    Header(
        description="respond-async: answer with a job at once, and do the work then; with wait=N, only if it is not done after N seconds"
    ),
]

IfMatch = Annotated[str | None, Header(description="The entity tag that was read")]

ACCEPTED: dict[int | str, dict[str, Any]] = {202: {"model": JobOut}}


# What is no coroutine would be looked up in a thread of its own.
async def _store(request: Request) -> Store:
    store: Store = request.app.state.store
    return store


async def _uploads(request: Request) -> Uploads:
    uploads: Uploads = request.app.state.uploads
    return uploads


async def _settings(request: Request) -> Settings:
    settings: Settings = request.app.state.settings
    return settings


async def _jobs(request: Request) -> Jobs:
    jobs: Jobs = request.app.state.jobs
    return jobs


StoreNow = Annotated[Store, Depends(_store)]
UploadsNow = Annotated[Uploads, Depends(_uploads)]
JobsNow = Annotated[Jobs, Depends(_jobs)]
SettingsNow = Annotated[Settings, Depends(_settings)]


def tagged(record: TableRecord, response: Response) -> TableOut:
    """Show a table, with its version as the entity tag."""
    response.headers["ETag"] = etag(record.version)
    return TableOut.model_validate(record)


def check_owned(store: Store, study_id: str, table_id: str) -> None:
    """Refuse a table that is not of a study.

    Raises
    ------
    NotFoundError
    """
    if store.tables.record(table_id).study_id != study_id:
        raise NotFoundError("table", table_id)


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
    record = store.tables.add(study_id, table, figures, sources, options=options, progress=progress)
    made = [f for f in store.figures.of_study(study_id) if f.document.table == record.id]
    return TableTaken(
        table=TableOut.model_validate(record),
        figure=FigureOut.model_validate(made[0]) if made else None,
        problem=problem,
    )


def expected_version(if_match: IfMatch = None) -> int | None:
    """Read which version a request is meant for; None where any will do."""
    if if_match is None or if_match.strip() == "*":
        return None
    found = _TAG.match(if_match.strip())
    if found is None:
        raise ProblemError(400, f"If-Match is not an entity tag of ours: {if_match[:80]}.")
    return int(found[1] or found[2])


def stated_version(if_match: IfMatch = None) -> int | None:
    """Read which version a request is meant for; 428 where it does not say."""
    if if_match is None:
        raise ProblemError(
            428, "The request does not say which revision it changes.", "Send If-Match."
        )
    return expected_version(if_match)


Expected = Annotated[int | None, Depends(expected_version)]
"""The version that a request is meant for, where it says so."""
Meant = Annotated[int | None, Depends(stated_version)]
"""The version that a request is meant for, which it has to say; None for whichever there is."""

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


@contextmanager
def while_waited_for(request: Request, jobs: Jobs) -> Iterator[None]:
    """End the work inside where nobody waits for its answer any more."""
    with asking(_while_waited_for(request, jobs)):
        yield


def _done_within(seconds: float, job: Job, request: Request) -> bool:
    until = time.monotonic() + seconds
    job.asked = time.monotonic()
    while not job.has_ended.wait(min(_LOOKED_EVERY, max(0.0, until - time.monotonic()))):
        if from_thread.run(request.is_disconnected):
            job.stop()
        else:
            job.asked = time.monotonic()
        if time.monotonic() >= until:
            break
    return job.state == "done"


_WAIT = re.compile(r"\bwait=([0-9]{1,3})\b")


def in_background(
    prefer: str | None, jobs: Jobs, request: Request, work: Callable[[Progress], Result]
) -> Result | Response:
    """Do work at once, or as a job where the request prefers not to wait (RFC 7240).

    Where it prefers to wait for some seconds first, what is done by then is answered at once. What
    is waited for ends where nobody does any more: the connection is closed, or the server is being
    stopped.
    """
    if prefer is None or "respond-async" not in prefer:
        return work(_while_waited_for(request, jobs))
    job = jobs.start(work)
    waits = _WAIT.search(prefer)
    if waits and _done_within(float(waits[1]), job, request):
        # The job keeps what it is asked for under its address; nobody will ask.
        jobs.forget(job.id)
        return cast("Result", job.result)
    return Response(
        JobOut.model_validate(job).model_dump_json(),
        status_code=202,
        media_type="application/json",
        headers={"Location": f"/api/jobs/{job.id}", "Preference-Applied": "respond-async"},
    )
