"""What each row weighs: a precision, a count of equal rows, or 1/SE² of a standard error of y."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal

import numpy as np
import numpy.typing as npt

from yarrowdew.core.arithmetic import scaled
from yarrowdew.core.errors import FitError
from yarrowdew.core.sample import Array, Mask, Sample, paired

WeightsAre = Literal["weights", "counts", "standard_errors"]


@dataclass(frozen=True, slots=True)
class Weights:
    """What each row weighs.

    Attributes
    ----------
    values : ndarray, shape (rows,)
    are_counts : bool
        Whether each says how many equal rows its row stands for; precisions otherwise.
    """

    values: Array
    are_counts: bool = False

    @classmethod
    def of(cls, values: Array, are: WeightsAre, *, as_given: bool = False) -> Weights:
        """Make weights of what a variable holds.

        Parameters
        ----------
        values : ndarray, shape (rows,)
        are : {"weights", "counts", "standard_errors"}
        as_given : bool
            Whether intervals rest on the standard errors, so that their size matters, too.

        Raises
        ------
        FitError
            If a count is not a whole number, or standard errors cannot be squared.
        """
        if are == "weights":
            return cls(values)
        if are == "counts":
            with np.errstate(invalid="ignore"):
                uneven = np.flatnonzero(np.isfinite(values) & (values != np.floor(values)))
            if uneven.size:
                raise FitError(
                    f"Row {uneven[0] + 1:,} counts {values[uneven[0]]:g} rows, which is not a "
                    "whole number.",
                    "Correct it, or take the weights as precisions.",
                )
            return cls(values, are_counts=True)
        with np.errstate(all="ignore"):
            precisions = 1 / values**2
            usable = values > 0
            within = np.isfinite(precisions[usable]) & (precisions[usable] > 0)
            if not within.all():
                if as_given:
                    raise FitError(
                        "These standard errors are too small or too large to be squared.",
                        "Give the values in other units.",
                    )
                inner, _ = scaled(values)
                precisions = 1 / inner**2
            return cls(np.where(usable, precisions, np.nan))

    def take(self, rows: npt.NDArray[np.intp]) -> Weights:
        """Those of some rows."""
        return replace(self, values=self.values[rows])


def weighed(
    x: npt.ArrayLike,
    y: npt.ArrayLike,
    weights: Weights | None,
    set_aside: Mask | None = None,
    errors: tuple[Array, Array] | None = None,
) -> Sample:
    """Keep complete rows as `paired` does; those that stand for several are there so often."""
    sample = paired(x, y, None if weights is None else weights.values, set_aside, errors)
    return sample.repeated() if weights is not None and weights.are_counts else sample
