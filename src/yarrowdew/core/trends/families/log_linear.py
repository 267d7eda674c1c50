"""Log-linear regression of counts: the mean of y is exp(a + b x), zeros included.

Counts scatter as Poisson’s do, in proportion to the mean, or more and more above it (negative
binomial). Weights are exposures, of which y is the rate: time, area or people that were looked at.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
import scipy

from yarrowdew.core.equation import EquationForm
from yarrowdew.core.errors import FitError
from yarrowdew.core.sample import Array, Sample
from yarrowdew.core.trends.assumptions import (
    Assumption,
    of_curve,
    of_intervals,
    of_rows,
    of_scatter,
)
from yarrowdew.core.trends.base import needs_rows, spread_of
from yarrowdew.core.trends.family import Entry, Family, setting
from yarrowdew.core.trends.on_logarithms import exponential_form
from yarrowdew.core.trends.solvers.likelihood import (
    MOST_PROFILED,
    Curve,
    Distribution,
    LikelihoodFit,
    Problem,
    Rows,
    standardised,
)

_LARGEST_EXPONENT = 700.0
_LEAST_EXCESS = 1e-8
"""A negative binomial whose variance exceeds Poisson’s by no more is one."""


def _exp(eta: Array) -> Array:
    return np.exp(np.minimum(eta, _LARGEST_EXPONENT))


def _log(mean: float) -> float:
    return math.log(mean) if 0 < mean < math.inf else -math.inf


POISSON = Distribution(
    mean=_exp,
    link=_log,
    pull=lambda y, mean: y - mean,
    curvature=lambda mean: np.maximum(mean, 1e-300),
    loss=lambda y, eta: _exp(eta) - y * eta,
)


def negative_binomial(excess: float) -> Distribution:
    """Make the distribution whose variance is the mean and `excess` times its square."""
    return Distribution(
        mean=_exp,
        link=_log,
        pull=lambda y, mean: (y - mean) / (1 + excess * mean),
        curvature=lambda mean: np.maximum(mean / (1 + excess * mean), 1e-300),
        loss=lambda y, eta: (y + 1 / excess) * np.log1p(excess * _exp(eta)) - y * eta,
    )


@dataclass(frozen=True, slots=True, kw_only=True)
class LogLinearSettings:
    """Settings of a log-linear regression."""

    variance: str = setting(
        "proportional",
        "Variance of counts",
        "In proportion to the mean (quasi-Poisson), as large as the mean (Poisson), or growing with "
        "its square (negative binomial).",
        choices={
            "proportional": "in proportion to the mean",
            "poisson": "the mean (Poisson)",
            "negative binomial": "growing with its square (negative binomial)",
        },
    )


_SCATTERS = {
    "proportional": "The variance of counts is in proportion to their mean, by a factor that is "
    "estimated (quasi-Poisson).",
    "poisson": "The variance of counts is their mean (Poisson).",
    "negative binomial": "The variance of counts is their mean and a multiple of its square "
    "(negative binomial), which is estimated first and then taken as known.",
}


@dataclass(frozen=True, slots=True, kw_only=True)
class LogLinearFit(LikelihoodFit):
    """A log-linear regression.

    Attributes
    ----------
    scatter : str
    """

    scatter: str

    @property
    def assumptions(self) -> tuple[Assumption, ...]:
        """What the curve and its intervals rest on."""
        return (
            of_curve("The mean of y grows or falls by the same share with each step of x."),
            of_scatter(_SCATTERS[self.scatter]),
            of_rows("Rows are independent of one another, and x is known without error."),
            of_intervals(
                "Intervals of b and of x at a level are by profile likelihood, the band by its "
                "curvature; p is that of the likelihood-ratio test. All are approximate for few "
                "counts."
                if self.problem is not None
                else "Intervals are by the curvature of the likelihood; p is that of the "
                "likelihood-ratio test."
            ),
        )

    @property
    def form(self) -> EquationForm:
        """The curve as printed."""
        return self._form_at(0.0)

    def form_about(self, origin: float) -> EquationForm:
        """The curve in x counted from another origin."""
        return exponential_form(self._level_at(origin), self.slope)

    def _form_at(self, place: float) -> EquationForm:
        """About x = 0, or about the middle of the data where y at 0 is no number to be written."""
        if abs(self.slope * self.middle) > 30:
            place = float(f"{self.middle:.6g}")
        return exponential_form(self._level_at(place), self.slope, place)

    def _level_at(self, x: float) -> float:
        return float(self.predict(np.array([x]))[0])


def fit(sample: Sample, settings: LogLinearSettings) -> LogLinearFit:
    """Fit the curve.

    Raises
    ------
    FitError
        If y holds values below zero, nothing but zeros, or no counts where counts are needed.
    """
    what = "A log-linear regression"
    needs_rows(sample, 3, what)
    y = sample.y
    below = int(np.count_nonzero(y < 0))
    if below:
        raise FitError(
            f"{below:,} {'row has' if below == 1 else 'rows have'} a y below 0, which is no count.",
            "Choose a variable that counts something.",
        )
    if not y.any():
        raise FitError("y is 0 in every row, so there is nothing to count.", "Choose another y.")
    are_counts = bool((y == np.floor(y)).all()) or sample.weights is not None
    if settings.variance != "proportional" and not are_counts:
        raise FitError(
            "y does not hold whole numbers, and is no count.",
            "Choose a variance in proportion to the mean, or give the exposure as weights if y is "
            "a rate.",
        )
    z, middle, unit = standardised(sample)
    weight: Array | float = 1.0 if sample.weights is None else sample.weights
    rows = Rows(z, y, weight)
    start = (math.log(float(np.average(y, weights=sample.weights))), 0.0)
    of = POISSON
    curve = Problem(rows, of).solve(start)
    n = sample.n
    df = n - 2
    excess_of_square = 0.0
    if settings.variance == "negative binomial":
        excess_of_square, curve, of = _with_excess(rows, curve)
    problem = Problem(rows, of)
    fitted = of.mean(curve.at_middle + curve.slope * z)
    pearson = float(np.sum(weight * (y - fitted) ** 2 / fitted))
    residual = y - fitted
    total = float(n) if sample.weights is None else float(sample.weights.sum())
    null = problem.least_along(np.zeros_like(z), np.ones_like(z), start[0])[0]
    full = 2 * float(np.sum(weight * _least_loss(y, of)))
    measures = [("Deviance explained", 1 - (curve.objective - full) / (null - full))]
    if settings.variance == "negative binomial":
        measures.append(("Excess variance (per mean²)", excess_of_square))
    else:
        measures.append(("Variance over mean", pearson / df))
    estimated = settings.variance == "proportional"
    return LogLinearFit(
        family=FAMILY.name,
        n=n,
        x_range=sample.x_range,
        sse=float(np.sum(weight * residual * residual)) * n / total,
        sst=spread_of(sample),
        degrees_of_freedom=df,
        parameters=2,
        curve=curve,
        middle=middle,
        unit=unit,
        of=of,
        problem=problem if n <= MOST_PROFILED else None,
        dispersion=pearson / df if estimated else 1.0,
        test_df=float(df) if estimated else None,
        null_objective=null,
        measures_of_fit=tuple(measures) if null > full else tuple(measures[1:]),
        excess=(pearson / df, float(scipy.special.chdtrc(df, pearson)))
        if settings.variance == "poisson"
        else None,
        scatter=settings.variance,
    )


def _least_loss(y: Array, of: Distribution) -> Array:
    """Loss of a curve through every row."""
    return of.loss(y, np.log(np.maximum(y, 1e-300)))


def _with_excess(rows: Rows, poisson: Curve) -> tuple[float, Curve, Distribution]:
    """Find the excess of variance that the counts are likeliest under, and the curve with it."""
    _, y, weight = rows
    counts = weight * y

    def loss(log_excess: float) -> float:
        excess = math.exp(log_excess)
        of = negative_binomial(excess)
        found = Problem(rows, of).solve((poisson.at_middle, poisson.slope))
        size = weight / excess
        constant = scipy.special.gammaln(counts + size) - scipy.special.gammaln(size)
        return found.objective / 2 - float(np.sum(constant + counts * log_excess))

    found = scipy.optimize.minimize_scalar(
        loss, bounds=(math.log(_LEAST_EXCESS), math.log(1e3)), method="bounded"
    )
    excess = math.exp(found.x)
    of = negative_binomial(excess)
    return excess, Problem(rows, of).solve((poisson.at_middle, poisson.slope)), of


FAMILY = Family(
    name="log-linear",
    label="log-linear regression",
    entry=Entry(
        method="maximum likelihood by reweighted least squares (McCullagh and Nelder 1989): quasi-Poisson, Poisson, or negative binomial",
        intervals="profile likelihood (Venzon and Moolgavkar 1988), of quasi-Poisson with Student’s t; p: likelihood ratio, or F",
        exactness="approximate for few counts (see the table)",
    ),
    note="y counts something, zeros included",
    settings=LogLinearSettings,
    fit=fit,
    units=lambda name: (0, -1) if name == "b" else (0, 0),
    r_squared_about="nothing",
    takes_units=False,
    coefficient_labels={"a": "a, ln of y at x = 0", "b": "b, change of ln y for each unit of x"},
)
