"""What planes say: their equation, what their coefficients are, sentences, and what misleads."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from yarrowdew.core.arithmetic import between, computed
from yarrowdew.core.equation import (
    MOST_DIGITS,
    TOLERANCE,
    Style,
    number_text,
    round_to_digits,
)
from yarrowdew.core.errors import FitError
from yarrowdew.core.register import documented
from yarrowdew.core.surfaces.diagnostics import bends, pulls
from yarrowdew.core.surfaces.surface import TIED, SurfaceFit, Triples
from yarrowdew.core.trends.protocol import Coefficient
from yarrowdew.figures.pipeline.axis_values import AxisValues
from yarrowdew.figures.text.sentences.base import change_text, per_step, r_squared_text
from yarrowdew.figures.text.words import in_sentence, joined, number, p_text, percent
from yarrowdew.figures.wire.reports import Caution
from yarrowdew.tables.categories import CategoryLabel, CategoryValue
from yarrowdew.tables.table import Kind, Variable

FEW_DEGREES_OF_FREEDOM = 5
_NODES = 5


@dataclass(frozen=True, slots=True)
class Axes3:
    """The three axes of a 3-D scatterplot, as fits see them."""

    across: AxisValues
    depth: AxisValues
    up: AxisValues


@dataclass(frozen=True, slots=True)
class FittedPlane:
    """One plane: the rows that it was to be fitted to, and its fit."""

    group: CategoryLabel | None
    value: CategoryValue | None
    of: Triples
    fit: SurfaceFit | None
    problem: str | None = None

    @property
    def n(self) -> int:
        """How many rows it was fitted to."""
        return self.of.n

    @property
    def dropped(self) -> Mapping[str, int]:
        """How many rows were left out, by reason."""
        return self.of.dropped


def coefficient_label(axes: Axes3, place: int) -> str:
    """What a coefficient is, with its unit."""
    up, of = axes.up.variable, (axes.across.variable, axes.depth.variable)
    parts = [
        "",
        in_sentence(of[0]),
        in_sentence(of[1]),
        f"{in_sentence(of[0])}²",
        f"{in_sentence(of[0])} × {in_sentence(of[1])}",
        f"{in_sentence(of[1])}²",
    ]
    if place == 0:
        return f"{up.label} where both are 0" + (f", in {up.unit}" if up.unit else "")
    units = [
        (),
        (of[0].unit,),
        (of[1].unit,),
        (of[0].unit, of[0].unit),
        (of[0].unit, of[1].unit),
        (of[1].unit, of[1].unit),
    ]
    below = " ".join(unit for unit in units[place] if unit)
    counted = f"{up.unit or '1'} per {below}" if below else up.unit
    return f"of {parts[place]}" + (f", in {counted}" if counted else "")


def equation_of_plane(
    fit: SurfaceFit,
    coefficients: tuple[Coefficient, ...],
    digits: int | None,
    names: tuple[str, ...],
    style: Style,
) -> str:
    """Write the equation with as few digits as land on the surface everywhere on the data."""
    values = [c.value for c in coefficients]
    x, y = (
        nodes.ravel()
        for nodes in np.meshgrid(between(*fit.x_range, _NODES), between(*fit.y_range, _NODES))
    )
    drawn = fit.predict(x, y)
    columns = np.column_stack(
        [np.ones(len(x)), x, y] + ([x * x, x * y, y * y] if fit.degree > 1 else [])
    )
    span = float(drawn.max() - drawn.min()) or float(np.abs(drawn).max()) or 1.0
    enough = next(
        (
            d
            for d in range(3, MOST_DIGITS)
            if np.abs(columns @ [round_to_digits(v, d) for v in values] - drawn).max()
            <= TOLERANCE * span
        ),
        MOST_DIGITS,
    )
    across, depth, up = names
    times = "·" if style == "typographic" else "*"
    square = "^{2}" if style == "typographic" else "^2"
    of = [
        "",
        across,
        depth,
        f"{across}{square}",
        f"{across}{times}{depth}",
        f"{depth}{square}",
    ]
    minus = "−" if style == "typographic" else "-"
    out = f"{up} = {number_text(values[0], digits or enough, style)}"
    for value, what in zip(values[1:], of[1:], strict=False):
        sign = minus if value < 0 else "+"
        out += f" {sign} {number_text(abs(value), digits or enough, style)}{times}{what}"
    return out


def plane_sentence(
    axes: Axes3, fit: SurfaceFit, coefficients: tuple[Coefficient, ...], level: float
) -> str:
    up = axes.up.variable
    if fit.r_squared is None:
        return f"{up.label} is the same in every row, so there is no variation to describe."
    of = (axes.across.variable, axes.depth.variable)
    share = f"R² = {r_squared_text(max(fit.r_squared, 0.0))}."
    if fit.degree > 1:
        names = joined([spoken(v) for v in of])
        return f"{up.label} follows a curved surface along {names}. {share}"
    parts = []
    for variable, other, c, ends in zip(
        of, reversed(of), coefficients[1:], (fit.x_range, fit.y_range), strict=False
    ):
        step, per = per_step(variable, ends[1] - ends[0])
        change = change_text(c, step, up.unit, level, on_average=True)
        said = f"{per}, at equal {spoken(other)}, {in_sentence(up)} is {change}."
        is_clear = c.low is not None and c.high is not None and (c.low > 0 or c.high < 0)
        parts.append(said if is_clear else f"No clear trend: {said[0].lower()}{said[1:]}")
    return " ".join([*parts, share])


def spoken(variable: Variable) -> str:
    return "time" if variable.kind is Kind.DATE else in_sentence(variable)


@documented(
    "cautions",
    "… and … are collinear (a plane)",
    "the condition of the two predictors: their slopes cannot be separated",
    "never",
)
def plane_cautions(axes: Axes3, fitted: FittedPlane, rows: np.ndarray) -> list[Caution]:
    """Find what misleads in a plane.

    Parameters
    ----------
    axes : Axes3
    fitted : FittedPlane
    rows : ndarray, shape (points,)
        The number of each point's row.
    """
    fit, of = fitted.fit, fitted.of
    if fit is None:
        return []
    what = f"{fitted.group}’s plane" if fitted.group else "the plane"
    found = []
    if fit.degrees_of_freedom < FEW_DEGREES_OF_FREEDOM:
        found.append(
            Caution(
                title=f"Few rows for {what}",
                text=f"It rests on {fit.n} rows; its intervals are wide, and every row matters.",
                group=fitted.group,
            )
        )
    floor = [axes.across.variable, axes.depth.variable]
    if fit.condition >= TIED:
        found.append(
            Caution(
                title=f"{floor[0].label} and {spoken(floor[1])} are collinear",
                text=f"They lie close to one line, so that the slopes of {what} cannot be "
                "separated; its values near the rows are reliable.",
                group=fitted.group,
            )
        )
    try:
        with computed("What misleads"):
            pulling = pulls(fit, of)
            bent = bends(fit, of) if fit.degree == 1 else None
    except FitError:
        return found
    if pulling is not None:
        row = int(rows[of.rows[pulling.row]])
        along = spoken(floor[min(pulling.slope, 1)])
        found.append(
            Caution(
                title=f"Row {row + 1:,} has high influence on {what}",
                text=f"Leaving it out changes the slope along {along} by "
                f"{number(pulling.by, 1)} standard errors. Check how it was measured.",
                rows=[row],
                group=fitted.group,
            )
        )
    if bent is not None:
        found.append(
            Caution(
                title=f"The relationship is curved about {what}",
                text=f"A surface of second degree leaves {percent(bent.share)} less residual scatter "
                f"({p_text(bent.p_value)}).",
                group=fitted.group,
            )
        )
    return found
