"""The boundary of arithmetic: what it throws comes out as a sentence, and nothing as NaN."""

from __future__ import annotations

import math
from collections.abc import Iterator
from contextlib import contextmanager

import numpy as np

from yarrowdew.core.errors import FitError, UserFacingError
from yarrowdew.core.sample import Array

SMALLEST_SAFE, LARGEST_SAFE = 1e-60, 1e60
"""Values within these have sums of squares, and products of such, that can be computed."""


@contextmanager
def computed(what: str) -> Iterator[None]:
    """Turn whatever arithmetic throws into a FitError.

    Parameters
    ----------
    what : str
        What is being computed, as a sentence begins: "A straight line".

    Raises
    ------
    FitError
        Where numbers overflow, a matrix is singular, or a search does not converge.
    """
    try:
        with np.errstate(all="ignore"):
            yield
    except UserFacingError:
        raise
    except (ArithmeticError, ValueError, IndexError, np.linalg.LinAlgError) as error:
        raise beyond(what) from error


def beyond(what: str) -> FitError:
    """Say that numbers are beyond what can be computed with."""
    return FitError(
        f"{what} cannot be worked out from these values: they are too large, too small, or too "
        "close together for it.",
        "Derive a variable in other units, or measured from another origin.",
    )


def exponent_of(values: Array) -> int:
    """Exponent of the power of two by which values are divided so that they can be computed with.

    0 where they are neither very large nor very small, so that ordinary values are left as they
    are to the last bit.
    """
    largest = max(float(values.max()), -float(values.min())) if values.size else 0.0
    if largest == 0 or SMALLEST_SAFE <= largest <= LARGEST_SAFE:
        return 0
    return math.frexp(largest)[1]


def scaled(values: Array) -> tuple[Array, int]:
    """Divide values by a power of two, so that they can be computed with, and say by which."""
    exponent = exponent_of(values)
    return (np.ldexp(values, -exponent), exponent) if exponent else (values, 0)


def between(low: float, high: float, points: int) -> Array:
    """Places evenly from one to another, also where the distance overflows."""
    share = np.linspace(0.0, 1.0, points)
    if math.isfinite(high - low):
        return np.linspace(low, high, points)
    return low * (1 - share) + high * share


def apart(distinct: Array) -> Array:
    """Leave out values that lie so close to the one before that nothing can be told between them.

    Parameters
    ----------
    distinct : ndarray, shape (k,)
        Ascending.

    Returns
    -------
    ndarray
        With the first and the last of them; neighbours are at least 1e-9 of the range apart, but
        perhaps the last two.
    """
    low, high = float(distinct[0]), float(distinct[-1])
    step = (high - low) * 1e-9
    if step <= 0 or float(np.diff(distinct).min()) >= step:
        return distinct
    kept = np.ones(len(distinct), dtype=bool)
    last = 0
    # Only what is close to the one before has to be looked at, and that is little of much.
    for i in (np.flatnonzero(np.diff(distinct) < step) + 1).tolist():
        last = i - 1 if kept[i - 1] else last
        kept[i] = distinct[i] - distinct[last] >= step
    kept[1:-1] &= high - distinct[1:-1] >= step
    kept[-1] = True
    return np.asarray(distinct[kept])
