"""Work that may take long: it goes on in the background, says how far it is, and can be stopped."""

from __future__ import annotations

import logging
import time
import uuid
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from threading import Event, Lock
from typing import Literal

from pydantic import BaseModel

from yarrowdew.api.handlers import problem_of
from yarrowdew.api.problems import Problem
from yarrowdew.store import NotFoundError
from yarrowdew.tables.reading.progress import Progress, StoppedError

log = logging.getLogger(__name__)

KEPT_SECONDS = 600
KEPT_BYTES = 256 * 1024 * 1024
"""Of results that nobody has fetched yet."""
FORGOTTEN_SECONDS = 120
"""Work that nobody has asked for as long is stopped."""
AT_ONCE = 4

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
        self.asked = time.monotonic()
        self.has_ended = Event()
        self._settled = False
        self._lock = Lock()

    @property
    def size(self) -> int:
        """Bytes of its result, where that is an answer of several parts."""
        return len(getattr(self.result, "body", b""))

    def run(self, work: Work) -> None:
        """Do the work and keep what comes of it."""
        if self.state == "stopped":
            self._end("stopped")
            return
        try:
            self._end("done", result=work(self._listen))
        except StoppedError:
            self._end("stopped")
        except BaseException as error:
            # Libraries may panic with what is no `Exception`; the one who waits is told of that too.
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
            if self.state == "stopped" or time.monotonic() - self.asked > FORGOTTEN_SECONDS:
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
            if state == "done":
                self.progress = 1.0
        self.has_ended.set()


class Jobs:
    """The work of one server; what has ended is known for ten minutes."""

    def __init__(self) -> None:
        self._pool = ThreadPoolExecutor(AT_ONCE, thread_name_prefix="job")
        self._jobs: dict[str, Job] = {}
        self._lock = Lock()
        self.closing = False

    def start(self, work: Work) -> Job:
        """Begin a piece of work."""
        self.sweep()
        job = Job()
        with self._lock:
            self._jobs[job.id] = job
        self._pool.submit(job.run, work)
        return job

    def find(self, job_id: str) -> Job:
        """Find a piece of work; who asks for it waits for it."""
        with self._lock:
            job = self._jobs.get(job_id)
        if job is None:
            raise NotFoundError("job", job_id)
        job.asked = time.monotonic()
        return job

    def sweep(self) -> None:
        """Forget work that ended some time ago, and the oldest results where they are large."""
        now = time.monotonic()
        with self._lock:
            ended = sorted((j for j in self._jobs.values() if j.ended), key=lambda j: -j.ended)
            size = 0
            for job in ended:
                size += job.size
                if now - job.ended >= KEPT_SECONDS or size > KEPT_BYTES:
                    del self._jobs[job.id]

    def forget(self, job_id: str) -> None:
        """Forget a piece of work and what came of it."""
        with self._lock:
            self._jobs.pop(job_id, None)

    def close(self) -> None:
        """Stop everything."""
        self.closing = True
        with self._lock:
            running = list(self._jobs.values())
        for job in running:
            job.stop()
        self._pool.shutdown(cancel_futures=True)
