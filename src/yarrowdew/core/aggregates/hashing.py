"""Numbers that look drawn, made of others so that no two are alike."""

from __future__ import annotations

import numpy as np
import numpy.typing as npt

_FIRST, _SECOND = 0xBF58476D1CE4E5B9, 0x94D049BB133111EB


def mixed(bits: npt.NDArray[np.uint64]) -> npt.NDArray[np.uint64]:
    """Mix the bits of numbers (the finisher of Steele, Lea and Flood 2014)."""
    # Wrapping round is meant.
    with np.errstate(over="ignore"):
        bits = (bits ^ (bits >> np.uint64(30))) * np.uint64(_FIRST)
        bits = (bits ^ (bits >> np.uint64(27))) * np.uint64(_SECOND)
    return np.asarray(bits ^ (bits >> np.uint64(31)))
