"""Where a fitted line goes, as it is drawn."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np

from yarrowdew.core.arithmetic import between, computed
from yarrowdew.core.sample import Array
from yarrowdew.core.trends import TrendFit
from yarrowdew.core.trends.intervals.bands import band_of
from yarrowdew.figures.document.trends import Band, Carry
from yarrowdew.figures.wire.reports import BandCurve, TrendCurve

CURVE_POINTS = 129
EXTENDED_POINTS = 33
_MOST_POINTS = 1_200
"""A curve that bends more than so many points show is drawn with these."""
_BENT = 1 / 1500
"""The middle of each piece lies nearer to its chord than this share of the curve's height: a third
of a point of a plot that is 500 points high."""
_PARTED = 0.35
"""Pieces are looked at off their middle, where a curve that turns over meets its chord."""
_ROUNDS = 8

ScaleName = Literal["linear", "log", "sqrt"]
_FORWARD: dict[ScaleName, Callable[[Array], Array]] = {
    "linear": np.positive,
    "log": np.log,
    "sqrt": np.sqrt,
}
_BACK: dict[ScaleName, Callable[[Array], Array]] = {
    "linear": np.positive,
    "log": np.exp,
    "sqrt": np.square,
}


@dataclass(frozen=True, slots=True)
class CurveAxes:
    """The axes that a curve is drawn on.

    Attributes
    ----------
    x_origin, y_origin : float
        What the fitted values count from.
    x_scale, y_scale : str
    """

    x_origin: float
    y_origin: float
    x_scale: ScaleName = "linear"
    y_scale: ScaleName = "linear"


def curve_of(
    fit: TrendFit, bands: Sequence[Band], axes: CurveAxes, points: int = CURVE_POINTS
) -> TrendCurve:
    """Follow a line over the data, through so many points and more where it bends.

    Raises
    ------
    FitError
        If the line or a band cannot be worked out there.
    """
    return _curve_at(fit, bands, axes, fit.drawn_at(points))


def extensions_of(
    fit: TrendFit, bands: Sequence[Band], axes: CurveAxes, carry: Carry
) -> list[TrendCurve]:
    """Follow a line before and after the data, as far as it is carried on."""
    low, high = fit.x_range
    ends = []
    if carry.before > 0:
        ends.append((low - carry.before, low))
    if carry.after > 0:
        ends.append((high, high + carry.after))
    return [_curve_at(fit, bands, axes, between(*end, EXTENDED_POINTS)) for end in ends]


def _curve_at(fit: TrendFit, bands: Sequence[Band], axes: CurveAxes, at: Array) -> TrendCurve:
    at = at[np.isfinite(at + axes.x_origin)]

    def followed(x: Array) -> Array:
        with computed("This trend"):
            columns = [fit.predict(x)]
        for band in bands:
            with computed("This band"):
                found = band_of(fit, x, band.level, band.kind)
            if found is not None:
                columns += [found.low, found.high]
        return np.column_stack(columns) + axes.y_origin

    shown = [band for band in bands if band_of(fit, at[:1], band.level, band.kind) is not None]
    x, y = bent(followed, _even_on(at, axes), axes)
    return TrendCurve(
        x=(x + axes.x_origin).tolist(),
        y=y[:, 0].tolist(),
        bands=[
            BandCurve(
                kind=band.kind,
                level=band.level,
                low=y[:, 2 * i + 1].tolist(),
                high=y[:, 2 * i + 2].tolist(),
            )
            for i, band in enumerate(shown)
        ],
    )


def _even_on(at: Array, axes: CurveAxes) -> Array:
    """Add places that lie evenly on a bent axis, where those that lie evenly in x are far apart."""
    if axes.x_scale == "linear" or len(at) < 2:
        return at
    ends = at[[0, -1]] + axes.x_origin
    if not ends[0] > 0:
        return at
    low, high = _FORWARD[axes.x_scale](ends)
    even = _BACK[axes.x_scale](between(low, high, len(at))) - axes.x_origin
    return np.unique(np.concatenate([at, even[(even > at[0]) & (even < at[-1])]]))


def bent(curve: Callable[[Array], Array], at: Array, axes: CurveAxes) -> tuple[Array, Array]:
    """Sample curves where they bend, as they are drawn on their axes.

    Pieces are parted until each lies close to its chord (see `_BENT`).

    Parameters
    ----------
    curve : callable
        From places, shape (m,), to values, shape (m, curves).
    at : ndarray, shape (m,)
        Places to begin with, ascending.
    axes : CurveAxes

    Returns
    -------
    x : ndarray, shape (k,)
        The places, and those added.
    y : ndarray, shape (k, curves)
    """
    y = curve(at)
    fresh = np.ones(max(len(at) - 1, 0), dtype=bool)
    for _ in range(_ROUNDS):
        pieces = np.flatnonzero(fresh)
        if not len(pieces) or len(at) >= _MOST_POINTS:
            break
        u = _warped(at + axes.x_origin, axes.x_scale)
        v = _warped(y, axes.y_scale)
        middle_u = u[pieces] + _PARTED * (u[pieces + 1] - u[pieces])
        middle = _BACK[axes.x_scale](middle_u) - axes.x_origin
        inside = (middle > at[pieces]) & (middle < at[pieces + 1])
        pieces, middle = pieces[inside], middle[inside]
        if not len(pieces):
            break
        found = curve(middle)
        with np.errstate(invalid="ignore", over="ignore"):
            height = np.nanmax(v) - np.nanmin(v) if np.isfinite(v).any() else np.nan
            chord = v[pieces] + _PARTED * (v[pieces + 1] - v[pieces])
            off = np.abs(_warped(found, axes.y_scale) - chord)
            bends = (off > _BENT * height).any(axis=1)
        if not bends.any():
            break
        kept = pieces[bends]
        at = np.insert(at, kept + 1, middle[bends])
        y = np.insert(y, kept + 1, found[bends], axis=0)
        # Both parts of a piece are looked at again.
        fresh = np.zeros(len(at) - 1, dtype=bool)
        left = kept + np.arange(len(kept))
        fresh[left] = fresh[left + 1] = True
    return at, y


def _warped(values: Array, scale: ScaleName) -> Array:
    """Values as an axis lays them; NaN where it has no place for them."""
    if scale == "linear":
        return np.where(np.isfinite(values), values, np.nan)
    with np.errstate(divide="ignore", invalid="ignore"):
        warped = _FORWARD[scale](values)
    return np.where(np.isfinite(warped), warped, np.nan)
