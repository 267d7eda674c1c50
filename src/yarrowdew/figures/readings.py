"""The readings of a figure: what its fits say, in numbers and sentences."""

from __future__ import annotations

from dataclasses import dataclass

from yarrowdew.core.arithmetic import computed
from yarrowdew.core.association import pearson
from yarrowdew.core.errors import FitError
from yarrowdew.core.groups import compare_slopes
from yarrowdew.core.sample import Sample, paired
from yarrowdew.core.trends import TrendFit
from yarrowdew.core.trends.straight import StraightLine
from yarrowdew.figures.curves import Origins, curve_of, extensions_of
from yarrowdew.figures.differences import DifferenceAnswer, differences_of
from yarrowdew.figures.fitting import Fitted, FittedFigure, FittedTrend
from yarrowdew.figures.groups import Groups
from yarrowdew.figures.points import Points
from yarrowdew.figures.reading_off import Reader, equation_of
from yarrowdew.figures.reports import (
    AssociationAnswer,
    CoefficientReport,
    CorrelationReport,
    FitReport,
    SlopesAnswer,
    TrendAnswer,
    WithAll,
)
from yarrowdew.figures.sentences import ToSay, trend_sentence
from yarrowdew.figures.words import in_sentence, number, p_text


@dataclass(frozen=True, slots=True)
class Reading:
    """A line and what is said of it; a line that nothing can be said of has no fit.

    Attributes
    ----------
    sample : Sample
        The rows that it was to be fitted to.
    fit : TrendFit or None
    report : FitReport
    """

    sample: Sample
    fit: TrendFit | None
    report: FitReport


@dataclass(frozen=True, slots=True)
class TrendReadings:
    """The readings of one trend, a line each."""

    fitted: FittedTrend
    lines: list[Reading]


@dataclass(frozen=True, slots=True)
class Readings:
    """The readings of a figure.

    Attributes
    ----------
    trends : list of TrendReadings
    answers : list of TrendAnswer
        Of every line, in order.
    slopes : list of SlopesAnswer
        Whether the groups of a trend share one slope.
    differences : list of DifferenceAnswer
        Of what is read off the lines of two groups.
    association : AssociationAnswer or None
        Where no trend is fitted.
    """

    trends: list[TrendReadings]
    answers: list[TrendAnswer]
    slopes: list[SlopesAnswer]
    differences: list[DifferenceAnswer]
    association: AssociationAnswer | None

    @property
    def lines(self) -> list[Reading]:
        """Every line, in order."""
        return [line for trend in self.trends for line in trend.lines]


def readings_of(figure: FittedFigure) -> Readings:
    """Say what every trend of a figure says."""
    points = figure.points
    trends = [TrendReadings(one, [reading_of(line) for line in one.lines]) for one in figure.trends]
    return Readings(
        trends,
        [
            answer
            for one in trends
            for answer in answers_to(one, points.groups, Origins(points.x.origin, points.y.origin))
        ],
        [slopes for one in trends for slopes in slopes_of(one)],
        [
            found
            for one in trends
            for found in differences_of(
                one.fitted.place,
                [line.report for line in one.lines],
                points.x.variable,
                points.y.variable,
            )
        ],
        None if points.document.trends else association_of(points),
    )


def reading_of(fitted: Fitted) -> Reading:
    """Say what one line says, or why it says nothing."""
    problem = fitted.problem
    if fitted.fit is not None:
        try:
            with computed(f"This {fitted.asked.family.label}"):
                return Reading(fitted.sample, fitted.fit, _report(fitted, fitted.fit))
        except FitError as error:
            problem = str(error)
    nothing = FitReport(
        group=fitted.group,
        family=fitted.asked.family.name,
        equation=None,
        n=fitted.n,
        dropped=fitted.dropped,
        level=fitted.asked.level,
        coefficients=[],
        readings=[],
        solutions=[],
        assumptions=[],
        problem=problem,
    )
    return Reading(fitted.sample, None, nothing)


