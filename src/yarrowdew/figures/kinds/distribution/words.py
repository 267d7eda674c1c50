"""What the groups of a distribution say in words, and what misleads."""

from __future__ import annotations

import math
from typing import TYPE_CHECKING

from yarrowdew.core.arithmetic import computed
from yarrowdew.core.cautions import shortens_mean_interval
from yarrowdew.core.distributions.comparison import rank_analysis, variance_analysis
from yarrowdew.core.equation import decimals_for
from yarrowdew.core.errors import FitError
from yarrowdew.core.register import documented
from yarrowdew.figures.pipeline.groups import Groups
from yarrowdew.figures.text.words import (
    TELLING,
    count_of,
    ends,
    in_sentence,
    number,
    p_text,
    percent,
    statistic,
    with_unit,
)
from yarrowdew.figures.wire.reports import Caution
from yarrowdew.tables.table import Kind, Variable

if TYPE_CHECKING:
    from yarrowdew.figures.kinds.distribution.descriptions import GroupsCompared, GroupValues

FEW_ROWS = 8
_UNEQUAL = 2.0
"""Times that one group scatters as widely as another, from which on it is said."""
_SKEWED = 1.5
_TIED = 0.5


def spread_sentences(
    variable: Variable,
    held: list[GroupValues],
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
    if means is not None:
        test = (
            f"Welch's F({means.df[0]:g}, {number(means.df[1], 1)}) = {statistic(means.statistic)}, "
            f"{p_text(means.p_value)}"
        )
        differ = "differ" if means.p_value < TELLING else "do not clearly differ"
        out.append(f"Means of {what} {differ} between categories of {noun} ({test}).")
    if ranks is not None:
        exact = "exact " if ranks.is_exact else ""
        test = (
            f"Kruskal–Wallis H({ranks.df[0]:g}) = {statistic(ranks.statistic)}, "
            f"{exact}{p_text(ranks.p_value)}"
        )
        clearly = ranks.p_value < TELLING
        if means is None:
            differ = "differ" if clearly else "do not clearly differ"
            out.append(f"Ranks of {what} {differ} between categories of {noun} ({test}).")
        elif (means.p_value < TELLING) is clearly:
            out.append(f"A rank test agrees ({test}).")
        else:
            differ = "finds a difference" if clearly else "finds no clear difference"
            out.append(f"A rank test, which assumes no normal scatter, {differ} ({test}).")
    out += _pairs(variable, compared, level)
    return out


def _pairs(variable: Variable, compared: list[GroupsCompared], level: float) -> list[str]:
    """Say how many pairs differ clearly in the mean, and which of them lie furthest apart."""
    tested = [c for c in compared if c.means_p is not None]
    clear = [c for c in tested if c.means_p is not None and c.means_p < TELLING]
    if len(tested) < 2:
        return []
    out = [
        f"{len(clear) or 'None'} of {count_of(len(tested), 'pair')} of groups "
        f"{'differs' if len(clear) <= 1 else 'differ'} clearly in the mean (Welch's t, adjusted by "
        "Holm)."
    ]
    if clear:
        most = max(clear, key=lambda c: abs(c.means.value or 0.0))
        value, low, high = (
            end or 0.0 for end in (most.means.value, most.means.low, most.means.high)
        )
        first, second = (most.first, most.second) if value > 0 else (most.second, most.first)
        if value < 0:
            low, high = -high, -low
        decimals = decimals_for((high - low) / 2)
        out.append(
            f"Furthest apart of these: the mean is "
            f"{with_unit(number(abs(value), decimals), variable.unit)} larger for {second} than for "
            f"{first} ({100 * level:g} % interval {ends(low, high, decimals)}, allowing for "
            f"{len(compared)} comparisons)."
        )
    return out


@documented(
    "cautions",
    "The interval of the mean may be too short",
    "skewness γ with γ²/n above 0.08 (Hall 1992) and beyond 2.33 of its standard errors, 8 rows or more",
    "2 to 3 % of 8 to 20 normal rows",
)
@documented(
    "cautions",
    "Right-skewed; Unequal spread; Many values are alike; Few rows",
    "skewness above 1.5; standard deviations that differ by a factor of 2; ties; fewer than 8 rows of a group",
    "whenever it is so",
)
def spread_cautions(
    variable: Variable, held: list[GroupValues], groups: Groups | None
) -> list[Caution]:
    out = []
    few = [one for one in held if one.spread.n < FEW_ROWS]
    if few:
        names = ", ".join(one.label or "all" for one in few[:4])
        out.append(
            Caution(
                title="Few rows",
                text=(f"{names}: " if groups else "")
                + f"fewer than {FEW_ROWS} rows. Show the points themselves; a box or a density "
                "claims more than so few rows can show.",
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
                title="Right-skewed",
                text=f"Most values of {in_sentence(variable)} lie close together and few far above. "
                "A logarithmic axis shows both; the median says more than the mean.",
            )
        )
    short = [
        one
        for one in held
        if one.spread.mean.low is not None
        and one.spread.skewness is not None
        and shortens_mean_interval(one.spread.skewness, one.spread.n)
    ]
    if short:
        most = max(short, key=lambda one: (one.spread.skewness or 0.0) ** 2 / one.spread.n)
        whose = f" of {most.label}" if most.label else ""
        others = f" (and {len(short) - 1} more)" if len(short) > 1 else ""
        out.append(
            Caution(
                title="The interval of the mean may be too short",
                text=f"The values{whose} are skewed (skewness {number(most.spread.skewness or 0.0, 1)} "
                f"over {most.spread.n:,} rows){others}. In simulations of lognormal values 95 % "
                "intervals by Student’s t covered 83 to 87 % of 8 to 20 rows. The interval of the "
                "median does not rest on any shape.",
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
                title="Unequal spread",
                text=f"One group scatters {times} as another. The comparisons here allow for it; "
                "one scale for all hides the narrow ones.",
            )
        )
    return out
