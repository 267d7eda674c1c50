"""The logarithmic curve, y = a + b ln x: a straight line on ln x."""

from __future__ import annotations

from yarrowdew.core.sample import Sample
from yarrowdew.core.trends.base import TrendSettings
from yarrowdew.core.trends.carried import CarriedLine, carried


def fit(sample: Sample, settings: TrendSettings) -> CarriedLine:
    """Fit y = a + b ln x by (weighted) least squares; exact intervals under normal scatter.

    Raises
    ------
    FitError
        If an x is not positive, or there are too few rows.
    """
    return carried(
        sample,
        family="logarithmic",
        logged="x",
        meaning="The mean of y changes along a straight line with the logarithm of x.",
    )
