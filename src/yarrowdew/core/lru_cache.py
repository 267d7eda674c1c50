"""What was worked out last, kept as long as there is room for it."""

from __future__ import annotations

from collections import OrderedDict
from threading import Lock
from time import monotonic
from typing import Generic, TypeVar

Value = TypeVar("Value")


class SizedLRUCache(Generic[Value]):
    """What was used last, up to a size in bytes; a value never changes under its key.

    Parameters
    ----------
    most_bytes : int
    stays : float
        What was used so many seconds ago or less is not let go of: where all is looked at in turn,
        and there is not room for all, what comes last would push out what is needed first.
    """

    def __init__(self, most_bytes: int, stays: float = 0.0) -> None:
        self._most = most_bytes
        self._stays = stays
        self._held: OrderedDict[str, tuple[Value, int, float]] = OrderedDict()
        self._bytes = 0
        self._lock = Lock()

    def get(self, key: str) -> Value | None:
        """Find a value."""
        with self._lock:
            if key not in self._held:
                return None
            value, size, _ = self._held[key]
            self._held[key] = value, size, monotonic()
            self._held.move_to_end(key)
            return value

    def put(self, key: str, value: Value, size: float) -> None:
        """Keep a value, and let go of those that were not used for longest."""
        with self._lock:
            if key in self._held or size > self._most:
                return
            now = monotonic()
            while self._bytes + size > self._most:
                oldest, (_, held, used) = next(iter(self._held.items()))
                if self._stays and now - used < self._stays:
                    return
                del self._held[oldest]
                self._bytes -= held
            self._held[key] = value, int(size), now
            self._bytes += int(size)
