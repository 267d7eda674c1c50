"""A Dask cluster as an engine: workers look at parts where they are, and partials come back.

What goes to a worker is which files and rows, and what is asked of them; the rows themselves are
read by the worker, which needs the same files under the same paths.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from typing import Any, TypeVar

from yarrowdew.core.aggregates.aggregation import Aggregation
from yarrowdew.core.aggregates.partials import Partial, merged
from yarrowdew.core.errors import UserFacingError
from yarrowdew.tables.datasets import Dataset, Part
from yarrowdew.tables.engines.base import Merging, look
from yarrowdew.tables.errors import TableError

P = TypeVar("P", bound=Partial)
_AHEAD = 2
"""So many stretches of parts for each thread of the cluster are on their way at once."""
_TURNS = 8
"""Into about so many stretches for each thread parts are put together: a worker merges its own
before it answers, so that what is sent does not grow with the parts."""
_MOST_PARTS = 16
"""In a stretch at most: what a worker that goes takes along."""
_ANSWERS_IN = 10.0
"""Seconds in which a scheduler has to answer."""


@dataclass(frozen=True)
class Cluster:
    """Workers of a Dask scheduler.

    Attributes
    ----------
    address : str
        Of the scheduler, as tcp://host:port.
    """

    address: str

    def total(self, dataset: Dataset, ask: Aggregation[P], origins: Mapping[str, float]) -> P:
        """See `Engine`. A worker that goes costs time: its parts are given to others."""
        distributed = _installed()
        try:
            with distributed.Client(self.address, timeout=_ANSWERS_IN) as client:
                return self._total(client, distributed, dataset, ask, origins)
        except UserFacingError:
            raise
        except distributed.KilledWorker as error:
            raise TableError(
                f"Workers of {self.address} ended one after the other at the same chunk.",
                "Give them more memory, or read the dataset with threads.",
            ) from error
        except (OSError, TimeoutError, distributed.client.FutureCancelledError) as error:
            raise TableError(
                f"The scheduler at {self.address} does not answer.",
                "Check that it runs, and ask again.",
            ) from error

    def _total(
        self,
        client: Any,
        distributed: Any,
        dataset: Dataset,
        ask: Aggregation[P],
        origins: Mapping[str, float],
    ) -> P:
        merging = Merging(dataset)
        threads = sum(client.nthreads().values())
        if not threads:
            raise TableError(
                f"The scheduler at {self.address} has no workers.", "Start some, and ask again."
            )
        every = list(dataset.parts())
        together = max(1, min(_MOST_PARTS, len(every) // (threads * _TURNS)))
        turns = _in_turns(every, together)
        shared = client.scatter((dataset, ask, dict(origins)), hash=False)
        waiting: dict[Any, int] = {}
        coming = distributed.as_completed()

        def send() -> None:
            while len(waiting) < threads * _AHEAD and (parts := next(turns, None)) is not None:
                one = client.submit(_look, shared, parts, pure=False)
                waiting[one] = sum(part.rows for part in parts)
                coming.add(one)

        send()
        for one in coming:
            merging.take(waiting.pop(one), one.result())
            send()
        return merging.whole()  # type: ignore[return-value]


def _look(
    shared: tuple[Dataset, Aggregation[Any], Mapping[str, float]], parts: Sequence[Part]
) -> Any:
    """Look at some parts, one after the other, and merge what comes of them."""
    dataset, ask, origins = shared
    return merged(look(dataset, part, ask, origins) for part in parts)


def _in_turns(parts: Sequence[Part], together: int) -> Iterator[Sequence[Part]]:
    for start in range(0, len(parts), together):
        yield parts[start : start + together]


def _installed() -> Any:
    try:
        import distributed  # noqa: PLC0415 (not installed by all)
    except ImportError as error:
        raise TableError(
            "A Dask scheduler needs the package distributed.",
            "Install yarrowdew[dask], or read the dataset with threads.",
        ) from error
    return distributed
