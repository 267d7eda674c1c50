"""What is asked of all rows of a dataset once, and kept."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, TypeVar

from yarrowdew.core.lru_cache import SizedLRUCache
from yarrowdew.tables.datasets import Dataset

SMALL_BYTES = 4_096
"""Bytes of what holds a few numbers."""
_KEPT_BYTES = 256 * 1024 * 1024

_kept: SizedLRUCache[Any] = SizedLRUCache(_KEPT_BYTES)
Made = TypeVar("Made")


def cached_per_dataset(
    dataset: Dataset, what: object, make: Callable[[], Made], size: Callable[[Made], int]
) -> Made:
    """Ask all rows of a dataset once, and remember what came of it for as long as there is room."""
    key = repr((dataset.files, dataset.where, dataset.left_out, dataset.made, what))
    found: Made | None = _kept.get(key)
    if found is None:
        found = make()
        _kept.put(key, found, size(found))
    return found
