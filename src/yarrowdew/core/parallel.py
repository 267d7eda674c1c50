"""Run pieces of work on other cores, by a pool of threads."""

from __future__ import annotations

import os
from collections.abc import Callable, Iterator, Sequence
from concurrent.futures import Future, ThreadPoolExecutor
from contextvars import Context
from functools import cache
from itertools import zip_longest
from typing import Generic, TypeVar

Result = TypeVar("Result")

_FEWEST_ROWS = 20_000
"""Rows from which on it is worth the handing over, which takes a tenth of a millisecond."""


def submit(work: Callable[[], Result], rows: int) -> Callable[[], Result]:
    """Begin work on another core.

    Nobody is asked there whether it is still wanted: it is for what is done within moments.

    Parameters
    ----------
    work : callable
        Changes nothing that others use.
    rows : int
        That it is done over. Few are gone through when the result is asked for, as is what no core
        had time for until then.

    Returns
    -------
    callable
        Waits for the result, and returns it or raises what the work raised.
    """
    if rows < _FEWEST_ROWS:
        return work
    begun = _pool().submit(Context().run, work)

    def result() -> Result:
        return work() if begun.cancel() else begun.result()

    return result


class ParallelMap(Generic[Result]):
    """Several pieces of work: the first of them are done here, the last meanwhile on another core.

    What was not begun when the results are not wanted any more is never done.

    Parameters
    ----------
    works : sequence of callable
    rows : int
        That each is done over; see `beside`.
    """

    def __init__(self, works: Sequence[Callable[[], Result]], rows: int) -> None:
        self._works = works
        self._begun: list[Future[Result]] = []
        if rows >= _FEWEST_ROWS:
            self._begun = [_pool().submit(Context().run, work) for work in reversed(works)][::-1]

    def __iter__(self) -> Iterator[Result]:
        """Results in their order; raises what one of them raised."""
        try:
            for work, begun in zip_longest(self._works, self._begun):
                yield work() if begun is None or begun.cancel() else begun.result()
        finally:
            self.drop()

    def drop(self) -> None:
        """Begin nothing more."""
        for begun in self._begun:
            begun.cancel()


@cache
def _pool() -> ThreadPoolExecutor:
    return ThreadPoolExecutor(max(1, (os.cpu_count() or 2) - 1), thread_name_prefix="beside")