def _report(fitted: Fitted, fit: TrendFit) -> FitReport:
    asked, x, y = fitted.asked, fitted.x, fitted.y
    family = asked.family
    settings = family.settings() if asked.settings is None else asked.settings
    coefficients = fit.coefficients(asked.level)
    correlation = fitted.correlation()
    low, high = fit.x_range
    within = (low - asked.carry[0], high + asked.carry[1])
    reader = Reader(fit, x, y, asked.level, within, asked.band)
    read_off = asked.read_off(fitted.group)
    sentence = trend_sentence(
        ToSay(
            family,
            {c.name: c for c in coefficients},
            fit.r_squared,
            x.variable,
            y.variable,
            high - low,
            asked.level,
            settings,
        )
    )
    return FitReport(
        group=fitted.group,
        family=family.name,
        equation=equation_of(fitted, fit),
        equation_note=""
        if fit.form is None
        else "; ".join(filter(None, (x.note("x"), y.note("y")))),
        n=fitted.n,
        dropped=fitted.dropped,
        level=asked.level,
        errors=asked.errors,
        coefficients=[
            CoefficientReport(
                name=c.name,
                label=family.coefficient_label(c.name, settings),
                value=c.value,
                se=c.se,
                low=c.low,
                high=c.high,
                was_given=c.was_given,
            )
            for c in coefficients
        ],
        correlations=[
            CorrelationReport(one=one, other=other, r=r) for one, other, r in fit.correlations
        ],
        degrees_of_freedom=fit.degrees_of_freedom,
        r_squared=fit.r_squared,
        adjusted_r_squared=fit.adjusted_r_squared,
        r_squared_log=fit.r_squared_log,
        residual_sd=fit.residual_sd,
        aicc=fit.aicc,
        left_out_error=fitted.left_out_error(fit),
        parameters=fit.parameters,
        r=correlation.r,
        r_low=correlation.low,
        r_high=correlation.high,
        p_value=fit.p_value,
        readings=[reader.at(value, name) for value, name in read_off.at],
        solutions=[s for value, name in read_off.levels for s in reader.level_of(value, name)],
        sentence=f"{sentence} {fitted.said_first}".strip(),
        assumptions=[*fit.assumptions, *fitted.remarks],
    )


def answers_to(one: TrendReadings, colours: Groups | None, origins: Origins) -> list[TrendAnswer]:
    """Say where the lines of a trend go, and what they say."""
    trend, groups = one.fitted.trend, one.fitted.groups
    # Two variables may have the same categories: only the one that colours gives its colours.
    in_colour = (
        groups is not None
        and colours is not None
        and groups.variable.name == colours.variable.name
        and groups.labels == colours.labels
    )
    return [
        TrendAnswer(
            trend=one.fitted.place,
            family_label=line.asked.spoken,
            group_code=colours.labels.index(line.group)
            if in_colour and colours is not None and line.group is not None
            else None,
            report=said.report,
            curve=None if said.fit is None else curve_of(said.fit, trend.bands, origins),
            carried=[]
            if said.fit is None
            else extensions_of(said.fit, trend.bands, origins, trend.carry),
            with_all=_with_all(said, every),
        )
        for line, said, every in zip(one.fitted.lines, one.lines, one.fitted.with_all, strict=True)
    ]


def _with_all(said: Reading, every: Fitted | None) -> WithAll | None:
    if every is None or every.sample.n == said.sample.n:
        return None
    if every.fit is None:
        return WithAll(n=every.sample.n, slope=None, r_squared=None)
    coefficients = every.fit.coefficients(every.asked.level)
    slope = next((c.value for c in coefficients if c.name == "b"), None)
    return WithAll(n=every.sample.n, slope=slope, r_squared=every.fit.r_squared)


def association_of(points: Points, level: float = 0.95) -> AssociationAnswer | None:
    """Correlate the two variables of a figure; None where there is nothing to correlate."""
    if points.series is not None:
        return None
    found = pearson(paired(points.x.values, points.y.values, set_aside=points.aside), level)
    if found.r is None:
        return None
    return AssociationAnswer(
        r=found.r, low=found.low, high=found.high, p_value=found.p_value, n=found.n, level=level
    )


def slopes_of(one: TrendReadings) -> list[SlopesAnswer]:
    """Say whether the groups of a trend share one slope, where it is a line."""
    groups, fits = one.fitted.groups, one.lines
    lines = [said.fit for said in fits if isinstance(said.fit, StraightLine)]
    if groups is None or len(lines) < len(fits):
        return []
    found = compare_slopes(lines)
    if found is None:
        return []
    noun = in_sentence(groups.variable) if groups.variable.label else "variable"
    test = (
        f"F({found.df_groups}, {found.df_rest:,}) = {number(found.f, 2)}, {p_text(found.p_value)}"
    )
    differs = found.p_value < 0.05
    sentence = (
        f"The slopes differ from {noun} to {noun} by more than chance would make them ({test})."
        if differs
        else f"The slopes do not clearly differ from {noun} to {noun} ({test}); "
        f"a common slope would be {number(found.slope, 3)}."
    )
    return [
        SlopesAnswer(
            trend=one.fitted.place,
            sentence=sentence,
            slope=found.slope,
            f=found.f,
            df_groups=found.df_groups,
            df_rest=found.df_rest,
            p_value=found.p_value,
        )
    ]
