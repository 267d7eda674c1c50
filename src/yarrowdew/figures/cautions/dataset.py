"""What misleads on a figure of a dataset, as far as sums over its rows tell."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from yarrowdew.core.trends import FAMILIES, TrendFit
from yarrowdew.core.trends.families.straight import FAMILY as LINE
from yarrowdew.figures.cautions.figure import comparability_caution
from yarrowdew.figures.cautions.groups import group_cautions
from yarrowdew.figures.cautions.trend import plain_cautions
from yarrowdew.figures.datasets.view import DatasetView
from yarrowdew.figures.pipeline.axis_values import AxisValues
from yarrowdew.figures.pipeline.fitting import request_of
from yarrowdew.figures.pipeline.groups import Groups
from yarrowdew.figures.pipeline.readings import TrendReadings
from yarrowdew.figures.wire.reports import Caution

NOT_SOUGHT = (
    "Bends, unequal scatter, heavy tails, neighbours that are alike and rows of high influence are "
    "not looked for in a dataset."
)
"""Said of every line, beside what it assumes."""


def cautions_of_dataset(
    view: DatasetView,
    x: AxisValues,
    y: AxisValues,
    groups: Groups | None,
    trends: Sequence[TrendReadings],
) -> list[Caution]:
    """Find what misleads, each once; curvature, scatter and single rows are not looked for.

    Parameters
    ----------
    view : DatasetView
    x, y : AxisValues
    groups : Groups or None
        By which the figure is coloured.
    trends : sequence of TrendReadings
    """
    found: list[Caution] = []
    for one in trends:
        if one.fitted.own is None:
            found += _of_groups(view, x, y, one.fitted.groups or groups, one)
        found += plain_cautions(one.lines)
    found += comparability_caution([line for one in trends for line in one.lines])
    once: dict[str, Caution] = {}
    for caution in found:
        # What several trends say is said once.
        once.setdefault(caution.title + caution.text, caution)
    return list(once.values())


def _of_groups(
    view: DatasetView, x: AxisValues, y: AxisValues, groups: Groups | None, one: TrendReadings
) -> list[Caution]:
    """Groups that go the other way than the whole, as straight lines have it."""
    if groups is None or len(groups.labels) < 2:
        return []
    trend = one.fitted.trend
    asked = request_of(trend, x, y)
    if not FAMILIES[trend.family].least_squares_line:
        asked = replace(asked, family=LINE, settings=None)

    def lines(by: str | None) -> dict[str, TrendFit]:
        return {
            line.group or "": line.fit
            for line in view.fit(asked, x, y, by, None if by is None else groups.label_of)
            if line.fit is not None
        }

    whole = lines(None).get("")
    if whole is None:
        return []
    return group_cautions(
        whole,
        lines(groups.variable.name),
        x,
        groups,
        level=trend.level,
        fitted_each=one.fitted.groups is not None,
    )
