"""What is asked of all rows of a dataset once, and the groups that they fall into."""

from __future__ import annotations

import numpy as np

from yarrowdew.core.aggregates.category_counts import LabelCounts
from yarrowdew.figures.datasets.view import DatasetView
from yarrowdew.figures.document.categories import in_order, looks_in
from yarrowdew.figures.pipeline.groups import Groups, distinct_labels
from yarrowdew.tables.errors import TableError
from yarrowdew.tables.table import Table

MOST_COLOURS = 8
"""So many categories at most are counted each by itself."""


def _values(found: LabelCounts, most: int) -> list[str]:
    """The values in order; of too many, enough to be too many."""
    if found.too_many:
        return [""] * (most + 1)
    return sorted(v for v in found.counts if v is not None)


def groups_in(
    name: str,
    view: DatasetView,
    categories: Table,
    most: int = MOST_COLOURS,
    what: str = "by which a dataset is coloured at most",
) -> Groups:
    """Tell groups apart by a variable's values in all rows, in the order of their study.

    Parameters
    ----------
    name : str
    view : DatasetView
    categories : Table
        That says how the study orders and colours them.
    most : int
    what : str
        Of so many at most, for the sentence where there are more.
    """
    variable = view.dataset.head.variable(name)
    if variable.on_axis:
        raise TableError(
            f"'{name}' has no categories; a dataset is grouped by categories only.",
            "Choose another variable, or none.",
            column=name,
        )
    values = _values(view.labels(name), most)
    if len(values) > most:
        raise TableError(
            f"'{name}' has more than {most} categories, {what}.",
            "Choose another variable, or none.",
            column=name,
        )
    looks, _ = in_order(looks_in(categories, name), values)
    labels = distinct_labels([look.shown for look in looks], [look.value for look in looks])
    return Groups(variable, labels, looks, np.empty(0, dtype=np.uint16))
