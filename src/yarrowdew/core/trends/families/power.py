"""The power law, y = a·xᵇ."""

from __future__ import annotations

import math

import numpy as np

from yarrowdew.core.sample import Array, Sample
from yarrowdew.core.trends.base import TrendFit, needs_rows, on_logs
from yarrowdew.core.trends.error_model import ScatterSettings
from yarrowdew.core.trends.families.straight import fit_line
from yarrowdew.core.trends.family import Candidate, Entry, Family, FromSums
from yarrowdew.core.trends.on_logarithms import OnLogarithms, origin_of, power_form
from yarrowdew.core.trends.solvers.nonlinear import CurveProblem

_ON_LOGS = OnLogarithms(
    "power", "both", "y changes by the same share whenever x changes by the same share."
)


def fit(sample: Sample, settings: ScatterSettings) -> TrendFit:
    """Fit y = a·xᵇ, on ln x and ln y (multiplicative scatter) or on y itself (additive).

    Raises
    ------
    FitError
        If a value that is taken in logarithms is not positive, there are too few rows, or the
        coefficients are not determined.
    """
    if settings.scatter == "multiplicative":
        return _ON_LOGS.fit(sample)
    needs_rows(sample, 3, "A power law")
    logs = on_logs(sample.x, "x")
    positive = sample.y > 0
    powers = [1.0, -1.0, 3.0, 0.3]
    if np.count_nonzero(positive) > 2 and len(np.unique(logs[positive])) > 1:
        line = fit_line(
            Sample(logs[positive], np.log(sample.y[positive]), None, sample.rows[positive])
        )
        powers.insert(0, line.slope)
    middle = float(logs.mean())
    origin = origin_of(powers[0], middle, sample.x_range, "both")
    shift = math.log(origin)
    starts = []
    for power in powers:
        with np.errstate(all="ignore"):
            p = np.exp(power * (logs - middle))
            size = float(np.dot(p, sample.y) / np.dot(p, p))
            starts.append(np.array([size * np.exp(-power * (middle - shift)), power]))

    def curve(c: Array, x: Array) -> Array:
        return np.asarray(c[0] * np.power(x / origin, c[1]))

    def slopes(c: Array, x: Array) -> Array:
        p = np.power(x / origin, c[1])
        return np.column_stack([p, c[0] * p * np.log(x / origin)])

    return CurveProblem(
        family=FAMILY.name,
        what="A power law",
        names=("a", "b"),
        free=(0, 1),
        curve=curve,
        slopes=slopes,
        equation=lambda c: power_form(float(c[0]), float(c[1]), origin),
        meaning="The mean of y changes by the same share whenever x changes by the same share.",
    ).fit(sample, starts)


FAMILY = Family(
    name=_ON_LOGS.family,
    label="power law",
    entry=Entry(
        method="a line on ln y (or least squares on y, by choice)",
        intervals="as a line, brought back; the curve is the median of y",
        exactness="exact under lognormal scatter",
    ),
    note="% change per % change",
    settings=ScatterSettings,
    fit=fit,
    units=lambda name: (1, 0) if name == "a" else (0, 0),
    takes_logs_of_x=True,
    needs=("positive x", "positive y"),
    from_sums=FromSums(
        fit=lambda sums, _: _ON_LOGS.fit_parts(sums),
        logged="both",
        offered=lambda settings: settings.scatter == "multiplicative",
    ),
    candidates=(Candidate("power law", ScatterSettings()),),
)
