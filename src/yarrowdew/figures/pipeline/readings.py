"""The readings of a figure: what its fits say, in numbers and sentences."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from yarrowdew.core.arithmetic import computed
from yarrowdew.core.association import Correlation, pearson
from yarrowdew.core.errors import FitError
from yarrowdew.core.intervals import t_p_value
from yarrowdew.core.sample import Sample, paired
from yarrowdew.core.trends import Coefficient, TrendFit
from yarrowdew.core.trends.common_slope import CommonSlopeLine
from yarrowdew.core.trends.families.polynomial import Polynomial
from yarrowdew.core.trends.families.straight import StraightLine
from yarrowdew.core.trends.intervals.covariance import CovarianceFit
from yarrowdew.core.trends.on_logarithms import LineOnLogarithms
from yarrowdew.core.trends.scaled import unscaled
from yarrowdew.figures.pipeline.curves import CurveAxes, curve_of, extensions_of
from yarrowdew.figures.pipeline.differences import DifferenceAnswer, differences_of
from yarrowdew.figures.pipeline.fitting import Fitted, FittedFigure, FittedTrend
from yarrowdew.figures.pipeline.groups import Groups
from yarrowdew.figures.pipeline.points import Points
from yarrowdew.figures.pipeline.reading_off import Reader, equation_of
from yarrowdew.figures.pipeline.slopes import adjusted_means, slopes_between
from yarrowdew.figures.text.sentences import ToSay, trend_sentence
from yarrowdew.figures.text.words import in_sentence
from yarrowdew.figures.wire.reports import (
    AssociationAnswer,
    CoefficientReport,
    CorrelationReport,
    FitReport,
    MeasureReport,
    SlopesAnswer,
    TrendAnswer,
    WithAll,
)


@dataclass(frozen=True, slots=True)
class Reading:
    """A line and what is said of it; a line that nothing can be said of has no fit.

    Attributes
    ----------
    sample : Sample
        The rows that it was to be fitted to.
    fit : TrendFit or None
    report : FitReport
    level : float
        Of its intervals.
    """

    sample: Sample
    fit: TrendFit | None
    report: FitReport
    level: float = 0.95


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
        Differences between readings of two groups.
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
    scales = points.document.axes
    axes = CurveAxes(points.x.origin, points.y.origin, scales.x.scale, scales.y.scale)
    trends = [TrendReadings(one, [reading_of(line) for line in one.lines]) for one in figure.trends]
    return Readings(
        trends,
        [answer for one in trends for answer in answers_to(one, points.groups, axes)],
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
                return Reading(
                    fitted.sample, fitted.fit, _report(fitted, fitted.fit), fitted.asked.level
                )
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


def _searched_p(fitted: Fitted, settings: object) -> float | None:
    """P value of what was searched for; None where the numbers are beyond what can be computed."""
    try:
        with computed("A test"):
            return fitted.asked.family.searched_p(fitted.sample, settings)
    except FitError:
        return None


def _correlation(fitted: Fitted, fit: TrendFit) -> Correlation:
    """R of a straight line by least squares, whose test it shares; of nothing else.

    With weights it is the root of R², with the sign of the slope.
    """
    line = unscaled(fit)
    nothing = Correlation(None, fit.n, None, None, None)
    if not isinstance(line, StraightLine) or line.intercept_given:
        return nothing
    if isinstance(line, CommonSlopeLine):
        return nothing
    if fitted.sample.weights is None:
        return fitted.correlation()
    if fit.r_squared is None:
        return nothing
    r = math.copysign(math.sqrt(max(0.0, fit.r_squared)), line.slope)
    return Correlation(r, fit.n, None, None, None)


def _coefficient_p(fit: TrendFit, c: Coefficient) -> float | None:
    """P value of a coefficient against zero, where it adds to y in proportion to itself."""
    line = unscaled(fit.inner if isinstance(fit, CovarianceFit) else fit)
    if isinstance(line, LineOnLogarithms):
        is_linear = c.name == "b"
    else:
        is_linear = isinstance(line, StraightLine | Polynomial)
    if not is_linear or c.was_given or not c.se:
        return None
    df = fit.test_df if isinstance(fit, CovarianceFit) else fit.degrees_of_freedom
    return t_p_value(c.value / c.se, df)


_ON_THE_LINE = 1e-9


def _below(fitted: Fitted, fit: TrendFit) -> tuple[int, int]:
    """How many rows lie below a line, and how many on it."""
    sample = fitted.sample
    off = sample.y - fit.predict(sample.x)
    on = np.abs(off) <= _ON_THE_LINE * float(np.abs(sample.y).max())
    return int(np.count_nonzero((off < 0) & ~on)), int(np.count_nonzero(on))


def _report(fitted: Fitted, fit: TrendFit) -> FitReport:
    asked, x, y = fitted.asked, fitted.x, fitted.y
    family = asked.family
    settings = family.settings() if asked.settings is None else asked.settings
    coefficients = fit.coefficients(asked.level)
    correlation = _correlation(fitted, fit)
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
            n=fit.n,
            p_value=fit.p_value,
            searched_p=_searched_p(fitted, settings),
            parameters=fit.parameters,
            below=_below(fitted, fit) if family.r_squared_about == "nothing" else None,
            r_squared_log=fit.r_squared_log,
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
                p_value=_coefficient_p(fit, c),
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
        measures=[MeasureReport(label=label, value=value) for label, value in fit.measures],
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
        assumptions=[*(each.text for each in fit.assumptions), *fitted.remarks],
    )


def answers_to(one: TrendReadings, colours: Groups | None, axes: CurveAxes) -> list[TrendAnswer]:
    """Say where the lines of a trend go, and what they say."""
    trend, groups = one.fitted.trend, one.fitted.groups
    # Two variables may have the same categories: only the one that colours gives its colours.
    in_colour = (
        groups is not None
        and colours is not None
        and groups.variable.name == colours.variable.name
        and groups.labels == colours.labels
    )
    values = {} if groups is None else groups.value_of
    return [
        TrendAnswer(
            trend=one.fitted.place,
            family_label=line.asked.spoken,
            group_code=colours.labels.index(line.group)
            if in_colour and colours is not None and line.group is not None
            else None,
            group_value=None if line.group is None else values.get(line.group),
            report=said.report,
            curve=None if said.fit is None else curve_of(said.fit, trend.bands, axes),
            carried=[]
            if said.fit is None
            else extensions_of(said.fit, trend.bands, axes, trend.carry),
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
    found = pearson(paired(points.x.values, points.y.values, set_aside=points.set_aside), level)
    if found.r is None:
        return None
    return AssociationAnswer(
        r=found.r, low=found.low, high=found.high, p_value=found.p_value, n=found.n, level=level
    )


def slopes_of(one: TrendReadings) -> list[SlopesAnswer]:
    """Say whether the groups of a trend share one slope, where it is a line."""
    groups = one.fitted.groups
    if groups is None:
        return []
    noun = in_sentence(groups.variable) if groups.variable.label else "variable"
    level = one.fitted.trend.level
    lines = [(line.group or "", line.fit) for line in one.fitted.compared]
    found = slopes_between(one.fitted.place, lines, noun, level)
    if found and one.fitted.own is not None:
        found[0].adjusted = adjusted_means(one.fitted.lines, level)
    return found
