"""The marks of a figure: one row of columns for each, as an Arrow IPC stream."""

from __future__ import annotations

from collections.abc import Mapping
from types import MappingProxyType
from typing import Any

import numpy as np
import numpy.typing as npt

from yarrowdew.core.sample import Array
from yarrowdew.figures.pipeline.axis_values import Amounts
from yarrowdew.figures.pipeline.groups import Groups
from yarrowdew.figures.pipeline.naming import Markers
from yarrowdew.figures.pipeline.points import DrawnPoints, Points
from yarrowdew.tables.arrow import arrow_stream


def marks_of(
    points: Points,
    drawn: DrawnPoints,
    *,
    sizes: Amounts | None = None,
    markers: Markers | None = None,
    more: Mapping[str, Array] = MappingProxyType({}),
) -> bytes:
    """Write the marks of the points drawn.

    Parameters
    ----------
    points : Points
    drawn : Drawn
    sizes : Amounts, optional
    markers : Markers, optional
        Short texts that stand in the place of marks.
    more : mapping of str to ndarray, shape (points,)
        Further columns.
    """
    columns: dict[str, npt.NDArray[Any]] = {
        "row": drawn.take(points.rows).astype(np.uint32),
        "x": drawn.x,
        "y": drawn.y,
        "aside": drawn.take(points.set_aside).astype(np.uint8),
    }
    if points.colour is not None:
        colour = points.colour
        held = colour.codes if isinstance(colour, Groups) else colour.values
        columns["colour"] = drawn.take(held)
    if sizes is not None:
        amounts = drawn.take(sizes.values)
        columns["size"] = np.where(np.isfinite(amounts), amounts, np.nan)
    if markers is not None:
        columns["text"] = drawn.take(markers.codes)
    if points.order is not None:
        columns["order"] = drawn.take(points.order)
    further = (*points.bars.items(), *more.items())
    columns |= {name: drawn.take(values) for name, values in further}
    return arrow_stream(columns)
