"""Where long work asks whether it is still wanted, and says how far it is.

A computation knows nothing of who waits for it. It calls `checkpoint` now and then; whoever began it
may have said what is asked there, and ends the work by raising.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from contextvars import ContextVar
from dataclasses import dataclass

Listener = Callable[[float], None]
"""Told the share that is done, from 0 to below 1; raises where the work is not wanted any more."""

_ALMOST = 0.99
"""Only whoever began the work knows when all of it is done."""


@dataclass(slots=True)
class _Waiting:
    listen: Listener
    done: float = 0.0


_waiting: ContextVar[_Waiting | None] = ContextVar("waiting", default=None)
_stretch: ContextVar[tuple[float, float]] = ContextVar("stretch", default=(0.0, _ALMOST))


def checkpoint(share: float | None = None) -> None:
    """Ask whether the work is still wanted; nothing where nobody said.

    Parameters
    ----------
    share : float, optional
        How much of the work at hand is done, from 0 to 1.
    """
    waiting = _waiting.get()
    if waiting is None:
        return
    if share is not None:
        low, high = _stretch.get()
        waiting.done = max(waiting.done, low + (high - low) * share)
    waiting.listen(waiting.done)


@contextmanager
def asking(listen: Listener) -> Iterator[None]:
    """Let the work inside ask at its checkpoints."""
    token, stretch = _waiting.set(_Waiting(listen)), _stretch.set((0.0, _ALMOST))
    try:
        yield
    finally:
        _stretch.reset(stretch)
        _waiting.reset(token)


@contextmanager
def part(place: int, of: int) -> Iterator[None]:
    """Let what is inside be one of so many equal parts of the work at hand."""
    low, high = _stretch.get()
    width = (high - low) / max(of, 1)
    token = _stretch.set((low + place * width, low + (place + 1) * width))
    try:
        yield
    finally:
        _stretch.reset(token)
