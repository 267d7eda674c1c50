"""Every pair of a set of variables, strongest first."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from itertools import combinations
from typing import Literal

import numpy as np
from scipy.cluster import hierarchy
from scipy.spatial.distance import squareform

from yarrowdew.core.association import (
    Correlation,
    distance_correlation,
    holm,
    kendall,
    pearson,
    spearman,
)
from yarrowdew.core.sample import Array, Sample, paired

Method = Literal["pearson", "spearman", "kendall", "distance"]
METHODS: dict[str, Callable[[Sample, float], Correlation]] = {
    "pearson": pearson,
    "spearman": spearman,
    "kendall": kendall,
    "distance": distance_correlation,
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
    method : {"pearson", "spearman", "kendall", "distance"}
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


def together(correlations: Array) -> list[int]:
    """Order variables so that those which go together stand together.

    Average linkage on 1 − |r| (Sokal and Michener 1958), with the leaves of the tree turned so that
    neighbours are as near as they can be (Bar-Joseph et al. 2001, as SciPy does it).

    Parameters
    ----------
    correlations : ndarray, shape (k, k)
        NaN where there is none.

    Returns
    -------
    list of int
        Places of the variables, in order.
    """
    k = len(correlations)
    if k < 3:
        return list(range(k))
    apart = 1 - np.abs(np.nan_to_num(correlations))
    apart = (apart + apart.T) / 2
    np.fill_diagonal(apart, 0)
    tree = hierarchy.linkage(squareform(apart, checks=False), "average", optimal_ordering=True)
    return [int(i) for i in hierarchy.leaves_list(tree)]
