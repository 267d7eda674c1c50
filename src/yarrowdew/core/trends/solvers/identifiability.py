"""Whether a minimum was come to, and whether rows determine the coefficients there."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
import scipy

from yarrowdew.core.errors import FitError
from yarrowdew.core.sample import Array

_DETERMINED = 1e-9
"""A column of the Jacobian that lies within so much of the others says nothing of its own."""
_TAKES_PART = 0.1
MOST_OFFSET = 1e-3


def inverse_of(jacobian: Array, what: str, names: Sequence[str]) -> Array:
    """(JᵀJ)⁻¹ by QR, on columns of unit length.

    Raises
    ------
    FitError
        If the data do not determine the coefficients.
    """
    lengths = np.sqrt((jacobian * jacobian).sum(axis=0))
    idle = [name for name, length in zip(names, lengths, strict=True) if not length > 0]
    if idle:
        raise _undetermined(what, f"{_listed(idle)} can be anything, and the curve stays as it is")
    if not np.isfinite(lengths).all():
        raise _undetermined(what, "quite different curves fit them as well")
    r = scipy.linalg.qr(jacobian / lengths, mode="r")[0][: len(lengths)]
    if len(r) < len(lengths) or abs(np.diag(r)).min() < _DETERMINED:
        # Along this direction the coefficients change and the curve does not.
        direction = np.abs(scipy.linalg.svd(jacobian / lengths)[2][-1])
        which = [name for name, part in zip(names, direction, strict=True) if part > _TAKES_PART]
        said = f"{_listed(which)} can change together, and the curve stays as it is"
        raise _undetermined(what, said)
    upper = scipy.linalg.solve_triangular(r, np.eye(len(lengths)))
    return np.asarray((upper @ upper.T) / np.outer(lengths, lengths))


def _undetermined(what: str, why: str) -> FitError:
    return FitError(
        f"{what} is not determined by these rows: {why}.",
        "Give one of them, add rows where the curve bends, or choose a simpler form.",
    )


def _listed(names: Sequence[str]) -> str:
    return names[0] if len(names) == 1 else f"{', '.join(names[:-1])} and {names[-1]}"


def relative_offset(jacobian: Array, off: Array) -> float:
    """How far from a minimum a place is; see `offset_in`."""
    n, p = jacobian.shape
    lengths = np.sqrt((jacobian * jacobian).sum(axis=0))
    q = np.linalg.qr(jacobian / np.where(lengths > 0, lengths, 1.0))[0]
    return _offset(q.T @ off, float(np.dot(off, off)), n, p)


def offset_in(triangle: Array, n: int) -> float:
    """How far from a minimum a place is, by the relative offset of Bates and Watts (1981).

    What is left of the residuals in the tangent plane, against their scatter; it does not depend
    on how the coefficients are counted.

    Parameters
    ----------
    triangle : ndarray, shape (p + 1, p + 1)
        R of the QR decomposition of the Jacobian with the residuals as its last column.
    n : int
        Of rows.
    """
    beside = triangle[:, -1]
    return _offset(beside[:-1], float(np.dot(beside, beside)), n, len(beside) - 1)


def _offset(in_plane: Array, sse: float, n: int, p: int) -> float:
    if n <= p or not sse > 0:
        return 0.0
    return float(np.sqrt(np.dot(in_plane, in_plane) / p / (sse / (n - p))))


def check_minimum(offset: float, what: str) -> None:
    """Refuse what is no minimum."""
    if offset > MOST_OFFSET:
        raise FitError(
            f"No best curve was found for {what[0].lower()}{what[1:]}: it still got better when "
            "the search ended.",
            "Give one of its parameters, or between which ends it lies.",
        )
