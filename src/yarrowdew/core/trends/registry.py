"""Every trend family there is, and the one gate to them. A new family is one module and one
line.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from functools import partial
from importlib.metadata import entry_points
from typing import Any

import numpy as np

from yarrowdew.core.arithmetic import beyond, computed, exponent_of
from yarrowdew.core.errors import FitError
from yarrowdew.core.sample import Sample
from yarrowdew.core.trends.base import TrendFit
from yarrowdew.core.trends.families import (
    deming,
    errors_in_variables,
    exponential,
    formula,
    loess,
    log_linear,
    logarithmic,
    logistic,
    mm,
    moving_average,
    origin,
    passing_bablok,
    polynomial,
    power,
    quantile,
    reduced_major_axis,
    s_curve,
    segmented,
    sine_wave,
    spline,
    straight,
    theil_sen,
)
from yarrowdew.core.trends.family import Family
from yarrowdew.core.trends.intervals.bootstrap import resampled
from yarrowdew.core.trends.intervals.clusters import under_clusters
from yarrowdew.core.trends.intervals.given_errors import with_given_errors
from yarrowdew.core.trends.intervals.hc3 import under_unequal_scatter
from yarrowdew.core.trends.protocol import Errors, present_errors
from yarrowdew.core.trends.scaled import ScaledFit, in_units

FAMILIES: dict[str, Family[Any]] = {}
"""By name, in the order in which they are offered."""


def register(family: Family[Any]) -> None:
    """Offer a family."""
    FAMILIES[family.name] = family


for _module in (
    straight,
    origin,
    polynomial,
    logarithmic,
    exponential,
    power,
    s_curve,
    logistic,
    log_linear,
    loess,
    spline,
    moving_average,
    theil_sen,
    mm,
    reduced_major_axis,
    deming,
    passing_bablok,
    errors_in_variables,
    quantile,
    segmented,
    sine_wave,
    formula,
):
    register(_module.FAMILY)
for _found in entry_points(group="yarrowdew.families"):
    # Families of other packages that are installed beside this one.
    register(_found.load())


def present_name(name: str) -> str:
    """What a family is called now that may be named as it was before."""
    return next((family.name for family in FAMILIES.values() if name in family.was), name)


def family_of(name: str) -> Family[Any]:
    """Find a family.

    Raises
    ------
    FitError
        If there is none of that name.
    """
    name = present_name(name)
    if name not in FAMILIES:
        known = ", ".join(FAMILIES)
        raise FitError(f"There is no trend family '{name}'.", f"Choose one of: {known}.")
    return FAMILIES[name]


def fit_trend(
    sample: Sample,
    family: str,
    settings: Any = None,
    errors: Errors = "equal",
    seed: int = 1,
    *,
    resamples: int | None = None,
) -> TrendFit:
    """Fit one trend.

    Parameters
    ----------
    sample : Sample
        Complete pairs, as `yarrowdew.core.sample.paired` makes them.
    family : str
        A key of `FAMILIES`.
    settings : dataclass, optional
        What was set about the family, of its own kind; as it begins where None.
    errors : {"equal", "hc3", "cluster", "bootstrap", "given"}
        How its intervals are found; "given" takes the weights as 1/SE² of y.
    seed : int
        Of rows that are drawn again.
    resamples : int, optional
        How often they are; as often as suits so many rows where None.

    Raises
    ------
    FitError
        If there is no such family, or the fit cannot be made from these rows, whatever arithmetic
        throws.
    """
    of = family_of(family)
    errors = present_errors(errors)
    settings = of.settings() if settings is None else settings
    with computed(of.with_article):
        own = of.takes_units
        x = 0 if of.takes_logs_of_x or not own else exponent_of(sample.x)
        y = exponent_of(sample.y) if own else 0
        weight = 0 if sample.weights is None else exponent_of(sample.weights)
        if x == y == weight == 0:
            fit = _fitted(of, sample, settings, errors=errors, seed=seed, resamples=resamples)
        else:
            made = partial(
                _fitted,
                of,
                errors=errors,
                seed=seed,
                resamples=resamples,
                exponent=weight + 2 * y,
            )
            fit = _in_other_units(of, sample, settings, made, exponents=(x, y, weight))
        check_fit(fit, f"This {of.label}")
    return fit


def _fitted(
    of: Family[Any],
    sample: Sample,
    settings: Any,
    *,
    errors: Errors,
    seed: int,
    resamples: int | None,
    exponent: int = 0,
) -> TrendFit:
    fit = of.fit(sample, settings)
    if errors == "hc3":
        return under_unequal_scatter(fit, sample)
    if errors == "cluster":
        return under_clusters(fit, sample)
    if errors == "given":
        return with_given_errors(fit, sample, exponent)
    if errors == "bootstrap":
        said = f"{of.name} {settings!r}"
        return resampled(
            fit, sample, lambda rows: of.fit(rows, settings), seed, said, count=resamples
        )
    return fit


def _in_other_units(
    of: Family[Any],
    sample: Sample,
    settings: Any,
    made: Callable[[Sample, Any], TrendFit],
    *,
    exponents: tuple[int, int, int],
) -> TrendFit:
    x, y, weight = exponents
    inner = in_units(sample, x, y, weight)
    if not (np.isfinite(inner.x).all() and np.isfinite(inner.y).all()):
        raise beyond(of.with_article)
    fit = of.seen_from(made(inner, of.in_units(settings, x, y)), x, y)
    if x == y == 0:
        return fit
    ends = float(sample.x.min()), float(sample.x.max())
    return ScaledFit(fit, x, y, of.units, ends)


def check_fit(fit: TrendFit, what: str) -> None:
    """Refuse a fit some number of which does not exist, before anything is said of it."""
    numbers = [fit.residual_sd, fit.degrees_of_freedom, fit.parameters]
    for c in fit.coefficients(_LEVEL):
        numbers += [c.value, *(v for v in (c.se,) if v is not None)]
    numbers += [v for v in (fit.r_squared, fit.adjusted_r_squared) if v is not None]
    ends = fit.predict(np.array(fit.x_range))
    # An average has no value at its ends, and says so by NaN; infinite it must not be.
    if not all(map(math.isfinite, numbers)) or np.isinf(ends).any():
        raise beyond(what)
    form = fit.form
    if form is not None and not all(map(math.isfinite, form.values)):
        raise beyond(what)


_LEVEL = 0.95
