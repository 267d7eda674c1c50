"""Every trend family there is. A new family is one module and one line here."""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np

from yarrowdew.core.arithmetic import beyond, computed, exponent_of
from yarrowdew.core.errors import FitError
from yarrowdew.core.sample import Sample
from yarrowdew.core.trends import (
    balanced,
    exponential,
    local,
    logarithmic,
    moving_average,
    polynomial,
    power,
    resistant,
    s_curve,
    spline,
    straight,
)
from yarrowdew.core.trends.base import Family, TrendFit, TrendSettings, Units
from yarrowdew.core.trends.moving_average import MovingAverage
from yarrowdew.core.trends.scaled import ScaledFit, in_units
from yarrowdew.core.trends.straight import StraightLine


def _linear(name: str) -> Units:
    return (1, 0) if name == "a" else (1, -1)


def _of_power(name: str) -> Units:
    return (1, -int(name[1:]))


def _exponential(name: str) -> Units:
    return (1, 0) if name == "a" else (0, -1)


def _s_curve(name: str) -> Units:
    return {"middle": (0, 1), "steepness": (0, -1)}.get(name, (1, 0))


FAMILIES: dict[str, Family] = {
    family.name: family
    for family in (
        Family("straight", "straight line", straight.fit, _linear),
        Family("origin", "straight line through the origin", straight.fit_through_origin, _linear),
        Family("polynomial", "polynomial", polynomial.fit, _of_power),
        Family(
            "logarithmic",
            "logarithmic curve",
            logarithmic.fit,
            lambda _: (1, 0),
            takes_logs_of_x=True,
        ),
        Family("exponential", "exponential curve", exponential.fit, _exponential),
        Family(
            "power",
            "power law",
            power.fit,
            lambda name: (1, 0) if name == "a" else (0, 0),
            takes_logs_of_x=True,
        ),
        Family("s-curve", "S-curve", s_curve.fit, _s_curve),
        Family("local", "local smooth", local.fit),
        Family("spline", "smoothing spline", spline.fit),
        Family("moving-average", "moving average", moving_average.fit),
        Family("resistant", "resistant line", resistant.fit, _linear),
        Family("balanced", "balanced line", balanced.fit, _linear),
    )
}


def fit_trend(family: str, sample: Sample, settings: TrendSettings | None = None) -> TrendFit:
    """Fit one trend.

    Parameters
    ----------
    family : str
        A key of `FAMILIES`.
    sample : Sample
        Complete pairs, as `yarrowdew.core.sample.paired` makes them.
    settings : TrendSettings, optional
        What was set about the family.

    Raises
    ------
    FitError
        If there is no such family, or the fit cannot be made from these rows.
    """
    if family not in FAMILIES:
        known = ", ".join(FAMILIES)
        raise FitError(f"There is no trend family '{family}'.", f"Choose one of: {known}.")
    of = FAMILIES[family]
    settings = settings or TrendSettings()
    with computed(f"A {of.label}".replace("A e", "An e").replace("A S", "An S")):
        x = 0 if of.takes_logs_of_x else exponent_of(sample.x)
        y = exponent_of(sample.y)
        weight = 0 if sample.weights is None else exponent_of(sample.weights)
        if x == y == weight == 0:
            fit = of.fit(sample, settings)
        else:
            fit = _in_other_units(of, sample, settings, exponents=(x, y, weight))
        _check(fit, f"This {of.label}")
    return fit


def _in_other_units(
    of: Family, sample: Sample, settings: TrendSettings, *, exponents: tuple[int, int, int]
) -> TrendFit:
    x, y, weight = exponents
    inner = in_units(sample, x, y, weight)
    if not (np.isfinite(inner.x).all() and np.isfinite(inner.y).all()):
        raise beyond(f"A {of.label}")

    def down(value: float | None, exponent: int) -> float | None:
        return None if value is None else math.ldexp(value, -exponent)

    window = settings.window
    asked = replace(
        settings,
        intercept=down(settings.intercept, y),
        lower=down(settings.lower, y),
        upper=down(settings.upper, y),
        window=math.ldexp(window, -x) if settings.window_unit == "x" else window,
    )
    fit = of.fit(inner, asked)
    if isinstance(fit, StraightLine):
        fit = replace(fit, y_unit=math.ldexp(1.0, y))
    elif isinstance(fit, MovingAverage) and settings.window_unit == "x":
        fit = replace(fit, x_unit=math.ldexp(1.0, x))
    if x == y == 0:
        return fit
    ends = float(sample.x.min()), float(sample.x.max())
    return ScaledFit(fit, x, y, of.units, ends)


def _check(fit: TrendFit, what: str) -> None:
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
