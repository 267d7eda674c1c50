"""Where a fitted line goes, as it is drawn."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from yarrowdew.core.arithmetic import between, computed
from yarrowdew.core.sample import Array
from yarrowdew.core.trends import TrendFit
from yarrowdew.core.trends.intervals.bands import band_of
from yarrowdew.figures.document.trends import Band, Carry
from yarrowdew.figures.wire.reports import BandCurve, TrendCurve

CURVE_POINTS = 129
EXTENDED_POINTS = 33


@dataclass(frozen=True, slots=True)
class Origins:
    """Where the fitted values count from, on both axes."""

    x: float
    y: float


def curve_of(
    fit: TrendFit, bands: Sequence[Band], origins: Origins, points: int = CURVE_POINTS
) -> TrendCurve:
    """Follow a line over the data.

    Raises
    ------
    FitError
        If the line or a band cannot be worked out there.
    """
    return _curve_at(fit, bands, origins, fit.drawn_at(points))


def extensions_of(
    fit: TrendFit, bands: Sequence[Band], origins: Origins, carry: Carry
) -> list[TrendCurve]:
    """Follow a line before and after the data, as far as it is carried on."""
    low, high = fit.x_range
    ends = []
    if carry.before > 0:
        ends.append((low - carry.before, low))
    if carry.after > 0:
        ends.append((high, high + carry.after))
    return [_curve_at(fit, bands, origins, between(*end, EXTENDED_POINTS)) for end in ends]


def _curve_at(fit: TrendFit, bands: Sequence[Band], origins: Origins, at: Array) -> TrendCurve:
    curves = []
    at = at[np.isfinite(at + origins.x)]
    with computed("This trend"):
        fitted = fit.predict(at) + origins.y
    for band in bands:
        with computed("This band"):
            found = band_of(fit, at, band.level, band.kind)
        if found is None:
            continue
        curves.append(
            BandCurve(
                kind=band.kind,
                level=band.level,
                low=(found.low + origins.y).tolist(),
                high=(found.high + origins.y).tolist(),
            )
        )
    return TrendCurve(x=(at + origins.x).tolist(), y=fitted.tolist(), bands=curves)
