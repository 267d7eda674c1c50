"""Counts in the cells of a grid that is given."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from yarrowdew.core.partials.adding import stretches
from yarrowdew.core.sample import Array

_NEAR = 1e-6
"""Of a cell: nearer to an edge than this, a value may be taken for one beyond it."""


@dataclass(frozen=True, slots=True)
class Grid:
    """Cells of equal width from one end to another; the last holds its upper end.

    Attributes
    ----------
    low, high : float
    cells : int
    """

    low: float
    high: float
    cells: int

    def edges(self) -> Array:
        """Ends of the cells, shape (cells + 1,); the widest range there is does not overflow."""
        shares = np.arange(self.cells + 1) / self.cells
        edges = 2 * (self.low / 2 + shares * (self.high / 2 - self.low / 2))
        edges[0], edges[-1] = self.low, self.high
        return np.asarray(edges)

    def places(self, values: Array) -> npt.NDArray[np.intp]:
        """In which cell each value lies; −1 outside of all of them."""
        inside = (values >= self.low) & (values <= self.high)
        if inside.all():
            return self.places_inside(values)
        at = np.full(len(values), -1, dtype=np.intp)
        at[inside] = self.places_inside(values[inside])
        return at

    def places_inside(self, values: Array) -> npt.NDArray[np.intp]:
        """The same of values that all lie inside."""
        span, edges = self.high - self.low, self.edges()
        if np.isfinite(span) and np.isfinite(factor := self.cells / span if span else 0.0):
            # Ends so near that nothing lies between them have one cell.
            share = (values - self.low) * factor
        else:
            share = (values / 2 - self.low / 2) / (self.high / 2 - self.low / 2) * self.cells
        at = share.astype(np.intp)
        # Rounding may have carried a value over an edge: what counts are the edges themselves.
        share -= at
        near = np.flatnonzero((share < _NEAR) | (share > 1 - _NEAR))
        if len(near):
            own, some = values[near], np.clip(at[near], 0, self.cells - 1)
            some -= (own < edges[some]) & (some > 0)
            some += (own >= edges[some + 1]) & (some < self.cells - 1)
            at[near] = some
        return at


@dataclass(frozen=True, slots=True)
class Counts:
    """Rows in each cell of one grid, or of two crossed.

    Attributes
    ----------
    x : Grid
    y : Grid or None
        None for counts along x alone.
    cells : ndarray of int64, shape (x cells,) or (y cells, x cells)
    n : int
        Rows with a value on every grid.
    outside : int
        How many of them lie outside of all cells.
    """

    x: Grid
    y: Grid | None
    cells: npt.NDArray[np.int64]
    n: int
    outside: int

    @classmethod
    def of(cls, x: Grid, xs: Array, y: Grid | None = None, ys: Array | None = None) -> Counts:
        """Count rows, shape (rows,) each; NaN where missing."""
        return cls.of_each(x, xs, y, ys)[0]

    @classmethod
    def of_each(
        cls,
        x: Grid,
        xs: Array,
        y: Grid | None = None,
        ys: Array | None = None,
        *,
        groups: npt.NDArray[np.int64] | None = None,
        count: int = 1,
    ) -> list[Counts]:
        """Count the rows of each of some groups by themselves, in one pass.

        Parameters
        ----------
        x, y : Grid
        xs, ys : ndarray, shape (rows,)
            NaN where missing.
        groups : ndarray of int64, shape (rows,)
            From 0 to `count`; one group of all rows where None.
        count : int
        """
        size = x.cells * (y.cells if y else 1)
        codes = []
        known = np.zeros(count, dtype=np.int64)
        for some in stretches(len(xs)):
            across, own = xs[some], None if groups is None else groups[some]
            there, inside = np.isfinite(across), (across >= x.low) & (across <= x.high)
            up = None
            if y is not None and ys is not None:
                up = ys[some]
                there &= np.isfinite(up)
                inside &= (up >= y.low) & (up <= y.high)
            if own is None:
                known[0] += np.count_nonzero(there)
            else:
                known += np.bincount(own[there], minlength=count)
            # From near most rows are outside: their places are not looked for.
            if not inside.all():
                across, up = across[inside], None if up is None else up[inside]
                own = None if own is None else own[inside]
            at = x.places_inside(across)
            if y is not None and up is not None:
                at += y.places_inside(up) * x.cells
            codes.append(at if own is None else at + own * size)
        code = np.concatenate(codes) if codes else np.empty(0, dtype=np.intp)
        found = np.bincount(code, minlength=size * count).astype(np.int64, copy=False)
        shape = (count, x.cells) if y is None else (count, y.cells, x.cells)
        return [
            cls(x, y, cells, int(n), int(n) - int(cells.sum()))
            for cells, n in zip(found.reshape(shape), known, strict=True)
        ]

    def merge(self, other: Counts) -> Counts:
        """The same of these rows and of others, in the same cells."""
        if (self.x, self.y) != (other.x, other.y):
            raise ValueError("counts in different cells are not merged")
        return Counts(
            self.x,
            self.y,
            self.cells + other.cells,
            self.n + other.n,
            self.outside + other.outside,
        )
