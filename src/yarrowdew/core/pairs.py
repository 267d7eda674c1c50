"""Every pair of a set of variables, strongest first."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np
import numpy.typing as npt
import scipy

from yarrowdew.core.arithmetic import scaled
from yarrowdew.core.association import (
    Correlation,
    distance_correlation,
    holm,
    kendall,
    pearson,
    spearman,
)
from yarrowdew.core.concordance import ranks
from yarrowdew.core.intervals import normal_quantile
from yarrowdew.core.sample import Array, Mask, Sample, paired

Places = npt.NDArray[np.intp]

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


@dataclass(frozen=True, slots=True)
class AllPairs:
    """Every pair of some variables, shape (pairs,) each; NaN where a number does not exist.

    Attributes
    ----------
    first, second : ndarray of int
        Places of the two variables.
    n : ndarray of int
        Rows in which both are there.
    r, low, high, p_value : ndarray of float64
    """

    first: Places
    second: Places
    n: Places
    r: Array
    low: Array
    high: Array
    p_value: Array

    def correlation(self, pair: int) -> Correlation:
        """One of them by itself."""

        def known(value: float) -> float | None:
            return None if math.isnan(value) else float(value)

        return Correlation(
            known(self.r[pair]),
            int(self.n[pair]),
            known(self.low[pair]),
            known(self.high[pair]),
            known(self.p_value[pair]),
        )


def all_pairs(
    columns: Sequence[Array],
    method: str = "pearson",
    level: float = 0.95,
    *,
    only: int | None = None,
    progress: Callable[[float], None] = lambda _: None,
) -> AllPairs:
    """Correlate every pair of columns, on the rows where both are there.

    Pearson's r of all pairs, and Spearman's ρ of columns without gaps, come from products of whole
    matrices; where those would lose digits, from the pair by itself.

    Parameters
    ----------
    columns : sequence of ndarray, shape (rows,)
        NaN where missing.
    method : {"pearson", "spearman", "kendall", "distance"}
    level : float
        Of the intervals.
    only : int, optional
        Only pairs with this column.
    progress : callable
        Is told the share that is done; the work ends where it raises.
    """
    k = len(columns)
    first, second = (np.asarray(v, dtype=np.intp) for v in np.triu_indices(k, 1))
    if only is not None:
        with_it = (first == only) | (second == only)
        first, second = first[with_it], second[with_it]
    out = np.full((4, len(first)), np.nan)
    n = np.zeros(len(first), dtype=np.intp)
    single = np.arange(len(first))
    if len(first) and method in ("pearson", "spearman"):
        x = np.column_stack(columns)
        known = np.isfinite(x)
        whole: Mask = np.asarray(known.all(axis=0))
        ready = np.ones(k, dtype=bool) if method == "pearson" else whole
        at_once = ready[first] & ready[second]
        if method == "spearman":
            x = np.column_stack(
                [ranks(v) if w else np.zeros(len(v)) for v, w in zip(columns, whole, strict=True)]
            )
        progress(0.0)
        r, n_all, trusted = _matrix_r(x, known)
        at_once &= trusted[first, second]
        n = n_all[first, second]
        values = r[first, second]
        out[0, at_once] = values[at_once]
        single = np.flatnonzero(~at_once)
        out[1:, at_once] = _intervals(
            values[at_once], n[at_once], level, ranked=method != "pearson"
        )
    correlate = METHODS[method]
    for done, pair in enumerate(single.tolist()):
        if done % _TOLD_EVERY == 0:
            progress(done / max(1, len(single)))
        found = correlate(paired(columns[first[pair]], columns[second[pair]]), level)
        n[pair] = found.n
        numbers = (found.r, found.low, found.high, found.p_value)
        out[:, pair] = [np.nan if v is None else v for v in numbers]
    progress(1.0)
    return AllPairs(first, second, n, out[0], out[1], out[2], out[3])


_TOLD_EVERY = 64
_TRUSTED_SPREAD = 1e-5
"""A spread below this share of the sum of squares has lost digits that count."""
_NEARLY_ONE = 1 - 1e-10


def _matrix_r(x: Array, known: npt.NDArray[np.bool_]) -> tuple[Array, Places, Mask]:
    """Pearson's r of all pairs of columns, how many rows each has, and where it can be trusted."""
    z = np.zeros_like(x)
    for place in range(x.shape[1]):
        inside = known[:, place]
        if inside.any():
            values, _ = scaled(x[inside, place])
            about = values - values.mean()
            about -= about.mean()
            z[inside, place] = about / (float(np.abs(about).max()) or 1.0)
    there = known.astype(np.float64)
    n = there.T @ there
    with np.errstate(all="ignore"):
        sums = z.T @ there
        squares = (z * z).T @ there
        spread = squares - sums * sums / n
        common = z.T @ z - sums * sums.T / n
        r = common / np.sqrt(spread * spread.T)
        trusted = (spread > _TRUSTED_SPREAD * squares) & (spread.T > _TRUSTED_SPREAD * squares.T)
        trusted &= (np.abs(r) < _NEARLY_ONE) & (n >= _FEWEST_TOGETHER)
    return r, n.astype(np.intp), trusted


_FEWEST_TOGETHER = 4


def _intervals(r: Array, n: Places, level: float, *, ranked: bool) -> Array:
    """Ends of intervals and p values, as `pearson` and `spearman` have them; shape (3, pairs)."""
    t = r * np.sqrt(n - 2) / np.sqrt((1 - r) * (1 + r))
    p = 2 * scipy.special.stdtr(n - 2, -np.abs(t))
    variance = (1 + r * r / 2 if ranked else 1.0) / (n - 3)
    half = normal_quantile(level) * np.sqrt(variance)
    z = np.arctanh(r)
    return np.vstack([np.tanh(z - half), np.tanh(z + half), p])


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
    names = list(variables)
    found = all_pairs(list(variables.values()), method, level)
    places = zip(found.first.tolist(), found.second.tolist(), strict=True)
    return adjusted_pairs(
        [(names[i], names[j], found.correlation(k)) for k, (i, j) in enumerate(places)]
    )


def adjusted_pairs(found: Sequence[tuple[str, str, Correlation]]) -> list[Pair]:
    """Adjust p values for all pairs that were looked at, and put the strongest first."""
    adjusted = holm([correlation.p_value for _, _, correlation in found])
    out = [Pair(x, y, c, p) for (x, y, c), p in zip(found, adjusted, strict=True)]
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
    # For the order of a matrix alone; loaded with nothing else.
    from scipy.cluster import hierarchy  # noqa: PLC0415
    from scipy.spatial.distance import squareform  # noqa: PLC0415

    tree = hierarchy.linkage(squareform(apart, checks=False), "average", optimal_ordering=True)
    return [int(i) for i in hierarchy.leaves_list(tree)]
