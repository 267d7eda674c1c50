"""Every trend family there is. A new family is one module and one line here."""

from __future__ import annotations

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
from yarrowdew.core.trends.base import Family, TrendFit, TrendSettings

FAMILIES: dict[str, Family] = {
    family.name: family
    for family in (
        Family("straight", "straight line", straight.fit),
        Family("origin", "straight line through the origin", straight.fit_through_origin),
        Family("polynomial", "polynomial", polynomial.fit),
        Family("logarithmic", "logarithmic curve", logarithmic.fit),
        Family("exponential", "exponential curve", exponential.fit),
        Family("power", "power law", power.fit),
        Family("s-curve", "S-curve", s_curve.fit),
        Family("local", "local smooth", local.fit),
        Family("spline", "smoothing spline", spline.fit),
        Family("moving-average", "moving average", moving_average.fit),
        Family("resistant", "resistant line", resistant.fit),
        Family("balanced", "balanced line", balanced.fit),
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
    return FAMILIES[family].fit(sample, settings or TrendSettings())
