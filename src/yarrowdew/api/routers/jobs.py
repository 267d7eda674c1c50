"""Work that goes on in the background."""

from __future__ import annotations

from fastapi import APIRouter

from yarrowdew.api.models import JobOut
from yarrowdew.api.state import JobsNow

router = APIRouter(prefix="/jobs", tags=["jobs"])


@router.get("/{job_id}")
def get_job(job_id: str, jobs: JobsNow) -> JobOut:
    """Show how far work has come, and what came of it."""
    return JobOut.model_validate(jobs.find(job_id))


@router.delete("/{job_id}")
def stop_job(job_id: str, jobs: JobsNow) -> JobOut:
    """Stop work; it leaves nothing behind. What is done stays done."""
    job = jobs.find(job_id)
    job.stop()
    return JobOut.model_validate(job)
