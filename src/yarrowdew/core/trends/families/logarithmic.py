"""The logarithmic curve, y = a + b ln x: a straight line on ln x."""

from __future__ import annotations

from yarrowdew.core.sample import Sample
from yarrowdew.core.trends.family import Candidate, Entry, Family, FromSums, NoSettings
from yarrowdew.core.trends.on_logarithms import LineOnLogarithms, OnLogarithms

_ON_LOGS = OnLogarithms(
    "logarithmic", "x", "The mean of y changes along a straight line with the logarithm of x."
)


def fit(sample: Sample, settings: NoSettings) -> LineOnLogarithms:
    """Fit y = a + b ln x by (weighted) least squares; exact intervals under normal scatter.

    Raises
    ------
    FitError
        If an x is not positive, or there are too few rows.
    """
    return _ON_LOGS.fit(sample)


FAMILY = Family(
    name=_ON_LOGS.family,
    label="logarithmic curve",
    entry=Entry(
        method="a line on ln x",
        intervals="as a line",
        exactness="exact under normal scatter",
    ),
    note="levels off",
    settings=NoSettings,
    fit=fit,
    units=lambda _: (1, 0),
    takes_logs_of_x=True,
    needs=("positive x",),
    from_sums=FromSums(fit=lambda sums, _: _ON_LOGS.fit_parts(sums), logged="x"),
    candidates=(Candidate("logarithmic curve", NoSettings()),),
)
