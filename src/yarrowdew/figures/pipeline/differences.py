"""How two groups differ where a number is read off the lines of both."""

from __future__ import annotations

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
    """How much more is read off the line of one group than off that of another."""

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
        _said(place, read, x if read.of == "x" else y, y)
        for first, second in pairs
        for read in _read_off_both(first, second, x, y)
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
            if other is not None and r.x_place is not None:
                where = r.x if isinstance(r.x, str) else with_unit(f"{r.x:.6g}", x.unit)
                where = f"{in_sentence(x)} {where}"
                yield _ReadOff(first, second, "y", r.x_place, _height(r), _height(other), where)
    # Where a level is reached more than once, it is not told which belongs to which.
    once, levels = ({s.y_place: s for s in _reached_once(f)} for f in (first, second))
    for level, s in once.items():
        if level is not None and level in levels:
            yield _ReadOff(first, second, "x", level, _place(s), _place(levels[level]))


def _reached_once(report: FitReport) -> list[SolutionReport]:
    counts = Counter(s.y_place for s in report.solutions)
    return [s for s in report.solutions if counts[s.y_place] == 1 and s.x_place is not None]


def _height(r: ReadingReport) -> Estimate:
    def end(value: object) -> float | None:
        return value if isinstance(value, float) else None

    return Estimate(float(r.y or 0.0), end(r.mean_low), end(r.mean_high))


def _place(s: SolutionReport) -> Estimate:
    return Estimate(s.x_place or 0.0, s.low_place, s.high_place)


def _said(place: int, read: _ReadOff, along: Variable, y: Variable) -> DifferenceAnswer:
    of, at, both = read.of, read.at, (read.a, read.b)
    first, second = (report.group or "" for report in (read.first, read.second))
    level = read.first.level
    found = difference(*both)
    times = ratio(*both) if of == "x" and along.kind is Kind.NUMBER else None
    unit = "days" if along.kind is Kind.DATE else along.unit
    half = max((abs(e - found.value) for e in (found.low, found.high) if e is not None), default=0)
    decimals = decimals_for(half)
    more = "more" if found.value > 0 else "less"
    amount = with_unit(number(abs(found.value), decimals), unit)
    said = found if found.value > 0 else _turned(found)
    interval = _interval(said, level, decimals)
    if of == "y":
        sentence = (
            f"At {read.where}, {in_sentence(y)} is {amount} {'higher' if found.value > 0 else 'lower'} "
            f"for {second} than for {first}{interval}."
        )
    else:
        sentence = (
            f"{second} reaches {with_unit(f'{at:.6g}', y.unit)} at {amount} {more} than "
            f"{first}{interval}"
        )
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
