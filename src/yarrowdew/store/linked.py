"""Adding a dataset to a study: looked at once, and given the figure that it starts with."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path
from typing import TYPE_CHECKING

from yarrowdew.figures.by_parts import DatasetView
from yarrowdew.figures.figure import FigureDocument
from yarrowdew.figures.suggestion import suggest_figure
from yarrowdew.store.reading import TableRecord
from yarrowdew.tables.errors import TableError

if TYPE_CHECKING:
    from yarrowdew.store.store import Store


def link_dataset(
    store: Store, study_id: str, view: DatasetView, path: Path
) -> tuple[TableRecord, str | None]:
    """Look at all rows of a dataset and add it to a study.

    Returns
    -------
    TableRecord
    str or None
        Why it has no figure to begin with.
    """
    figures: list[FigureDocument] = []
    problem = None
    dataset = view.dataset
    for name, expression, variable in store.made_of(study_id, path):
        try:
            dataset, _, _ = dataset.change(
                lambda draft, n=name, e=expression, v=variable: draft.derive(n, e, v.label, v.unit)  # type: ignore[misc]
            )
        except TableError as error:
            problem = f"'{name}' is not made any more. {error}"
    view = replace(view, dataset=dataset)
    try:
        figures.append(suggest_figure(view.dataset.head, ""))
    except TableError as error:
        problem = str(error)
    return store.link(study_id, view.dataset, view.summary(), path, figures), problem
