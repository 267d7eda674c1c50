"""The S-curve: a four-parameter logistic, with its ends free or given.

y = lower + (upper − lower) / (1 + exp(−steepness (x − middle))). With upper above lower, the
steepness is negative where y falls.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import scipy

from yarrowdew.core.equation import EquationForm, Slot
from yarrowdew.core.errors import FitError
from yarrowdew.core.sample import Array, Sample
from yarrowdew.core.trends.base import needs_rows
from yarrowdew.core.trends.family import Candidate, Entry, Family, setting
from yarrowdew.core.trends.solvers.nonlinear import CurveProblem, NonlinearFit

_FURTHEST_ENDS = 20
"""Ends that lie so many times the range of y apart are not in the data."""
NAMES = ("lower", "upper", "middle", "steepness")


@dataclass(frozen=True, slots=True, kw_only=True)
class SCurveSettings:
    """Settings of an S-curve."""

    lower: float | None = setting(
        None,
        "Lower end",
        "Lower level, where it is fixed.",
        free="fitted",
        unit="y",
        below="upper",
    )
    upper: float | None = setting(
        None, "Upper end", "Upper level, where it is fixed.", free="fitted", unit="y"
    )


def fit(sample: Sample, settings: SCurveSettings) -> NonlinearFit:
    """Fit the logistic by (weighted) least squares.

    Raises
    ------
    FitError
        If there are too few rows, the ends that are given do not lie apart, or the rows do not
        determine the curve.
    """
    lower, upper = settings.lower, settings.upper
    if lower is not None and upper is not None and lower >= upper:
        raise FitError(
            f"The lower end ({lower:g}) does not lie below the upper end ({upper:g}).",
            "Give ends that lie apart, or leave one free.",
        )
    free = tuple(i for i, end in enumerate((lower, upper, None, None)) if end is None)
    needs_rows(sample, len(free) + 1, "An S-curve", distinct=len(free))
    furthest = _FURTHEST_ENDS * float(np.ptp(sample.y))

    def check(values: Array) -> None:
        if values[1] - values[0] > furthest:
            raise FitError(
                "An S-curve is not determined by these rows: they show neither of its ends.",
                "Give one of its ends, or choose a simpler form.",
            )

    return CurveProblem(
        family=FAMILY.name,
        what="An S-curve",
        names=NAMES,
        free=free,
        curve=_curve,
        slopes=_slopes,
        equation=_equation,
        meaning="The mean of y passes from one level to another along a logistic curve in x.",
        check=check,
    ).fit(sample, _starts(sample, lower, upper))


def _starts(sample: Sample, lower: float | None, upper: float | None) -> list[Array]:
    """Begin from the line on the logits of y between ends just past the data."""
    low, high = float(sample.y.min()), float(sample.y.max())
    room = (high - low) or 1.0
    span = float(np.ptp(sample.x))
    starts = []
    for share in (0.02, 0.2, 1.0):
        bottom = low - share * room if lower is None else lower
        top = high + share * room if upper is None else upper
        inside = (sample.y - bottom) / (top - bottom)
        known = (inside > 0) & (inside < 1)
        if np.count_nonzero(known) > 1 and np.ptp(sample.x[known]) > 0:
            inner = Sample(
                sample.x[known], scipy.special.logit(inside[known]), None, sample.rows[known]
            )
            slope, at, level = _line(inner)
            if slope:
                starts.append(np.array([bottom, top, at - level / slope, slope]))
        middle = float(np.median(sample.x))
        starts += [np.array([bottom, top, middle, sign * 5 / span]) for sign in (1, -1)]
    return starts


def _line(sample: Sample) -> tuple[float, float, float]:
    """Slope of a line by least squares, and the point in the middle through which it passes."""
    at, level = float(sample.x.mean()), float(sample.y.mean())
    d = sample.x - at
    return float(np.dot(d, sample.y - level) / np.dot(d, d)), at, level


def _curve(c: Array, x: Array) -> Array:
    return np.asarray(c[0] + (c[1] - c[0]) * scipy.special.expit(c[3] * (x - c[2])))


def _slopes(c: Array, x: Array) -> Array:
    s = scipy.special.expit(c[3] * (x - c[2]))
    bell = (c[1] - c[0]) * s * (1 - s)
    return np.column_stack([1 - s, s, -bell * c[3], bell * (x - c[2])])


def _equation(c: Array) -> EquationForm:
    """As printed: lower, height, and the exponent's slope and place with their signs turned."""
    lower, upper, middle, steepness = map(float, c)
    pattern = (
        Slot(0),
        Slot(1, joined=True),
        " / (1 + exp(",
        Slot(2),
        " ({x}",
        Slot(3, joined=True),
        ")))",
    )
    values = (lower, upper - lower, -steepness, -middle)
    return EquationForm(values, _printed, pattern, ((1, 0), (1, 0), (0, -1), (0, 1)))


def _printed(values: tuple[float, ...], x: Array) -> Array:
    lower, height, rate, place = values
    return np.asarray(lower + height * scipy.special.expit(-rate * (x + place)))


FAMILY = Family(
    name="s-curve",
    label="logistic S-curve",
    entry=Entry(
        method="least squares (Moré 1978), Gauss–Newton to full precision; of equally good minima the one that turns least between rows",
        intervals="delta method (Seber and Wild 1989, ch. 5)",
        exactness="approximate; no p value, as its null hypothesis leaves coefficients without meaning",
    ),
    note="between two plateaus",
    settings=SCurveSettings,
    fit=fit,
    units=lambda name: {"middle": (0, 1), "steepness": (0, -1)}.get(name, (1, 0)),
    candidates=(Candidate("logistic S-curve", SCurveSettings()),),
    coefficient_labels={
        "lower": "Lower end",
        "upper": "Upper end",
        "middle": "Middle",
        "steepness": "Steepness",
    },
)
