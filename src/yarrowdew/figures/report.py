"""A fitted trend as the screen, the API and the command line report it."""

from __future__ import annotations

import math
from collections import Counter
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, field, replace
from typing import Annotated, Literal

import numpy as np
import numpy.typing as npt
import polars as pl
from pydantic import BaseModel, BeforeValidator, ConfigDict

from yarrowdew.core.arithmetic import between, computed
from yarrowdew.core.association import pearson
from yarrowdew.core.checkpoints import checkpoint
from yarrowdew.core.diagnostics import left_out_error
from yarrowdew.core.equation import Style, round_place
from yarrowdew.core.errors import FitError
from yarrowdew.core.readoff import read_at, solve_for
from yarrowdew.core.sample import Array, Mask, Sample, paired
from yarrowdew.core.trends import FAMILIES, TrendFit, TrendSettings, fit_trend
from yarrowdew.figures.words import in_sentence, trend_sentence
from yarrowdew.tables.categories import CategoryLook, in_order
from yarrowdew.tables.errors import TableError
from yarrowdew.tables.naming import distinct_names
from yarrowdew.tables.table import (
    Kind,
    Table,
    Variable,
    axis_values,
    categories_of,
    date_on_axis,
)

MOST_GROUPS = 48
MOST_LINES = 200
"""For so many groups at most a line is fitted to each."""


def _finite(value: object) -> object:
    return None if isinstance(value, float) and not math.isfinite(value) else value


Number = Annotated[float | None, BeforeValidator(_finite)]
Place = Annotated[float | str | None, BeforeValidator(_finite)]
"""A number on an axis, or a date as ISO text."""


class _Report(BaseModel):
    model_config = ConfigDict(use_attribute_docstrings=True)


class CoefficientReport(_Report):
    """A coefficient, its standard error and interval."""

    name: str
    value: Number
    se: Number
    low: Number
    high: Number


class ReadingReport(_Report):
    """y at an x, with the interval of the mean and of a new row."""

    x: Place
    y: Place
    mean_low: Place
    mean_high: Place
    new_low: Place
    new_high: Place
    carried_on: bool
    """Whether x lies outside the data."""
    name: str | None = None
    """What the reader calls it."""
    x_place: Number = None
    """x on the axis; dates in days since 1970-01-01."""
    y_place: Number = None


class SolutionReport(_Report):
    """x at a y; an end of the interval that is open is null."""

    y: Place
    x: Place
    low: Place
    high: Place
    carried_on: bool
    note: str
    name: str | None = None
    x_place: Number = None
    y_place: Number = None
    low_place: Number = None
    high_place: Number = None


class FitReport(_Report):
    """What one fit says; a value that does not exist is null."""

    group: str | None
    """The category fitted; null for the whole."""
    family: str
    equation: str | None
    equation_note: str = ""
    """What x or y stands for where it is a date."""
    n: int
    dropped: dict[str, int]
    """How many rows were left out, by reason."""
    level: float
    coefficients: list[CoefficientReport]
    degrees_of_freedom: Number = None
    r_squared: Number = None
    adjusted_r_squared: Number = None
    r_squared_log: Number = None
    """On the scale of ln y, where the fit was made there."""
    residual_sd: Number = None
    aicc: Number = None
    left_out_error: Number = None
    """Root mean square distance of rows from the trend fitted without them."""
    parameters: Number = None
    """How many coefficients it has, or what a smooth is worth."""
    r: Number = None
    r_low: Number = None
    r_high: Number = None
    p_value: Number = None
    readings: list[ReadingReport]
    solutions: list[SolutionReport]
    sentence: str = ""
    """What the fit means, in plain words."""
    assumptions: list[str]
    problem: str | None = None
    """Why there is no fit; null where there is one."""


