"""The rows that a computation uses, and a count of those it could not."""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from typing import Any

import numpy as np
import numpy.typing as npt

from yarrowdew.core.errors import FitError

Array = npt.NDArray[np.float64]
Mask = npt.NDArray[np.bool_]

MOST_COUNTED = 5_000_000
"""So many rows at most are made of weights that count them."""


@dataclass(frozen=True, slots=True)
class Sample:
    """Pairs that are complete and finite.

    Attributes
    ----------
    x, y : ndarray of float64, shape (n,)
        The values kept, in row order.
    weights : ndarray of float64, shape (n,), or None
        Positive weights, inversely proportional to the variance of y; None where all are equal.
    rows : ndarray of intp, shape (n,)
        Where each kept pair stood in the arrays given.
    dropped : dict of str to int
        How many rows were left out, by reason.
    errors : tuple of ndarray, shape (n,) each, or None
        Standard errors of x and of y, all above zero; None where they are not known.
    clusters : ndarray of intp, shape (n,), or None
        What each pair belongs to, with those that resemble it; None where all are by themselves.
    is_counted : bool
        Whether weights said how often each pair occurs, and it stands there as often.
    """

    x: Array
    y: Array
    weights: Array | None
    rows: npt.NDArray[np.intp]
    dropped: dict[str, int] = field(default_factory=dict)
    errors: tuple[Array, Array] | None = None
    clusters: npt.NDArray[np.intp] | None = None
    is_counted: bool = False

    @property
    def n(self) -> int:
        """How many pairs were kept."""
        return int(self.x.size)

    @property
    def x_range(self) -> tuple[float, float]:
        """Smallest and largest x, where there are any."""
        return float(self.x.min()), float(self.x.max())

    def of_those_kept(self, values: npt.NDArray[Any]) -> npt.NDArray[Any]:
        """Of values beside the arrays given, those beside the pairs kept."""
        return values if len(values) == self.n else values[self.rows]

    def take(self, kept: npt.NDArray[np.intp] | Mask | slice) -> Sample:
        """Some of the pairs, in the order given; nothing is counted as left out."""
        return Sample(
            self.x[kept],
            self.y[kept],
            None if self.weights is None else self.weights[kept],
            self.rows[kept],
            errors=self.errors and (self.errors[0][kept], self.errors[1][kept]),
            clusters=None if self.clusters is None else self.clusters[kept],
            is_counted=self.is_counted,
        )

    def repeated(self) -> Sample:
        """Each pair as often as its weight says, without weights.

        Raises
        ------
        FitError
            If a weight is not a whole number, or they are too many together.
        """
        if self.weights is None:
            return self
        if not (self.weights == np.floor(self.weights)).all():
            raise FitError(
                "Weights that count rows must be whole numbers.",
                "Correct them, or take them as precisions.",
            )
        total = float(self.weights.sum())
        if total > MOST_COUNTED:
            raise FitError(
                f"The weights count {total:,.0f} rows; at most {MOST_COUNTED:,} can be fitted.",
                "Divide them, or take them as precisions.",
            )
        times = np.repeat(np.arange(self.n), self.weights.astype(np.intp))
        return replace(self.take(times), weights=None, dropped=self.dropped, is_counted=True)


def paired(
    x: npt.ArrayLike,
    y: npt.ArrayLike,
    weights: npt.ArrayLike | None = None,
    set_aside: Mask | None = None,
    errors: tuple[Array, Array] | None = None,
) -> Sample:
    """Keep the rows in which every value needed is there.

    A row set aside is counted as such even where a value is missing too: setting aside is the
    reader's own decision and comes first.

    Parameters
    ----------
    x, y : array_like, shape (rows,)
        Values; NaN or infinite where missing.
    weights : array_like, shape (rows,), optional
        Weights; a missing, zero or negative weight drops the row.
    set_aside : ndarray of bool, shape (rows,), optional
        True for rows to leave out by choice.
    errors : tuple of ndarray, shape (rows,) each, optional
        Standard errors of x and y; one that is missing or not above zero drops the row.

    Returns
    -------
    Sample

    Raises
    ------
    FitError
        If the arrays differ in length.
    """
    x = np.asarray(x, dtype=np.float64)
    y = np.asarray(y, dtype=np.float64)
    w = None if weights is None else np.asarray(weights, dtype=np.float64)
    if x.shape != y.shape or x.ndim != 1 or (w is not None and w.shape != x.shape):
        raise FitError("x, y and weights must be lists of the same length.")
    keep = np.isfinite(x) & np.isfinite(y)
    missing = keep.size - int(np.count_nonzero(keep))
    dropped = {"missing": missing}
    if set_aside is not None:
        dropped["set_aside"] = int(np.count_nonzero(set_aside))
        if missing:
            dropped["missing"] = int(np.count_nonzero(~keep & ~set_aside))
        if dropped["set_aside"]:
            keep &= ~set_aside
    if w is not None:
        weighable = np.isfinite(w) & (w > 0)
        dropped["no_weight"] = int(np.count_nonzero(keep & ~weighable))
        keep &= weighable
    if errors is not None:
        with np.errstate(invalid="ignore"):
            known = np.logical_and.reduce([np.isfinite(se) & (se > 0) for se in errors])
        dropped["no_error"] = int(np.count_nonzero(keep & ~known))
        keep &= known
    whole = Sample(x, y, w, np.arange(x.size), errors=errors)
    return replace(whole if keep.all() else whole.take(np.flatnonzero(keep)), dropped=dropped)
