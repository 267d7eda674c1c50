"""The marks of a figure of a dataset: its rows, or the cells in which there are rows."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np
import numpy.typing as npt

from yarrowdew.core.aggregates.aggregation import Group
from yarrowdew.core.aggregates.cell_counts import CellCounts, Grid
from yarrowdew.core.aggregates.view_rows import WARPS, Gathered, Warp
from yarrowdew.figures.pipeline.groups import Groups
from yarrowdew.tables.arrow import arrow_stream


def marks_of_rows(rows: Gathered, groups: Groups | None) -> bytes:
    """The marks of rows, each by itself; columns beside x, y and the group are taken along."""
    columns: dict[str, npt.NDArray[np.generic]] = {
        "row": rows.places.astype(np.uint32),
        "x": rows.columns["x"],
        "y": rows.columns["y"],
        "aside": np.zeros(len(rows.places), dtype=np.uint8),
    }
    if groups is not None:
        codes = _codes(groups)
        columns["colour"] = np.array(
            [codes.get(name, Groups.NONE) for name in rows.columns["group"]], dtype=np.uint16
        )
    own = {"x", "y", "group"}
    return arrow_stream(columns | {name: v for name, v in rows.columns.items() if name not in own})


def marks_of_cells(
    cells: Mapping[Group, CellCounts], groups: Groups | None, warps: tuple[Warp, Warp]
) -> bytes:
    """The marks of cells in which there are rows."""
    codes = {} if groups is None else _codes(groups)
    parts = []
    for group, counts in cells.items():
        up, across = np.nonzero(counts.cells)
        x, y = (
            WARPS[warp][1](_middles(grid)[at])
            for grid, at, warp in zip(
                (counts.x, counts.y or counts.x), (across, up), warps, strict=True
            )
        )
        code = np.full(len(x), codes.get(group, Groups.NONE), dtype=np.uint16)
        parts.append((x, y, code, counts.cells[up, across].astype(np.float64)))
    x, y, code, count = (np.concatenate(column) for column in zip(*parts, strict=True))
    columns: dict[str, npt.NDArray[np.generic]] = {
        "row": np.arange(len(x), dtype=np.uint32),
        "x": x,
        "y": y,
        "aside": np.zeros(len(x), dtype=np.uint8),
    }
    if groups is not None:
        columns["colour"] = code
    return arrow_stream(columns | {"count": count})


def no_marks(*columns: str) -> bytes:
    """The marks of a figure that draws none, with columns of its kind."""
    nothing = np.empty(0)
    made: dict[str, npt.NDArray[np.generic]] = {
        "row": nothing.astype(np.uint32),
        "x": nothing,
        "y": nothing,
        "aside": nothing.astype(np.uint8),
    }
    return arrow_stream(made | dict.fromkeys(columns, nothing))


def _codes(groups: Groups) -> dict[Group, int]:
    return {look.value: code for code, look in enumerate(groups.looks)}


def _middles(grid: Grid) -> npt.NDArray[np.float64]:
    edges = grid.edges()
    return np.asarray(edges[:-1] / 2 + edges[1:] / 2)
