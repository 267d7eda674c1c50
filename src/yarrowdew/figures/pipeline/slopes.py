"""The slopes of a trend's groups compared, and the lines of each two of them, in words."""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np

from yarrowdew.core.distributions.comparison import Difference
from yarrowdew.core.equation import decimals_for
from yarrowdew.core.slope_comparison import LineOfGroup, TwoLines, compare_slopes
from yarrowdew.core.trends import TrendFit
from yarrowdew.core.trends.common_slope import CommonSlopeLine
from yarrowdew.figures.pipeline.fitting import Fitted
from yarrowdew.figures.text.words import (
    GAP,
    TELLING,
    ends,
    in_sentence,
    joined,
    number,
    p_text,
    statistic,
    with_unit,
)
from yarrowdew.figures.wire.reports import DifferenceOfLines, SlopesAnswer, TwoLinesAnswer

MOST_IN_PAIRS = 6
"""Groups up to which the lines of each two are compared."""


def slopes_between(
    place: int, fits: Sequence[tuple[str, TrendFit | None]], noun: str, level: float
) -> list[SlopesAnswer]:
    """Say whether lines of groups share one slope; nothing where one of them is not a line.

    Parameters
    ----------
    place : int
        Of the trend among those of its figure.
    fits : sequence of tuple of str and TrendFit or None
        Of each group, with its name.
    noun : str
        What the groups are categories of.
    level : float
        Of intervals.
    """
    lines = [LineOfGroup.of(fit) for _, fit in fits if fit is not None]
    known = [line for line in lines if line is not None]
    if len(known) < len(fits):
        return []
    found = compare_slopes(known, level)
    if found is None:
        return []
    df_groups, df_rest = found.df
    named = (
        f"Welch's F({df_groups:g}, {number(df_rest, 1)}) = {statistic(found.f)}"
        if math.isfinite(df_rest)
        else f"χ²({df_groups:g}) = {statistic(found.f * df_groups)}"
    )
    test = f"{named}, {p_text(found.p_value)}"
    sentence = (
        f"The slopes differ between categories of {noun} ({test})."
        if found.p_value < TELLING
        else f"The slopes do not clearly differ between categories of {noun} ({test}). A common slope "
        f"would be {_with_interval(found.slope, found.low, found.high, level)}."
    )
    names = [name for name, _ in fits]
    pairs = found.pairs if len(known) <= MOST_IN_PAIRS else ()
    return [
        SlopesAnswer(
            trend=place,
            sentence=sentence,
            slope=found.slope,
            low=found.low,
            high=found.high,
            f=found.f,
            df_groups=int(df_groups),
            df_rest=df_rest if math.isfinite(df_rest) else None,
            p_value=found.p_value,
            level=level,
            pairs=[_two_lines(pair, names, len(pairs), level) for pair in pairs],
        )
    ]


def adjusted_means(lines: Sequence[Fitted], level: float) -> str:
    """Say y of each of parallel lines at the mean of x in all rows."""
    known = [line for line in lines if isinstance(line.fit, CommonSlopeLine)]
    if not known:
        return ""
    total = sum(line.n for line in known)
    fits = [(line, line.fit) for line in known if isinstance(line.fit, CommonSlopeLine)]
    mean = sum(line.n * fit.pivot_x for line, fit in fits) / total
    at = np.array([mean])
    said = []
    for line, fit in fits:
        band = fit.band(at, level, "confidence")
        value, low, high = (
            float(v[0]) + line.y.origin for v in (fit.predict(at), band.low, band.high)
        )
        said.append(f"{_with_interval(value, low, high, level)} in {line.group}")
    first = known[0]
    shown = first.x.written(mean)
    span = max(fit.x_range[1] for _, fit in fits) - min(fit.x_range[0] for _, fit in fits)
    x = (
        with_unit(number(shown, decimals_for(span / 200)), first.x.variable.unit)
        if isinstance(shown, float)
        else str(shown)
    )
    return (
        f"At the mean of {in_sentence(first.x.variable)} ({x}), adjusted means of "
        f"{in_sentence(first.y.variable)} are {joined(said)}."
    )


def _two_lines(pair: TwoLines, names: Sequence[str], of: int, level: float) -> TwoLinesAnswer:
    first, second = names[pair.first], names[pair.second]
    slopes, heights = pair.slopes, pair.heights
    allowing = f", allowing for {of} comparisons" if of > 1 else ""
    holm = ", Holm" if of > 1 else ""

    def more(found: Difference) -> str:
        low, high = found.low or 0.0, found.high or 0.0
        what = "larger" if found.value >= 0 else "smaller"
        if found.value < 0:
            low, high = -high, -low
        interval = _with_interval(abs(found.value), low, high, level, allowing)
        return f"{interval} {what}"

    return TwoLinesAnswer(
        first=first,
        second=second,
        slopes=DifferenceOfLines(
            value=slopes.value, low=slopes.low, high=slopes.high, p_value=slopes.p_value
        ),
        heights=DifferenceOfLines(
            value=heights.value, low=heights.low, high=heights.high, p_value=heights.p_value
        ),
        sentence=f"The slope of {second} is {more(slopes)} than that of {first} "
        f"({p_text(slopes.p_value)}{holm}). At a common slope y is {more(heights)} in {second} "
        f"({p_text(heights.p_value)}{holm}).",
    )


def _with_interval(value: float, low: float, high: float, level: float, said: str = "") -> str:
    decimals = decimals_for((high - low) / 2)
    interval = f"{100 * level:.4g}{GAP}% interval {ends(low, high, decimals)}{said}"
    return f"{number(value, decimals)} ({interval})"
