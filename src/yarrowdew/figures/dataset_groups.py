"""What is asked of all rows of a dataset once, and the groups that they fall into."""

from __future__ import annotations

import numpy as np

from yarrowdew.core.partials.asking import LabelCounts
from yarrowdew.figures.by_parts import DatasetView
from yarrowdew.figures.categories import in_order, looks_in
from yarrowdew.figures.groups import Groups, told_apart
from yarrowdew.tables.errors import TableError
from yarrowdew.tables.table import Table

MOST_COLOURS = 8
"""So many categories at most are counted each by itself."""


def _values(found: LabelCounts) -> list[str]:
    """The values in order; of too many, enough to be too many."""
    if found.too_many:
        return [""] * (MOST_COLOURS + 1)
    return sorted(v for v in found.counts if v is not None)


def groups_in(name: str, view: DatasetView, categories: Table) -> Groups:
    """Tell groups apart by a variable's values in all rows, in the order of their study."""
    variable = view.dataset.head.variable(name)
    if variable.on_axis:
        raise TableError(
            f"'{name}' has no categories; a dataset is coloured by categories alone.",
            "Choose another variable, or none.",
            column=name,
        )
    values = _values(view.labels(name))
    if len(values) > MOST_COLOURS:
        raise TableError(
            f"'{name}' has more than {MOST_COLOURS} categories, by which a dataset is coloured at "
            "most.",
            "Choose another variable, or none.",
            column=name,
        )
    looks, _ = in_order(looks_in(categories, name), values)
    labels = told_apart([look.shown for look in looks], [look.value for look in looks])
    return Groups(variable, labels, looks, np.empty(0, dtype=np.uint16))
