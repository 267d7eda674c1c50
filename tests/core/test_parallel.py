"""Work that another core does meanwhile."""

from __future__ import annotations

import os
from functools import partial
from threading import Event, get_ident

import numpy as np
import pytest

from yarrowdew.core.checkpoints import asking, checkpoint
from yarrowdew.core.errors import FitError
from yarrowdew.core.parallel import ParallelMap, submit

MANY = 1_000_000


def test_much_is_done_elsewhere_and_little_here() -> None:
    begun = Event()

    def here() -> int:
        begun.set()
        return get_ident()

    elsewhere = submit(here, MANY)
    assert begun.wait(60)
    assert elsewhere() != get_ident()
    assert submit(here, 200)() == get_ident()


@pytest.mark.parametrize("rows", [200, MANY])
def test_what_it_raises_is_raised_where_the_result_is_asked_for(rows: int) -> None:
    def fails() -> None:
        raise FitError("No.", "Never.")

    result = submit(fails, rows)
    with pytest.raises(FitError, match=r"No\."):
        result()


def test_what_no_core_has_time_for_is_done_here() -> None:
    may_end = Event()
    held = [submit(lambda: may_end.wait(60), MANY) for _ in range(os.cpu_count() or 2)]
    try:
        assert submit(get_ident, MANY)() == get_ident()
    finally:
        may_end.set()
    assert all(result() for result in held)


def test_nobody_is_asked_there_and_arithmetic_is_as_it_begins() -> None:
    def listen(_share: float) -> None:
        pytest.fail("This is for another thread to hear.")

    begun = Event()

    def work() -> dict[str, str]:
        begun.set()
        checkpoint(0.5)
        return np.geterr()

    begins = np.geterr()
    with asking(listen), np.errstate(all="raise"):
        result = submit(work, MANY)
        assert begun.wait(60)
        assert result() == begins


@pytest.mark.parametrize("rows", [200, MANY])
def test_shared_out_results_come_in_their_order(rows: int) -> None:
    works = [partial(pow, 2, power) for power in range(50)]
    assert list(ParallelMap(works, rows)) == [2**power for power in range(50)]
    assert list(ParallelMap([], rows)) == []


def test_shared_out_the_last_are_done_elsewhere_meanwhile() -> None:
    begun = Event()

    def first() -> int:
        # Held until the last one was begun by another core.
        assert begun.wait(60)
        return get_ident()

    def last() -> int:
        begun.set()
        return get_ident()

    here, elsewhere = ParallelMap([first, last], MANY)
    assert here == get_ident()
    assert elsewhere != here


@pytest.mark.parametrize("fails", [False, True])
def test_what_is_not_wanted_any_more_is_never_begun(fails: bool) -> None:
    may_end, done = Event(), list[int]()
    held = [submit(lambda: may_end.wait(60), MANY) for _ in range(os.cpu_count() or 2)]

    def work(place: int) -> None:
        done.append(place)
        if fails:
            raise FitError("No.", "Never.")

    results = iter(ParallelMap([partial(work, place) for place in range(9)], MANY))
    if fails:
        with pytest.raises(FitError):
            next(results)
    else:
        next(results)
    results.close()
    may_end.set()
    assert all(result() for result in held)
    # Whatever was left in the queue would come before this.
    last = Event()
    submit(last.set, MANY)
    assert last.wait(60)
    assert done == [0]
