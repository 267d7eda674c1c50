"""Quantiles and tail areas that intervals rest on."""

from __future__ import annotations

import math

import numpy as np
import scipy

from yarrowdew.core.errors import FitError

LOWEST_LEVEL, HIGHEST_LEVEL = 0.5, 0.999


def check_level(level: float) -> float:
    """Return `level` if it is one that intervals are offered at.

    Raises
    ------
    FitError
        If it lies outside 0.50 to 0.999.
    """
    if not LOWEST_LEVEL <= level <= HIGHEST_LEVEL:
        raise FitError(
            f"The level {level:g} is not between {LOWEST_LEVEL:.2f} and {HIGHEST_LEVEL}.",
            "Give a share such as 0.95.",
        )
    return level


def t_quantile(level: float, degrees_of_freedom: float) -> float:
    """Half-width, in standard errors, of a two-sided interval by Student's t.

    Any level: a band for a whole line takes higher ones than are offered.
    """
    return float(-scipy.special.stdtrit(degrees_of_freedom, (1 - level) / 2))


def t_p_value(t: float, degrees_of_freedom: float) -> float:
    """Two-sided tail area of Student's t beyond ±`t`."""
    return float(2 * scipy.special.stdtr(degrees_of_freedom, -abs(t)))


def normal_quantile(level: float) -> float:
    """Half-width, in standard errors, of a two-sided normal interval."""
    return float(-scipy.special.ndtri((1 - level) / 2))


def ratio(numerator: float, denominator: float) -> float:
    """Divide, with ±inf for a non-zero number over zero and NaN for zero over zero."""
    if denominator:
        return numerator / denominator
    return math.copysign(np.inf, numerator) if numerator else np.nan
