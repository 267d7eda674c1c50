"""Some of many rows, each as likely as any other, and the same ones whoever draws them.

Of every row a number is made from its place; the rows with the smallest numbers are kept (the
bottom-k sample of Cohen and Kaplan 2007). The sample of all rows is then that of the samples of
parts, however they were cut.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from yarrowdew.core.aggregates.hashing import mixed

Columns = Mapping[str, npt.NDArray[np.generic]]
_STEP = 0x9E3779B97F4A7C15


@dataclass(frozen=True, slots=True)
class RowSample:
    """At most so many rows.

    Attributes
    ----------
    most, seed : int
    seen : int
        How many rows there are in all.
    rows : ndarray of int64, shape (k,)
        Places in the whole, ascending.
    columns : mapping of str to ndarray, shape (k,)
    """

    most: int
    seed: int
    seen: int
    rows: npt.NDArray[np.int64]
    columns: Columns

    @classmethod
    def of(
        cls, rows: npt.NDArray[np.int64], columns: Columns, most: int, seed: int = 1
    ) -> RowSample:
        """Draw from rows whose places in the whole are given, shape (rows,)."""
        kept = _smallest(rows, most, seed)
        return cls(
            most, seed, len(rows), rows[kept], {name: held[kept] for name, held in columns.items()}
        )

    def merge(self, other: RowSample) -> RowSample:
        """The sample of these rows and of others."""
        if (self.most, self.seed) != (other.most, other.seed):
            raise ValueError("samples drawn otherwise are not merged")
        rows = np.concatenate([self.rows, other.rows])
        kept = _smallest(rows, self.most, self.seed)
        return RowSample(
            self.most,
            self.seed,
            self.seen + other.seen,
            rows[kept],
            {
                name: np.concatenate([held, other.columns[name]])[kept]
                for name, held in self.columns.items()
            },
        )


def _smallest(rows: npt.NDArray[np.int64], most: int, seed: int) -> npt.NDArray[np.intp]:
    """Places of the rows whose numbers are the smallest, in the order of the rows."""
    if len(rows) <= most:
        return np.argsort(rows, kind="stable")
    numbers = _numbers(rows, seed)
    kept = np.argpartition(numbers, most - 1)[:most]
    return np.asarray(kept[np.argsort(rows[kept], kind="stable")])


def _numbers(rows: npt.NDArray[np.int64], seed: int) -> npt.NDArray[np.uint64]:
    """A number of each row that looks drawn, and no two alike."""
    # Wrapping round is meant.
    with np.errstate(over="ignore"):
        return mixed((rows.astype(np.uint64) + np.uint64(seed)) * np.uint64(_STEP))
