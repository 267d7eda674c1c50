"""Work that another core does meanwhile."""

from __future__ import annotations

import os
from collections.abc import Callable, Iterator, Sequence
from concurrent.futures import ThreadPoolExecutor
from contextvars import Context
from functools import cache
from typing import TypeVar

Result = TypeVar("Result")

_WORTH_IT = 20_000
"""Rows from which on it is worth the handing over, which takes a tenth of a millisecond."""


def beside(work: Callable[[], Result], rows: int) -> Callable[[], Result]:
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
    if rows < _WORTH_IT:
        return work
    begun = _others().submit(Context().run, work)

    def result() -> Result:
        return work() if begun.cancel() else begun.result()

    return result


def shared_out(works: Sequence[Callable[[], Result]], rows: int) -> Iterator[Result]:
    """Do several pieces of work, the first of them here and the last meanwhile on another core.

    What was not begun when the results are not wanted any more is never done.

    Parameters
    ----------
    works : sequence of callable
    rows : int
        That each is done over; see `beside`.

    Yields
    ------
    object
        The result of each, in their order; raises what one raised.
    """
    if rows < _WORTH_IT:
        yield from (work() for work in works)
        return
    begun = [_others().submit(Context().run, work) for work in reversed(works)][::-1]
    try:
        for work, one in zip(works, begun, strict=True):
            yield work() if one.cancel() else one.result()
    finally:
        for one in begun:
            one.cancel()


@cache
def _others() -> ThreadPoolExecutor:
    return ThreadPoolExecutor(max(1, (os.cpu_count() or 2) - 1), thread_name_prefix="beside")
