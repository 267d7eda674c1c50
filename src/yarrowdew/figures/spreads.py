"""The groups of a distribution: described, compared, and what that says."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass
from itertools import combinations

import numpy as np

from yarrowdew.core.arithmetic import computed
from yarrowdew.core.association import holm
from yarrowdew.core.comparing import (
    Difference,
    Moments,
    mean_difference,
    rank_analysis,
    shift,
    variance_analysis,
)
from yarrowdew.core.density import Density, Histogram, histogram, kernel_density, wide_enough
from yarrowdew.core.equation import decimals_for
from yarrowdew.core.errors import FitError
from yarrowdew.core.sample import Array
from yarrowdew.core.spread import Middle, Spread
from yarrowdew.figures.answers import MOST_ROWS_LISTED
from yarrowdew.figures.axis_values import AxisValues
from yarrowdew.figures.cautions import Caution
from yarrowdew.figures.document.distribution import Distribution
from yarrowdew.figures.groups import Groups
from yarrowdew.figures.wire import Number, OnWire, VariableWords
from yarrowdew.figures.words import count_of, in_sentence, number, p_text, percent, with_unit
from yarrowdew.tables.table import Kind, Variable

MOST_COMPARED = 8
"""Every pair of so many groups at most is compared."""
FEW_ROWS = 8
_UNEQUAL = 2.0
"""Times that one group scatters as widely as another, from which on it is said."""
_SKEWED = 1.5
_TIED = 0.5
_TELLING = 0.05


class MiddleReport(OnWire):
    """A middle and its interval."""

    value: Number
    low: Number
    high: Number


class GroupSpread(OnWire):
    """The values of one category, or of all rows; places are values on the axis."""

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
    """Share of the values for each unit; empty where all values are one."""


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
    """The category for whose every value there is a group."""
    groups: list[GroupSpread]
    bin_width: Number
    bin_start: Number
    bandwidth: Number
    """Of the density of all rows."""
    sentences: list[str]
    """What the numbers say, in plain words."""
    compared: list[GroupsCompared]
    level: float


@dataclass(frozen=True, slots=True)
class HeldGroup:
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


def shapes_of(asked: Distribution, parts: list[ValuesOf]) -> tuple[list[HeldGroup], Shared]:
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


def _shape(one: ValuesOf, asked: Distribution, width: float | None) -> HeldGroup:
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
    return HeldGroup(
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
    held: list[HeldGroup],
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
        sentences=_sentences(axis.variable, held, groups, compared, asked.level),
        compared=compared,
        level=asked.level,
    )


def _group(one: HeldGroup, colour: int | None) -> GroupSpread:
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


def _compared(held: list[HeldGroup], level: float) -> list[GroupsCompared]:
    if not 2 <= len(held) <= MOST_COMPARED:
        return []
    pairs = list(combinations(held, 2))
    try:
        with computed("A comparison"):
            means = [mean_difference(a.moments, b.moments, level) for a, b in pairs]
            shifts = [
                None if a.values is None or b.values is None else shift(a.values, b.values, level)
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


def _sentences(
    variable: Variable,
    held: list[HeldGroup],
    groups: Groups | None,
    compared: list[GroupsCompared],
    level: float,
) -> list[str]:
    if groups is None or len(held) < 2:
        return []
    noun = in_sentence(groups.variable)
    what = in_sentence(variable)
    out = []
    try:
        with computed("A comparison"):
            means = variance_analysis([one.moments for one in held])
            values = [one.values for one in held if one.values is not None]
            ranks = rank_analysis(values) if len(values) == len(held) else None
    except FitError:
        return []
    told = {
        True: "differ by more than chance would make them",
        False: "do not clearly differ",
    }
    if means is not None:
        test = f"F({means.df[0]:g}, {means.df[1]:,.0f}) = {number(means.statistic, 2)}, {p_text(means.p_value)}"
        differ = told[means.p_value < _TELLING]
        out.append(f"The means of {what} {differ} from {noun} to {noun} ({test}).")
    if ranks is not None:
        test = f"H({ranks.df[0]:g}) = {number(ranks.statistic, 2)}, {p_text(ranks.p_value)}"
        clearly = ranks.p_value < _TELLING
        if means is None:
            out.append(f"The ranks of {what} {told[clearly]} from {noun} to {noun} ({test}).")
        else:
            same = (means.p_value < _TELLING) is clearly
            differ = "say the same" if same else "do so, too" if clearly else "do not"
            out.append(f"The ranks, which rest on no shape, {differ} ({test}).")
    clear = [c for c in compared if c.means_p is not None and c.means_p < _TELLING]
    if compared:
        most = max(compared, key=lambda c: abs(c.means.value or 0.0))
        if clear and most.means.value is not None and most.means.low is not None:
            low, high = sorted((most.means.low, most.means.high or most.means.low))
            value = most.means.value
            first, second = (most.first, most.second) if value > 0 else (most.second, most.first)
            if value < 0:
                low, high = -high, -low
            decimals = decimals_for((high - low) / 2)
            out.append(
                f"Furthest apart are {first} and {second}: the mean of {second} is "
                f"{with_unit(number(abs(value), decimals), variable.unit)} larger "
                f"({100 * level:g} % interval {number(low, decimals)} to {number(high, decimals)})."
            )
        pairs = count_of(len(compared), "pair")
        differ = f"{len(clear)} of {pairs}" if clear else f"None of {pairs}"
        out.append(
            f"{differ} {'differs' if len(clear) <= 1 else 'differ'} clearly in the mean, adjusted "
            "for their number."
        )
    return out


def spread_cautions(
    variable: Variable, held: list[HeldGroup], groups: Groups | None
) -> list[Caution]:
    out = []
    few = [one for one in held if one.spread.n < FEW_ROWS]
    if few:
        names = ", ".join(one.label or "all" for one in few[:4])
        out.append(
            Caution(
                title="Few rows",
                text=(f"{names}: " if groups else "")
                + f"fewer than {FEW_ROWS} rows. Look at the points themselves; a box or a density "
                "says more than so few can bear.",
            )
        )
    tailed = [
        one
        for one in held
        if (one.spread.skewness or 0.0) > _SKEWED
        and one.spread.low > 0
        and one.spread.n >= FEW_ROWS
    ]
    if tailed and variable.kind is Kind.NUMBER:
        out.append(
            Caution(
                title="A long tail upwards",
                text=f"Most values of {in_sentence(variable)} lie close together and few far above. "
                "A logarithmic axis shows both; the median says more than the mean.",
            )
        )
    for one in held:
        if one.spread.n >= FEW_ROWS and (share := one.alike()) > _TIED:
            whose = f" of {one.label}" if one.label else ""
            out.append(
                Caution(
                    title="Many values are alike",
                    text=f"{percent(share)} of the values{whose} occur more than once: a density "
                    "smooths over steps that are there.",
                )
            )
            break
    varied = [one.spread.sd for one in held if one.spread.sd]
    if len(varied) > 1 and max(varied) / _UNEQUAL > min(varied):
        ratio = max(varied) / min(varied)
        times = (
            f"{number(ratio, 1)} times as widely"
            if math.isfinite(ratio)
            else "beyond all measure as widely"
        )
        out.append(
            Caution(
                title="Very unequal spread",
                text=f"One group scatters {times} as another. The comparisons here allow for it; "
                "one scale for all hides the narrow ones.",
            )
        )
    return out
