"""Logistic regression: the probability of y = 1, or a share, as 1 / (1 + exp(−(a + b x))).

By maximum likelihood, or with the penalty of Firth (1993), which has a maximum also where the rows of
0 and of 1 lie apart. Weights are numbers of trials, of which y is the share that came out.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
import scipy

from yarrowdew.core.equation import EquationForm, Slot
from yarrowdew.core.errors import FitError
from yarrowdew.core.sample import Array, Sample
from yarrowdew.core.trends.assumptions import Assumption, of_curve, of_intervals, of_rows
from yarrowdew.core.trends.base import needs_rows, spread_of
from yarrowdew.core.trends.family import Entry, Family, setting
from yarrowdew.core.trends.solvers.likelihood import (
    MOST_PENALISED,
    MOST_PROFILED,
    Distribution,
    LikelihoodFit,
    Problem,
    Rows,
    standardised,
)


def _loss(y: Array, eta: Array) -> Array:
    """Return log(1 + exp η) − y η, without an exp that overflows."""
    return np.log1p(np.exp(-np.abs(eta))) + np.maximum(eta, 0) - y * eta


BINOMIAL = Distribution(
    mean=lambda eta: np.asarray(scipy.special.expit(eta)),
    link=lambda mean: math.log(mean / (1 - mean)) if 0 < mean < 1 else math.inf,
    pull=lambda y, mean: y - mean,
    # Never quite 0, where rounding would leave no curvature.
    curvature=lambda mean: np.maximum(mean * (1 - mean), 1e-300),
    loss=_loss,
)


@dataclass(frozen=True, slots=True, kw_only=True)
class LogisticSettings:
    """Settings of a logistic regression."""

    estimate: str = setting(
        "likelihood",
        "Estimated by",
        "By maximum likelihood, or with Firth’s penalty, which also fits rows that lie apart.",
        choices={"likelihood": "maximum likelihood", "firth": "Firth’s penalised likelihood"},
    )


@dataclass(frozen=True, slots=True, kw_only=True)
class LogisticFit(LikelihoodFit):
    """A logistic regression.

    Attributes
    ----------
    is_penalised : bool
    are_shares : bool
        Whether y holds shares of trials, and not 0 and 1 alone.
    fewest : float
        How often the rarer outcome came.
    """

    is_penalised: bool
    are_shares: bool
    fewest: float

    @property
    def assumptions(self) -> tuple[Assumption, ...]:
        """What the curve and its intervals rest on."""
        out = [
            of_curve(
                "The logarithm of the odds of y changes along a straight line with x; the curve is "
                "the probability of y = 1 at each x."
            ),
            of_rows(
                "Trials are independent of one another, and those at one x have one probability."
                if self.are_shares
                else "Rows are independent of one another, and x is known without error."
            ),
            of_intervals(
                "Intervals of b and of x at a level are by profile likelihood, the band by its "
                "curvature; p is that of the likelihood-ratio test. All are approximate for few "
                "rows of the rarer outcome."
                if self.problem is not None
                else "Intervals are by the curvature of the likelihood; p is that of the "
                "likelihood-ratio test."
            ),
        ]
        if self.is_penalised:
            out.append(
                of_curve("Firth’s penalty draws the curve a little towards the level one (1993).")
            )
        return tuple(out)

    @property
    def form(self) -> EquationForm:
        """The curve as printed."""
        return _form(self.intercept, self.slope)

    def form_about(self, origin: float) -> EquationForm:
        """The curve in x counted from another origin."""
        return _form(self.intercept + self.slope * origin, self.slope)


def _form(a: float, b: float) -> EquationForm:
    pattern = ("1 / (1 + exp(", Slot(0), Slot(1, joined=True), " {x}))")
    return EquationForm((-a, -b), _printed, pattern, ((0, 0), (0, -1)))


def _printed(values: tuple[float, ...], x: Array) -> Array:
    return np.asarray(scipy.special.expit(-(values[0] + values[1] * x)))


def fit(sample: Sample, settings: LogisticSettings) -> LogisticFit:
    """Fit the curve.

    Raises
    ------
    FitError
        If y is neither 0 and 1 nor shares with their numbers of trials, is always the same, or the
        rows of 0 and of 1 lie apart and no penalty is asked for.
    """
    what = "A logistic regression"
    needs_rows(sample, 3, what)
    y = sample.y
    outside = int(np.count_nonzero((y < 0) | (y > 1)))
    if outside:
        raise FitError(
            f"{what} needs a y of 0 and 1, or shares between them; {outside:,} "
            f"{'row lies' if outside == 1 else 'rows lie'} outside.",
            "Derive a variable that is 1 where it is so and 0 where not, or divide by the number "
            "of trials.",
        )
    between = int(np.count_nonzero((y > 0) & (y < 1)))
    if between and sample.weights is None and not sample.is_counted:
        raise FitError(
            f"{between:,} {'row holds a share' if between == 1 else 'rows hold shares'} between 0 "
            "and 1, without their numbers of trials.",
            "Choose the variable that holds the number of trials as weights.",
        )
    if (y == y[0]).all() and y[0] in (0.0, 1.0):
        raise FitError(
            f"y is {y[0]:g} in every row, so there is nothing to tell apart.",
            "Choose a variable with both outcomes.",
        )
    is_penalised = settings.estimate == "firth"
    apart = None if is_penalised else _apart(sample)
    if apart is not None:
        raise FitError(
            f"The rows of 0 and of 1 lie apart: {apart}. The steeper the curve, the better it "
            "fits, without an end.",
            "Choose Firth’s penalised likelihood in the settings of the trend, or take the place "
            "between them as the answer.",
        )
    z, middle, unit = standardised(sample)
    weight: Array | float = 1.0 if sample.weights is None else sample.weights
    trials = float(sample.n if sample.weights is None else sample.weights.sum())
    problem = Problem(Rows(z, y, weight), BINOMIAL, is_penalised)
    mean = float(np.sum(weight * y)) / trials
    inside = min(max(mean, 0.5 / trials), 1 - 0.5 / trials)
    curve = problem.solve((BINOMIAL.link(inside), 0.0))
    fitted = BINOMIAL.mean(curve.at_middle + curve.slope * z)
    residual = y - fitted
    sse = float(np.sum(weight * residual * residual)) * sample.n / trials
    null = problem.least_along(np.zeros_like(z), np.ones_like(z), BINOMIAL.link(inside))[0]
    # Of shares less what a curve through every one of them would leave.
    full = scipy.special.entr(y) + scipy.special.entr(1 - y) if between else 0.0
    loss = _loss(y, curve.at_middle + curve.slope * z)
    deviance = 2 * float(np.sum(weight * (loss - full)))
    ones, zeros = weight * y, weight * (1 - y)
    tjur = float(np.sum(ones * fitted) / np.sum(ones) - np.sum(zeros * fitted) / np.sum(zeros))
    return LogisticFit(
        family=FAMILY.name,
        n=sample.n,
        x_range=sample.x_range,
        sse=sse,
        sst=spread_of(sample),
        degrees_of_freedom=sample.n - 2,
        parameters=2,
        curve=curve,
        middle=middle,
        unit=unit,
        of=BINOMIAL,
        problem=problem
        if sample.n <= (MOST_PENALISED if is_penalised else MOST_PROFILED)
        else None,
        dispersion=1.0,
        test_df=None,
        null_objective=null,
        measures_of_fit=(("Tjur’s R²", tjur), ("Deviance", deviance)),
        excess=_excess(sample, fitted, weight) if between else None,
        is_penalised=is_penalised,
        are_shares=bool(between),
        fewest=float(min(np.sum(ones), np.sum(zeros))),
    )


def _excess(sample: Sample, fitted: Array, trials: Array | float) -> tuple[float, float] | None:
    """By how much shares scatter more than independent trials would, and the p of that."""
    df = sample.n - 2
    if sample.weights is None or df < 1:
        return None
    pearson = float(np.sum(trials * (sample.y - fitted) ** 2 / (fitted * (1 - fitted))))
    return pearson / df, float(scipy.special.chdtrc(df, pearson))


def _apart(sample: Sample) -> str | None:
    """Say how the rows of 0 and of 1 lie apart, if they do but for a single x."""
    x, y = sample.x, sample.y
    some, none = x[y > 0], x[y < 1]
    if some.min() >= none.max():
        return "no row of 0 is above one of 1"
    if some.max() <= none.min():
        return "no row of 1 is above one of 0"
    return None


FAMILY = Family(
    name="logistic",
    label="logistic regression",
    entry=Entry(
        method="maximum likelihood by reweighted least squares (McCullagh and Nelder 1989); Firth (1993) by choice",
        intervals="profile likelihood (Venzon and Moolgavkar 1988), also of x at a level; p: likelihood ratio; Tjur’s R² (2009)",
        exactness="approximate for few rows of the rarer outcome (see the table)",
    ),
    note="y is 0 or 1, or a share of trials",
    settings=LogisticSettings,
    fit=fit,
    units=lambda name: (0, -1) if name == "b" else (0, 0),
    r_squared_about="nothing",
    takes_units=False,
    coefficient_labels={"a": "a, log odds at x = 0", "b": "b, log odds for each unit of x"},
)
