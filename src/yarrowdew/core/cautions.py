"""What misleads people who look at a trend, found in the numbers.

Each function returns what it found, or None; the sentence is written by whoever knows the names.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from yarrowdew.core.sample import Array, Sample
from yarrowdew.core.trends.base import TrendFit

MANY_ON_ONE_PLACE = 0.2


@dataclass(frozen=True, slots=True)
class PullingRow:
    """One row that decides the slope.

    Attributes
    ----------
    row : int
        Its place in the arrays that the sample was made from.
    slope, slope_without : float
        The slope with it, and without it.
    """

    row: int
    slope: float
    slope_without: float

    @property
    def turns(self) -> bool:
        """Whether the slope's sign changes when the row is left out."""
        return self.slope * self.slope_without < 0


def pulling_row(fit: TrendFit, sample: Sample) -> PullingRow | None:
    """Find the row without which the slope moves by more than its standard error, or turns.

    Where several do, the one that moves it most.
    """
    changes = fit.slope_changes(sample)
    if changes is None:
        return None
    slope = next(c for c in fit.coefficients(0.95) if c.name == "b")
    worst = int(np.abs(changes).argmax())
    found = PullingRow(int(sample.rows[worst]), slope.value, slope.value + float(changes[worst]))
    moved = abs(float(changes[worst])) > (slope.se or 0.0)
    return found if moved or found.turns else None


def opposed_groups(whole: TrendFit, groups: Mapping[str, TrendFit], level: float) -> list[str]:
    """Name the groups whose slope is clearly the other way than the whole's.

    Clearly: the group's interval at `level` lies on the other side of zero. Lines only; a form
    without one slope has no direction.
    """
    direction = _slope_interval(whole, level)
    if direction is None:
        return []
    sign = np.sign(direction[1])
    opposed = []
    for name, fit in groups.items():
        interval = _slope_interval(fit, level)
        if interval is not None and max(sign * interval[0], sign * interval[2]) < 0:
            opposed.append(name)
    return opposed


def share_hidden(x: Array, y: Array) -> float:
    """Share of rows that stand exactly where an earlier row stands, from 0 to 1."""
    if x.size == 0:
        return 0.0
    # Both values mixed into one key of 64 bits: one fast sort instead of two slow ones. Two places
    # among a million share a key by chance once in ten million tables.
    key = _mixed(x) * _ODD + _mixed(y)
    key.sort()
    return float(np.count_nonzero(key[1:] == key[:-1])) / x.size


_ODD = np.uint64(0x9E37_79B9_7F4A_7C15)


def _mixed(values: Array) -> np.ndarray:
    """Spread the bits of each value over 64 bits (the finaliser of Steele et al. 2014)."""
    z = (values + 0.0).view(np.uint64)  # adding zero makes −0 and 0 the same bits
    z = (z ^ (z >> np.uint64(30))) * np.uint64(0xBF58_476D_1CE4_E5B9)
    z = (z ^ (z >> np.uint64(27))) * np.uint64(0x94D0_49BB_1331_11EB)
    return np.asarray(z ^ (z >> np.uint64(31)))


def _slope_interval(fit: TrendFit, level: float) -> tuple[float, float, float] | None:
    for c in fit.coefficients(level):
        if c.name == "b" and c.low is not None and c.high is not None:
            return c.low, c.value, c.high
    return None