@dataclass(frozen=True, slots=True)
class Axis:
    """A variable on an axis, as fits see it: dates count from the first one."""

    variable: Variable
    values: Array
    origin: float

    @classmethod
    def of(cls, table: Table, name: str, place: str) -> Axis:
        """Take a variable of a table; raise TableError where it has no place on an axis."""
        variable = table.axis_variable(name, place)
        values = axis_values(table.frame[variable.name])
        origin = 0.0
        if variable.kind is Kind.DATE and np.isfinite(values).any():
            origin = math.floor(float(np.nanmin(values)))
        return cls(variable, values, origin)

    def fitted(self) -> Array:
        """Values as they are fitted."""
        return self.values - self.origin if self.origin else self.values

    def note(self, letter: str) -> str:
        """Say what a letter of the equation stands for, where it is a date."""
        if self.variable.kind is not Kind.DATE:
            return ""
        return f"{letter} in days since {date_on_axis(self.origin).date().isoformat()}"

    def shown(self, value: float | None) -> float | str | None:
        """Turn a fitted value into what a reader sees: a number, or a date as ISO text."""
        if value is None or self.variable.kind is not Kind.DATE or not math.isfinite(value):
            return value
        try:
            moment = date_on_axis(self.origin + value)
        except OverflowError:
            return None
        return moment.isoformat(timespec="minutes") if value % 1 else moment.date().isoformat()

    def asked(self, text: str) -> float:
        """Turn a reader's number, or date as ISO text, into a fitted value."""
        try:
            if self.variable.kind is Kind.DATE:
                return float(np.datetime64(text, "D").astype(int)) - self.origin
            value = float(text)
            if math.isfinite(value):
                return value
        except ValueError:
            pass
        wanted = "a date such as 2031-04-01" if self.variable.kind is Kind.DATE else "a number"
        raise TableError(
            f"'{text}' is not {wanted}.",
            f"'{self.variable.name}' is read off at {wanted}.",
            column=self.variable.name,
        )


@dataclass(frozen=True, slots=True)
class Fitted:
    """One fit of a trend: its report, and the fit itself where there is one."""

    report: FitReport
    sample: Sample
    fit: TrendFit | None


@dataclass(frozen=True, slots=True)
class Groups:
    """Rows told apart by a variable.

    Attributes
    ----------
    variable : Variable
    labels : list of str
        As figures call them, in the order in which they are shown.
    looks : list of CategoryLook
        One for each label.
    codes : ndarray of uint16, shape (rows,)
        Place in `labels`; `Groups.NONE` where missing.
    """

    variable: Variable
    labels: list[str]
    looks: list[CategoryLook]
    codes: np.ndarray

    NONE = 65_535

    @classmethod
    def of(cls, table: Table, name: str) -> Groups:
        """Tell the rows of a table apart by a variable; numbers and dates by each distinct value.

        Raises
        ------
        TableError
            If it has more distinct values than can be told apart.
        """
        variable = table.variable(name)
        column = table.frame[variable.name]
        if variable.kind is not Kind.CATEGORY:
            distinct = column.drop_nulls().unique().sort()
            if len(distinct) > MOST_GROUPS:
                raise TableError(
                    f"'{variable.name}' has {len(distinct):,} different values; "
                    f"at most {MOST_GROUPS} groups can be told apart.",
                    "Choose a variable with fewer values.",
                    column=variable.name,
                )
            if variable.kind is Kind.NUMBER:
                # −0 and 0 are one value.
                column = column + 0.0
                distinct = column.drop_nulls().unique().sort()
                values = [f"{v:g}" for v in distinct]
                # Six digits may not tell two values apart; all of them always do.
                values = values if len(set(values)) == len(values) else [repr(v) for v in distinct]
            else:
                values = [str(v) for v in distinct]
            codes = _codes(column, distinct)
        else:
            values = categories_of(column)
            if len(values) >= cls.NONE:
                raise TableError(
                    f"'{variable.name}' has {len(values):,} categories; "
                    f"at most {cls.NONE - 1:,} can be told apart.",
                    "Read it as text, or derive one with fewer.",
                    column=variable.name,
                )
            codes = column.to_physical().cast(pl.UInt16).fill_null(cls.NONE).to_numpy()
        looks, places = in_order(table.looks.get(variable.name, ()), values)
        if places != list(range(len(places))):
            reordered = np.full(cls.NONE + 1, cls.NONE, dtype=np.uint16)
            reordered[: len(places)] = places
            codes = reordered[codes]
        labels = told_apart([look.shown for look in looks], [look.value for look in looks])
        return cls(variable, labels, looks, codes)

    def present(self) -> npt.NDArray[np.intp]:
        """Codes of the groups that some row belongs to."""
        counts = np.bincount(self.codes, minlength=self.NONE + 1)[: self.NONE]
        return np.flatnonzero(counts)


