"""What was worked out last, kept as long as there is room for it."""

from __future__ import annotations

from collections import OrderedDict
from threading import Lock
from typing import Generic, TypeVar

Value = TypeVar("Value")


class Remembered(Generic[Value]):
    """What was used last, up to a size in bytes; a value never changes under its key."""

    def __init__(self, most_bytes: int) -> None:
        self._most = most_bytes
        self._held: OrderedDict[str, tuple[Value, int]] = OrderedDict()
        self._bytes = 0
        self._lock = Lock()

    def get(self, key: str) -> Value | None:
        """Find a value."""
        with self._lock:
            if key not in self._held:
                return None
            self._held.move_to_end(key)
            return self._held[key][0]

    def put(self, key: str, value: Value, size: float) -> None:
        """Keep a value, and let go of those that were not used for longest."""
        with self._lock:
            if key in self._held or size > self._most:
                return
            self._held[key] = value, int(size)
            self._bytes += int(size)
            while self._bytes > self._most:
                _, (_, oldest) = self._held.popitem(last=False)
                self._bytes -= oldest
