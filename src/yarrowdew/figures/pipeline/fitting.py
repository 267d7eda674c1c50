"""The fits of a figure: one for every line that is asked for."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, replace
from typing import Any, Literal

import numpy as np

from yarrowdew.core.association import Correlation, pearson
from yarrowdew.core.checkpoints import checkpoint, part
from yarrowdew.core.diagnostics import cross_validation_error
from yarrowdew.core.equation import Style
from yarrowdew.core.errors import FitError
from yarrowdew.core.sample import Array, Mask, Sample
from yarrowdew.core.trends import Family, TrendFit, family_of, fit_trend
from yarrowdew.core.trends.common_slope import with_common_slope
from yarrowdew.core.trends.families.straight import FAMILY as LINE
from yarrowdew.core.trends.families.straight import StraightLine
from yarrowdew.core.trends.protocol import BandKind, Errors
from yarrowdew.core.weights import Weights, WeightsAre, weighed
from yarrowdew.figures.document.trends import TrendPart
from yarrowdew.figures.pipeline.axis_values import AxisValues
from yarrowdew.figures.pipeline.groups import Groups, names_group
from yarrowdew.figures.pipeline.points import Points
from yarrowdew.tables.categories import CategoryLabel
from yarrowdew.tables.errors import TableError
from yarrowdew.tables.table import Table, Variable, axis_values

MOST_LINES = 200
"""For so many groups at most a line is fitted to each."""


@dataclass(frozen=True, slots=True)
class ReadOffs:
    """Numbers to be read off: places on the axes, with what the reader calls them."""

    at: Sequence[tuple[float, str | None]] = ()
    levels: Sequence[tuple[float, str | None]] = ()


@dataclass(frozen=True, slots=True)
class FitRequest:
    """What is to be fitted, and how it is written.

    Attributes
    ----------
    family : Family
    settings : dataclass or None
        What was set about the family; as it begins where None.
    level : float
        Of every interval.
    read_off : callable
        From a group to what is read off its line.
    carry : tuple of float
        How far the trend is drawn before and after the data.
    digits : int or None
        Of the equation; as few as land on the line where None.
    letters : {"x", "variables"}
        Whether the equation speaks of x and y, or of the variables.
    style : {"typographic", "plain"}
        How the equation is written.
    errors : {"equal", "hc3", "bootstrap", "given"}
        What standard errors rest on.
    seed : int
        Of rows that are drawn again.
    resamples : int or None
        How often they are; as often as suits so many rows where None.
    band : {"confidence", "whole line"}
        Whose interval a number that is read off has.
    """

    family: Family[Any] = LINE
    settings: Any = None
    level: float = 0.95
    read_off: Callable[[CategoryLabel | None], ReadOffs] = lambda _: ReadOffs()
    carry: tuple[float, float] = (0.0, 0.0)
    digits: int | None = None
    letters: Literal["x", "variables"] = "x"
    style: Style = "typographic"
    errors: Errors = "equal"
    seed: int = 1
    resamples: int | None = None
    band: BandKind = "confidence"

    @property
    def spoken(self) -> str:
        """What the family is called, with what was set about it."""
        return self.family.spoken(self.settings or self.family.settings())


@dataclass(frozen=True, slots=True)
class Fitted:
    """One line: the rows that it was to be fitted to, and its fit.

    Attributes
    ----------
    asked : FitRequest
    group : str or None
        The group fitted; None for the whole.
    x, y : AxisValues
        Where the values come from; `y` names what goes up in this group.
    sample : Sample
    fit : TrendFit or None
        None where there is none.
    problem : str or None
        Why there is none.
    """

    asked: FitRequest
    group: CategoryLabel | None
    x: AxisValues
    y: AxisValues
    sample: Sample
    fit: TrendFit | None
    problem: str | None = None

    @property
    def n(self) -> int:
        """How many rows it was to be fitted to."""
        return self.sample.n

    @property
    def dropped(self) -> dict[str, int]:
        """How many rows were left out, by reason."""
        return self.sample.dropped

    @property
    def y_span(self) -> float:
        """From the smallest y to the largest."""
        return float(self.sample.y.max()) - float(self.sample.y.min())

    @property
    def said_first(self) -> str:
        """What has to be said with the sentence of the fit; empty where nothing has."""
        return ""

    @property
    def remarks(self) -> list[str]:
        """What has to be known of its rows, as sentences."""
        return []

    def correlation(self) -> Correlation:
        """How x and y go together."""
        return pearson(self.sample, self.asked.level)

    def left_out_error(self, fit: TrendFit) -> float | None:
        """How far rows lie from the trend fitted without them."""
        return cross_validation_error(fit, self.sample)

    def failed(self, problem: str) -> Fitted:
        """The same without a fit."""
        return replace(self, fit=None, problem=problem)


@dataclass(frozen=True, slots=True)
class FittedTrend:
    """A trend of a document, and its line for the whole or for each group.

    Attributes
    ----------
    place : int
        Which of the document's trends.
    trend : TrendPart
    groups : Groups or None
        For each of which a line is fitted.
    weights : Weights or None
    lines : list of Fitted
    with_all : list of Fitted or None
        The same lines with the rows that are set aside, where there are any.
    own : sequence of Fitted or None
        The lines before they were made parallel, where they are.
    """

    place: int
    trend: TrendPart
    groups: Groups | None
    weights: Weights | None
    lines: list[Fitted]
    with_all: Sequence[Fitted | None]
    own: Sequence[Fitted] | None = None

    @property
    def compared(self) -> Sequence[Fitted]:
        """The lines whose slopes are compared: each with its own."""
        return self.lines if self.own is None else self.own


@dataclass(frozen=True, slots=True)
class FittedFigure:
    """All trends of a figure, fitted; and those that could not be asked for, as sentences."""

    points: Points
    trends: list[FittedTrend]
    problems: list[str]


def fitted_of(points: Points) -> FittedFigure:
    """Fit every trend of a figure."""
    out = FittedFigure(points, [], [])
    for place, trend in enumerate(points.document.trends):
        try:
            with part(place, len(points.document.trends)):
                out.trends.append(fit_of(points, place, trend, also_with_all=True))
        except TableError as error:
            out.problems.append(str(error))
    return out


def fit_of(
    points: Points, place: int, trend: TrendPart, *, also_with_all: bool = False
) -> FittedTrend:
    """Fit one trend of a document; where asked for, once more with the rows that are set aside.

    Raises
    ------
    TableError
        If its groups are too many, or its weights hold words.
    """
    groups = groups_of(trend, points)
    weights = weights_of(trend.weights, trend.weights_are, points.table, trend.errors)
    asked = request_of(trend, points.x, points.y, groups)

    def lines(set_aside: Mask | None) -> list[Fitted]:
        return fit_groups(
            asked,
            points.x,
            points.y,
            groups=groups,
            ups=None if points.series is None else points.ups,
            weights=weights,
            set_aside=set_aside,
            errors=errors_of(asked.family, points),
            clusters=clusters_of(trend, points.table),
        )

    again = also_with_all and bool(points.set_aside.any())
    with part(0, 1 + again):
        own = lines(points.set_aside)
    made = parallel(trend, own)
    held = own if made is not own else None
    if not again:
        return FittedTrend(place, trend, groups, weights, made, [None] * len(made), held)
    with part(1, 2):
        return FittedTrend(place, trend, groups, weights, made, parallel(trend, lines(None)), held)


def parallel(trend: TrendPart, lines: list[Fitted]) -> list[Fitted]:
    """Give lines of groups one slope, where that is asked for; else the same lines."""
    if trend.slopes == "own" or trend.by is None:
        return lines
    return made_parallel(lines, is_plain=trend.weights is None and trend.errors == "equal")


def made_parallel(lines: list[Fitted], *, is_plain: bool) -> list[Fitted]:
    """Give lines of groups one slope, or say why they cannot have one.

    Parameters
    ----------
    lines : list of Fitted
        Each with its own slope.
    is_plain : bool
        Whether rows count as equal, and the scatter as equal everywhere.
    """
    try:
        if any(line.asked.family.name != LINE.name for line in lines):
            raise FitError(
                "Only straight lines can have a common slope.",
                "Choose a straight line, or let each category have its own.",
            )
        if not is_plain:
            raise FitError(
                "A common slope takes rows as equal and the scatter as equal everywhere.",
                "Leave weights and other standard errors out, or let each category have its own.",
            )
        made = [line for line in lines if isinstance(line.fit, StraightLine)]
        fits = with_common_slope([f for line in made if isinstance(f := line.fit, StraightLine)])
    except FitError as error:
        return [line.failed(str(error)) for line in lines]
    common = dict(zip(map(id, made), fits, strict=True))
    return [replace(line, fit=common.get(id(line), line.fit)) for line in lines]


def request_of(
    trend: TrendPart, x: AxisValues, y: AxisValues, groups: Groups | None = None
) -> FitRequest:
    """Turn a trend of a document into what is to be fitted."""
    values = {} if groups is None else groups.value_of

    def read_off(label: CategoryLabel | None) -> ReadOffs:
        value = None if label is None else values.get(label)
        wanted = [r for r in trend.read_off if names_group(r.group, label, value)]
        return ReadOffs(
            at=[(r.at - x.origin, r.name) for r in wanted if r.at is not None],
            levels=[(r.level - y.origin, r.name) for r in wanted if r.level is not None],
        )

    return FitRequest(
        family=family_of(trend.family),
        settings=trend.chosen(),
        level=trend.level,
        read_off=read_off,
        carry=(trend.carry.before, trend.carry.after),
        digits=trend.digits,
        letters=trend.letters,
        errors=trend.errors,
        seed=trend.seed,
    )


def clusters_of(trend: TrendPart, table: Table) -> np.ndarray | None:
    """What each row belongs to, where standard errors are by cluster."""
    if trend.errors != "cluster" or trend.clusters is None:
        return None
    return cluster_codes(table, trend.clusters)


def cluster_codes(table: Table, name: str) -> np.ndarray:
    """Number the values of a variable; a row without one belongs to no other."""
    column = table.frame[table.variable(name).name]
    codes = column.rank("dense").fill_null(0).cast(int).to_numpy().astype(np.intp)
    alone = np.flatnonzero(codes == 0)
    codes[alone] = codes.max(initial=0) + 1 + np.arange(len(alone))
    return codes


def weights_of(
    name: str | None, are: WeightsAre, table: Table, errors: Errors = "equal"
) -> Weights | None:
    """Take the weights of rows; those of standard errors are 1/SE².

    Raises
    ------
    TableError
        If the variable holds no numbers, or not what it is said to be.
    """
    if errors == "given" and (name is None or are != "standard_errors"):
        raise TableError(
            "Intervals cannot rest on the standard errors of y: none are given.",
            "Choose a variable as weights and say that it holds standard errors.",
            column=name,
        )
    if name is None:
        return None
    variable = table.axis_variable(name, "a variable of weights")
    values = axis_values(table.frame[variable.name])
    try:
        return Weights.of(values, are, as_given=errors == "given")
    except FitError as error:
        raise TableError(f"'{name}': {error.message}", error.remedy, column=name) from error


def errors_of(family: Family[Any], points: Points) -> tuple[Array, Array] | None:
    """Take standard errors of x and y from the error bars, where the family needs them."""
    ends = [points.bars.get(end) for end in ("x_low", "x_high", "y_low", "y_high")]
    if "error bars" not in family.needs or any(end is None for end in ends):
        return None
    x_low, x_high, y_low, y_high = (end for end in ends if end is not None)
    # Of bars that are longer to one side, the mean of both.
    return (x_high - x_low) / 2, (y_high - y_low) / 2


def groups_of(trend: TrendPart, points: Points) -> Groups | None:
    """Tell apart the rows that a trend is fitted to each by itself."""
    if points.series is not None:
        return points.series
    if trend.by is None:
        return None
    groups = Groups.of(points.table, trend.by)
    there = len(groups.present())
    if there > MOST_LINES:
        raise TableError(
            f"'{trend.by}' has {there:,} categories; a line can be fitted to each of at most "
            f"{MOST_LINES}.",
            "Fit one line for all rows, or choose a variable with fewer categories.",
            column=trend.by,
        )
    return groups


def fit_groups(
    asked: FitRequest,
    x: AxisValues,
    y: AxisValues,
    *,
    groups: Groups | None = None,
    ups: Sequence[Variable] | None = None,
    weights: Weights | None = None,
    set_aside: Mask | None = None,
    errors: tuple[Array, Array] | None = None,
    clusters: np.ndarray | None = None,
) -> list[Fitted]:
    """Fit a trend to the whole, or to each group.

    A group too small to fit is there with its problem, not skipped.

    Parameters
    ----------
    asked : FitRequest
    x, y : AxisValues
    groups : Groups, optional
    ups : sequence of Variable, optional
        What goes up in each group, where that differs.
    weights : Weights, optional
    set_aside : ndarray of bool, shape (rows,), optional
    errors : tuple of ndarray, shape (rows,) each, optional
        Standard errors of x and y.
    clusters : ndarray of intp, shape (rows,), optional
        What each row belongs to.
    """
    samples = list(_samples(x, y, groups, weights=weights, set_aside=set_aside, errors=errors))
    made = []
    for i, (code, label, sample) in enumerate(samples):
        with part(i, len(samples)):
            if clusters is not None:
                sample = replace(sample, clusters=clusters[sample.rows])  # noqa: PLW2901
            up = y if ups is None else replace(y, variable=ups[code])
            made.append(_fit_one(asked, label, sample, x, up))
    return made


def lines_of(
    x: AxisValues,
    y: AxisValues,
    groups: Groups | None,
    *,
    settings: Any = None,
    weights: Weights | None = None,
    set_aside: Mask | None = None,
) -> dict[str, TrendFit]:
    """Fit straight lines and nothing beside them; see `fit_groups`. Those that fail are left
    out.
    """
    lines = {}
    for _, label, sample in _samples(x, y, groups, weights=weights, set_aside=set_aside):
        try:
            lines[label or ""] = fit_trend(sample, LINE.name, settings)
        except FitError:
            continue
    return lines


def _samples(
    x: AxisValues,
    y: AxisValues,
    groups: Groups | None,
    *,
    weights: Weights | None,
    set_aside: Mask | None,
    errors: tuple[Array, Array] | None = None,
) -> Iterator[tuple[int, CategoryLabel | None, Sample]]:
    """Give the rows of the whole, or of each group that has any, with its code and label."""
    xs, ys = x.fitted(), y.fitted()
    if groups is None:
        yield 0, None, weighed(xs, ys, weights, set_aside, errors)
        return
    counts = np.bincount(groups.codes, minlength=Groups.NONE + 1)[: len(groups.labels)]
    # Put together once, the rows of each group are a stretch.
    together = np.argsort(groups.codes, kind="stable")
    ends = np.cumsum(counts)
    for code, label in enumerate(groups.labels):
        if not counts[code]:
            continue
        rows = together[ends[code] - counts[code] : ends[code]]
        sample = weighed(
            xs[rows],
            ys[rows],
            None if weights is None else weights.take(rows),
            None if set_aside is None else set_aside[rows],
            errors and (errors[0][rows], errors[1][rows]),
        )
        yield code, label, replace(sample, rows=sample.of_those_kept(rows))


def _fit_one(
    asked: FitRequest, label: CategoryLabel | None, sample: Sample, x: AxisValues, y: AxisValues
) -> Fitted:
    checkpoint()
    fitted = Fitted(asked, label, x, y, sample, None)
    try:
        name, settings = asked.family.name, asked.settings
        fit = fit_trend(sample, name, settings, asked.errors, asked.seed, resamples=asked.resamples)
        return replace(fitted, fit=fit)
    except FitError as error:
        return fitted.failed(str(error))
