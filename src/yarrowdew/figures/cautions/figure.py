"""All cautions about a figure of a table, each said once."""

from __future__ import annotations

from collections.abc import Sequence
from functools import partial

from yarrowdew.core.parallel import submit
from yarrowdew.core.register import documented
from yarrowdew.core.sample import paired
from yarrowdew.core.trends import FAMILIES
from yarrowdew.figures.cautions.groups import cautions_of_groups
from yarrowdew.figures.cautions.rows import crowding_caution, missing_caution, tails_caution
from yarrowdew.figures.cautions.trend import plain_cautions, trend_cautions
from yarrowdew.figures.pipeline.points import Points
from yarrowdew.figures.pipeline.readings import Reading, Readings, TrendReadings
from yarrowdew.figures.text.words import TELLING, in_sentence
from yarrowdew.figures.wire.reports import Caution, SlopesAnswer
from yarrowdew.tables.table import Kind


def cautions_of(points: Points, readings: Readings) -> list[Caution]:
    """Find everything that misleads on a figure, each once."""
    trends, rows = readings.trends, points.rows.size
    begun = [
        submit(partial(cautions_of_groups, points, one.fitted, one.lines), rows)
        for one in trends
        if one.fitted.own is None
    ]
    of_points = missing_caution(points.x, points.y)
    of_points += crowding_caution(points.drawn.x, points.drawn.y)
    if readings.association is not None:
        sample = paired(points.x.values, points.y.values, set_aside=points.set_aside)
        named = {in_sentence(points.x.variable): sample.x, in_sentence(points.y.variable): sample.y}
        of_points += tails_caution(readings.association.p_value, named)
    found: list[Caution] = []
    ready = iter(begun)
    for one in trends:
        trend = one.fitted.trend
        if one.fitted.own is not None:
            found += [*parallel_caution(one, readings.slopes), *plain_cautions(one.lines)]
            continue
        of_groups = next(ready)
        of_trend = trend_cautions(
            one.lines,
            points.rows,
            FAMILIES[trend.family],
            trend.chosen(),
            dated=points.x.variable.kind is Kind.DATE,
        )
        found += [*of_groups(), *of_trend]
    found += comparability_caution(readings.lines)
    once: dict[str, Caution] = {}
    for caution in found:
        # What several trends say is said once, with the remedy that keeps the form.
        said = once.setdefault(caution.title + caution.text, caution)
        if caution.remedy == "allow_unequal" and said.remedy == "resample":
            once[caution.title + caution.text] = caution
    return [*once.values(), *of_points]


@documented(
    "cautions",
    "Parallel lines hide different slopes",
    "Welch’s test of the slopes (1951), p < 0.05, beside lines with a common slope",
    "5 %",
)
def parallel_caution(one: TrendReadings, slopes: Sequence[SlopesAnswer]) -> list[Caution]:
    """Find parallel lines through groups whose slopes differ."""
    found = next((each for each in slopes if each.trend == one.fitted.place), None)
    if found is None or found.p_value >= TELLING:
        return []
    return [
        Caution(
            title="Parallel lines hide different slopes",
            text=f"{found.sentence} Intervals of parallel lines and adjusted means do not hold then.",
        )
    ]


@documented(
    "cautions",
    "R² cannot be compared here",
    "trends about zero, or on logarithms, beside others",
    "whenever it is so",
)
def comparability_caution(fits: Sequence[Reading]) -> list[Caution]:
    """Find R² that stand side by side and measure different things."""
    made = [f for f in fits if f.fit is not None]
    origin = any(FAMILIES[f.report.family].r_squared_about == "zero" for f in made)
    logs = any(f.report.r_squared_log is not None for f in made)
    if len({f.report.family for f in made}) < 2 or not (origin or logs):
        return []
    why = (
        "one is about zero, as its line passes through the origin"
        if origin
        else "one was fitted on logarithms, so that another form may fit y itself better"
    )
    return [
        Caution(
            title="R² cannot be compared here",
            text=f"Of the trends on this figure {why}. Compare their cross-validation errors instead.",
            remedy="compare",
        )
    ]
