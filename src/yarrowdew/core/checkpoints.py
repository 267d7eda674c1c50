"""Where long work asks whether it is still wanted.

A computation knows nothing of who waits for it. It calls `checkpoint` now and then; whoever began it
may have said what is asked there, and ends the work by raising.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from contextvars import ContextVar

_asked: ContextVar[Callable[[], None] | None] = ContextVar("asked", default=None)


def checkpoint() -> None:
    """Ask whether the work is still wanted; nothing where nobody said."""
    ask = _asked.get()
    if ask is not None:
        ask()


@contextmanager
def asking(ask: Callable[[], None]) -> Iterator[None]:
    """Let the work inside ask at its checkpoints.

    Parameters
    ----------
    ask : callable
        Raises where the work is not wanted any more.
    """
    token = _asked.set(ask)
    try:
        yield
    finally:
        _asked.reset(token)
