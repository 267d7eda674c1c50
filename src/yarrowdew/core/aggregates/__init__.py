"""Summaries of rows that come in parts: each is made of some rows, and any two are merged into one.

Merging changes nothing by its order: sums are kept exactly (`adding`), counts and extremes are exact
by themselves, and what is kept of a sample does not depend on who looked at it first. From a merged
summary come the same results as from all rows at once.
"""

from yarrowdew.core.aggregates.cell_counts import CellCounts, Grid
from yarrowdew.core.aggregates.exact_sums import ExactSums
from yarrowdew.core.aggregates.numbers import NumberSums
from yarrowdew.core.aggregates.pair_sums import PairSums, Pivot
from yarrowdew.core.aggregates.partials import Grouped, Partial, merged
from yarrowdew.core.aggregates.polynomials import PolynomialSums
from yarrowdew.core.aggregates.quantiles import Quantiles
from yarrowdew.core.aggregates.sampling import RowSample

__all__ = [
    "CellCounts",
    "ExactSums",
    "Grid",
    "Grouped",
    "NumberSums",
    "PairSums",
    "Partial",
    "Pivot",
    "PolynomialSums",
    "Quantiles",
    "RowSample",
    "merged",
]
