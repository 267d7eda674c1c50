"""Every trend family there is. A new family is one module and one line here."""

from __future__ import annotations

from yarrowdew.core.errors import FitError
from yarrowdew.core.sample import Sample
from yarrowdew.core.trends import straight
from yarrowdew.core.trends.base import Family, TrendFit

FAMILIES: dict[str, Family] = {
    family.name: family
    for family in (
        Family("straight", "straight line", straight.fit),
        Family("origin", "straight line through the origin", straight.fit_through_origin),
    )
}


def fit_trend(family: str, sample: Sample) -> TrendFit:
    """Fit one trend.

    Parameters
    ----------
    family : str
        A key of `FAMILIES`.
    sample : Sample
        Complete pairs, as `yarrowdew.core.sample.paired` makes them.

    Raises
    ------
    FitError
        If there is no such family, or the fit cannot be made from these rows.
    """
    if family not in FAMILIES:
        known = ", ".join(FAMILIES)
        raise FitError(f"There is no trend family '{family}'.", f"Choose one of: {known}.")
    return FAMILIES[family].fit(sample)
