"""The distribution of a variable along its axis, for each group."""

from __future__ import annotations

import numpy as np
from pydantic import BaseModel, ConfigDict

from yarrowdew.core.density import box_numbers, histogram, kernel_density
from yarrowdew.core.sample import Array
from yarrowdew.figures.parts import Margin
from yarrowdew.figures.report import Groups


class MarginAnswer(BaseModel):
    """The distribution of one group; places are values on the axis."""

    model_config = ConfigDict(use_attribute_docstrings=True)

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
        present = [int(code) for code in np.unique(codes) if code != Groups.NONE]
        parts = [(code, values[codes == code]) for code in present]
    whole = histogram(values)
    step = float(whole.edges[1] - whole.edges[0])
    out = []
    for code, own in parts:
        if kind == "histogram":
            bars = histogram(own, step)
            at, height = bars.edges, bars.counts.astype(np.float64)
        elif kind == "box":
            box = box_numbers(own)
            at = np.array([box.low, box.lower_quartile, box.median, box.upper_quartile, box.high])
            height = np.empty(0)
        elif own.min() < own.max():
            curve = kernel_density(own)
            at, height = curve.at, curve.density * len(own)
        else:
            continue
        out.append(MarginAnswer(code=code, at=at.tolist(), height=height.tolist()))
    return out
