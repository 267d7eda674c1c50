"""Intervals that hold where the scatter differs from place to place.

Standard errors are consistent under unequal scatter: HC3 of MacKinnon and White (1985), with the
form of Davidson and MacKinnon (1993, section 16.3), in which each residual is divided by one less
its leverage. In the columns T that a fit gives (TᵀWT = 1) the covariance of the fit is
Σ wᵢ² tᵢ tᵢᵀ eᵢ² / (1 − hᵢ)².
"""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from yarrowdew.core.errors import FitError
from yarrowdew.core.sample import Sample
from yarrowdew.core.trends.base import mean_one
from yarrowdew.core.trends.intervals.covariance import CovarianceFit
from yarrowdew.core.trends.on_logarithms import LineOnLogarithms
from yarrowdew.core.trends.protocol import HasTangent, TrendFit


class HC3Fit(CovarianceFit):
    """A fit with standard errors that allow for unequal scatter."""

    @property
    def about_scatter(self) -> str:
        """What is supposed of the scatter."""
        return (
            "The scatter about it may differ from place to place: standard errors are consistent "
            "under unequal scatter (HC3). A band for a new row still takes it as the same "
            "everywhere."
        )


def under_unequal_scatter(fit: TrendFit, sample: Sample) -> TrendFit:
    """Give a fit standard errors that are consistent under unequal scatter.

    Raises
    ------
    FitError
        If the family is not one of least squares, or a row fixes the fit alone.
    """
    if isinstance(fit, LineOnLogarithms):
        return replace(fit, robust_line=under_unequal_scatter(fit.line, fit.on_line(sample)))
    if getattr(fit, "allows_any_scatter", False):
        return fit
    if not isinstance(fit, HasTangent):
        raise FitError(
            "This form has no standard errors for unequal scatter.",
            "Find its intervals by resampling rows.",
        )
    w = mean_one(sample)
    t = fit.tangent(sample.x)
    leverage = np.minimum((t * t).sum(axis=1) * w, 1.0)
    off = (sample.y - fit.predict(sample.x)) * w
    rest = 1 - leverage
    if (rest < 1e-12).any():
        raise FitError(
            "One row alone decides this fit, so its scatter cannot be estimated.",
            "Take the scatter as equal everywhere, or choose a simpler form.",
        )
    weighted = t * (off / rest)[:, None]
    return HC3Fit(fit, weighted.T @ weighted)
