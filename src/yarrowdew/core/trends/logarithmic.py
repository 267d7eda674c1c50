"""The logarithmic curve, y = a + b ln x: a straight line on ln x."""

from __future__ import annotations

from yarrowdew.core.sample import Sample
from yarrowdew.core.trends.family import Candidate, Family, NoSettings
from yarrowdew.core.trends.on_logarithms import LineOnLogarithms, fit_on_logarithms


def fit(sample: Sample, settings: NoSettings) -> LineOnLogarithms:
    """Fit y = a + b ln x by (weighted) least squares; exact intervals under normal scatter.

    Raises
    ------
    FitError
        If an x is not positive, or there are too few rows.
    """
    return fit_on_logarithms(
        sample,
        family=FAMILY.name,
        logged="x",
        meaning="The mean of y changes along a straight line with the logarithm of x.",
    )


FAMILY = Family(
    name="logarithmic",
    label="logarithmic curve",
    note="levels off",
    settings=NoSettings,
    fit=fit,
    units=lambda _: (1, 0),
    takes_logs_of_x=True,
    needs=("positive x",),
    candidates=(Candidate("logarithmic curve", NoSettings()),),
)
