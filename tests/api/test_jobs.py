from __future__ import annotations

from collections.abc import Iterator
from threading import Event

import pytest
from pydantic import BaseModel

from yarrowdew.api.jobs import Job, Jobs
from yarrowdew.store import NotFoundError
from yarrowdew.tables.errors import TableError
from yarrowdew.tables.reading.progress import Progress, part_of


class Made(BaseModel):
    value: int


@pytest.fixture
def jobs() -> Iterator[Jobs]:
    opened = Jobs()
    yield opened
    opened.close()


def test_work_is_done_and_its_progress_told() -> None:
    job = Job()
    seen: list[float] = []

    def work(progress: Progress) -> Made:
        for share in (0.25, 0.5):
            progress(share)
            seen.append(job.progress)
        return Made(value=3)

    job.run(work)
    assert seen == [0.25, 0.5]
    assert (job.state, job.result, job.problem) == ("done", Made(value=3), None)


def test_work_that_is_stopped_ends_at_its_next_report() -> None:
    job = Job()
    reached: list[float] = []

    def work(progress: Progress) -> Made:
        progress(0.1)
        job.stop()
        progress(0.2)
        reached.append(0.2)
        return Made(value=1)

    job.run(work)
    assert (job.state, job.result, reached) == ("stopped", None, [])


def test_what_is_settled_can_no_longer_be_stopped() -> None:
    job = Job()

    def work(progress: Progress) -> Made:
        progress(1.0)
        job.stop()
        return Made(value=2)

    job.run(work)
    assert (job.state, job.result) == ("done", Made(value=2))


def test_what_goes_wrong_is_kept_as_a_problem(caplog: pytest.LogCaptureFixture) -> None:
    def refuse(_progress: Progress) -> Made:
        raise TableError("Row 3 is too wide.", "Check the delimiter.", row=3)

    def break_down(_progress: Progress) -> Made:
        raise ZeroDivisionError

    job = Job()
    job.run(refuse)
    assert job.state == "failed"
    assert job.problem is not None
    assert (job.problem.status, job.problem.row, job.problem.detail) == (
        422,
        3,
        "Check the delimiter.",
    )
    assert caplog.records == []
    job = Job()
    job.run(break_down)
    assert job.problem is not None
    assert job.problem.status == 500
    assert "Unforeseen" in caplog.text


def test_jobs_are_found_by_their_ids(jobs: Jobs) -> None:
    begun, go = Event(), Event()

    def work(progress: Progress) -> Made:
        begun.set()
        go.wait(10)
        progress(0.5)
        return Made(value=4)

    job = jobs.start(work)
    assert begun.wait(10)
    assert jobs.find(job.id) is job
    assert job.state == "running"
    job.stop()
    assert job.state == "stopped"
    go.set()
    with pytest.raises(NotFoundError, match="job 'nope'"):
        jobs.find("nope")


def test_a_part_of_a_longer_work_reports_its_share() -> None:
    told: list[float] = []
    part = part_of(told.append, 0.6, 1.0)
    for share in (0, 0.5, 1):
        part(share)
    assert told == pytest.approx([0.6, 0.8, 1.0])