def told_apart(labels: Sequence[str], names: Sequence[str]) -> list[str]:
    """Labels of which no two are alike: those that are get their own name beside them."""
    counts = Counter(labels)
    beside = [
        label if counts[label] == 1 else f"{label} ({name})"
        for label, name in zip(labels, names, strict=True)
    ]
    return beside if len(set(beside)) == len(beside) else distinct_names(beside)


def _codes(column: pl.Series, distinct: pl.Series) -> np.ndarray:
    places = pl.int_range(len(distinct), dtype=pl.UInt16, eager=True)
    return column.replace_strict(
        distinct, places, default=Groups.NONE, return_dtype=pl.UInt16
    ).to_numpy()


@dataclass(frozen=True, slots=True)
class ReadOffs:
    """Numbers to be read off: places on the axes, with what the reader calls them."""

    at: Sequence[tuple[float, str | None]] = ()
    levels: Sequence[tuple[float, str | None]] = ()


@dataclass(frozen=True, slots=True)
class FitAsked:
    """What is to be fitted, and how it is written.

    Attributes
    ----------
    family : str
        A key of the registry.
    settings : TrendSettings
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
    """

    family: str = "straight"
    settings: TrendSettings = field(default_factory=TrendSettings)
    level: float = 0.95
    read_off: Callable[[str | None], ReadOffs] = lambda _: ReadOffs()
    carry: tuple[float, float] = (0.0, 0.0)
    digits: int | None = None
    letters: Literal["x", "variables"] = "x"
    style: Style = "typographic"


def fit_groups(
    asked: FitAsked,
    x: Axis,
    y: Axis,
    *,
    groups: Groups | None = None,
    ups: Sequence[Variable] | None = None,
    weights: Array | None = None,
    set_aside: Mask | None = None,
) -> list[Fitted]:
    """Fit a trend to the whole, or to each group.

    A group too small to fit is reported with its problem, not skipped.

    Parameters
    ----------
    asked : FitAsked
    x, y : Axis
    groups : Groups, optional
    ups : sequence of Variable, optional
        What goes up in each group, where that differs.
    weights : ndarray, shape (rows,), optional
    set_aside : ndarray of bool, shape (rows,), optional
    """
    return [
        _fit_one(asked, label, sample, x, y if ups is None else replace(y, variable=ups[code]))
        for code, label, sample in _samples(x, y, groups, weights=weights, set_aside=set_aside)
    ]


def lines_of(
    x: Axis,
    y: Axis,
    groups: Groups | None,
    *,
    settings: TrendSettings,
    weights: Array | None = None,
    set_aside: Mask | None = None,
) -> dict[str, TrendFit]:
    """Fit straight lines and nothing beside them; see `fit_groups`. Those that fail are left out."""
    lines = {}
    for _, label, sample in _samples(x, y, groups, weights=weights, set_aside=set_aside):
        try:
            lines[label or ""] = fit_trend("straight", sample, settings)
        except FitError:
            continue
    return lines


def _samples(
    x: Axis, y: Axis, groups: Groups | None, *, weights: Array | None, set_aside: Mask | None
) -> Iterator[tuple[int, str | None, Sample]]:
    """Give the rows of the whole, or of each group that has any, with its code and label."""
    xs, ys = x.fitted(), y.fitted()
    if groups is None:
        yield 0, None, paired(xs, ys, weights, set_aside)
        return
    present = np.bincount(groups.codes, minlength=Groups.NONE + 1)[: len(groups.labels)]
    for code, label in enumerate(groups.labels):
        if not present[code]:
            continue
        rows = np.flatnonzero(groups.codes == code)
        sample = paired(
            xs[rows],
            ys[rows],
            None if weights is None else weights[rows],
            None if set_aside is None else set_aside[rows],
        )
        yield (
            code,
            label,
            Sample(sample.x, sample.y, sample.weights, rows[sample.rows], sample.dropped),
        )


def _fit_one(asked: FitAsked, label: str | None, sample: Sample, x: Axis, y: Axis) -> Fitted:
    report = FitReport(
        group=label,
        family=asked.family,
        equation=None,
        n=sample.n,
        dropped=sample.dropped,
        level=asked.level,
        coefficients=[],
        readings=[],
        solutions=[],
        assumptions=[],
    )
    checkpoint()
    try:
        with computed(f"This {family_label(asked.family)}"):
            return _reported(asked, label, sample, x, y)
    except FitError as error:
        return Fitted(report.model_copy(update={"problem": str(error)}), sample, None)


