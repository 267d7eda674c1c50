"""How far a long read has come, and how it is stopped."""

from __future__ import annotations

from collections.abc import Callable

Progress = Callable[[float], None]
"""Is told the share that is done, from 0 to 1; raises StoppedError to stop the work."""


class StoppedError(Exception):
    """The work was stopped by the one who asked for it."""


def unheard(_share: float) -> None:
    """Listen to no progress."""


def part_of(progress: Progress, low: float, high: float) -> Progress:
    """Report a part of a longer work, which runs from one share of it to another."""
    return lambda share: progress(low + (high - low) * share)
