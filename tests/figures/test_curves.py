"""Curves are drawn where they go, on whatever axes: measured against very many places of each."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import numpy as np
import pytest

from yarrowdew.core.sample import Array, paired
from yarrowdew.core.trends import fit_trend
from yarrowdew.figures.document.trends import Band
from yarrowdew.figures.pipeline.curves import CurveAxes, bent, curve_of

WARPS: dict[str, Callable[[Any], Any]] = {"linear": np.positive, "log": np.log, "sqrt": np.sqrt}


def farthest(curve: Callable[[Array], Array], at: Array, axes: CurveAxes) -> float:
    """How far a curve lies from the line through its places, as a share of its height, as drawn."""
    x, y = bent(lambda places: curve(places)[:, None], at, axes)
    across, up = WARPS[axes.x_scale], WARPS[axes.y_scale]
    ends = across(np.array([at[0], at[-1]]))
    dense = np.linspace(*ends, 200_001)
    back = {"linear": np.positive, "log": np.exp, "sqrt": np.square}[axes.x_scale]
    true = up(curve(np.clip(back(dense), at[0], at[-1])))
    drawn = np.interp(dense, across(x), up(y[:, 0]))
    return float(np.abs(true - drawn).max() / np.ptp(true))


@pytest.mark.parametrize(
    ("curve", "low", "high", "x_scale", "y_scale"),
    [
        (lambda x: 3 + 2 * x, 1, 1e4, "log", "linear"),
        (lambda x: 3 + 2 * x, 1, 1e4, "log", "log"),
        (lambda x: 3 * x**0.7, 1e-3, 1e3, "linear", "linear"),
        (lambda x: 3 * x**0.7, 1e-3, 1e3, "log", "log"),
        (lambda x: 100 / (1 + np.exp(-9 * (x - 3))), 0.01, 100, "log", "linear"),
        (lambda x: np.sin(6 * x), 0, 10, "linear", "linear"),
        (lambda x: np.abs(x - 0.37123), 0, 1, "linear", "linear"),
        (lambda x: 1 / x, 1e-2, 1, "sqrt", "log"),
    ],
)
def test_the_middle_of_no_piece_is_off(
    curve: Callable[[Array], Array], low: float, high: float, x_scale: Any, y_scale: Any
) -> None:
    axes = CurveAxes(0.0, 0.0, x_scale, y_scale)
    assert farthest(curve, np.linspace(low, high, 129), axes) < 0.002


def test_a_straight_line_needs_no_more_places() -> None:
    x, _ = bent(lambda at: (2 * at + 1)[:, None], np.linspace(0, 1, 129), CurveAxes(0, 0))
    assert len(x) == 129


def test_a_step_ends() -> None:
    x, y = bent(
        lambda at: np.where(at < 0.4, 0.0, 1.0)[:, None], np.linspace(0, 1, 129), CurveAxes(0, 0)
    )
    assert len(x) < 160
    assert (np.diff(x) > 0).all()
    assert len(y) == len(x)


def test_values_without_a_place_on_a_log_axis_are_left_alone() -> None:
    axes = CurveAxes(0, 0, "linear", "log")
    x, y = bent(lambda at: (at - 0.5)[:, None], np.linspace(0, 1, 33), axes)
    assert len(x) >= 33
    assert np.allclose(y[:, 0], x - 0.5)


def test_a_band_is_true_at_the_low_end_of_a_log_axis() -> None:
    draw = np.random.default_rng(4)
    x = np.sort(10 ** draw.uniform(0, 4, 40))
    fit = fit_trend(paired(x, 3 + 0.002 * x + draw.normal(size=40)), "straight")
    curve = curve_of(fit, [Band()], CurveAxes(0, 0, "log", "linear"))
    at, low = np.array(curve.x), np.array(curve.bands[0].low, dtype=float)
    middle = np.exp((np.log(at[:-1]) + np.log(at[1:])) / 2)
    true = fit.band(middle, 0.95, "confidence").low
    assert np.abs(true - (low[:-1] + low[1:]) / 2).max() < 0.002 * np.ptp(low)
    assert (np.diff(at) > 0).all()
