"""Intervals from standard errors of y that are known, and not from how far the rows scatter.

Each row weighs 1/SE², and the covariance is (XᵀWX)⁻¹ as it stands, with normal quantiles (Seber and
Lee 2003, section 3.10). The residuals say only whether the standard errors given can be true: their
weighted sum of squares is χ² on the residual degrees of freedom.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
import scipy

from yarrowdew.core.errors import FitError
from yarrowdew.core.sample import Sample
from yarrowdew.core.trends.intervals.covariance import CovarianceFit
from yarrowdew.core.trends.on_logarithms import LineOnLogarithms
from yarrowdew.core.trends.protocol import HasTangent, TrendFit

_CLEAR = 0.05


@dataclass(frozen=True)
class GivenErrorsFit(CovarianceFit):
    """A fit with intervals from the standard errors of y that were given.

    Attributes
    ----------
    row_sd : float
        Standard error of a row of mean weight.
    """

    row_sd: float

    @property
    def test_df(self) -> float:
        """Infinitely many: nothing is estimated from the scatter."""
        return math.inf

    @property
    def new_row_sd(self) -> float:
        """That of a row of mean weight."""
        return self.row_sd

    @property
    def chi_squared(self) -> float:
        """Weighted sum of squared residuals."""
        return (self.inner.residual_sd / self.row_sd) ** 2 * self.inner.degrees_of_freedom

    @property
    def about_scatter(self) -> str:
        """How the rows scatter beside what was given."""
        df = self.inner.degrees_of_freedom
        above = float(scipy.special.chdtrc(df, self.chi_squared))
        as_they_say = (
            "scatter clearly more than they say: they are too small, or the form does not fit"
            if above < _CLEAR / 2
            else "scatter clearly less than they say: they are too large"
            if above > 1 - _CLEAR / 2
            else "do not clearly scatter more or less than they say"
        )
        return (
            "Intervals rest on the standard errors of y as they were given. The rows "
            f"{as_they_say} (χ² test)."
        )


def with_given_errors(fit: TrendFit, sample: Sample, exponent: int = 0) -> TrendFit:
    """Give a fit intervals from standard errors that are known.

    Parameters
    ----------
    fit : TrendFit
    sample : Sample
        Its weights are 1/SE² of y.
    exponent : int
        Of 2, by which they have to be multiplied to be so in the units that y is fitted in.

    Raises
    ------
    FitError
        If there are no weights, or the family is not one of least squares on y itself.
    """
    if sample.weights is None:
        raise FitError(
            "No standard errors of y are given.",
            "Choose a variable of standard errors as weights, or find intervals from the scatter.",
        )
    if isinstance(fit, LineOnLogarithms):
        raise FitError(
            "This trend is fitted on ln y, and the standard errors given are those of y.",
            "Set scatter of y to additive, or find intervals from the scatter.",
        )
    if getattr(fit, "allows_any_scatter", False) or not isinstance(fit, HasTangent):
        raise FitError(
            "Intervals of this form do not rest on standard errors of y.",
            "Find its intervals from the scatter, or by resampling rows.",
        )
    half, odd = divmod(exponent, 2)
    row_sd = math.ldexp(1 / math.sqrt(float(sample.weights.mean()) * 2**odd), -half)
    p = fit.tangent(sample.x[:1]).shape[1]
    return GivenErrorsFit(fit, np.eye(p) * row_sd**2, row_sd)