def _reported(asked: FitAsked, label: str | None, sample: Sample, x: Axis, y: Axis) -> Fitted:
    fit = fit_trend(asked.family, sample, asked.settings)
    coefficients = fit.coefficients(asked.level)
    correlation = pearson(sample, asked.level)
    low, high = fit.x_range
    reader = _Reader(fit, x, y, asked.level, (low - asked.carry[0], high + asked.carry[1]))
    read_off = asked.read_off(label)
    report = FitReport(
        group=label,
        family=asked.family,
        equation=_equation(asked, fit, sample, x, y),
        equation_note=""
        if fit.form is None
        else "; ".join(filter(None, (x.note("x"), y.note("y")))),
        n=sample.n,
        dropped=sample.dropped,
        level=asked.level,
        coefficients=[
            CoefficientReport(name=c.name, value=c.value, se=c.se, low=c.low, high=c.high)
            for c in coefficients
        ],
        degrees_of_freedom=fit.degrees_of_freedom,
        r_squared=fit.r_squared,
        adjusted_r_squared=fit.adjusted_r_squared,
        r_squared_log=fit.r_squared_log,
        residual_sd=fit.residual_sd,
        aicc=fit.aicc,
        left_out_error=left_out_error(fit, sample),
        parameters=fit.parameters,
        r=correlation.r,
        r_low=correlation.low,
        r_high=correlation.high,
        p_value=fit.p_value,
        readings=[reader.at(value, name) for value, name in read_off.at],
        solutions=[s for value, name in read_off.levels for s in reader.level_of(value, name)],
        sentence=trend_sentence(
            asked.family,
            coefficients,
            fit.r_squared,
            x=x.variable,
            y=y.variable,
            x_span=high - low,
            level=asked.level,
        ),
        assumptions=list(fit.assumptions),
    )
    return Fitted(report, sample, fit)


_LANDS_AT = 33


def _equation(asked: FitAsked, fit: TrendFit, sample: Sample, x: Axis, y: Axis) -> str | None:
    form = fit.form
    if form is None:
        return None
    low, high = fit.x_range
    at = between(low, high, _LANDS_AT)
    span = float(sample.y.max()) - float(sample.y.min())
    if not form.lands(at, fit.predict(at), span):
        # So far from zero no number of digits lands on the line: x is counted from the data.
        origin = round_place(low / 2 + high / 2, high / 2 - low / 2)
        form = fit.form_about(origin) or form
    digits = asked.digits or form.digits_needed(fit.x_range, span)
    if asked.letters == "x":
        return form.text(digits, asked.style)
    return form.text(digits, asked.style, in_sentence(x.variable), in_sentence(y.variable))


@dataclass(frozen=True, slots=True)
class _Reader:
    """Reads numbers off a fit, and writes them as a reader sees them."""

    fit: TrendFit
    x: Axis
    y: Axis
    level: float
    within: tuple[float, float]

    def at(self, at: float, name: str | None) -> ReadingReport:
        r = read_at(self.fit, at, self.level)
        y = self.y
        return ReadingReport(
            x=self.x.shown(r.x),
            y=y.shown(r.y),
            mean_low=y.shown(r.mean_low),
            mean_high=y.shown(r.mean_high),
            new_low=y.shown(r.new_low),
            new_high=y.shown(r.new_high),
            carried_on=r.carried_on,
            name=name,
            x_place=r.x + self.x.origin,
            y_place=r.y + y.origin,
        )

    def level_of(self, level_of_y: float, name: str | None) -> list[SolutionReport]:
        x, y = self.x, self.y

        def place(value: float | None) -> float | None:
            return None if value is None else value + x.origin

        return [
            SolutionReport(
                y=y.shown(s.y),
                x=x.shown(s.crossing.x),
                low=x.shown(s.crossing.low),
                high=x.shown(s.crossing.high),
                carried_on=s.carried_on,
                note=s.crossing.note,
                name=name,
                x_place=place(s.crossing.x),
                y_place=s.y + y.origin,
                low_place=place(s.crossing.low),
                high_place=place(s.crossing.high),
            )
            for s in solve_for(self.fit, level_of_y, self.level, self.within)
        ]


def family_label(family: str) -> str:
    """Say a family as it reads in a sentence."""
    return FAMILIES[family].label if family in FAMILIES else family
