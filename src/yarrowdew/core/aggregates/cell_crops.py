"""Cells of a view, put together from finer ones that were counted before."""

from __future__ import annotations

import numpy as np

from yarrowdew.core.aggregates.cell_counts import CellCounts, Grid
from yarrowdew.core.aggregates.pair_sums import Ends


def cropped(
    counts: CellCounts, across: Ends, up: Ends, sides: tuple[int, int]
) -> CellCounts | None:
    """Cells of a view, put together from finer ones.

    Parameters
    ----------
    counts : Counts
    across, up : tuple of float
        Ends of the view.
    sides : tuple of int
        How many cells are wanted at least along each side.

    Returns
    -------
    Counts or None
        None where the cells are not fine enough, or do not hold all of the view.
    """
    y = counts.y or counts.x
    if not (_holds(counts.x, across) and _holds(y, up)):
        return None
    cells, grids = counts.cells, []
    for axis, grid, (low, high), wanted in ((1, counts.x, across, sides[0]), (0, y, up, sides[1])):
        width = (grid.high - grid.low) / grid.cells
        if not 0 < width < np.inf:
            return None
        first = max(0, int((low - grid.low) / width))
        last = min(grid.cells, int(np.ceil((high - grid.low) / width)))
        together = (last - first) // wanted
        if together < 1:
            return None
        count = -(-(last - first) // together)
        kept = np.take(cells, np.arange(first, min(first + count * together, grid.cells)), axis)
        # Beyond the last cell there is nothing: what is put together is as wide everywhere.
        lacking = [(0, 0), (0, 0)]
        lacking[axis] = (0, count * together - kept.shape[axis])
        shape = [*kept.shape]
        shape[axis : axis + 1] = [count, together]
        cells = np.pad(kept, lacking).reshape(shape).sum(axis=axis + 1)
        start = grid.low + first * width
        grids.append(Grid(start, start + count * together * width, count))
    return CellCounts(grids[0], grids[1], cells, counts.n, counts.n - int(cells.sum()))


def _holds(grid: Grid, ends: Ends) -> bool:
    room = 1e-9 * (grid.high - grid.low)
    return grid.low - room <= ends[0] and ends[1] <= grid.high + room


def at_most(counts: CellCounts, across: Ends, up: Ends) -> int | None:
    """How many rows lie in a view at most; None where the cells do not hold all of it."""
    y = counts.y or counts.x
    if not (_holds(counts.x, across) and _holds(y, up)):
        return None
    sides = []
    for grid, (low, high) in ((y, up), (counts.x, across)):
        width = (grid.high - grid.low) / grid.cells
        if not 0 < width < np.inf:
            return counts.n
        first = max(0, int((low - grid.low) / width) - 1)
        sides.append(slice(first, int(np.ceil((high - grid.low) / width)) + 1))
    return int(counts.cells[sides[0], sides[1]].sum())
