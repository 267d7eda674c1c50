"""Parallel lines: one slope for all groups, and a height of its own for each (analysis of covariance)."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, fields

from yarrowdew.core.errors import FitError
from yarrowdew.core.register import documented
from yarrowdew.core.trends.assumptions import INDEPENDENT_ROWS, Assumption, of_curve, of_scatter
from yarrowdew.core.trends.families.straight import StraightLine


@dataclass(frozen=True, slots=True, kw_only=True)
class CommonSlopeLine(StraightLine):
    """The line of one group among parallel ones.

    Its residual standard deviation, R² and degrees of freedom are those of all groups together, within
    which R² is the share of variation that the slope takes up.
    """

    @property
    def assumptions(self) -> tuple[Assumption, ...]:
        """What the intervals rest on."""
        return (
            of_curve("The mean of y changes along parallel lines, one for each group."),
            of_scatter("The scatter about them is the same in all groups and close to normal."),
            INDEPENDENT_ROWS,
        )


@documented(
    "groups of lines",
    "parallel lines (a common slope), adjusted means",
    "analysis of covariance (Fisher 1932): the slope from sums of squares and products within groups, with the scatter of all groups together",
    "exact under equal normal scatter and a common slope, which Welch’s test of the slopes is shown with",
)
def with_common_slope(lines: Sequence[StraightLine]) -> list[CommonSlopeLine]:
    """Make lines of groups parallel.

    Parameters
    ----------
    lines : sequence of StraightLine
        Each fitted to its own group by least squares, without weights.

    Raises
    ------
    FitError
        If there are fewer than two, or their intercepts are given.
    """
    if len(lines) < 2:
        raise FitError(
            "A common slope needs the lines of at least two groups.",
            "Fit a line to each category of a variable.",
        )
    if any(line.intercept_given for line in lines):
        raise FitError(
            "A common slope leaves every group its own height.", "Leave the intercept free."
        )
    spread = math.fsum(line.spread for line in lines)
    products = math.fsum(line.slope * line.spread for line in lines)
    squares = math.fsum(line.sst for line in lines)
    slope = products / spread
    # What each line leaves, and what turning it to the common slope adds.
    left = math.fsum(line.sse + (line.slope - slope) ** 2 * line.spread for line in lines)
    df = sum(line.n for line in lines) - len(lines) - 1
    out = []
    for line in lines:
        own = {f.name: getattr(line, f.name) for f in fields(line)}
        own |= {
            "slope": slope,
            "intercept": line.pivot_y - slope * line.pivot_x,
            "spread": spread,
            "sse": left,
            "sst": squares,
            "degrees_of_freedom": df,
        }
        out.append(CommonSlopeLine(**own))
    return out
