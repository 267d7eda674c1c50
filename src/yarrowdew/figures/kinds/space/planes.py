"""Planes of a 3-D scatterplot: fitted for the whole or for each category, and what they say."""

from __future__ import annotations

import math
from collections.abc import Iterator
from itertools import product

import numpy as np

from yarrowdew.core.arithmetic import computed
from yarrowdew.core.equation import (
    Style,
)
from yarrowdew.core.errors import FitError
from yarrowdew.core.intervals import check_level
from yarrowdew.core.sample import Array, Mask
from yarrowdew.core.surfaces.surface import (
    SurfaceFit,
    Triples,
    fit_surface,
    tripled,
)
from yarrowdew.figures.cautions.groups import group_cautions
from yarrowdew.figures.document.space import Plane, PlaneReadOff
from yarrowdew.figures.kinds.space.words import (
    Axes3,
    FittedPlane,
    coefficient_label,
    equation_of_plane,
    plane_sentence,
)
from yarrowdew.figures.pipeline.groups import Groups, names_group
from yarrowdew.figures.text.words import in_sentence
from yarrowdew.figures.wire.base import Number, OnWire, Place
from yarrowdew.figures.wire.reports import Caution, CoefficientReport
from yarrowdew.tables.categories import CategoryLabel, CategoryValue

FAMILY = "plane"
"""What the form is called where forms are named."""
MOST_PLANES = 24
"""For so many groups at most a plane is fitted to each."""
_LABEL = {1: "plane", 2: "surface of second degree"}


class PlaneReadingReport(OnWire):
    """A value read off the plane, with the intervals of the mean and of a new row."""

    across: Place
    depth: Place
    up: Place
    mean_low: Place
    mean_high: Place
    new_low: Place
    new_high: Place
    carried_on: bool
    """Whether it lies outside what was measured on either axis."""
    name: str | None
    places: tuple[Number, Number, Number]
    """On the three axes: across, in depth, up."""


class PlaneSurface(OnWire):
    """How a surface runs: a sum of terms, each times powers of the distance from a middle."""

    middle: tuple[float, float]
    """Across and in depth."""
    terms: list[float]
    """Of 1, across, depth and, for the second degree, of across², across × depth and depth²."""
    across: tuple[float, float]
    """Ends of the data that it was fitted to."""
    depth: tuple[float, float]


class PlaneReport(OnWire):
    """A fitted plane: its surface and its results."""

    group: CategoryLabel | None
    """The category fitted; null for the whole."""
    group_code: int | None
    """Its place among the colour's categories; null where it has no such colour."""
    family_label: str
    degree: int
    equation: str | None = None
    equation_note: str = ""
    """What a variable means in the equation where it is a date."""
    n: int
    dropped: dict[str, int]
    level: float
    coefficients: list[CoefficientReport] = []
    degrees_of_freedom: Number = None
    r_squared: Number = None
    adjusted_r_squared: Number = None
    residual_sd: Number = None
    f: Number = None
    df_fit: Number = None
    """Degrees of freedom of the numerator of F."""
    p_value: Number = None
    condition: Number = None
    """How much the two axes of the floor are tied: 1 where not at all."""
    readings: list[PlaneReadingReport] = []
    sentence: str = ""
    assumptions: list[str] = []
    surface: PlaneSurface | None = None
    problem: str | None = None
    """Why there is no plane; null where there is one."""


def planes_of(
    axes: Axes3, plane: Plane, groups: Groups | None, set_aside: Mask | None
) -> list[FittedPlane]:
    """Fit a plane to the whole, or to each group that has rows; one that cannot be fitted says
    why.
    """
    made = []
    for label, value, rows in _groups(groups, len(axes.up.values)):
        aside = None if set_aside is None else set_aside[rows]
        found = tripled(
            axes.across.fitted()[rows], axes.depth.fitted()[rows], axes.up.fitted()[rows], aside
        )
        of = Triples(found.x, found.y, found.z, rows[found.rows], found.dropped)
        try:
            made.append(FittedPlane(label, value, of, fit_surface(of, plane.degree)))
        except FitError as error:
            made.append(FittedPlane(label, value, of, None, str(error)))
    return made


def _groups(
    groups: Groups | None, rows: int
) -> Iterator[tuple[CategoryLabel | None, CategoryValue | None, np.ndarray]]:
    if groups is None:
        yield None, None, np.arange(rows)
        return
    for code in map(int, groups.present()[:MOST_PLANES]):
        yield groups.labels[code], groups.looks[code].value, np.flatnonzero(groups.codes == code)


def report_of(
    axes: Axes3,
    plane: Plane,
    fitted: FittedPlane,
    group_code: int | None = None,
    *,
    letters: tuple[str, str, str] | None = None,
    style: Style = "typographic",
) -> PlaneReport:
    """Say what a plane says, or why there is none.

    Parameters
    ----------
    axes : Axes3
    plane : Plane
    fitted : FittedPlane
    group_code : int, optional
    letters : tuple of str, optional
        What the equation calls across, depth and up, in the place of the variables' names.
    style : {"typographic", "plain"}
    """
    report = PlaneReport(
        group=fitted.group,
        group_code=group_code,
        family_label=_LABEL[plane.degree],
        degree=plane.degree,
        n=fitted.n,
        dropped=dict(fitted.dropped),
        level=check_level(plane.level),
        problem=fitted.problem,
    )
    if fitted.fit is None:
        return report
    try:
        with computed("This plane"):
            return report.model_copy(
                update=_plane_report(axes, plane, fitted, fitted.fit, letters=letters, style=style)
            )
    except FitError as error:
        report.problem = str(error)
        return report


