"""The straight line through the origin, y = b x; see `straight`."""

from __future__ import annotations

from yarrowdew.core.sample import Sample
from yarrowdew.core.trends.families.straight import (
    LINE_LABELS,
    StraightLine,
    fit_line,
    line_in_data_units,
    line_of_parts,
    units_of_line,
)
from yarrowdew.core.trends.family import Entry, Family, FromSums, NoSettings


def fit(sample: Sample, settings: NoSettings) -> StraightLine:
    """Fit y = b x. See `fit_line`."""
    return fit_line(sample, intercept=0.0)


FAMILY = Family(
    name="origin",
    label="straight line through the origin",
    entry=Entry(
        method="least squares in centred sums (Chan, Golub and LeVeque 1983)",
        intervals="Student's t; x at a level: Fieller (1954); simultaneous band: Working and Hotelling (1929)",
        exactness="exact under normal scatter",
    ),
    settings=NoSettings,
    fit=fit,
    units=units_of_line,
    seen_from=line_in_data_units,
    one_slope=True,
    from_sums=FromSums(fit=lambda sums, _: line_of_parts(sums, 0.0), intercept=lambda _: 0.0),
    r_squared_about="zero",
    coefficient_labels=LINE_LABELS,
)
