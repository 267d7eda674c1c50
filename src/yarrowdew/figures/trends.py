"""The trends of a figure: where they go, and what they say."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from pydantic import BaseModel, ConfigDict

from yarrowdew.core.arithmetic import between, computed, scaled
from yarrowdew.core.association import pearson
from yarrowdew.core.groups import compare_slopes
from yarrowdew.core.sample import Array, paired
from yarrowdew.core.trends import TrendFit
from yarrowdew.core.trends.base import BandKind
from yarrowdew.core.trends.straight import StraightLine
from yarrowdew.figures.cautions import (
    Caution,
    comparability_caution,
    group_cautions,
    trend_cautions,
)
from yarrowdew.figures.document import FigureDocument
from yarrowdew.figures.parts import Trend
from yarrowdew.figures.report import (
    MOST_LINES,
    Axis,
    FitAsked,
    FitReport,
    Fitted,
    Groups,
    Number,
    ReadOffs,
    family_label,
    fit_groups,
    lines_of,
)
from yarrowdew.figures.shown import Amounts, Shown
from yarrowdew.figures.words import in_sentence, number, p_text
from yarrowdew.tables.errors import TableError
from yarrowdew.tables.table import axis_values

CURVE_POINTS = 129
CARRIED_POINTS = 33


class _Answer(BaseModel):
    model_config = ConfigDict(use_attribute_docstrings=True)


class BandCurve(_Answer):
    """A band at each x of its trend's curve."""

    kind: BandKind
    level: float
    low: list[Number]
    high: list[Number]


class TrendCurve(_Answer):
    """A fitted line as it is drawn, in places on the axes; null where it has a gap."""

    x: list[float]
    y: list[Number]
    bands: list[BandCurve]


class WithAll(_Answer):
    """What a line would say if nothing were set aside."""

    n: int
    slope: float | None
    r_squared: float | None


class TrendAnswer(_Answer):
    """One fitted line: where it goes and what it says."""

    trend: int
    """Which of the document's trends."""
    family_label: str
    group_code: int | None
    """Place of its group among the colour's categories; null where it has no such colour."""
    report: FitReport
    curve: TrendCurve | None
    """Null where there is no fit."""
    carried: list[TrendCurve] = []
    """What is drawn before and after the data."""
    with_all: WithAll | None
    """With the rows that are set aside; null where none of them is."""


class SlopesAnswer(_Answer):
    """Whether the groups of a trend share one slope."""

    trend: int
    sentence: str
    slope: float
    """The common slope."""
    f: float
    df_groups: int
    df_rest: int
    p_value: float


class AssociationAnswer(_Answer):
    """How the two variables go together, where no trend is fitted."""

    r: float
    low: float | None
    high: float | None
    p_value: float | None
    n: int
    level: float


@dataclass(frozen=True, slots=True)
class Trends:
    """All trends of a figure.

    Attributes
    ----------
    answers : list of TrendAnswer
    fitted : list of Fitted
        In the same order.
    slopes : list of SlopesAnswer
    cautions : list of Caution
    problems : list of str
    """

    answers: list[TrendAnswer]
    fitted: list[Fitted]
    slopes: list[SlopesAnswer]
    cautions: list[Caution]
    problems: list[str]


def asked_of(trend: Trend, x: Axis, y: Axis) -> FitAsked:
    """Turn a trend of a document into what is to be fitted."""

    def read_off(group: str | None) -> ReadOffs:
        wanted = [r for r in trend.read_off if r.group is None or r.group == group]
        return ReadOffs(
            at=[(r.at - x.origin, r.name) for r in wanted if r.at is not None],
            levels=[(r.level - y.origin, r.name) for r in wanted if r.level is not None],
        )

    return FitAsked(
        family=trend.family,
        settings=trend.form.settings(),
        level=trend.level,
        read_off=read_off,
        carry=(trend.carry.before, trend.carry.after),
        digits=trend.digits,
        letters=trend.letters,
    )


def weights_of(trend: Trend, shown: Shown) -> Array | None:
    """Take a trend's weights; those of standard errors are 1/SE²."""
    if trend.weights is None:
        return None
    variable = shown.table.axis_variable(trend.weights, "as weights")
    values = axis_values(shown.table.frame[variable.name])
    if trend.weights_are == "weights":
        return values
    with np.errstate(all="ignore"):
        inner, _ = scaled(values)
        return np.where(values > 0, 1 / inner**2, np.nan)


def groups_of(trend: Trend, shown: Shown) -> Groups | None:
    """Tell apart the rows that a trend is fitted to each by itself."""
    if shown.series is not None:
        return shown.series
    if trend.by is None:
        return None
    groups = Groups.of(shown.table, trend.by)
    there = len(groups.present())
    if there > MOST_LINES:
        raise TableError(
            f"'{trend.by}' has {there:,} categories; a line can be fitted to each of at most "
            f"{MOST_LINES}.",
            "Fit one line for all rows, or choose a variable with fewer categories.",
            column=trend.by,
        )
    return groups


def fits_of(
    trend: Trend, shown: Shown, groups: Groups | None, set_aside: np.ndarray | None
) -> list[Fitted]:
    """Fit a trend of a document."""
    return fit_groups(
        asked_of(trend, shown.x, shown.y),
        shown.x,
        shown.y,
        groups=groups,
        ups=shown.ups if shown.series is not None else None,
        weights=weights_of(trend, shown),
        set_aside=set_aside,
    )


