"""Every pair of a set of variables, strongest first."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from itertools import combinations
from typing import Literal

from yarrowdew.core.association import Correlation, holm, kendall, pearson, spearman
from yarrowdew.core.sample import Array, Sample, paired

Method = Literal["pearson", "spearman", "kendall"]
METHODS: dict[str, Callable[[Sample, float], Correlation]] = {
    "pearson": pearson,
    "spearman": spearman,
    "kendall": kendall,
}


@dataclass(frozen=True, slots=True)
class Pair:
    """Two variables, how they go together, and the p value adjusted for all pairs looked at."""

    x: str
    y: str
    correlation: Correlation
    p_adjusted: float | None


def pairs(
    variables: Mapping[str, Array], method: str = "pearson", level: float = 0.95
) -> list[Pair]:
    """Correlate every pair of variables, on the rows where both are there.

    Parameters
    ----------
    variables : mapping of str to ndarray, shape (rows,)
        NaN where missing.
    method : {"pearson", "spearman", "kendall"}
    level : float
        Of the intervals.

    Returns
    -------
    list of Pair
        Strongest first; those without a correlation last.
    """
    correlate = METHODS[method]
    names = list(combinations(variables, 2))
    found = [correlate(paired(variables[a], variables[b]), level) for a, b in names]
    adjusted = holm([c.p_value for c in found])
    out = [Pair(a, b, c, p) for (a, b), c, p in zip(names, found, adjusted, strict=True)]
    return sorted(out, key=lambda pair: -abs(pair.correlation.r or 0.0))
