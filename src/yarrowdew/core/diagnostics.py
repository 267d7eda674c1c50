"""What each row does in a fit."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
import scipy

from yarrowdew.core.sample import Array, Sample
from yarrowdew.core.trends.base import TrendFit, mean_one


@dataclass(frozen=True, slots=True)
class Diagnostics:
    """One value for each row fitted, shape (n,) each; None where a form has no such thing.

    Attributes
    ----------
    fitted, residual : ndarray
        In units of y; NaN where the trend has no value.
    leverage, studentised, cook : ndarray or None
        Cook's distance (1977) is on the scale on which the fit was made.
    slope_change : ndarray or None
        Change of slope when the row is left out.
    """

    fitted: Array
    residual: Array
    leverage: Array | None
    studentised: Array | None
    cook: Array | None
    slope_change: Array | None


def diagnose(fit: TrendFit, sample: Sample) -> Diagnostics:
    """Work out what each row does in a fit."""
    fitted = fit.predict(sample.x)
    return Diagnostics(
        fitted=fitted,
        residual=sample.y - fitted,
        leverage=fit.leverage(sample),
        studentised=fit.studentised(sample),
        cook=cooks_distance(fit, sample),
        slope_change=fit.slope_changes(sample),
    )


def cooks_distance(fit: TrendFit, sample: Sample) -> Array | None:
    """How far all fitted values move when a row is left out (Cook 1977); None without leverages."""
    leverage, studentised = fit.leverage(sample), fit.studentised(sample)
    if leverage is None or studentised is None:
        return None
    # A row that fixes the fit alone has no distance: nothing can be fitted without it.
    rest = np.where(leverage < 1 - 1e-12, 1 - leverage, np.inf)
    return np.asarray(studentised**2 * leverage / (rest * fit.parameters))


def cross_validation_error(fit: TrendFit, sample: Sample) -> float | None:
    """Root mean square distance of rows from the trend fitted without them; None without one."""
    off = fit.left_out(sample)
    if off is None:
        return None
    w = mean_one(sample)
    error = float(np.sqrt(np.mean(w * off * off)))
    return error if math.isfinite(error) else None


def normal_scores(values: Array) -> Array:
    """Normal quantiles of the ranks, as a normal quantile plot has them (Blom 1958)."""
    n = len(values)
    ranks = np.empty(n)
    ranks[np.argsort(values, kind="stable")] = np.arange(1, n + 1)
    return np.asarray(scipy.special.ndtri((ranks - 0.375) / (n + 0.25)))
