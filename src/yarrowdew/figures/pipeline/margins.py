"""The distribution of a variable along its axis, for each group."""

from __future__ import annotations

import numpy as np

from yarrowdew.core.arithmetic import computed
from yarrowdew.core.distributions.density import box_numbers, histogram, kernel_density
from yarrowdew.core.errors import FitError
from yarrowdew.core.sample import Array
from yarrowdew.figures.document.marks import Margin
from yarrowdew.figures.pipeline.groups import MOST_GROUPS, Groups
from yarrowdew.figures.wire.base import OnWire


class MarginAnswer(OnWire):
    """The distribution of one group; places are values on the axis."""

    code: int | None
    """Of its category; null where there are no groups."""
    at: list[float]
    """Edges of a histogram's steps, places of a density, or the five numbers of a box."""
    height: list[float]
    """Counts in the steps, or rows for each unit of a density; empty for a box."""


def margin_of(kind: Margin, values: Array, codes: np.ndarray | None) -> list[MarginAnswer]:
    """Describe how values are distributed, all together or by their groups' codes.

    Histograms of groups share their steps; a group with a single distinct value has no density.
    """
    if kind == "none" or not len(values):
        return []
    parts: list[tuple[int | None, Array]] = [(None, values)]
    if codes is not None:
        present = [int(code) for code in np.unique(codes) if code != Groups.NONE][:MOST_GROUPS]
        parts = [(code, values[codes == code]) for code in present]
    out = []
    try:
        with computed("A distribution"):
            step = histogram(values).step if kind == "histogram" else None
    except FitError:
        return []
    for code, own in parts:
        try:
            with computed("A distribution"):
                at, height = _drawn(kind, own, step)
        except FitError:
            continue
        if not (np.isfinite(at).all() and np.isfinite(height).all()):
            continue
        out.append(MarginAnswer(code=code, at=at.tolist(), height=height.tolist()))
    return out


def _drawn(kind: Margin, values: Array, step: float | None) -> tuple[Array, Array]:
    """Places and heights of one distribution."""
    if kind == "histogram":
        bars = histogram(values, step)
        return bars.edges, bars.counts.astype(np.float64)
    if kind == "box":
        box = box_numbers(values)
        ends = [box.low, box.lower_quartile, box.median, box.upper_quartile, box.high]
        return np.array(ends), np.empty(0)
    if values.min() == values.max():
        raise FitError("One value has no density.")
    curve = kernel_density(values)
    return curve.at, curve.density * len(values)
