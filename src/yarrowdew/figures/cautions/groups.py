"""Cautions about groups: they slope another way than all rows, or their rows are alike."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

import numpy as np

from yarrowdew.core.arithmetic import computed
from yarrowdew.core.cautions import (
    HasSlope,
    opposed_groups,
)
from yarrowdew.core.dependence import alike_in_groups
from yarrowdew.core.errors import FitError
from yarrowdew.core.register import documented
from yarrowdew.core.trends import FAMILIES, TrendFit
from yarrowdew.figures.pipeline.axis_values import AxisValues
from yarrowdew.figures.pipeline.fitting import FittedTrend, lines_of
from yarrowdew.figures.pipeline.groups import Groups
from yarrowdew.figures.pipeline.points import Points
from yarrowdew.figures.pipeline.readings import Reading
from yarrowdew.figures.text.words import in_sentence, number
from yarrowdew.figures.wire.reports import Caution, Remedy


def cautions_of_groups(points: Points, one: FittedTrend, said: Sequence[Reading]) -> list[Caution]:
    grouping = one.groups or points.groups
    if points.series is not None or grouping is None or len(grouping.labels) < 2:
        return []
    # Whether groups go the other way is a matter of straight lines, whatever form is drawn.
    is_line = FAMILIES[one.trend.family].least_squares_line

    def lines(of: Groups | None) -> dict[str, TrendFit]:
        if is_line and of is one.groups:
            return {line.report.group or "": line.fit for line in said if line.fit is not None}
        return lines_of(
            points.x,
            points.y,
            of,
            settings=one.trend.chosen() if is_line else None,
            weights=one.weights,
            set_aside=points.set_aside,
        )

    whole = lines(None).get("")
    if whole is None:
        return []
    own = next((said for said in said if said.report.group is None), None)
    is_allowed = one.trend.errors == "cluster" and one.trend.clusters == grouping.variable.name
    return [
        *([] if is_allowed else _alike_groups(points, own, grouping)),
        *group_cautions(
            whole,
            lines(grouping),
            points.x,
            grouping,
            level=one.trend.level,
            fitted_each=one.groups is not None,
        ),
    ]


@documented(
    "cautions",
    "Rows of the same … are alike",
    "intraclass correlation of residuals of at least 0.3, F test p < 0.001, three groups or more",
    "0.1 %",
)
def _alike_groups(points: Points, said: Reading | None, groups: Groups) -> list[Caution]:
    """Find rows of one group that resemble one another about one line for all."""
    if said is None or said.fit is None:
        return []
    try:
        with computed("What misleads"):
            codes = groups.codes[said.sample.rows]
            known = np.flatnonzero(codes != groups.NONE)
            found = alike_in_groups(said.fit, said.sample.take(known), codes[known])
    except FitError:
        return []
    if found is None:
        return []
    noun = in_sentence(groups.variable)
    return [
        Caution(
            title=f"Rows of the same {noun} are alike",
            text=f"Their residuals correlate by {number(found.correlation, 2)} within a {noun} "
            "(intraclass correlation). Intervals and p values of one line for all rows take every "
            "row as independent, and claim more than the rows can tell.",
            variable=groups.variable.name,
            remedy="cluster",
        )
    ]


@documented(
    "cautions",
    "One … slopes the other way; slopes point both ways",
    "intervals of slopes that allow for the number of groups (Bonferroni)",
    "5 % at most",
)
def group_cautions(
    whole: HasSlope,
    each: Mapping[str, HasSlope],
    x: AxisValues,
    groups: Groups,
    *,
    level: float,
    fitted_each: bool,
    form: str = "line",
) -> list[Caution]:
    """Find groups that slope the other way than all rows, or than one another.

    Parameters
    ----------
    whole : HasSlope
        The line, or plane, through all rows.
    each : mapping of str to HasSlope
        That of each group, by its label.
    x : AxisValues
        Along which the slopes are.
    groups : Groups
    level : float
        At which a group clearly goes the other way.
    fitted_each : bool
        Whether the figure already shows one for each group.
    form : str
        What is fitted.
    """
    found = opposed_groups(whole, each, level)
    if found is None:
        return []
    noun, across = in_sentence(groups.variable), in_sentence(x.variable)
    hides = f"One {form} for all rows {'would hide' if fitted_each else 'hides'} this."
    remedy: Remedy | None = None if fitted_each else "fit_each"
    if found.whole == 0:
        text = (
            f"{_listed(found.rising)} {_verb(found.rising, rises=True)} with {across}, and "
            f"{_listed(found.falling)} {_verb(found.falling, rises=False)}; all rows together show "
            f"no clear trend. {hides}"
        )
        return [Caution(title=f"Slopes of {noun} point both ways", text=text, remedy=remedy)]
    rises = found.whole > 0
    opposed = found.falling if rises else found.rising
    every = len(opposed) == len(each)
    names = f"Every {noun}" if every else _listed(opposed)
    title = (
        f"Every {noun} slopes the other way than all rows"
        if every
        else f"One {noun} slopes the other way"
        if len(opposed) == 1
        else f"{len(opposed)} of the {len(each)} groups slope the other way"
    )
    verb = _verb(["one"] if every else opposed, rises=not rises)
    text = (
        f"{names} {verb} with {across}, while all rows together {'rise' if rises else 'fall'}. "
        f"{hides}"
    )
    return [
        Caution(
            title=title,
            text=text,
            group=opposed[0] if len(opposed) == 1 else None,
            remedy=remedy,
        )
    ]


def _verb(names: list[str], *, rises: bool) -> str:
    verb = "rise" if rises else "fall"
    return f"{verb}s" if len(names) == 1 else verb


def _listed(names: list[str]) -> str:
    return names[0] if len(names) == 1 else f"{', '.join(names[:-1])} and {names[-1]}"
