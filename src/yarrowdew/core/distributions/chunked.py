"""Distributions of rows that are never together: the same results as of values, from three looks.

Middles, spread and skewness are exact but for rounding, quartiles and the median's interval are the
values themselves, histograms and densities are of the same counts.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from yarrowdew.core.aggregates.aggregation import Group, Total
from yarrowdew.core.aggregates.distribution import (
    MOST_HELD,
    About,
    AboutAggregation,
    Outline,
    OutlineAggregation,
    Tallies,
    TalliesAggregation,
    TallyRequest,
    ValueCounts,
)
from yarrowdew.core.aggregates.pair_sums import Ends
from yarrowdew.core.aggregates.partials import merged
from yarrowdew.core.aggregates.quantiles import Quantiles
from yarrowdew.core.arithmetic import beyond, computed
from yarrowdew.core.distributions.density import (
    BoxNumbers,
    Density,
    DensityGrid,
    Extent,
    Histogram,
    Steps,
    steps_for,
    wide_enough,
)
from yarrowdew.core.distributions.spread import Middle, Spread, for_few, median_ranks
from yarrowdew.core.errors import FitError
from yarrowdew.core.intervals import check_level, t_quantile

_QUARTERS = (0.25, 0.5, 0.75)
_FENCES = 1.5
_MOST_LOOKS = 4


@dataclass(frozen=True, slots=True)
class DistributionRequest:
    """What is wanted of a distribution.

    Attributes
    ----------
    name : str
    by : str or None
    near : float
        A value from among the others.
    level : float
        Of the intervals.
    step, start, bandwidth : float or None
        Found where None; see `histogram` and `kernel_density`.
    """

    name: str
    by: str | None = None
    near: float = 0.0
    level: float = 0.95
    step: float | None = None
    start: float | None = None
    bandwidth: float | None = None


@dataclass(frozen=True, slots=True)
class PartsSpread:
    """How the values of one group are spread.

    Attributes
    ----------
    spread : Spread
        Without the places of what lies far out.
    far : int
        How many values do.
    distinct : int
        How many different values there are; of many, about so many.
    bars : Histogram or None
    curve : Density or None
    """

    spread: Spread
    far: int
    distinct: int
    bars: Histogram | None
    curve: Density | None


@dataclass(frozen=True, slots=True)
class ChunkedSpreads:
    """How the values of every group are spread.

    Attributes
    ----------
    groups : mapping of str or None to PartsSpread
    missing, without_group : int
        How many rows have no value, and how many have one but belong to no group.
    step, start, bandwidth : float or None
        Of all together.
    """

    groups: Mapping[Group, PartsSpread]
    missing: int = 0
    without_group: int = 0
    step: float | None = None
    start: float | None = None
    bandwidth: float | None = None


def describe_chunked(total: Total, asked: DistributionRequest) -> ChunkedSpreads:
    """Say how values that come in parts are spread, all together or in each group; see `spread`.

    Raises
    ------
    FitError
        If values are beyond what can be added up.
    """
    check_level(asked.level)
    with computed("A distribution"):
        every_group = _outlines(total, asked)
        missing = sum(one.sums.missing + one.sums.infinite for one in every_group.values())
        outlines = _of_groups(every_group, asked)
        without = sum(one.sums.n for one in every_group.values()) - sum(
            one.sums.n for one in outlines.values()
        )
        if not outlines:
            return ChunkedSpreads({}, missing, without)
        every = merged(outlines.values())
        cells = _cells([*outlines.values(), every], asked.level)
        about = {group: _centre(one) for group, one in outlines.items()}
        seen = total(AboutAggregation(asked.name, asked.by, about=about, cells=cells)).groups
        ordered = {group: _Ordered(one, seen[group].held) for group, one in outlines.items()}
        whole = _Ordered(every, merged(one.held for one in seen.values()))
        extents = {group: one.extent() for group, one in ordered.items()}
        steps, shared = _steps(whole.extent(), extents, asked)
        everywhere = _grid(whole.extent()) if asked.bandwidth is None else ()
        wanted = {
            group: TallyRequest(_fences(extent), steps.get(group), (*_grid(extent), *everywhere))
            for group, extent in extents.items()
        }
        tallies = total(TalliesAggregation(asked.name, asked.by, wanted=wanted)).groups
        groups = {
            group: _spread(asked, one, seen[group], tallies[group], wanted[group])
            for group, one in ordered.items()
        }
        bandwidth = asked.bandwidth
        if everywhere:
            counts = sum(one.cells[-1] for one in tallies.values())
            curve = _curve(
                everywhere[0], np.asarray(counts), every, lambda: _sd(seen.values(), every)
            )
            bandwidth = None if curve is None else curve.bandwidth
        start = None if shared is None else float(shared.edges[0])
        step = None if shared is None else shared.step
        return ChunkedSpreads(groups, missing, without, step, start, bandwidth)


def _outlines(total: Total, asked: DistributionRequest) -> dict[Group, Outline]:
    """The first look; taken again about the median while quantiles cannot be told apart."""
    pivot = asked.near
    for _ in range(_MOST_LOOKS):
        found = total(OutlineAggregation(asked.name, asked.by, pivot=pivot)).groups
        held = _of_groups(found, asked)
        if _crowd([one.quantiles for one in held.values()], asked.level) <= MOST_HELD:
            break
        # Nearer to the values cells are finer, by three digits each time.
        pivot = merged(held.values()).quantiles.middle(0.5) or 0.0
    return dict(found)


def _of_groups(found: Mapping[Group, Outline], asked: DistributionRequest) -> dict[Group, Outline]:
    """Those that have values, without what belongs to no group."""
    return {
        group: one
        for group, one in found.items()
        if one.sums.n and (asked.by is None or group is not None)
    }


def _ranks(n: int, level: float) -> list[int]:
    """How many values come before those that are wanted themselves."""
    below = [math.floor((n - 1) * share) for share in _QUARTERS]
    ranks = {*below, *(min(rank + 1, n - 1) for rank in below), *(median_ranks(n, level) or ())}
    return sorted(ranks)


def _crowd(quantiles: Iterable[Quantiles], level: float) -> int:
    """How many values lie where quantiles do."""
    found = 0
    for one in quantiles:
        held = {one.cell(r): one.held_in_cell(r) for r in _ranks(one.n, level)}
        found += sum(held.values())
    return found


def _cells(outlines: Sequence[Outline], level: float) -> tuple[Ends, ...]:
    """Where the wanted values lie: cells that ascend and do not overlap."""
    found: set[Ends] = set()
    for one in outlines:
        pivot = one.quantiles.pivot
        for rank in _ranks(one.sums.n, level):
            low, high = one.quantiles.cell(rank)
            # What was taken off and put back may have lost its last digit.
            room = 4 * float(np.spacing(max(abs(low), abs(high), abs(pivot))))
            found.add((low - room, high + room))
    out: list[Ends] = []
    for low, high in sorted(found):
        if out and low <= out[-1][1]:
            out[-1] = (out[-1][0], max(out[-1][1], high))
        else:
            out.append((low, high))
    return tuple(out)


def _centre(one: Outline) -> tuple[float, float]:
    """About what, and in which unit, powers are added up."""
    sums = one.sums
    half = sums.high / 2 - sums.low / 2
    mean = sums.mean
    return (sums.low + half if mean is None else mean), (sums.sd or half or 1.0)


@dataclass(frozen=True, slots=True)
class _Ordered:
    """Values by their order, where they are wanted."""

    outline: Outline
    held: ValueCounts

    def at(self, rank: int) -> float:
        """The value that so many others come before; the middle of its cell where it is not
        kept.
        """
        if self.held.too_many:
            low, high = self.outline.quantiles.cell(rank)
            return low / 2 + high / 2
        return self.outline.quantiles.exactly(rank, self.held.values, self.held.counts)

    def quantile(self, share: float) -> float:
        """By linear interpolation (Hyndman and Fan 1996, definition 7)."""
        place = (self.outline.sums.n - 1) * share
        below = math.floor(place)
        low, high = self.at(below), self.at(min(below + 1, self.outline.sums.n - 1))
        part = place - below
        # From the nearer end, which keeps the last digit.
        return low + (high - low) * part if part < 0.5 else high - (high - low) * (1 - part)

    def extent(self) -> Extent:
        """For its histogram."""
        sums = self.outline.sums
        lower, upper = self.quantile(0.25), self.quantile(0.75)
        if not math.isfinite(upper - lower):
            raise beyond("A distribution")
        return Extent(sums.n, sums.low, sums.high, (lower, upper), self.outline.whole)


def _fences(extent: Extent) -> Ends:
    lower, upper = extent.quartiles
    reach = _FENCES * (upper - lower)
    return lower - reach, upper + reach


def _grid(extent: Extent) -> tuple[DensityGrid, ...]:
    """For its density; none where values do not vary."""
    return (DensityGrid.of(extent.low, extent.high),) if extent.low < extent.high else ()


def _steps(
    every: Extent, extents: Mapping[Group, Extent], asked: DistributionRequest
) -> tuple[dict[Group, Steps], Steps | None]:
    """In which steps each group is counted, and all together; none where there are no such
    steps.
    """
    try:
        with computed("A histogram"):
            width = wide_enough(every.low, every.high, asked.step)
            shared = steps_for(every, width, asked.start)
            if not np.isfinite(shared.edges).all():
                return {}, None
            own = {
                group: steps_for(one, shared.step, asked.start) for group, one in extents.items()
            }
    except FitError:
        return {}, None
    return {group: one for group, one in own.items() if np.isfinite(one.edges).all()}, shared


def _sd(seen: Iterable[About], every: Outline) -> float:
    """Of all together: what varies within groups, and what varies between them."""
    within, moments = 0.0, []
    for one in seen:
        n, mean, sd = _moments(one)
        within += (sd or 0.0) ** 2 * (n - 1)
        moments.append((n, mean))
    mean = sum(n * own for n, own in moments) / every.sums.n
    between = sum(n * (own - mean) ** 2 for n, own in moments)
    return math.sqrt((within + between) / max(1, every.sums.n - 1))


def _moments(about: About) -> tuple[int, float, float | None]:
    """How many, their mean, and their standard deviation."""
    n = about.n
    first, second, _ = (float(v) for v in about.powers.exact())
    mean = about.centre + about.scale * (first / n)
    if n < 2:
        return n, mean, None
    return n, mean, math.sqrt(max(0.0, second - first * first / n) / (n - 1)) * about.scale


def _curve(
    grid: DensityGrid,
    counts: np.ndarray,
    of: Outline,
    sd: Callable[[], float],
    bandwidth: float | None = None,
) -> Density | None:
    try:
        with computed("A density"):
            return grid.density(
                counts, distinct=lambda: of.distinct.count, sd=sd, bandwidth=bandwidth
            )
    except FitError:
        return None


def _spread(
    asked: DistributionRequest,
    ordered: _Ordered,
    about: About,
    tallies: Tallies,
    wanted: TallyRequest,
) -> PartsSpread:
    outline, level = ordered.outline, asked.level
    n, mean, sd = _moments(about)
    if outline.sums.low == outline.sums.high:
        mean, sd = outline.sums.low, None if n < 2 else 0.0
    half = None if sd is None else t_quantile(level, n - 1) * sd / math.sqrt(n)
    ranks = median_ranks(n, level)
    lower, median, upper = (ordered.quantile(share) for share in _QUARTERS)
    spread = Spread(
        n=n,
        mean=Middle(mean, *((None, None) if half is None else (mean - half, mean + half))),
        median=Middle(median, *((None, None) if ranks is None else map(ordered.at, ranks))),
        sd=sd,
        skewness=_skewness(about, n) if sd and n > 2 else None,
        box=BoxNumbers(tallies.inside[0], lower, median, upper, tallies.inside[1]),
        low=outline.sums.low,
        high=outline.sums.high,
        far=np.empty(0, dtype=np.intp),
    )
    bars = None
    if wanted.bars is not None:
        bars = Histogram(wanted.bars.edges, tallies.bars, wanted.bars.step)
    curve = None
    if outline.sums.low < outline.sums.high:
        curve = _curve(
            wanted.cells[0], tallies.cells[0], outline, lambda: sd or 0.0, asked.bandwidth
        )
    return PartsSpread(spread, tallies.far, outline.distinct.count, bars, curve)


def _skewness(about: About, n: int) -> float:
    """Adjusted for few values (Joanes and Gill 1998, G1)."""
    first, second, third = (float(v) / n for v in about.powers.exact())
    squares = second - first * first
    cubes = third - 3 * first * second + 2 * first**3
    return for_few(cubes / squares**1.5, n)
