"""What is asked of all rows of a dataset once, and the groups that they fall into."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, TypeVar

import numpy as np

from yarrowdew.core.partials.asking import AskLabels
from yarrowdew.core.remembered import Remembered
from yarrowdew.figures.by_parts import DatasetView
from yarrowdew.figures.categories import in_order, looks_in
from yarrowdew.figures.groups import Groups, told_apart
from yarrowdew.figures.words import count_of
from yarrowdew.tables.datasets import Dataset
from yarrowdew.tables.errors import TableError
from yarrowdew.tables.table import Table

MOST_COLOURS = 8
"""So many categories at most are counted each by itself."""
SMALL = 4_096
"""Bytes of what holds a few numbers."""
_KEPT_BYTES = 256 * 1024 * 1024

_kept: Remembered[Any] = Remembered(_KEPT_BYTES)
Made = TypeVar("Made")


def once(
    dataset: Dataset, what: object, make: Callable[[], Made], size: Callable[[Made], int]
) -> Made:
    """Ask all rows of a dataset once, and remember what came of it for as long as there is room."""
    key = repr((dataset.files, dataset.where, what))
    found: Made | None = _kept.get(key)
    if found is None:
        found = make()
        _kept.put(key, found, size(found))
    return found


def groups_in(name: str, view: DatasetView, categories: Table) -> Groups:
    """Tell groups apart by a variable's values in all rows, in the order of their study."""
    variable = view.dataset.head.variable(name)
    if variable.on_axis:
        raise TableError(
            f"'{name}' has no categories; a dataset is coloured by categories alone.",
            "Choose another variable, or none.",
            column=name,
        )
    values = once(
        view.dataset,
        ("values", name),
        lambda: sorted(v for v in view.total(AskLabels(name)).counts if v is not None),
        lambda found: SMALL + 100 * len(found),
    )
    if len(values) > MOST_COLOURS:
        raise TableError(
            f"'{name}' has {count_of(len(values), 'category')}; a dataset is coloured by at most "
            f"{MOST_COLOURS}.",
            "Choose another variable, or none.",
            column=name,
        )
    looks, _ = in_order(looks_in(categories, name), values)
    labels = told_apart([look.shown for look in looks], [look.value for look in looks])
    return Groups(variable, labels, looks, np.empty(0, dtype=np.uint16))
