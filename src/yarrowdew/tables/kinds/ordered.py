"""Values put in order once: order statistics, steps and distinct ones are then a matter of
looking.
"""

from __future__ import annotations

from typing import Any

import numpy as np

from yarrowdew.tables.kinds.base import Places

DISTRIBUTION_BINS = 12


def in_steps(values: Places) -> tuple[Places, dict[str, Any]]:
    """Put values in order, and count them in even steps."""
    ordered = np.sort(values)
    distinct = 1 + int(np.count_nonzero(ordered[1:] != ordered[:-1]))
    return ordered, {"distribution": _steps(ordered), "distinct": distinct}


def _steps(ordered: Places) -> list[int]:
    low, high = float(ordered[0]), float(ordered[-1])
    if low == high:
        return [len(ordered)]
    # Halved before they are taken off, so that the widest range there is does not overflow.
    span = high / 2 - low / 2
    shares = np.arange(1, DISTRIBUTION_BINS) / DISTRIBUTION_BINS
    edges = 2 * (low / 2 + shares * span)
    places = np.searchsorted(ordered, edges, side="left")
    counts: list[int] = np.diff(places, prepend=0, append=len(ordered)).tolist()
    return counts


def quantile(ordered: Places, share: float) -> float:
    """Linear interpolation between order statistics (Hyndman and Fan 1996, definition 7)."""
    place = share * (len(ordered) - 1)
    below = int(place)
    above = min(below + 1, len(ordered) - 1)
    return float(ordered[below] + (place - below) * (ordered[above] - ordered[below]))
