"""Where a curve's residuals are least: the search, from several starting values.

By a trust-region method (Moré 1978), finished by Gauss–Newton steps to full precision.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from functools import partial

import numpy as np
import scipy

from yarrowdew.core.checkpoints import checkpoint
from yarrowdew.core.sample import Array, Sample
from yarrowdew.core.trends.base import mean_one, spread_of
from yarrowdew.core.trends.solvers.blocked_lstsq import (
    Curve,
    Slopes,
    descended,
    jacobian_of,
    total_of,
)
from yarrowdew.core.trends.solvers.identifiability import MOST_OFFSET, relative_offset

_FINISHING_STEPS, _HALVINGS = 60, 12
_LITTLE, _POLISHED = 1e-13, 3
_AGAIN, _WORTH = 8, 1e-4
_ENOUGH, _FEWER = 2_000, 500
_TRIES, _A_FEW = 80, 12
_DESCENDED = 4
"""From so many starting values at most the minimum is descended to."""
MOST_SEARCHED = 30_000
"""Above, the minimum is searched for over so many rows, and descended to from there over all."""
MOST_GONE_THROUGH = 100_000
"""So many at most are searched through all of them, where descending did not come to the end."""
_FAR = 1e100
_AS_GOOD = 1e-9
_NEARLY = 0.02
"""Of the logarithm of a residual sum of squares."""
_TURNS_ALIKE = 1e-6
_PLACES_BETWEEN, _UNEVEN = 2_003, 2e-4
EXACT = 1e-20


def minimum_of(
    sample: Sample,
    starts: Sequence[Array],
    free: list[int],
    curve: Curve,
    slopes: Slopes,
    *,
    bounds: tuple[Array, Array] | None,
    check: Callable[[Array], None],
) -> tuple[float, Array] | None:
    """Find the least residual sum of squares, and where it is; None where no start leads to one."""
    least = partial(_least, bounds=bounds)
    few = _some_of(sample)
    sound = [start for start in starts if np.isfinite(start).all()]
    if len(sound) > _DESCENDED:
        # A few steps from each tell which are worth going on from.
        fewer = _some_of(few, _FEWER)
        begun = [least(fewer, start, free, curve, slopes, tries=_A_FEW) for start in sound]
        # Of such as are nearly as good, those that turn least between the rows come first: of rows
        # at even distances a short period may fit as a long one does.
        begun.sort(
            key=lambda one: (
                (round(math.log(one[0]) / _NEARLY), turning(curve, one[1], few))
                if 0 < one[0] < np.inf
                else (-(10**9) if one[0] == 0 else 10**9, 0.0)
            )
        )
        sound = [values for _, values in begun[:_DESCENDED]]
    found = [least(few, start, free, curve, slopes) for start in sound]
    best = _best_of([one for one in found if np.isfinite(one[0])], curve, few)
    if best is not None and few is not sample:
        check(best[1])
        if sample.n <= MOST_SEARCHED:
            best = least(sample, best[1], free, curve, slopes)
        else:
            more = _some_of(sample, MOST_SEARCHED)
            best = least(more, best[1], free, curve, slopes)
            best = descended(sample, best[1], free, curve, slopes)
    if best is None or best[0] >= _FAR:
        return None
    if sample.n <= MOST_GONE_THROUGH and bounds is None:
        for _ in range(_AGAIN):
            # In a long valley one search does not come to its end.
            if _offset_at(sample, best, free, curve, slopes) <= MOST_OFFSET:
                break
            before, best = best[0], least(sample, best[1], free, curve, slopes)
            if before - best[0] < _WORTH * before:
                break
    return best


def _some_of(sample: Sample, most: int = _ENOUGH) -> Sample:
    """Rows evenly from left to right, enough to tell which starting value leads to the minimum."""
    if sample.n <= most:
        return sample
    order = np.argsort(sample.x, kind="stable")
    kept = order[np.linspace(0, sample.n - 1, most).astype(np.intp)]
    return sample.take(kept)


def _least(
    sample: Sample,
    start: Array,
    free: list[int],
    curve: Curve,
    slopes: Slopes,
    *,
    bounds: tuple[Array, Array] | None,
    tries: int | None = None,
) -> tuple[float, Array]:
    """Find the least residual sum of squares from one starting value, and where it is."""
    root = np.sqrt(mean_one(sample))

    def full(some: Array) -> Array:
        values = start.copy()
        values[free] = some
        return values

    def residual(some: Array) -> Array:
        checkpoint()
        with np.errstate(all="ignore"):
            off = (curve(full(some), sample.x) - sample.y) * root
        return np.where(np.isfinite(off), off, _FAR)

    def jacobian(some: Array) -> Array:
        return jacobian_of(full(some), sample.x, root, free, slopes)

    low, high = (-np.inf, np.inf) if bounds is None else (bounds[0][free], bounds[1][free])
    if not free:
        off = residual(start[free])
        return float(np.dot(off, off)), start
    solved = scipy.optimize.least_squares(
        residual,
        np.clip(start[free], low, high),
        jacobian,
        bounds=(low, high),
        method="trf",
        x_scale="jac",
        xtol=1e-12,
        ftol=1e-12,
        gtol=1e-12,
        max_nfev=tries or (_TRIES if sample.n <= _ENOUGH else _TRIES // 2),
    )
    if tries is not None:
        return 2 * float(solved.cost), full(solved.x)
    some = _finished(solved.x, residual, jacobian, (low, high))
    r = residual(some)
    return float(np.dot(r, r)), full(some)


def _finished(
    some: Array,
    residual: Callable[[Array], Array],
    jacobian: Callable[[Array], Array],
    ends: tuple[Array | float, Array | float],
) -> Array:
    """Take Gauss–Newton steps, halved where they lead too far, while residuals become smaller."""
    r = residual(some)
    least = float(np.dot(r, r))
    polished = 0
    for _ in range(_FINISHING_STEPS):
        j = jacobian(some)
        # On columns of unit length, small steps of one parameter are not lost beside another's.
        lengths = np.sqrt((j * j).sum(axis=0))
        lengths = np.where(lengths > 0, lengths, 1.0)
        step = np.linalg.lstsq(j / lengths, r, rcond=None)[0] / lengths
        for halving in range(_HALVINGS):
            tried = np.clip(some - step * 0.5**halving, *ends)
            r_tried = residual(tried)
            now = float(np.dot(r_tried, r_tried))
            if now < least:
                break
            if not halving and polished < _POLISHED and now <= least * (1 + _LITTLE):
                # As good as rounding tells; the step leads nearer all the same.
                polished += 1
                break
        else:
            break
        gained = (least - now) / least if least > 0 else 0.0
        some, r, least = tried, r_tried, now
        if halving and gained < _LITTLE:
            break
    return some


def _offset_at(
    sample: Sample, best: tuple[float, Array], free: list[int], curve: Curve, slopes: Slopes
) -> float:
    root = np.sqrt(mean_one(sample))
    if best[0] <= EXACT * spread_of(sample):
        return 0.0
    with np.errstate(all="ignore"):
        off = (curve(best[1], sample.x) - sample.y) * root
    if not np.isfinite(off).all():
        return np.inf
    return relative_offset(jacobian_of(best[1], sample.x, root, free, slopes), off)


def _best_of(
    found: list[tuple[float, Array]], curve: Curve, sample: Sample
) -> tuple[float, Array] | None:
    """The least; of such as are as good, that whose curve turns least between the rows.

    Of those that turn alike, that with most parameters above zero.
    """
    if not found:
        return None
    least = min(sse for sse, _ in found)
    as_good = [one for one in found if one[0] <= least * (1 + _AS_GOOD)]
    if len(as_good) == 1:
        return as_good[0]
    turns = [turning(curve, values, sample) for _, values in as_good]
    smooth = [
        one
        for one, own in zip(as_good, turns, strict=True)
        if own <= min(turns) * (1 + _TURNS_ALIKE)
    ]
    return max(smooth, key=lambda one: int(np.count_nonzero(one[1] > 0)))


def turning(curve: Curve, values: Array, sample: Sample) -> float:
    """How far a curve goes up and down in all over the data, also between the rows."""
    # At distances that no period shares with the rows.
    shares = np.linspace(0.0, 1.0, _PLACES_BETWEEN) + _UNEVEN * np.sin(np.arange(_PLACES_BETWEEN))
    low, high = sample.x_range
    with np.errstate(all="ignore"):
        y = curve(values, low + (high - low) * np.sort(np.clip(shares, 0.0, 1.0)))
        total = float(np.abs(np.diff(y)).sum())
    return total if np.isfinite(total) else np.inf


def inside_of(
    sample: Sample,
    best: tuple[float, Array],
    free: tuple[int, ...],
    curve: Curve,
    bounds: tuple[Array, Array] | None,
) -> tuple[int, ...]:
    """Coefficients that do not lie at the end of where they may; the others are set there.

    One lies at an end if it can be put there and the residuals are not larger.
    """
    if bounds is None:
        return free
    least, values = best
    kept = []
    for i in free:
        own = float(values[i])
        ends = [float(end[i]) for end in bounds if np.isfinite(end[i])]
        for end in sorted(ends, key=lambda end: abs(own - end)):
            values[i] = end
            if total_of(sample, values, curve) <= least * (1 + _AS_GOOD):
                break
        else:
            values[i] = own
            kept.append(i)
    return tuple(kept)
