"""Cautions about one trend: its form, its scatter, and rows that decide it."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from contextlib import suppress
from dataclasses import dataclass
from functools import partial
from typing import Any

import numpy as np
import numpy.typing as npt

from yarrowdew.core.arithmetic import computed
from yarrowdew.core.cautions import (
    Bend,
    Fan,
    bend,
    cut_off,
    fan,
    free_intercept,
)
from yarrowdew.core.dependence import Alike, alike_neighbours
from yarrowdew.core.equation import decimals_for
from yarrowdew.core.errors import FitError
from yarrowdew.core.influence import InfluentialRow, deciding_row, influential_row, without_row
from yarrowdew.core.register import documented
from yarrowdew.core.sample import Sample
from yarrowdew.core.trends import FAMILIES, Family, TrendFit, fit_trend
from yarrowdew.core.trends.families.log_linear import LogLinearFit
from yarrowdew.core.trends.families.logistic import LogisticFit
from yarrowdew.core.trends.on_logarithms import LineOnLogarithms
from yarrowdew.core.trends.protocol import Coefficient, HasTangent
from yarrowdew.core.trends.scaled import unscaled
from yarrowdew.core.trends.solvers.likelihood import LikelihoodFit
from yarrowdew.figures.cautions.rows import tails_caution
from yarrowdew.figures.pipeline.readings import Reading
from yarrowdew.figures.text.words import (
    count_of,
    ends,
    number,
    p_text,
    percent,
)
from yarrowdew.figures.wire.reports import Caution, Remedy

FEW_DEGREES_OF_FREEDOM = 5


def trend_cautions(
    fits: Sequence[Reading],
    rows: npt.NDArray[np.intp],
    family: Family[Any],
    settings: Any = None,
    *,
    dated: bool = False,
) -> list[Caution]:
    """Find what misleads in the fits of one trend.

    Parameters
    ----------
    fits : sequence of Reading
    rows : ndarray, shape (fitted rows,)
        Where each row that was offered to the fits stands in the table.
    family : Family
        That was fitted.
    settings : dataclass, optional
        What was set about it.
    dated : bool
        Whether x is a date, so that neighbours are those in time.
    """
    out = []
    for fitted in fits:
        if fitted.fit is None:
            continue
        of = _called(fitted)
        out.extend(_few(fitted, of))
        try:
            with computed("What misleads"):
                again = partial(fit_trend, family=family.name, settings=settings)
                looked = _Context(len(fits), family, settings, dated)
                out.extend(_misleading(fitted, of, rows, again, looked))
        except FitError:
            # The trend itself stands; of values so far apart nothing more is said.
            pass
        out.extend(_carried_on(fitted, of))
    return out


def plain_cautions(fits: Sequence[Reading]) -> list[Caution]:
    """Find what misleads in fits whose rows are not there: too few, or numbers from beyond them."""
    return [
        caution
        for fitted in fits
        if fitted.fit is not None
        for of in (_called(fitted),)
        for caution in (*_few(fitted, of), *_carried_on(fitted, of))
    ]


def _called(fitted: Reading) -> str:
    return f"{fitted.report.group}’s line" if fitted.report.group else "the line"


@documented(
    "cautions",
    "Few rows",
    "fewer than 5 degrees of freedom",
    "whenever there are so few",
)
def _few(fitted: Reading, of: str) -> list[Caution]:
    if fitted.fit is None or fitted.fit.degrees_of_freedom >= FEW_DEGREES_OF_FREEDOM:
        return []
    return [
        Caution(
            title=f"Few rows for {of}",
            text=f"It rests on {fitted.fit.n} rows; its intervals are wide, and every row matters.",
            group=fitted.report.group,
        )
    ]


_FEW_OUTCOMES = 5
_MUCH_EXCESS, _CLEAR_EXCESS = 1.2, 0.001


@dataclass(frozen=True, slots=True)
class _Context:
    """What the fits of a trend have in common.

    Attributes
    ----------
    fits : int
        How many there are.
    family : Family
    settings : dataclass or None
    dated : bool
        Whether x is a date.
    """

    fits: int
    family: Family[Any]
    settings: Any
    dated: bool

    @property
    def at_lines(self) -> bool:
        """Whether they are straight lines by least squares."""
        return self.family.least_squares_line


def _misleading(
    fitted: Reading,
    of: str,
    rows: npt.NDArray[np.intp],
    again: Callable[[Sample], TrendFit],
    looked: _Context,
) -> list[Caution]:
    out: list[Caution] = []
    fit, sample = fitted.fit, fitted.sample
    if fit is None:
        return out
    out.extend(_through_origin(fitted, free_intercept(fit, sample), of))
    out.extend(_of_likelihood(fitted, of))
    deciding = deciding_row(fit, sample)
    if deciding is not None:
        out.append(_deciding(fitted, of, int(rows[deciding])))
    influential = influential_row(fit, sample, again, fitted.level, fits=looked.fits)
    if influential is not None:
        out.append(_influential(fitted, fit, influential, of, rows))
        # One odd row makes the rest seem to bend and to fan out: it is said once.
        sample = without_row(sample, influential.row)
        with suppress(FitError):
            fit = again(sample)
    bending = _bending(fitted, bend(fit, sample), of) if looked.at_lines else []
    if not looked.at_lines:
        bending = _cut_off(fitted, cut_off(sample, looked.family, looked.settings), of)
    out.extend(bending)
    out.extend(_fanning(fitted, fan(fit, sample), of))
    out.extend(_margins_not_normal(fitted, sample))
    if not bending:
        order = sample.x if looked.dated else np.asarray(sample.rows, dtype=np.float64)
        out.extend(
            _alike_neighbours(fitted, alike_neighbours(fit, sample, order), of, dated=looked.dated)
        )
    return out


@documented(
    "cautions",
    "The intercept of … is not 0",
    "a line through the origin, where the 95 % interval of a free intercept leaves 0 out",
    "5 %",
)
def _through_origin(fitted: Reading, found: Coefficient | None, of: str) -> list[Caution]:
    if found is None or found.low is None or found.high is None:
        return []
    decimals = decimals_for((found.high - found.low) / 2)
    return [
        Caution(
            title=f"The intercept of {of} is not 0",
            text=f"A line that is free to choose it crosses x = 0 at "
            f"{number(found.value, decimals)} (95 % interval "
            f"{ends(found.low, found.high, decimals)}): through the origin, the slope is biased.",
            group=fitted.report.group,
            remedy="compare",
        )
    ]


@documented(
    "cautions",
    "Few rows of one outcome",
    "fewer than 5 rows (or trials) of the rarer outcome of a logistic regression",
    "whenever it is so",
)
@documented(
    "cautions",
    "Counts scatter more than Poisson; shares scatter more than trials",
    "Pearson’s χ² about the curve, p < 0.001, and a variance larger by a fifth",
    "0.1 %, where means are not far below 1",
)
def _of_likelihood(fitted: Reading, of: str) -> list[Caution]:
    fit = fitted.fit
    if not isinstance(fit, LikelihoodFit):
        return []
    out = []
    if fit.excess is not None and fit.excess[0] > _MUCH_EXCESS and fit.excess[1] < _CLEAR_EXCESS:
        counts = isinstance(fit, LogLinearFit)
        out.append(
            Caution(
                title=f"{'Counts' if counts else 'Shares'} scatter more than "
                f"{'Poisson' if counts else 'trials'} about {of}",
                text=f"Their variance is {number(fit.excess[0], 1)} times what it would be "
                f"(Pearson’s χ², {p_text(fit.excess[1])}), so intervals are too short and p is too "
                "small. "
                + (
                    "Choose another variance of counts in the settings of the trend."
                    if counts
                    else "Trials of one row seem to depend on one another."
                ),
                group=fitted.report.group,
            )
        )
    if isinstance(fit, LogisticFit) and fit.fewest < _FEW_OUTCOMES:
        out.append(
            Caution(
                title=f"Few rows of one outcome for {of}",
                text=f"The rarer outcome came {fit.fewest:g} times: intervals and p are rough. "
                "Firth’s penalised likelihood is less so.",
                group=fitted.report.group,
            )
        )
    return out


@documented(
    "cautions",
    "Row … alone decides the line",
    "its leverage is 1",
    "never",
)
def _deciding(fitted: Reading, of: str, row: int) -> Caution:
    return Caution(
        title=f"Row {row + 1:,} alone decides {of}",
        text="Its leverage is 1: the fit passes through it whatever its y is, so it has no "
        "residual, and nothing in the data can tell whether it is right.",
        rows=[row],
        group=fitted.report.group,
    )


@documented(
    "cautions",
    "Neighbouring rows are alike",
    "lag-1 correlation of residuals in time, or in the order of the table, of at least 0.3, p < 0.001",
    "0.1 %",
)
def _alike_neighbours(
    fitted: Reading, found: Alike | None, of: str, *, dated: bool
) -> list[Caution]:
    if found is None:
        return []
    order = "in time" if dated else "in the table"
    return [
        Caution(
            title=f"Neighbouring rows are alike about {of}",
            text=f"Residuals of rows next to each other {order} correlate by "
            f"{number(found.correlation, 2)} (lag 1, {p_text(found.p_value)}). Intervals and p "
            "values take every row as independent, and claim more than the rows can tell.",
            group=fitted.report.group,
        )
    ]


@documented(
    "cautions",
    "The relationship is curved",
    "p < 0.001 of a quadratic term, and 3 % less residual scatter",
    "0.1 %",
)
def _bending(fitted: Reading, found: Bend | None, of: str) -> list[Caution]:
    if found is None:
        return []
    return [
        Caution(
            title=f"The relationship is curved about {of}",
            text=f"A quadratic leaves {percent(found.share)} less residual scatter "
            f"({p_text(found.p_value)}); between the ends the line is too high or too low.",
            group=fitted.report.group,
            remedy="compare",
        )
    ]


@documented(
    "cautions",
    "Bends are cut off by a local regression",
    "the approximate F test (Cleveland and Devlin 1988) against half the span, p < 0.001, and 3 % less residual scatter",
    "below 0.1 %; found in all of 300 rows where the band covers 48 %",
)
def _cut_off(fitted: Reading, found: Bend | None, of: str) -> list[Caution]:
    if found is None:
        return []
    return [
        Caution(
            title=f"Bends are cut off by {of}",
            text=f"With half the span {percent(found.share)} less residual scatter is left (F test, "
            f"{p_text(found.p_value)}): the curve is too stiff for these rows, and its band "
            "covers less often than it says.",
            group=fitted.report.group,
            remedy="compare",
        )
    ]


def _margins_not_normal(fitted: Reading, sample: Sample) -> list[Caution]:
    report = fitted.report
    if report.r_low is None or report.r_low == report.r_high:
        return []
    return tails_caution(report.p_value, {"x": sample.x, "y": sample.y}, group=report.group)


@documented(
    "cautions",
    "Residual scatter is not constant",
    "Koenker’s form of the Breusch–Pagan test (1981), p < 0.001, and outer thirds that differ by half",
    "0.1 %",
)
def _fanning(fitted: Reading, found: Fan | None, of: str) -> list[Caution]:
    if found is None or fitted.report.errors != "equal" or fitted.fit is None:
        return []
    of_squares = isinstance(unscaled(fitted.fit), HasTangent | LineOnLogarithms)
    wide, narrow = ("right", "left") if found.high > found.low else ("left", "right")
    decimals = decimals_for(min(found.low, found.high))
    text = (
        f"The residual standard deviation is {number(found.low, decimals)} in the left third of "
        f"the rows and {number(found.high, decimals)} in the right third"
    )
    allows = getattr(unscaled(fitted.fit), "allows_any_scatter", False)
    remedy: Remedy | None = "allow_unequal" if of_squares else "resample"
    if allows or not FAMILIES[fitted.report.family].has_band:
        text, remedy = f"{text}.", None
    else:
        text += f": bands are too narrow on the {wide} and too wide on the {narrow}."
    return [
        Caution(
            title=f"Residual scatter about {of} is not constant",
            text=text,
            group=fitted.report.group,
            remedy=remedy,
        )
    ]


@documented(
    "cautions",
    "Reading outside the data; … never reaches …",
    "the range of x in the rows; the curve’s own ends",
    "whenever it is so",
)
def _carried_on(fitted: Reading, of: str) -> list[Caution]:
    report = fitted.report
    outside = [r for r in report.readings if r.carried_on]
    beyond = [s for s in report.solutions if s.carried_on and s.x is not None]
    never = [s for s in report.solutions if s.x is None]
    out = []
    if outside or beyond:
        what = count_of(len(outside) + len(beyond), "number")
        out.append(
            Caution(
                title="Reading outside the data",
                text=f"{what} read off {of} {'lies' if what.startswith('1 ') else 'lie'} where no "
                "row was measured: that the trend continues there is an assumption.",
                group=report.group,
            )
        )
    for solution in never:
        out.append(
            Caution(
                title=f"{of[0].upper()}{of[1:]} never reaches {solution.y}",
                text=solution.note,
                group=report.group,
            )
        )
    return out


@documented(
    "cautions",
    "Row … has high influence",
    "the outlier test on externally studentised residuals, for the number of rows and of lines (Cook and Weisberg 1982), p < 0.04; or a leverage above ½ where the slope is clear with the row or without it alone, and moves by three standard errors",
    "at most 5 % of normal tables",
)
def _influential(
    fitted: Reading, fit: TrendFit, found: InfluentialRow, of: str, rows: npt.NDArray[np.intp]
) -> Caution:
    row = int(rows[found.row])
    what = "slope" if FAMILIES[fit.family].one_slope else "b"
    decimals = decimals_for(found.slope.se or 0.0)

    def written(c: Coefficient) -> str:
        if c.low is None or c.high is None:
            return number(c.value, decimals)
        return f"{number(c.value, decimals)} ({ends(c.low, c.high, decimals)})"

    text = f"The {what} is {written(found.slope)} with it, {written(found.without)} without"
    if found.p_value < 1:
        sd, other = found.sd, found.sd_without
        places = decimals_for(other / 3 if other > 0 else sd)
        text += (
            f"; the residual SD {number(sd, places)} and {number(other, places)} (outlier test, "
            f"{p_text(found.p_value)})"
        )
    return Caution(
        title=f"Row {row + 1:,} has high influence on {of}",
        text=f"{text}. Check how it was measured.",
        rows=[row],
        group=fitted.report.group,
    )
