"""Whether the lines of groups share one slope, and how any two of them differ."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from itertools import combinations
from typing import Self

import numpy as np
import scipy

from yarrowdew.core.association import holm
from yarrowdew.core.distributions.comparison import Difference
from yarrowdew.core.intervals import t_p_value, t_quantile
from yarrowdew.core.register import documented
from yarrowdew.core.trends.families.straight import StraightLine
from yarrowdew.core.trends.intervals.bootstrap import Resampled
from yarrowdew.core.trends.intervals.covariance import CovarianceFit
from yarrowdew.core.trends.intervals.given_errors import GivenErrorsFit
from yarrowdew.core.trends.protocol import TrendFit


@dataclass(frozen=True, slots=True)
class LineOfGroup:
    """What of a group's line is compared.

    Attributes
    ----------
    slope, slope_se : float
        The standard error is that of the fit: by equal scatter, by HC3 or by resampling.
    mean_x, mean_y : float
    mean_se : float
        Standard error of y at the mean of x.
    df : float
        Infinite where the standard errors of y are given.
    """

    slope: float
    slope_se: float
    mean_x: float
    mean_y: float
    mean_se: float
    df: float

    @classmethod
    def of(cls, fit: TrendFit) -> Self | None:
        """Of a straight line with a free intercept, and with scatter; None of anything else."""
        line = fit.inner if isinstance(fit, CovarianceFit | Resampled) else fit
        if not isinstance(line, StraightLine) or line.intercept_given:
            return None
        slope = next((c for c in fit.coefficients(0.95) if c.name == "b"), None)
        if slope is None or not slope.se:
            return None
        mean_se = line.residual_sd / math.sqrt(line.n)
        df = line.degrees_of_freedom
        if isinstance(fit, GivenErrorsFit):
            mean_se, df = fit.row_sd / math.sqrt(line.n), math.inf
        return cls(line.slope, slope.se, line.pivot_x, line.pivot_y, mean_se, df)


@dataclass(frozen=True, slots=True)
class TwoLines:
    """How the second of two lines differs from the first.

    Attributes
    ----------
    first, second : int
        Which of the lines.
    slopes : Difference
    heights : Difference
        Of the intercepts, if both had the common slope.
    """

    first: int
    second: int
    slopes: Difference
    heights: Difference


@dataclass(frozen=True, slots=True)
class SlopesCompared:
    """Separate slopes against a common one, each group with its own intercept and its own scatter.

    Attributes
    ----------
    slope : float
        The common slope, each weighted by its precision.
    low, high : float
        Its interval.
    f : float
    df : tuple of float
        Degrees of freedom above and below.
    p_value : float
    pairs : tuple of TwoLines
        Intervals allow for the number of pairs (Bonferroni), p values by Holm (1979).
    """

    slope: float
    low: float
    high: float
    f: float
    df: tuple[float, float]
    p_value: float
    pairs: tuple[TwoLines, ...]


@documented(
    "groups of lines",
    "slopes of groups",
    "Welch (1951) on the slopes, each with its own standard error (equal, HC3 or bootstrap) and degrees of freedom; the common slope has the variance of Meier (1953)",
    "approximate; see the table of coverage",
)
@documented(
    "groups of lines",
    "difference of two slopes, and of two heights at the common slope",
    "Satterthwaite (1946); intervals allow for the number of pairs (Bonferroni), p values by Holm (1979), for up to six groups",
    "approximate",
)
def compare_slopes(lines: Sequence[LineOfGroup], level: float = 0.95) -> SlopesCompared | None:
    """Compare slopes of groups that scatter differently.

    All at once by Welch's test (1951) on the slopes, each with the degrees of freedom of its line;
    two at a time by Satterthwaite's (1946). The common slope has the variance of Meier (1953).

    Parameters
    ----------
    lines : sequence of LineOfGroup
    level : float
        Of the intervals.

    Returns
    -------
    SlopesCompared or None
        None where there are fewer than two lines, or numbers are beyond what can be computed with.
    """
    k = len(lines)
    if k < 2:
        return None
    slopes, se, df = (
        np.array([getattr(one, name) for one in lines]) for name in ("slope", "slope_se", "df")
    )
    # In units in which no square overflows.
    unit = float(se.max())
    weights = (unit / se) ** 2
    total = float(weights.sum())
    share = weights / total
    common = float(share @ slopes)
    between = float(weights @ ((slopes - common) / unit) ** 2) / (k - 1)
    off = float(((1 - share) ** 2 / df).sum())
    f = between / (1 + 2 * (k - 2) / (k**2 - 1) * off)
    below = (k**2 - 1) / (3 * off) if off else math.inf
    common_se = unit / math.sqrt(total) * math.sqrt(1 + 4 * float((share * (1 - share) / df).sum()))
    common_off = float((share**2 / df).sum())
    half = t_quantile(level, 1 / common_off if common_off else math.inf) * common_se
    if not all(map(math.isfinite, (f, common, half))):
        return None
    return SlopesCompared(
        slope=common,
        low=common - half,
        high=common + half,
        f=f,
        df=(float(k - 1), below),
        p_value=float(
            scipy.special.fdtrc(k - 1, below, f)
            if math.isfinite(below)
            else scipy.special.chdtrc(k - 1, f * (k - 1))
        ),
        pairs=_pairs(lines, common, common_se, level),
    )


def _pairs(
    lines: Sequence[LineOfGroup], common: float, common_se: float, level: float
) -> tuple[TwoLines, ...]:
    two = list(combinations(range(len(lines)), 2))
    level = 1 - (1 - level) / len(two)
    slopes, heights = [], []
    for i, j in two:
        a, b = lines[i], lines[j]
        slopes.append(
            _difference(b.slope - a.slope, [(a.slope_se, a.df), (b.slope_se, b.df)], level)
        )
        across = b.mean_x - a.mean_x
        parts = [(a.mean_se, a.df), (b.mean_se, b.df), (across * common_se, a.df + b.df)]
        heights.append(_difference(b.mean_y - a.mean_y - common * across, parts, level))
    slope_p, height_p = (holm([one.p_value for one in found]) for found in (slopes, heights))
    return tuple(
        TwoLines(i, j, _with_p(slope, p), _with_p(height, q))
        for (i, j), slope, p, height, q in zip(two, slopes, slope_p, heights, height_p, strict=True)
    )


def _difference(value: float, parts: Sequence[tuple[float, float]], level: float) -> Difference:
    """With the standard errors of what it is made of, and their degrees of freedom."""
    se = math.hypot(*(own for own, _ in parts))
    off = sum((own / se) ** 4 / df for own, df in parts)
    df = 1 / off if off else math.inf
    half = t_quantile(level, df) * se
    return Difference(value, value - half, value + half, t_p_value(value / se, df))


def _with_p(found: Difference, p: float | None) -> Difference:
    return Difference(found.value, found.low, found.high, found.p_value if p is None else p)
