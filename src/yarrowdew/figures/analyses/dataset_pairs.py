"""Every pair of number variables of a dataset, from sums over all its rows."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from yarrowdew.figures.analyses.pairs import (
    PairAnswer,
    PairsAnswer,
    PairsRequest,
    caution_of,
    numbers_of,
    picture_of,
)
from yarrowdew.figures.datasets.view import DatasetView
from yarrowdew.tables.errors import TableError
from yarrowdew.tables.table import axis_values

MOST_VARIABLES = 60
"""Of so many every pair is looked at; of more, those with one of them."""


def pairs_of_dataset(asked: PairsRequest, view: DatasetView) -> PairsAnswer:
    """Correlate every pair of number variables; see `figures.pairs.pairs_of`.

    The small pictures are of the first rows.

    Raises
    ------
    TableError
        If there are fewer than two number variables, or rows would have to be together.
    """
    if asked.method != "pearson":
        raise TableError(
            "Ranks and distances need all rows in memory, and a dataset is read in chunks.",
            "Measure pairs by r.",
        )
    if asked.by is not None:
        raise TableError(
            "Pairs of a dataset are computed over all rows.", "Keep the rows of one category."
        )
    view = replace(view, dataset=view.dataset.kept_by(asked.rows))
    head = view.dataset.head
    names, only = numbers_of(asked, head)
    if only is None and len(names) > MOST_VARIABLES:
        raise TableError(
            f"{len(names)} number variables are too many for every pair of a dataset.",
            "Choose one variable: only pairs with it are computed.",
        )
    found = view.pairs(names, only)
    pictures = {name: axis_values(head.frame[name]) for name in names}
    label = {v.name: v.label for v in head.variables}
    out = [
        PairAnswer.of(pair, label, picture_of(pictures[pair.x], pictures[pair.y]))
        for pair in found[: asked.most]
    ]
    tested = np.array([p.correlation.p_value for p in found], dtype=np.float64)
    return PairsAnswer(pairs=out, total=len(found), caution=caution_of(tested, len(out)))
