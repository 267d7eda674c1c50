"""Differences and ratios of two numbers that were found apart, each with its own interval.

The interval of a difference is recovered from those of its parts (Howe 1974; Zou and Donner 2008):
they may lie unevenly about their values, as Fieller's do, and be of any family. For two normal
estimates it is the usual one.
"""

from __future__ import annotations

import math
import sys
from dataclasses import dataclass

from yarrowdew.core.register import documented

_MOST_LOG = math.log(sys.float_info.max)


@dataclass(frozen=True, slots=True)
class Estimate:
    """A number and the ends of its interval; None at an end that is open."""

    value: float
    low: float | None
    high: float | None


@documented(
    "groups of lines",
    "difference of what is read off two lines",
    "Howe (1974), Zou and Donner (2008), from the two intervals",
    "approximate",
)
def difference(first: Estimate, second: Estimate) -> Estimate:
    """How much larger the second is; open where an interval it rests on is."""
    value = second.value - first.value
    below = _reach(second.value, second.low, first.value, first.high)
    above = _reach(second.value, second.high, first.value, first.low)
    return Estimate(
        value,
        None if below is None else value - below,
        None if above is None else value + above,
    )


def _reach(a: float, a_end: float | None, b: float, b_end: float | None) -> float | None:
    if a_end is None or b_end is None:
        return None
    return math.hypot(a - a_end, b - b_end)


@documented(
    "groups of lines",
    "ratio of what is read off two lines",
    "the same on logarithms",
    "approximate",
)
def ratio(first: Estimate, second: Estimate) -> Estimate | None:
    """How many times as large the second is; None where either is not above zero.

    An end at or below zero, or beyond the largest number, is open; where the ratio itself is beyond
    it, there is none.
    """
    if first.value <= 0 or second.value <= 0:
        return None
    of_logs = difference(_logged(first), _logged(second))
    value = _exp(of_logs.value)
    return None if value is None else Estimate(value, _exp(of_logs.low), _exp(of_logs.high))


def _exp(end: float | None) -> float | None:
    return None if end is None or end > _MOST_LOG else math.exp(end)


def _logged(one: Estimate) -> Estimate:
    def log(end: float | None) -> float | None:
        return None if end is None or end <= 0 else math.log(end)

    return Estimate(math.log(one.value), log(one.low), log(one.high))
