"""Who looks at the parts of a dataset: one interface, whatever does the work."""

from __future__ import annotations

import os
from collections.abc import Mapping
from concurrent.futures import FIRST_COMPLETED, Future, ThreadPoolExecutor, wait
from dataclasses import dataclass, field
from typing import Protocol, TypeVar

import numpy as np

from yarrowdew.core.aggregates.aggregation import Aggregation
from yarrowdew.core.aggregates.partials import Partial
from yarrowdew.core.checkpoints import checkpoint
from yarrowdew.tables.datasets import Dataset, Part
from yarrowdew.tables.errors import TableError

P = TypeVar("P", bound=Partial)


class Engine(Protocol):
    """Makes a partial of every part, and merges them as they come."""

    def total(self, dataset: Dataset, ask: Aggregation[P], origins: Mapping[str, float]) -> P:
        """The partial of all rows.

        Parameters
        ----------
        dataset : Dataset
        ask : Aggregation
        origins : mapping of str to float
            What is taken from the numbers of a variable.

        Raises
        ------
        TableError
            If a part cannot be read, or whoever does the work is gone.
        """


def look(dataset: Dataset, part: Part, ask: Aggregation[P], origins: Mapping[str, float]) -> P:
    """Make the partial of one part: what every engine does, wherever it does it."""
    rows = dataset.rows_of(part, ask.numbers, ask.labels, origins)
    # What overflows is said when a sum is asked for.
    with np.errstate(all="ignore"):
        return ask.of(rows)


def engine_named(name: str | None) -> Engine:
    """Find an engine: threads where nothing else is named, or a Dask scheduler by its address.

    Raises
    ------
    TableError
        If there is no such engine, or it does not answer.
    """
    if name in (None, "threads"):
        return Threads()
    if "://" in str(name):
        from yarrowdew.tables.engines.dask import Cluster  # noqa: PLC0415 (not installed by all)

        return Cluster(str(name))
    raise TableError(
        f"There is no engine '{name}'.", "Use threads, or a Dask scheduler as tcp://host:port."
    )


class Merging:
    """Merges partials as they come, says how much is done, and asks whether it is still wanted."""

    def __init__(self, dataset: Dataset) -> None:
        self._all = max(sum(part.rows for part in dataset.parts()), 1)
        self._done = 0
        self._made: list[object] = []

    def take(self, rows: int, made: Partial) -> None:
        """Take the partial of so many rows."""
        self._made = [self._made[0].merge(made) if self._made else made]  # type: ignore[attr-defined]
        self._done += rows
        checkpoint(self._done / self._all)

    def whole(self) -> object:
        """What came of them."""
        return self._made[0]


@dataclass(frozen=True)
class Threads:
    """Threads of this process: reading and adding up leave the interpreter to others.

    Attributes
    ----------
    count : int
    """

    count: int = field(default_factory=lambda: min(8, os.cpu_count() or 1))

    def total(self, dataset: Dataset, ask: Aggregation[P], origins: Mapping[str, float]) -> P:
        """See `Engine`."""
        merging = Merging(dataset)
        parts = dataset.parts()
        waiting: dict[Future[P], int] = {}
        pool = ThreadPoolExecutor(self.count, thread_name_prefix="parts")
        try:
            while True:
                # No more are begun than are looked at: each takes memory.
                while len(waiting) < self.count + 1 and (part := next(parts, None)) is not None:
                    waiting[pool.submit(look, dataset, part, ask, origins)] = part.rows
                if not waiting:
                    break
                ready, _ = wait(waiting, return_when=FIRST_COMPLETED)
                for one in ready:
                    merging.take(waiting.pop(one), one.result())
        finally:
            pool.shutdown(cancel_futures=True)
        return merging.whole()  # type: ignore[return-value]
