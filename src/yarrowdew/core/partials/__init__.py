"""Summaries of rows that come in parts: each is made of some rows, and any two are merged into one.

Merging changes nothing by its order: sums are kept exactly (`adding`), counts and extremes are exact
by themselves, and what is kept of a sample does not depend on who looked at it first. From a merged
summary come the same results as from all rows at once.
"""

from yarrowdew.core.partials.adding import ExactSums
from yarrowdew.core.partials.counting import Counts, Grid
from yarrowdew.core.partials.lines import PairSums, Pivot
from yarrowdew.core.partials.merging import Grouped, Partial, merged
from yarrowdew.core.partials.numbers import NumberSums
from yarrowdew.core.partials.polynomials import PolynomialSums
from yarrowdew.core.partials.quantiles import Quantiles
from yarrowdew.core.partials.sampling import RowSample

__all__ = [
    "Counts",
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
