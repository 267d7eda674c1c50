"""The groups of a distribution: described, compared, and what that says."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from itertools import combinations

import numpy as np

from yarrowdew.core.arithmetic import computed
from yarrowdew.core.association import holm
from yarrowdew.core.distributions.comparison import (
    Difference,
    Moments,
    mean_difference,
    shift,
)
from yarrowdew.core.distributions.density import (
    Density,
    Histogram,
    histogram,
    kernel_density,
    wide_enough,
)
from yarrowdew.core.distributions.spread import Middle, Spread
from yarrowdew.core.errors import FitError
from yarrowdew.core.sample import Array
from yarrowdew.figures.document.distribution import Distribution
from yarrowdew.figures.kinds.distribution.words import spread_sentences
from yarrowdew.figures.pipeline.answer_models import MOST_ROWS_LISTED
from yarrowdew.figures.pipeline.axis_values import AxisValues
from yarrowdew.figures.pipeline.groups import Groups
from yarrowdew.figures.wire.base import Number, OnWire, VariableWords

MOST_COMPARED = 8
"""Every pair of so many groups at most is compared."""


class MiddleReport(OnWire):
    """A middle and its interval."""

    value: Number
    low: Number
    high: Number


class GroupSpread(OnWire):
    """Summary of one category, or of all rows; positions are values on the axis."""

    group: str | None
    """Null for all rows."""
    code: int | None
    """The group's place in the marks' column `group`."""
    colour_code: int | None
    """Its place among the colour's categories; null where these are of something else."""
    n: int
    mean: MiddleReport
    median: MiddleReport
    sd: Number
    skewness: Number
    box: list[float]
    """The lower whisker's end, the quartiles with the median between them, the upper one's end."""
    low: float
    high: float
    far: list[int]
    """Numbers of the rows beyond the whiskers; at most a thousand."""
    edges: list[float]
    """Of the histogram's steps."""
    counts: list[int]
    at: list[float]
    """Places of the density."""
    density: list[float]
    """Density at each position; empty where all values are equal."""


class GroupsCompared(OnWire):
    """How much larger the second of two groups is."""

    first: str
    second: str
    means: MiddleReport
    means_p: Number
    """Adjusted for the number of pairs (Holm 1979)."""
    shift: MiddleReport
    """The median of all differences between the two."""
    shift_p: Number


class DistributionAnswer(OnWire):
    """What a distribution shows; its marks have a column `group`."""

    by: VariableWords | None
    """The variable whose categories are the groups."""
    groups: list[GroupSpread]
    bin_width: Number
    bin_start: Number
    bandwidth: Number
    """Of the density of all rows."""
    sentences: list[str]
    """The results in plain words."""
    compared: list[GroupsCompared]
    level: float


@dataclass(frozen=True, slots=True)
class GroupValues:
    """What is known of one group.

    Attributes
    ----------
    label : str or None
    code : int or None
    spread : Spread
    bars : Histogram or None
    curve : Density or None
    far : list of int
        Numbers of the rows that lie far out, as many as are listed.
    alike : callable
        Says the share of the values that occur more than once, where few of them are different;
        else 0.
    values : ndarray, or None
        None where they are not together.
    """

    label: str | None
    code: int | None
    spread: Spread
    bars: Histogram | None
    curve: Density | None
    far: list[int]
    alike: Callable[[], float]
    values: Array | None

    @property
    def moments(self) -> Moments:
        """For comparing means."""
        s = self.spread
        return Moments(s.n, s.mean.value, None if s.sd is None else s.sd**2)


@dataclass(frozen=True, slots=True)
class Shared:
    """What all groups have in common: steps of their histograms, and the bandwidth of all rows."""

    step: float | None = None
    start: float | None = None
    bandwidth: float | None = None


@dataclass(frozen=True, slots=True)
class ValuesOf:
    """The values of a group in memory, and the rows that they are of."""

    label: str | None
    code: int | None
    values: Array
    rows: np.ndarray
    spread: Spread


def shapes_of(asked: Distribution, parts: list[ValuesOf]) -> tuple[list[GroupValues], Shared]:
    """Find histograms and densities of groups whose values are together."""
    shared = _shared(asked, parts)
    return [_shape(one, asked, shared.step) for one in parts], shared


def _shared(asked: Distribution, parts: list[ValuesOf]) -> Shared:
    every = np.concatenate([one.values for one in parts]) if parts else np.empty(0)
    if not len(every):
        return Shared()
    bandwidth = _bandwidth(every, asked.bandwidth)
    try:
        with computed("A histogram"):
            width = wide_enough(float(every.min()), float(every.max()), asked.bin_width)
            bars = histogram(every, width, asked.bin_start)
            if np.isfinite(bars.edges).all():
                return Shared(bars.step, float(bars.edges[0]), bandwidth)
    except FitError:
        pass
    return Shared(bandwidth=bandwidth)


