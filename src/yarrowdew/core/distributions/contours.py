"""The density of two numbers together: contours that enclose shares of the rows, and counts."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
import scipy

from yarrowdew.core.arithmetic import scaled
from yarrowdew.core.distributions.density import kernel_density
from yarrowdew.core.sample import Array

GRID = 64
COUNTED = 24
_ROOM = 0.12
"""How far the grid reaches past the data at least, as a share of their range."""
_REACH = 3.0
"""How far it reaches in bandwidths."""


@dataclass(frozen=True, slots=True)
class Contour:
    """A contour of the density.

    Attributes
    ----------
    share : float
        Of the rows that lie inside.
    lines : list of ndarray, shape (points, 2)
        Closed where the first point is the last.
    """

    share: float
    lines: list[Array]


@dataclass(frozen=True, slots=True)
class BinCounts:
    """Rows counted in even cells.

    Attributes
    ----------
    x_edges, y_edges : ndarray, shape (cells + 1,)
    counts : ndarray of int64, shape (cells up, cells across)
    """

    x_edges: Array
    y_edges: Array
    counts: np.ndarray


def counted(x: Array, y: Array, cells: int = COUNTED) -> BinCounts:
    """Count rows in even cells over the range of the data.

    Parameters
    ----------
    x, y : ndarray, shape (n,)
        Finite, at least one.
    cells : int
        Along each axis.
    """
    (inner_x, x_exponent), (inner_y, y_exponent) = scaled(x), scaled(y)
    edges = [np.linspace(*_range(v), cells + 1) for v in (inner_x, inner_y)]
    places = [
        np.clip(((v - e[0]) * (cells / (e[-1] - e[0]))).astype(np.intp), 0, cells - 1)
        for v, e in zip((inner_x, inner_y), edges, strict=True)
    ]
    counts = np.bincount(places[1] * cells + places[0], minlength=cells * cells)
    x_edges, y_edges = np.ldexp(edges[0], x_exponent), np.ldexp(edges[1], y_exponent)
    return BinCounts(x_edges, y_edges, counts.reshape(cells, cells))


def contours(
    x: Array,
    y: Array,
    shares: tuple[float, ...],
    counts: Array | None = None,
    bandwidths: tuple[float, float] | None = None,
) -> list[Contour]:
    """Find contours of a Gaussian kernel density that enclose given shares of the rows.

    The density is made on a grid by cosine transforms, with the bandwidths that Botev's rule gives
    for each variable alone, widened for two (by n^(1/5 − 1/6)); a contour's level is the density
    that a share of the rows exceeds (Hyndman 1996).

    Parameters
    ----------
    x, y : ndarray, shape (n,)
        Finite; fewer than three rows, or no spread, give no contours.
    shares : tuple of float
        From 0 to 1.
    counts : ndarray, shape (n,), optional
        How many rows lie at each place; one where None.
    bandwidths : tuple of float, optional
        That the rule gives for each variable alone; found where None.
    """
    n = len(x) if counts is None else int(counts.sum())
    (x, x_exponent), (y, y_exponent) = scaled(x), scaled(y)
    if n < 3 or np.ptp(x) == 0 or np.ptp(y) == 0:
        return []
    units = np.array([2.0**x_exponent, 2.0**y_exponent])
    widen = n ** (1 / 5 - 1 / 6)
    if bandwidths is None:
        found = [kernel_density(v).bandwidth for v in (x, y)]
    else:
        exponents = (x_exponent, y_exponent)
        found = [math.ldexp(b, -e) for b, e in zip(bandwidths, exponents, strict=True)]
    wide = [bandwidth * widen for bandwidth in found]
    axes = []
    for v, bandwidth in zip((x, y), wide, strict=True):
        low, high = _range(v)
        room = max(_ROOM * (high - low), _REACH * bandwidth)
        axes.append((low - room, high + room))
    places = [(v - a) / (b - a) * GRID for v, (a, b) in zip((x, y), axes, strict=True)]
    grid = _spread(places[0], places[1], counts)
    k = np.arange(GRID)
    smooth = []
    for bandwidth, (a, b) in zip(wide, axes, strict=True):
        width = bandwidth / (b - a)
        smooth.append(np.exp(-0.5 * (math.pi * k * width) ** 2))
    coefficients = scipy.fft.dctn(grid, type=2, norm="ortho")
    density = scipy.fft.idctn(
        coefficients * smooth[1][:, None] * smooth[0][None, :], type=2, norm="ortho"
    )
    density = np.maximum(density, 0)
    middles = [a + (np.arange(GRID) + 0.5) * (b - a) / GRID for a, b in axes]
    at_rows = _read(density, places[0] - 0.5, places[1] - 0.5)
    order = np.argsort(at_rows)
    before = np.cumsum(np.ones(len(x)) if counts is None else counts[order])
    out = []
    for share in shares:
        # The value at the row that so many others come before.
        rank = min(n - 1, math.floor((1 - share) * n))
        level = float(at_rows[order[np.searchsorted(before, rank, side="right")]])
        # Beyond the grid there is nothing, so that every contour closes.
        lines = [line - 1 for line in level_lines(np.pad(density, 1), level)]
        out.append(
            Contour(
                share,
                [
                    units
                    * np.column_stack(
                        [np.interp(line[:, i], np.arange(GRID), middles[i]) for i in (0, 1)]
                    )
                    for line in lines
                ],
            )
        )
    return out


def level_lines(grid: Array, level: float) -> list[Array]:
    """Lines along which a grid has a level, by marching squares with straight interpolation.

    Parameters
    ----------
    grid : ndarray, shape (rows, columns)
    level : float

    Returns
    -------
    list of ndarray, shape (points, 2)
        Columns and rows of the points, in places of the grid; a line that leaves the grid is open.
    """
    high = grid > level
    ends: dict[tuple[int, int, int], list[tuple[int, int, int]]] = {}

    def join(a: tuple[int, int, int], b: tuple[int, int, int]) -> None:
        ends.setdefault(a, []).append(b)
        ends.setdefault(b, []).append(a)

    kinds = high[:-1, :-1] * 1 + high[:-1, 1:] * 2 + high[1:, 1:] * 4 + high[1:, :-1] * 8
    for r, c in np.argwhere((kinds > 0) & (kinds < 15)).tolist():
        # Edges of a cell: along its top, its right, its bottom, its left.
        edges = ((0, r, c), (1, r, c + 1), (0, r + 1, c), (1, r, c))
        middle = grid[r : r + 2, c : c + 2].mean() > level
        for a, b in _CASES[int(kinds[r, c])][int(middle)]:
            join(edges[a], edges[b])
    lines = []
    while ends:
        # Open lines begin where only one piece ends.
        start = next((e for e, others in ends.items() if len(others) == 1), next(iter(ends)))
        path = [start]
        while ends.get(path[-1]):
            following = ends[path[-1]].pop()
            ends[following].remove(path[-1])
            for e in (path[-1], following):
                if not ends.get(e):
                    ends.pop(e, None)
            path.append(following)
        lines.append(np.array([_crossing(grid, level, e) for e in path]))
    return lines


_CASES: dict[int, tuple[tuple[tuple[int, int], ...], ...]] = {
    kind: (pairs, pairs)
    for kind, pairs in {
        1: ((3, 0),),
        2: ((0, 1),),
        3: ((3, 1),),
        4: ((1, 2),),
        6: ((0, 2),),
        7: ((3, 2),),
        8: ((2, 3),),
        9: ((0, 2),),
        11: ((1, 2),),
        12: ((1, 3),),
        13: ((0, 1),),
        14: ((0, 3),),
    }.items()
} | {
    # Two corners across from one another: the middle of the cell decides which belong together.
    5: (((3, 0), (1, 2)), ((0, 1), (2, 3))),
    10: (((0, 1), (2, 3)), ((3, 0), (1, 2))),
}


def _crossing(grid: Array, level: float, edge: tuple[int, int, int]) -> tuple[float, float]:
    upright, r, c = edge
    a, b = grid[r, c], grid[r + 1, c] if upright else grid[r, c + 1]
    share = float((level - a) / (b - a)) if a != b else 0.5
    return (c, r + share) if upright else (c + share, r)


def _range(values: Array) -> tuple[float, float]:
    low, high = float(values.min()), float(values.max())
    return (low, high) if low < high else (low - 0.5, high + 0.5)


def _spread(x: Array, y: Array, counts: Array | None) -> Array:
    """Share each row among the four cells about it, by how near it is to each."""
    grid = np.zeros(GRID * GRID)
    column, row = x - 0.5, y - 0.5
    c, r = np.floor(column).astype(np.intp), np.floor(row).astype(np.intp)
    fc, fr = column - c, row - r
    for dc, dr, w in (
        (0, 0, (1 - fc) * (1 - fr)),
        (1, 0, fc * (1 - fr)),
        (0, 1, (1 - fc) * fr),
        (1, 1, fc * fr),
    ):
        place = np.clip(r + dr, 0, GRID - 1) * GRID + np.clip(c + dc, 0, GRID - 1)
        grid += np.bincount(place, w if counts is None else w * counts, minlength=GRID * GRID)
    return grid.reshape(GRID, GRID)


def _read(grid: Array, column: Array, row: Array) -> Array:
    """Read a grid off between its places."""
    c = np.clip(np.floor(column).astype(np.intp), 0, GRID - 2)
    r = np.clip(np.floor(row).astype(np.intp), 0, GRID - 2)
    fc, fr = np.clip(column - c, 0, 1), np.clip(row - r, 0, 1)
    top = grid[r, c] * (1 - fc) + grid[r, c + 1] * fc
    return np.asarray(top * (1 - fr) + (grid[r + 1, c] * (1 - fc) + grid[r + 1, c + 1] * fc) * fr)
