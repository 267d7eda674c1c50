"""Counts in the cells of a grid that is given."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
import numpy.typing as npt

from yarrowdew.core.aggregates.exact_sums import stretches
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
class CellCounts:
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
    def of(cls, x: Grid, xs: Array, y: Grid | None = None, ys: Array | None = None) -> CellCounts:
        """Count rows, shape (rows,) each; NaN where missing."""
        return Tally.of_each(x, xs, y, ys)[0].counts()

    def merge(self, other: CellCounts) -> CellCounts:
        """The same of these rows and of others, in the same cells."""
        if (self.x, self.y) != (other.x, other.y):
            raise ValueError("counts in different cells are not merged")
        return CellCounts(
            self.x,
            self.y,
            self.cells + other.cells,
            self.n + other.n,
            self.outside + other.outside,
        )


_MOST_LISTED = 1 << 22
"""So many rows at most wait in a list to be counted."""


@dataclass(frozen=True, slots=True)
class Tally:
    """Counts on their way: few rows are a list of the cells that they fall into, and no more.

    From near, or of many groups, there are more cells than rows in a part: to make, send and add up
    all of them would take longer than to read the rows.

    Attributes
    ----------
    x, y : Grid
        As in `Counts`.
    listed : tuple of ndarray of int32 or int64
        Cells of rows that are not counted yet.
    cells : ndarray of int64, or None
        Those that are, all cells of the grid in a row.
    n : int
        As in `Counts`.
    """

    x: Grid
    y: Grid | None
    listed: tuple[npt.NDArray[np.signedinteger[Any]], ...]
    cells: npt.NDArray[np.int64] | None
    n: int

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
    ) -> list[Tally]:
        """List the rows of each of some groups by themselves, in one pass.

        Parameters
        ----------
        x, y : Grid
        xs, ys : ndarray, shape (rows,)
            NaN where missing.
        groups : ndarray of int64, shape (rows,)
            From 0 to `count`; one group of all rows where None.
        count : int
        """
        small = x.cells * (y.cells if y else 1) < 2**31
        codes: list[npt.NDArray[np.signedinteger[Any]]] = []
        owners = []
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
            codes.append(at.astype(np.int32) if small else at)
            if own is not None:
                owners.append(own)
        code = _joined(codes)
        each = [code] if groups is None else _apart(code, owners, count)
        return [
            cls(x, y, (own,) if len(own) else (), None, int(n))
            for own, n in zip(each, known, strict=True)
        ]

    def merge(self, other: Tally) -> Tally:
        """The same of these rows and of others, in the same cells."""
        if (self.x, self.y) != (other.x, other.y):
            raise ValueError("counts in different cells are not merged")
        cells = self.cells
        if other.cells is not None:
            cells = other.cells if cells is None else cells + other.cells
        found = Tally(self.x, self.y, self.listed + other.listed, cells, self.n + other.n)
        waiting = sum(len(codes) for codes in found.listed)
        return found.counted() if waiting > max(self._size, _MOST_LISTED) else found

    @property
    def _size(self) -> int:
        return self.x.cells * (self.y.cells if self.y else 1)

    def counted(self) -> Tally:
        """The same with no row in a list."""
        if not self.listed and self.cells is not None:
            return self
        code = _joined(self.listed)
        cells = np.bincount(code, minlength=self._size).astype(np.int64, copy=False)
        if self.cells is not None:
            cells += self.cells
        return Tally(self.x, self.y, (), cells, self.n)

    def counts(self) -> CellCounts:
        """What was counted."""
        cells = self.counted().cells
        assert cells is not None  # noqa: S101 (it was just counted)
        shape = (self.x.cells,) if self.y is None else (self.y.cells, self.x.cells)
        return CellCounts(self.x, self.y, cells.reshape(shape), self.n, self.n - int(cells.sum()))


def _joined(
    codes: Sequence[npt.NDArray[np.signedinteger[Any]]],
) -> npt.NDArray[np.signedinteger[Any]]:
    return np.concatenate(codes) if codes else np.empty(0, dtype=np.int32)


def _apart(
    code: npt.NDArray[np.signedinteger[Any]], owners: list[npt.NDArray[np.int64]], count: int
) -> list[npt.NDArray[np.signedinteger[Any]]]:
    """The cells of each group by themselves."""
    own = np.concatenate(owners) if owners else np.empty(0, dtype=np.int64)
    # Small numbers are put in order by their digits, which takes no longer than to read them.
    order = np.argsort(own.astype(np.int16) if count < 2**15 else own, kind="stable")
    ends = np.cumsum(np.bincount(own, minlength=count))[:-1]
    return np.split(code[order], ends)
