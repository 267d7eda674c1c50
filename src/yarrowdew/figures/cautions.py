"""Cautions: readings that warn, each with its rows and its remedy."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import Literal

import numpy as np
import numpy.typing as npt
from pydantic import BaseModel, ConfigDict

from yarrowdew.core.cautions import MANY_ON_ONE_PLACE, opposed_groups, pulling_row, share_hidden
from yarrowdew.core.equation import decimals_for
from yarrowdew.core.sample import Array
from yarrowdew.core.trends import TrendFit
from yarrowdew.figures.report import Axis, Fitted, Groups
from yarrowdew.figures.words import in_sentence, number, percent

FEW_DEGREES_OF_FREEDOM = 5

Remedy = Literal["set_aside", "fit_each", "thin_marks"]


class Caution(BaseModel):
    """A reading that warns."""

    model_config = ConfigDict(use_attribute_docstrings=True)

    title: str
    text: str
    rows: list[int] = []
    """The rows it is about, by their place in the table from 0."""
    group: str | None = None
    """The category it is about."""
    remedy: Remedy | None = None
    """What helps, as an edit of the document; null where the reader has to decide."""


def trend_cautions(fits: Sequence[Fitted], rows: npt.NDArray[np.intp]) -> list[Caution]:
    """Find what misleads in the fits of one trend.

    Parameters
    ----------
    fits : sequence of Fitted
    rows : ndarray, shape (fitted rows,)
        Where each row that was offered to the fits stands in the table.
    """
    out = []
    for fitted in fits:
        if fitted.fit is None:
            continue
        of = f"{fitted.report.group}’s line" if fitted.report.group else "the line"
        if fitted.fit.degrees_of_freedom < FEW_DEGREES_OF_FREEDOM:
            out.append(
                Caution(
                    title=f"Few rows for {of}",
                    text=f"It rests on {fitted.fit.n} rows; its intervals are wide and lean on "
                    "every one of them.",
                    group=fitted.report.group,
                )
            )
        out.extend(_pulling(fitted, fitted.fit, of, rows))
    return out


def _pulling(fitted: Fitted, fit: TrendFit, of: str, rows: npt.NDArray[np.intp]) -> list[Caution]:
    found = pulling_row(fit, fitted.sample)
    if found is None:
        return []
    row = int(rows[found.row])
    se = next(c.se for c in fit.coefficients(0.95) if c.name == "b") or 0.0
    decimals = decimals_for(se) if se else 2
    with_it, without = number(found.slope, decimals), number(found.slope_without, decimals)
    consequence = "its direction turns" if found.turns else "the line moves"
    return [
        Caution(
            title=f"Row {row + 1:,} pulls {of}",
            text=f"Without it {consequence}: the slope is {without} instead of {with_it}.",
            rows=[row],
            group=fitted.report.group,
            remedy="set_aside",
        )
    ]


def group_cautions(
    whole: TrendFit, fits: Sequence[Fitted], x: Axis, groups: Groups, *, fitted_each: bool
) -> list[Caution]:
    """Find groups that go the other way than the whole.

    Parameters
    ----------
    whole : TrendFit
        The line through all rows.
    fits : sequence of Fitted
        The line of each group.
    x : Axis
    groups : Groups
    fitted_each : bool
        Whether the figure already shows a line for each group.
    """
    level = fits[0].report.level if fits else 0.95
    by_name = {f.report.group or "": f.fit for f in fits if f.fit is not None}
    opposed = opposed_groups(whole, by_name, level)
    if not opposed:
        return []
    rises = next(c.value for c in whole.coefficients(level) if c.name == "b") > 0
    noun = in_sentence(groups.variable)
    every = len(opposed) == len(by_name)
    names = "Every one of them" if every else _listed(opposed)
    verb = (
        ("falls" if rises else "rises")
        if len(opposed) == 1 or every
        else ("fall" if rises else "rise")
    )
    title = (
        f"Each {noun} goes the other way than the whole"
        if every
        else f"One {noun} goes the other way"
        if len(opposed) == 1
        else f"{len(opposed)} of the {len(by_name)} groups go the other way"
    )
    text = (
        f"{names} {verb} with {in_sentence(x.variable)}, while all rows together "
        f"{'rise' if rises else 'fall'}. One line for all rows "
        f"{'would hide' if fitted_each else 'hides'} it."
    )
    return [
        Caution(
            title=title,
            text=text,
            group=opposed[0] if len(opposed) == 1 else None,
            remedy=None if fitted_each else "fit_each",
        )
    ]


def crowding_caution(x: Array, y: Array) -> list[Caution]:
    """Find many marks on one place."""
    share = share_hidden(x, y)
    if share < MANY_ON_ONE_PLACE or not math.isfinite(share):
        return []
    return [
        Caution(
            title="Many marks share a place",
            text=f"{percent(share)} of the marks stand exactly on another, so the figure shows fewer "
            "than there are. With thinner marks, places that hold many are darker.",
            remedy="thin_marks",
        )
    ]


def _listed(names: list[str]) -> str:
    return names[0] if len(names) == 1 else f"{', '.join(names[:-1])} and {names[-1]}"
