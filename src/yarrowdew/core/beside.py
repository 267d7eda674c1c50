"""Work that another core does meanwhile."""

from __future__ import annotations

import os
from collections.abc import Callable
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


@cache
def _others() -> ThreadPoolExecutor:
    return ThreadPoolExecutor(max(1, (os.cpu_count() or 2) - 1), thread_name_prefix="beside")
