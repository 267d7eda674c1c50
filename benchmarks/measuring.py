"""How times are taken: by turns, so that a noisy machine slows both sides alike."""

from __future__ import annotations

import time
from collections.abc import Callable
from dataclasses import dataclass
from statistics import median


@dataclass(frozen=True)
class Ratio:
    """A measurement against its yardstick."""

    name: str
    ours_ms: float
    yardstick_ms: float
    at_most: float

    @property
    def ratio(self) -> float:
        """Ours over the yardstick."""
        return self.ours_ms / self.yardstick_ms

    @property
    def holds(self) -> bool:
        """Whether it is within what was promised."""
        return self.ratio <= self.at_most

    def __str__(self) -> str:
        verdict = "ok" if self.holds else "TOO SLOW"
        return (
            f"{self.name:<62} {self.ours_ms:9.1f} ms  yardstick {self.yardstick_ms:9.1f} ms  "
            f"ratio {self.ratio:6.3f}  at most {self.at_most:<6.3g} {verdict}"
        )


def milliseconds(work: Callable[[], object]) -> float:
    """How long one run takes."""
    start = time.perf_counter()
    work()
    return 1000 * (time.perf_counter() - start)


def compare(
    name: str,
    ours: Callable[[], object],
    yardstick: Callable[[], object],
    *,
    at_most: float,
    runs: int = 9,
) -> Ratio:
    """Run both by turns, after one run of each to warm up, and take medians."""
    ours()
    yardstick()
    pairs = [(milliseconds(ours), milliseconds(yardstick)) for _ in range(runs)]
    return Ratio(name, median(o for o, _ in pairs), median(y for _, y in pairs), at_most)
