"""The marks of a figure: one row of columns for each, as an Arrow IPC stream."""

from __future__ import annotations

import io
from collections.abc import Mapping
from types import MappingProxyType

import numpy as np
import polars as pl

from yarrowdew.core.sample import Array
from yarrowdew.figures.axis_values import Amounts
from yarrowdew.figures.groups import Groups
from yarrowdew.figures.naming import Markers
from yarrowdew.figures.points import Drawn, Points


def marks_of(
    points: Points,
    drawn: Drawn,
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
    places = drawn.places
    columns = {
        "row": points.rows[places].astype(np.uint32),
        "x": drawn.x,
        "y": drawn.y,
        "aside": points.aside[places].astype(np.uint8),
    }
    if points.colour is not None:
        colour = points.colour
        held = colour.codes if isinstance(colour, Groups) else colour.values
        columns["colour"] = held[places]
    if sizes is not None:
        amounts = sizes.values[places]
        columns["size"] = np.where(np.isfinite(amounts), amounts, np.nan)
    if markers is not None:
        columns["text"] = markers.codes[places]
    if points.order is not None:
        columns["order"] = points.order[places]
    columns |= {name: values[places] for name, values in (*points.bars.items(), *more.items())}
    stream = io.BytesIO()
    pl.DataFrame(columns).write_ipc_stream(
        stream, compression="uncompressed", compat_level=pl.CompatLevel.oldest()
    )
    return stream.getvalue()
