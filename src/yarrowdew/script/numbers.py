"""Numbers without a picture: fits and correlations, straight from the core."""

from __future__ import annotations

from typing import Any

import numpy as np
import numpy.typing as npt

from yarrowdew.core.errors import FitError
from yarrowdew.core.pairs import Pair
from yarrowdew.core.pairs import pairs as correlated
from yarrowdew.core.trends import TrendFit, family_of, fit_trend
from yarrowdew.core.trends.families.straight import FAMILY as LINE
from yarrowdew.core.trends.intervals.bands import band_of
from yarrowdew.core.trends.protocol import BandKind, Errors, Interval
from yarrowdew.core.weights import Weights, WeightsAre, weighed
from yarrowdew.script.data import Data, table_of
from yarrowdew.tables.errors import TableError
from yarrowdew.tables.table import Kind, axis_values


def fit(
    x: npt.ArrayLike,
    y: npt.ArrayLike,
    *,
    family: str = LINE.name,
    weights: npt.ArrayLike | None = None,
    weights_are: WeightsAre = "weights",
    errors: Errors = "equal",
    seed: int = 1,
    **settings: Any,
) -> TrendFit:
    """Fit a trend to two columns.

    Parameters
    ----------
    x, y : array_like
    family : str
        A family of trends, as `yarrowdew fit --help` lists them.
    weights : array_like, optional
    weights_are : {"weights", "counts", "standard_errors"}
        Precisions, counts of equal rows, or standard errors of y.
    errors : {"equal", "hc3", "bootstrap", "given"}
        What intervals rest on; "given" takes the standard errors of y as known.
    seed : int
        Of rows that are drawn again.
    **settings
        What can be set about the family.

    Raises
    ------
    FitError
        If there is no such family, or it cannot be fitted to these rows.

    Examples
    --------
    >>> import yarrowdew as yd
    >>> line = yd.fit([1, 2, 3, 4], [5, 9, 13, 17])
    >>> [(c.name, round(c.value, 6)) for c in line.coefficients(0.95)]
    [('a', 1.0), ('b', 4.0)]
    """
    made = family_of(family).settings_of(settings) if settings else None
    if errors == "given" and (weights is None or weights_are != "standard_errors"):
        raise FitError(
            "No standard errors of y are given.",
            'Give them as weights, with weights_are="standard_errors".',
        )
    weighing = None
    if weights is not None:
        values = np.asarray(weights, dtype=np.float64)
        weighing = Weights.of(values, weights_are, as_given=errors == "given")
    return fit_trend(weighed(x, y, weighing), family, made, errors, seed)


def band(
    fit: TrendFit, x: npt.ArrayLike, level: float = 0.95, kind: BandKind = "confidence"
) -> Interval | None:
    """Find the band of a fitted trend.

    Parameters
    ----------
    fit : TrendFit
        As `yarrowdew.fit` makes it.
    x : array_like
        Where the band is wanted.
    level : float
    kind : {"confidence", "whole line", "prediction"}
        For the mean at each x, for the whole line at once, or for a new row.

    Returns
    -------
    Interval or None
        Lower and upper ends at each x; None where the trend has no such band.

    Examples
    --------
    >>> import yarrowdew as yd
    >>> line = yd.fit([1, 2, 3, 4], [5.1, 8.8, 13.2, 16.9])
    >>> at_each, whole = (yd.band(line, [2.5], kind=k) for k in ("confidence", "whole line"))
    >>> bool(whole.high[0] > at_each.high[0])
    True
    """
    return band_of(fit, np.atleast_1d(np.asarray(x, dtype=np.float64)), level, kind)


def pairs(data: Data, *, method: str = "pearson") -> list[Pair]:
    """Correlate every pair of number variables, strongest first.

    Parameters
    ----------
    data : path, mapping of columns, or table
    method : {"pearson", "spearman", "kendall", "distance"}

    Raises
    ------
    TableError
        If there are fewer than two.

    Examples
    --------
    >>> import yarrowdew as yd
    >>> found = yd.pairs({"a": [1, 2, 3, 4], "b": [2, 4, 6, 9], "c": [4, 1, 3, 2]})
    >>> (found[0].x, found[0].y)
    ('a', 'b')
    """
    table = table_of(data)
    numbers = [v for v in table.variables if v.kind is Kind.NUMBER]
    if len(numbers) < 2:
        raise TableError(f"{table.name} has fewer than two number variables.")
    return correlated({v.name: axis_values(table.frame[v.name]) for v in numbers}, method)
