"""The exponential curve, y = a·exp(b x)."""

from __future__ import annotations

import numpy as np

from yarrowdew.core.sample import Array, Sample
from yarrowdew.core.trends.base import TrendFit, needs_rows
from yarrowdew.core.trends.error_model import ScatterSettings
from yarrowdew.core.trends.families.straight import fit_line
from yarrowdew.core.trends.family import Candidate, Entry, Family, FromSums
from yarrowdew.core.trends.on_logarithms import OnLogarithms, exponential_form, origin_of
from yarrowdew.core.trends.solvers.nonlinear import CurveProblem

_ON_LOGS = OnLogarithms("exponential", "y", "y changes by the same share for each step of x.")


def fit(sample: Sample, settings: ScatterSettings) -> TrendFit:
    """Fit y = a·exp(b x), on ln y (multiplicative scatter) or on y itself (additive).

    Raises
    ------
    FitError
        If y is not positive where it is taken in logarithms, there are too few rows, or the
        coefficients are not determined.
    """
    if settings.scatter == "multiplicative":
        return _ON_LOGS.fit(sample)
    needs_rows(sample, 3, "An exponential curve")
    # The rate does not depend on where x starts: it is found about the middle of the data.
    middle = float(sample.x.mean())
    span = float(np.ptp(sample.x))
    rates = _rates(sample, span)
    origin = origin_of(rates[0], middle, sample.x_range, "y")

    def curve(c: Array, x: Array) -> Array:
        return np.asarray(c[0] * np.exp(c[1] * (x - origin)))

    def slopes(c: Array, x: Array) -> Array:
        e = np.exp(c[1] * (x - origin))
        return np.column_stack([e, c[0] * (x - origin) * e])

    return CurveProblem(
        family=FAMILY.name,
        what="An exponential curve",
        names=("a", "b"),
        free=(0, 1),
        curve=curve,
        slopes=slopes,
        equation=lambda c: exponential_form(float(c[0]), float(c[1]), origin),
        meaning="The mean of y changes by the same share for each step of x.",
    ).fit(sample, [_start(sample, rate, middle, origin) for rate in rates])


def _rates(sample: Sample, span: float) -> list[float]:
    """Begin from the line on ln y of the rows above zero, and from rates on either side of it."""
    rates = [1 / span, -1 / span, 4 / span, -4 / span]
    positive = sample.y > 0
    if np.count_nonzero(positive) > 2 and len(np.unique(sample.x[positive])) > 1:
        line = fit_line(
            Sample(sample.x[positive], np.log(sample.y[positive]), None, sample.rows[positive])
        )
        rates.insert(0, line.slope)
    return rates


def _start(sample: Sample, rate: float, middle: float, origin: float) -> Array:
    """The size at the origin that fits best at a rate."""
    with np.errstate(all="ignore"):
        e = np.exp(rate * (sample.x - middle))
        size = float(np.dot(e, sample.y) / np.dot(e, e))
        return np.array([size * np.exp(-rate * (middle - origin)), rate])


FAMILY = Family(
    name=_ON_LOGS.family,
    label="exponential curve",
    entry=Entry(
        method="a line on ln y (or least squares on y, by choice)",
        intervals="as a line, brought back; the curve is the median of y",
        exactness="exact under lognormal scatter",
    ),
    note="constant % growth",
    settings=ScatterSettings,
    fit=fit,
    units=lambda name: (1, 0) if name == "a" else (0, -1),
    needs=("positive y",),
    from_sums=FromSums(
        fit=lambda sums, _: _ON_LOGS.fit_parts(sums),
        logged="y",
        offered=lambda settings: settings.scatter == "multiplicative",
    ),
    candidates=(Candidate("exponential curve", ScatterSettings()),),
)
