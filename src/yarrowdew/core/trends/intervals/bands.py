"""Bands about a trend: for the mean at each x, for the whole line at once, or for a new row."""

from __future__ import annotations

import math

import scipy

from yarrowdew.core.intervals import check_level
from yarrowdew.core.sample import Array
from yarrowdew.core.trends.intervals.covariance import CovarianceFit
from yarrowdew.core.trends.protocol import BandKind, HasWholeBand, Interval, TrendFit
from yarrowdew.core.trends.scaled import ScaledFit


def band_of(fit: TrendFit, x: Array, level: float, kind: BandKind) -> Interval | None:
    """Find the band of a kind at each x; None where the family has none.

    A band for the whole line covers all of it at once with its level: for a straight line that of
    Working and Hotelling (1929), and of Scheffé (1959) for all that are linear in p coefficients;
    for others the same in the tangent plane, which is approximate.

    Parameters
    ----------
    fit : TrendFit
    x : ndarray, shape (m,)
    level : float
    kind : {"confidence", "whole line", "prediction"}
    """
    if kind != "whole line":
        return fit.band(x, level, kind)
    if isinstance(fit, HasWholeBand):
        return fit.whole_band(x, level)
    own = fit.inner if isinstance(fit, ScaledFit) else fit
    df = own.test_df if isinstance(own, CovarianceFit) else fit.degrees_of_freedom
    return fit.band(x, whole_line_level(fit.parameters, df, level), "confidence")


def whole_line_level(parameters: float, degrees_of_freedom: float, level: float) -> float:
    """Level of a band for each x alone that covers a whole line of p coefficients with another.

    Student's t at it is √(p F), F being the quantile at `level` for p coefficients.
    """
    check_level(level)
    if math.isinf(degrees_of_freedom):
        f = float(scipy.special.chdtri(parameters, 1 - level)) / parameters
    else:
        f = float(scipy.special.fdtri(parameters, degrees_of_freedom, level))
    reach = math.sqrt(parameters * f)
    return float(1 - 2 * scipy.special.stdtr(degrees_of_freedom, -reach))