def trends_of(
    document: FigureDocument,
    shown: Shown,
    *,
    coloured: Groups | Amounts | None,
    aside: np.ndarray,
    cautioned: bool = True,
) -> Trends:
    """Fit every trend of a document, and say what it says."""
    out = Trends([], [], [], [], [])
    colours = coloured if isinstance(coloured, Groups) else None
    some_aside = bool(aside.any())
    for place, trend in enumerate(document.trends):
        try:
            groups = groups_of(trend, shown)
            fits = fits_of(trend, shown, groups, aside)
            every = fits_of(trend, shown, groups, None) if some_aside else [None] * len(fits)
        except TableError as error:
            out.problems.append(str(error))
            continue
        # Two variables may have the same categories: only the one that colours gives its colours.
        in_colour = (
            groups is not None
            and colours is not None
            and groups.variable.name == colours.variable.name
            and groups.labels == colours.labels
        )
        for one, whole in zip(fits, every, strict=True):
            out.fitted.append(one)
            out.answers.append(
                TrendAnswer(
                    trend=place,
                    family_label=family_label(trend.family),
                    group_code=colours.labels.index(one.report.group)
                    if in_colour and colours is not None and one.report.group is not None
                    else None,
                    report=one.report,
                    curve=None if one.fit is None else _curve(one.fit, trend, shown),
                    carried=[] if one.fit is None else _carried(one.fit, trend, shown),
                    with_all=_with_all(one, whole),
                )
            )
        if not cautioned:
            continue
        out.slopes.extend(_slopes(place, fits, groups))
        out.cautions.extend(
            _group_cautions(trend, shown, fits, groups=groups, colours=colours, aside=aside)
        )
        out.cautions.extend(trend_cautions(fits, shown.rows, trend.family))
    out.cautions.extend(comparability_caution(out.fitted))
    return Trends(out.answers, out.fitted, out.slopes, _once(out.cautions), out.problems)


def association_of(
    shown: Shown, aside: np.ndarray, level: float = 0.95
) -> AssociationAnswer | None:
    """Correlate the two variables of a figure; None where there is nothing to correlate."""
    if shown.series is not None:
        return None
    found = pearson(paired(shown.x.values, shown.y.values, set_aside=aside), level)
    if found.r is None:
        return None
    return AssociationAnswer(
        r=found.r, low=found.low, high=found.high, p_value=found.p_value, n=found.n, level=level
    )


def _group_cautions(
    trend: Trend,
    shown: Shown,
    fits: Sequence[Fitted],
    *,
    groups: Groups | None,
    colours: Groups | None,
    aside: np.ndarray,
) -> list[Caution]:
    told_apart = groups or colours
    if shown.series is not None or told_apart is None or len(told_apart.labels) < 2:
        return []
    # Whether groups go the other way is a matter of straight lines, whatever form is drawn.
    is_line = trend.family == "straight"

    def lines(of: Groups | None) -> dict[str, TrendFit]:
        if is_line and of is groups:
            return {one.report.group or "": one.fit for one in fits if one.fit is not None}
        return lines_of(
            shown.x,
            shown.y,
            of,
            settings=trend.form.settings(),
            weights=weights_of(trend, shown),
            set_aside=aside,
        )

    whole = lines(None).get("")
    if whole is None:
        return []
    return group_cautions(
        whole,
        lines(told_apart),
        shown.x,
        told_apart,
        level=trend.level,
        fitted_each=groups is not None,
    )


def _slopes(place: int, fits: Sequence[Fitted], groups: Groups | None) -> list[SlopesAnswer]:
    lines = [one.fit for one in fits if isinstance(one.fit, StraightLine)]
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
            trend=place,
            sentence=sentence,
            slope=found.slope,
            f=found.f,
            df_groups=found.df_groups,
            df_rest=found.df_rest,
            p_value=found.p_value,
        )
    ]


def _with_all(one: Fitted, every: Fitted | None) -> WithAll | None:
    if every is None or every.report.n == one.report.n:
        return None
    slope = next((c.value for c in every.report.coefficients if c.name == "b"), None)
    return WithAll(n=every.report.n, slope=slope, r_squared=every.report.r_squared)


def _once(cautions: list[Caution]) -> list[Caution]:
    seen: dict[str, Caution] = {}
    for caution in cautions:
        seen.setdefault(caution.title + caution.text, caution)
    return list(seen.values())


def _curve(fit: TrendFit, trend: Trend, shown: Shown) -> TrendCurve:
    return _curve_at(fit, trend, shown, fit.drawn_at(CURVE_POINTS))


def _carried(fit: TrendFit, trend: Trend, shown: Shown) -> list[TrendCurve]:
    low, high = fit.x_range
    ends = []
    if trend.carry.before > 0:
        ends.append((low - trend.carry.before, low))
    if trend.carry.after > 0:
        ends.append((high, high + trend.carry.after))
    return [_curve_at(fit, trend, shown, between(*end, CARRIED_POINTS)) for end in ends]


def _curve_at(fit: TrendFit, trend: Trend, shown: Shown, at: Array) -> TrendCurve:
    x, y = shown.x, shown.y
    bands = []
    at = at[np.isfinite(at + x.origin)]
    with computed("This trend"):
        fitted = fit.predict(at) + y.origin
    for band in trend.bands:
        with computed("This band"):
            found = fit.band(at, band.level, band.kind)
        if found is None:
            continue
        bands.append(
            BandCurve(
                kind=band.kind,
                level=band.level,
                low=(found.low + y.origin).tolist(),
                high=(found.high + y.origin).tolist(),
            )
        )
    return TrendCurve(x=(at + x.origin).tolist(), y=fitted.tolist(), bands=bands)
