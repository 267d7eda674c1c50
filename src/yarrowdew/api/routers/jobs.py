"""A task running in the background."""

from __future__ import annotations

from fastapi import Response

from yarrowdew.api.models import InParts, JobOut
from yarrowdew.api.routing import api_router
from yarrowdew.api.state import JobsNow
from yarrowdew.store import NotFoundError

router = api_router("jobs", "/jobs")


@router.get("/{job_id}")
def get_job(job_id: str, jobs: JobsNow) -> JobOut:
    """Show how far work has come, and what came of it."""
    return JobOut.model_validate(jobs.find(job_id))


@router.get("/{job_id}/parts", response_class=Response)
def take_parts(job_id: str, jobs: JobsNow) -> Response:
    """Hand over an answer of several parts, once; see `/api/answers`."""
    result = jobs.find(job_id).result
    if not isinstance(result, InParts):
        raise NotFoundError("answer of the job", job_id)
    jobs.forget(job_id)
    return Response(result.body, media_type=result.media_type)


@router.delete("/{job_id}")
def stop_job(job_id: str, jobs: JobsNow) -> JobOut:
    """Stop work; it leaves nothing behind. What is done stays done, and its result is forgotten."""
    job = jobs.find(job_id)
    job.stop()
    if job.has_ended.is_set():
        jobs.forget(job_id)
    return JobOut.model_validate(job)
