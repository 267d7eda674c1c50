"""Whether groups share one slope."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import scipy

from yarrowdew.core.trends.straight import StraightLine


@dataclass(frozen=True, slots=True)
class SlopesCompared:
    """Separate slopes against a common one, each group with its own intercept.

    Attributes
    ----------
    slope : float
        The common slope.
    f : float
    df_groups, df_rest : int
        Degrees of freedom above and below.
    p_value : float
    """

    slope: float
    f: float
    df_groups: int
    df_rest: int
    p_value: float


def compare_slopes(lines: Sequence[StraightLine]) -> SlopesCompared | None:
    """Test a common slope against separate slopes (analysis of covariance; Fisher 1932).

    Parameters
    ----------
    lines : sequence of StraightLine
        The line of each group, with a free intercept.

    Returns
    -------
    SlopesCompared or None
        None where there are fewer than two groups, or no scatter to compare with.
    """
    if len(lines) < 2 or any(line.intercept_given for line in lines):
        return None
    spread = sum(line.spread for line in lines)
    common = sum(line.spread * line.slope for line in lines) / spread
    separate = sum(line.sse for line in lines)
    rest = sum(line.n for line in lines) - 2 * len(lines)
    if separate <= 0 or rest < 1:
        return None
    # What a common slope adds to the residuals, from the slopes alone: nothing large cancels.
    added = sum(line.spread * (line.slope - common) ** 2 for line in lines)
    f = (added / (len(lines) - 1)) / (separate / rest)
    if not (math.isfinite(f) and math.isfinite(common)):
        return None
    p = float(scipy.special.fdtrc(len(lines) - 1, rest, f))
    return SlopesCompared(common, f, len(lines) - 1, rest, p)
