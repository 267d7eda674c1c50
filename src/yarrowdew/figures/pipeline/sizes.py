"""What marks are sized by."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from yarrowdew.core.arithmetic import computed
from yarrowdew.core.diagnostics import cooks_distance
from yarrowdew.core.errors import FitError
from yarrowdew.figures.pipeline.axis_values import Amounts, amounts_of
from yarrowdew.figures.pipeline.points import Points
from yarrowdew.figures.pipeline.readings import Reading
from yarrowdew.tables.table import Kind, Variable


def sizes_of(points: Points, lines: Sequence[Reading]) -> Amounts | None:
    """What marks are sized by: a variable, or how far each row moves the first trend."""
    size = points.document.size
    if size is None:
        return None
    if size.variable is not None:
        return amounts_of(points.table, size.variable)
    distances = np.full(points.table.rows, np.nan)
    for one in lines:
        if one.fit is None:
            continue
        try:
            with computed("Cook’s distance"):
                cook = cooks_distance(one.fit, one.sample)
        except FitError:
            continue
        rows = one.sample.rows
        if cook is not None:
            distances[rows] = np.where(np.isnan(distances[rows]), cook, distances[rows])
    return Amounts(Variable("", Kind.NUMBER, "Cook’s distance"), distances)
