"""How two groups differ where a number is read off the lines of both."""

from __future__ import annotations

import math
from collections import Counter
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from itertools import combinations
from typing import Literal

from yarrowdew.core.distributions.contrasts import Estimate, difference, ratio
from yarrowdew.core.equation import decimals_for
from yarrowdew.figures.text.words import GAP, in_sentence, number, with_unit
from yarrowdew.figures.wire.base import Number, OnWire
from yarrowdew.figures.wire.reports import FitReport, ReadingReport, SolutionReport
from yarrowdew.tables.table import Kind, Variable

MOST_IN_PAIRS = 4
"""Of more groups, each is compared with the first alone."""


class DifferenceAnswer(OnWire):
    """Difference between readings of two groups."""

    trend: int
    of: Literal["y", "x"]
    """Whether y at an x is compared, or x where y reaches a level."""
    at: Number
    """The x, or the level of y, on its axis."""
    first: str
    second: str
    value: Number
    """The second less the first."""
    low: Number
    high: Number
    ratio: Number = None
    """x of the second over that of the first, where both are above zero."""
    ratio_low: Number = None
    ratio_high: Number = None
    level: float
    sentence: str


def differences_of(
    place: int, reports: Sequence[FitReport], x: Variable, y: Variable
) -> list[DifferenceAnswer]:
    """Compare what is read off the lines of a trend's groups, two by two."""
    groups = [report for report in reports if report.group is not None and report.problem is None]
    pairs = list(combinations(groups, 2))
    if len(groups) > MOST_IN_PAIRS:
        pairs = pairs[: len(groups) - 1]
    return [
        _difference(place, read, x if read.of == "x" else y, y)
        for first, second in pairs
        for read in _read_off_both(first, second, x, y)
        # Two numbers may exist whose difference is beyond the largest that can be written.
        if math.isfinite(read.b.value - read.a.value)
    ]


@dataclass(frozen=True, slots=True)
class _ReadOff:
    """One number read off the lines of two groups."""

    first: FitReport
    second: FitReport
    of: Literal["y", "x"]
    at: float
    a: Estimate
    b: Estimate
    where: str = ""
    """Of y, the x in words."""


def _read_off_both(
    first: FitReport, second: FitReport, x: Variable, y: Variable
) -> Iterator[_ReadOff]:
    if y.kind is Kind.NUMBER:
        others = {r.x_place: r for r in second.readings}
        for r in first.readings:
            other = others.get(r.x_place)
            if other is None or r.x_place is None or r.x is None:
                continue
            a, b = _height(r), _height(other)
            if a is not None and b is not None:
                where = r.x if isinstance(r.x, str) else with_unit(f"{r.x:.6g}", x.unit)
                where = f"{in_sentence(x)} {where}"
                yield _ReadOff(first, second, "y", r.x_place, a, b, where)
    # Where a level is reached more than once, it is not told which belongs to which.
    once, levels = ({s.y_place: s for s in _reached_once(f)} for f in (first, second))
    for level, s in once.items():
        if level is not None and level in levels:
            yield _ReadOff(first, second, "x", level, _place(s), _place(levels[level]))


def _reached_once(report: FitReport) -> list[SolutionReport]:
    counts = Counter(s.y_place for s in report.solutions)
    return [s for s in report.solutions if counts[s.y_place] == 1 and s.x_place is not None]


def _height(r: ReadingReport) -> Estimate | None:
    """Give y as it was read off; None where it does not exist, and for dates."""

    def end(value: object) -> float | None:
        return value if isinstance(value, float) else None

    return Estimate(r.y, end(r.mean_low), end(r.mean_high)) if isinstance(r.y, float) else None


def _place(s: SolutionReport) -> Estimate:
    return Estimate(s.x_place or 0.0, s.low_place, s.high_place)


def _difference(place: int, read: _ReadOff, along: Variable, y: Variable) -> DifferenceAnswer:
    of, at, both = read.of, read.at, (read.a, read.b)
    first, second = (report.group or "" for report in (read.first, read.second))
    level = read.first.level
    found = difference(*both)
    times = ratio(*both) if of == "x" and along.kind is Kind.NUMBER else None
    unit = "days" if along.kind is Kind.DATE else along.unit
    half = max((abs(e - found.value) for e in (found.low, found.high) if e is not None), default=0)
    decimals = decimals_for(half)
    amount = number(abs(found.value), decimals)
    is_same = not amount.strip("0.")
    amount = with_unit(amount, unit)
    stated = found if found.value > 0 or is_same else _turned(found)
    interval = _interval(stated, level, decimals)
    if of == "y":
        than = (
            f"about the same for {second} as for {first}"
            if is_same
            else f"{amount} {'higher' if found.value > 0 else 'lower'} for {second} than for {first}"
        )
        sentence = f"At {read.where}, {in_sentence(y)} is {than}{interval}."
    else:
        more = "more" if found.value > 0 else "less"
        than = f"about the same {in_sentence(along)} as" if is_same else f"{amount} {more} than"
        sentence = f"{second} reaches {with_unit(f'{at:.6g}', y.unit)} at {than} {first}{interval}"
        if times is None:
            sentence += "."
        else:
            digits = decimals_for(
                max(
                    (abs(e - times.value) for e in (times.low, times.high) if e is not None),
                    default=0,
                )
            )
            sentence += (
                f": {number(times.value, digits)} times as much{_interval(times, level, digits)}."
            )
    return DifferenceAnswer(
        trend=place,
        of=of,
        at=at,
        first=first,
        second=second,
        value=found.value,
        low=found.low,
        high=found.high,
        ratio=None if times is None else times.value,
        ratio_low=None if times is None else times.low,
        ratio_high=None if times is None else times.high,
        level=level,
        sentence=sentence,
    )


def _turned(found: Estimate) -> Estimate:
    """How much less it is."""
    return Estimate(
        -found.value,
        None if found.high is None else -found.high,
        None if found.low is None else -found.low,
    )


def _interval(found: Estimate, level: float, decimals: int) -> str:
    if found.low is None and found.high is None:
        return ""
    low, high = (
        "open" if end is None else number(end, decimals) for end in (found.low, found.high)
    )
    return f" ({100 * level:.4g}{GAP}% interval {low} to {high})"