def _plane_report(
    axes: Axes3,
    plane: Plane,
    fitted: FittedPlane,
    fit: SurfaceFit,
    *,
    letters: tuple[str, str, str] | None,
    style: Style,
) -> dict[str, object]:
    coefficients = fit.coefficients(plane.level)
    test = fit.f_test
    names = letters or tuple(
        in_sentence(axis.variable) for axis in (axes.across, axes.depth, axes.up)
    )
    notes = [
        axis.note(name)
        for axis, name in zip((axes.across, axes.depth, axes.up), names, strict=True)
        if axis.origin
    ]
    return {
        "equation": equation_of_plane(fit, coefficients, plane.digits, names, style),
        "equation_note": "; ".join(filter(None, notes)),
        "coefficients": [
            CoefficientReport(
                name=c.name,
                label=coefficient_label(axes, place),
                value=c.value,
                se=c.se,
                low=c.low,
                high=c.high,
                was_given=False,
            )
            for place, c in enumerate(coefficients)
        ],
        "degrees_of_freedom": float(fit.degrees_of_freedom),
        "r_squared": fit.r_squared,
        "adjusted_r_squared": fit.adjusted_r_squared,
        "residual_sd": fit.residual_sd,
        "f": test and test.f,
        "df_fit": test and float(test.df_fit),
        "p_value": test and test.p_value,
        "condition": fit.condition,
        "readings": [
            _read(axes, fit, wanted, plane.level)
            for wanted in plane.read_off
            if names_group(wanted.group, fitted.group, fitted.value)
        ],
        "sentence": plane_sentence(axes, fit, coefficients, plane.level),
        "assumptions": [
            "The scatter is the same at all values of both predictors, and normal for intervals of few rows.",
            "The rows are independent of each other.",
        ],
        "surface": _surface(axes, fit),
    }


def _surface(axes: Axes3, fit: SurfaceFit) -> PlaneSurface | None:
    """The surface about the middle of its data, so that the page evaluates it without loss.

    None where numbers are too large for it to be drawn.
    """
    (x0, x1), (y0, y1) = fit.x_range, fit.y_range
    middle = (x0 / 2 + x1 / 2, y0 / 2 + y1 / 2)
    half = ((x1 - x0) / 2, (y1 - y0) / 2)
    # Through nine places of the data the terms are exact, whatever the coefficients' origin.
    places = np.array(list(product((-1.0, 0.0, 1.0), repeat=2)))
    u, v = places.T
    z = fit.predict(middle[0] + u * half[0], middle[1] + v * half[1])
    columns = np.column_stack(
        [np.ones(len(u)), u, v] + ([u * u, u * v, v * v] if fit.degree > 1 else [])
    )
    inner = np.linalg.lstsq(columns, z, rcond=None)[0]
    powers = [(0, 0), (1, 0), (0, 1), (2, 0), (1, 1), (0, 2)][: len(inner)]
    terms = [
        float(value / half[0] ** i / half[1] ** j)
        for value, (i, j) in zip(inner, powers, strict=True)
    ]
    terms[0] += axes.up.origin
    if not np.isfinite(terms).all():
        return None
    return PlaneSurface(
        middle=(middle[0] + axes.across.origin, middle[1] + axes.depth.origin),
        terms=terms,
        across=(x0 + axes.across.origin, x1 + axes.across.origin),
        depth=(y0 + axes.depth.origin, y1 + axes.depth.origin),
    )


def _read(axes: Axes3, fit: SurfaceFit, wanted: PlaneReadOff, level: float) -> PlaneReadingReport:
    x, y = wanted.across - axes.across.origin, wanted.depth - axes.depth.origin
    value = float(fit.predict([x], [y])[0])
    mean, new = (fit.interval([x], [y], level, kind) for kind in ("confidence", "prediction"))
    inside = fit.x_range[0] <= x <= fit.x_range[1] and fit.y_range[0] <= y <= fit.y_range[1]
    written = axes.up.written
    return PlaneReadingReport(
        across=axes.across.written(x),
        depth=axes.depth.written(y),
        up=written(value),
        mean_low=written(float(mean.low[0])),
        mean_high=written(float(mean.high[0])),
        new_low=written(float(new.low[0])),
        new_high=written(float(new.high[0])),
        carried_on=not inside,
        name=wanted.name,
        places=(wanted.across, wanted.depth, value + axes.up.origin),
    )


def opposed_planes(
    axes: Axes3, plane: Plane, groups: Groups | None, set_aside: Mask
) -> list[Caution]:
    """Find groups that go the other way along the axis across than all rows together."""
    if groups is None or len(groups.labels) < 2:
        return []
    flat = plane.model_copy(update={"degree": 1})
    (whole,) = planes_of(axes, flat, None, set_aside)
    each = {
        one.group or "": one.fit
        for one in planes_of(axes, flat, groups, set_aside)
        if one.fit is not None
    }
    if whole.fit is None:
        return []
    return group_cautions(
        whole.fit,
        each,
        axes.across,
        groups,
        level=plane.level,
        fitted_each=plane.by == groups.variable.name,
        form="plane",
    )


def off_planes(planes: list[FittedPlane], points: int) -> Array | None:
    """How far points lie off their plane, in its residual standard deviations; None without one."""
    far = np.full(points, np.nan)
    for one in planes:
        if one.fit is None:
            continue
        with np.errstate(all="ignore"):
            off = np.abs(one.of.z - one.fit.predict(one.of.x, one.of.y))
            sd = one.fit.residual_sd
        far[one.of.rows] = off / sd if sd and math.isfinite(sd) else off
    return far if np.isfinite(far).any() else None