def _bandwidth(values: Array, given: float | None) -> float | None:
    if given is not None or values.min() == values.max():
        return given
    try:
        with computed("A density"):
            return kernel_density(values).bandwidth
    except FitError:
        return None


def _shape(one: ValuesOf, asked: Distribution, width: float | None) -> GroupValues:
    bars = curve = None
    try:
        with computed("A distribution"):
            if width is not None:
                bars = histogram(one.values, width, asked.bin_start)
            if one.values.min() < one.values.max():
                curve = kernel_density(one.values, bandwidth=asked.bandwidth)
    except FitError:
        pass
    far = one.rows[one.spread.far[:MOST_ROWS_LISTED]].tolist()
    return GroupValues(
        one.label, one.code, one.spread, bars, curve, far, lambda: _alike(one.values), one.values
    )


def _alike(values: Array) -> float:
    _, counts = np.unique(values, return_counts=True)
    few = few_different(len(counts), len(values))
    return float(counts[counts > 1].sum()) / len(values) if few else 0.0


def few_different(distinct: int, n: int) -> bool:
    """Whether so few values are different that it shows."""
    return distinct <= n / 4


def spreads_of(
    asked: Distribution,
    axis: AxisValues,
    held: list[GroupValues],
    groups: Groups | None,
    *,
    colours: Groups | None,
    shared: Shared,
) -> DistributionAnswer:
    in_colour = (
        groups is not None and colours is not None and colours.variable.name == groups.variable.name
    )
    compared = _compared(held, asked.level)
    return DistributionAnswer(
        by=None if groups is None else VariableWords.of(groups.variable),
        groups=[_group(one, one.code if in_colour else None) for one in held],
        bin_width=shared.step,
        bin_start=shared.start,
        bandwidth=shared.bandwidth,
        sentences=spread_sentences(axis.variable, held, groups, compared, asked.level),
        compared=compared,
        level=asked.level,
    )


def _group(one: GroupValues, colour: int | None) -> GroupSpread:
    s, box = one.spread, one.spread.box
    bars, curve = one.bars, one.curve
    there = bars is not None and np.isfinite(bars.edges).all()
    smooth = curve is not None and np.isfinite(np.append(curve.at, curve.density)).all()
    return GroupSpread(
        group=one.label,
        code=one.code,
        colour_code=colour,
        n=s.n,
        mean=_middle(s.mean),
        median=_middle(s.median),
        sd=s.sd,
        skewness=s.skewness,
        box=[box.low, box.lower_quartile, box.median, box.upper_quartile, box.high],
        low=s.low,
        high=s.high,
        far=one.far,
        edges=bars.edges.tolist() if bars is not None and there else [],
        counts=bars.counts.tolist() if bars is not None and there else [],
        at=curve.at.tolist() if curve is not None and smooth else [],
        density=curve.density.tolist() if curve is not None and smooth else [],
    )


def _middle(middle: Middle) -> MiddleReport:
    return MiddleReport(value=middle.value, low=middle.low, high=middle.high)


def _compared(held: list[GroupValues], level: float) -> list[GroupsCompared]:
    if not 2 <= len(held) <= MOST_COMPARED:
        return []
    pairs = list(combinations(held, 2))
    try:
        with computed("A comparison"):
            # Intervals allow for as many comparisons (Bonferroni), as p values do by Holm.
            strict = 1 - (1 - level) / len(pairs)
            means = [mean_difference(a.moments, b.moments, strict) for a, b in pairs]
            shifts = [
                None if a.values is None or b.values is None else shift(a.values, b.values, strict)
                for a, b in pairs
            ]
    except FitError:
        return []
    means_p = holm([None if one is None else one.p_value for one in means])
    shifts_p = holm([None if one is None else one.p_value for one in shifts])
    return [
        GroupsCompared(
            first=a.label or "",
            second=b.label or "",
            means=_difference(mean),
            means_p=p,
            shift=_difference(moved),
            shift_p=q,
        )
        for (a, b), mean, p, moved, q in zip(pairs, means, means_p, shifts, shifts_p, strict=True)
    ]


def _difference(found: Difference | None) -> MiddleReport:
    if found is None:
        return MiddleReport(value=None, low=None, high=None)
    return MiddleReport(value=found.value, low=found.low, high=found.high)
