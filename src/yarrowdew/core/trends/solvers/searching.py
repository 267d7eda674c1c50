"""Where a curve reaches a level of y, found by search."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
import scipy

from yarrowdew.core.arithmetic import between
from yarrowdew.core.sample import Array
from yarrowdew.core.trends.protocol import Crossing, TrendFit

_SEARCHED = 1025


def searched(
    fit: TrendFit, y: float, level: float, within: tuple[float, float]
) -> tuple[Crossing, ...]:
    """Find every x within a range at which the curve meets `y`, each with where its band does."""
    at = between(*within, _SEARCHED)
    off = fit.predict(at) - y
    known = np.isfinite(off)
    places = [float(x) for x in at[known & (off == 0)]]
    turns = np.flatnonzero(known[:-1] & known[1:] & (np.sign(off[:-1]) * np.sign(off[1:]) < 0))
    for i in turns:
        places.append(_root(lambda x: float(fit.predict(np.array([x]))[0]) - y, at[i], at[i + 1]))
    if not places:
        if not known.any():
            return (Crossing(None, None, None, "The trend has no value here."),)
        nearest = int(np.nanargmin(np.abs(off)))
        return (
            Crossing(
                None,
                None,
                None,
                "The trend does not reach it; the nearest it comes is y = {} at x = {}.",
                (("y", float(off[nearest] + y)), ("x", float(at[nearest]))),
            ),
        )
    return tuple(_with_interval(fit, x, y, level, at) for x in sorted(places))


def _root(f: Callable[[float], float], low: float, high: float) -> float:
    return float(scipy.optimize.brentq(f, low, high, xtol=1e-12 * max(1.0, abs(low), abs(high))))


def _with_interval(fit: TrendFit, x: float, y: float, level: float, at: Array) -> Crossing:
    """Follow the band from a crossing to either side, until the level lies outside it."""
    band = fit.band(at, level, "confidence")
    if band is None:
        return Crossing(x, None, None, "This form has no band, and so no interval for x.")

    def outside(place: float) -> float:
        one = fit.band(np.array([place]), level, "confidence") or band
        return max(float(one.low[0]) - y, y - float(one.high[0]))

    out = (band.low > y) | (band.high < y)
    ends: list[float | None] = []
    for side in (np.flatnonzero(out & (at < x))[-1:], np.flatnonzero(out & (at > x))[:1]):
        if not len(side):
            ends.append(None)
            continue
        i = int(side[0])
        inner = float(at[i + 1]) if at[i] < x else float(at[i - 1])
        inner = min(inner, x) if at[i] < x else max(inner, x)
        ends.append(_root(outside, *sorted((float(at[i]), inner))) if outside(inner) < 0 else inner)
    open_ends = [word for word, end in zip(("below", "above"), ends, strict=True) if end is None]
    note = f"The interval is open {' and '.join(open_ends)}." if open_ends else ""
    return Crossing(x, ends[0], ends[1], note)
