"""What is kept as long as there is room for it."""

from __future__ import annotations

import pytest

from yarrowdew.core import lru_cache
from yarrowdew.core.lru_cache import SizedLRUCache


def test_what_was_used_longest_ago_goes_first() -> None:
    kept: SizedLRUCache[int] = SizedLRUCache(20)
    kept.put("a", 1, 8)
    kept.put("b", 2, 8)
    assert kept.get("a") == 1
    kept.put("c", 3, 8)
    assert [kept.get(name) for name in "abc"] == [1, None, 3]
    kept.put("too large", 4, 21)
    assert kept.get("too large") is None


def test_what_is_in_use_stays_where_all_is_looked_at_in_turn(
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    now = 100.0
    monkeypatch.setattr(lru_cache, "monotonic", lambda: now)
    kept: SizedLRUCache[int] = SizedLRUCache(20, stays=60)
    for place in range(5):
        kept.put(str(place), place, 8)
    # There is room for two: these are found again at the next look at all.
    assert [kept.get(str(place)) for place in range(5)] == [0, 1, None, None, None]
    now += 61
    kept.put("4", 4, 8)
    assert (kept.get("0"), kept.get("4")) == (None, 4)
