"""Work that may take long: it goes on in the background, says how far it is, and can be stopped."""

from __future__ import annotations

import logging
import time
import uuid
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from threading import Lock
from typing import Literal

from pydantic import BaseModel

from yarrowdew.api.problems import Problem, problem_of
from yarrowdew.store import NotFoundError
from yarrowdew.tables.reading.progress import Progress, StoppedError

log = logging.getLogger(__name__)

KEPT_SECONDS = 600
AT_ONCE = 2

State = Literal["running", "done", "failed", "stopped"]
Work = Callable[[Progress], BaseModel]


class Job:
    """One piece of work."""

    def __init__(self) -> None:
        self.id = uuid.uuid4().hex
        self.state: State = "running"
        self.progress = 0.0
        self.result: BaseModel | None = None
        self.problem: Problem | None = None
        self.ended = 0.0
        self._settled = False
        self._lock = Lock()

    def run(self, work: Work) -> None:
        """Do the work and keep what comes of it."""
        try:
            self._end("done", result=work(self._listen))
        except StoppedError:
            self._end("stopped")
        except Exception as error:
            problem = problem_of(error)
            if problem.status == 500:
                log.exception("Unforeseen error in a job")
            self._end("failed", problem=problem)

    def stop(self) -> None:
        """Ask the work to end; it leaves nothing behind, unless it was done already."""
        with self._lock:
            if self.state == "running" and not self._settled:
                self.state = "stopped"

    def _listen(self, share: float) -> None:
        with self._lock:
            if self.state == "stopped":
                raise StoppedError
            self.progress = share
            # What is done can no longer be stopped.
            self._settled = share >= 1

    def _end(
        self, state: State, result: BaseModel | None = None, problem: Problem | None = None
    ) -> None:
        with self._lock:
            self.state, self.result, self.problem = state, result, problem
            self.ended = time.monotonic()


class Jobs:
    """The work of one server; what has ended is known for ten minutes."""

    def __init__(self) -> None:
        self._pool = ThreadPoolExecutor(AT_ONCE, thread_name_prefix="job")
        self._jobs: dict[str, Job] = {}

    def start(self, work: Work) -> Job:
        """Begin a piece of work."""
        now = time.monotonic()
        self._jobs = {
            id_: job
            for id_, job in self._jobs.items()
            if not job.ended or now - job.ended < KEPT_SECONDS
        }
        job = Job()
        self._jobs[job.id] = job
        self._pool.submit(job.run, work)
        return job

    def find(self, job_id: str) -> Job:
        """Find a piece of work."""
        if job_id not in self._jobs:
            raise NotFoundError("job", job_id)
        return self._jobs[job_id]

    def close(self) -> None:
        """Stop everything."""
        for job in self._jobs.values():
            job.stop()
        self._pool.shutdown()
