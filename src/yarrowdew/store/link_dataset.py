"""Adding a dataset to a study: looked at once, and given the figure that it starts with."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING

import polars as pl

from yarrowdew.core.errors import UserFacingError
from yarrowdew.figures.analyses.suggestion import suggest_figure
from yarrowdew.figures.datasets.view import DatasetView
from yarrowdew.figures.figure import FigureDocument
from yarrowdew.store.table_queries import TableRecord
from yarrowdew.store.versions import StoredVariable
from yarrowdew.tables.datasets import Dataset
from yarrowdew.tables.draft import Draft
from yarrowdew.tables.draft_state import dependency_order
from yarrowdew.tables.errors import TableError
from yarrowdew.tables.expressions import sources_present
from yarrowdew.tables.table import Table

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
    dataset, problems = _as_known(view.dataset, store.datasets.known_variables(study_id, path))
    view = replace(view, dataset=dataset)
    try:
        figures.append(suggest_figure(view.dataset.head, "", is_whole=False))
    except TableError as error:
        problems.append(str(error))
    record = store.datasets.add(study_id, view.dataset, view.summary(), path, figures)
    return record, " ".join(problems) or None


def _as_known(dataset: Dataset, known: Sequence[StoredVariable]) -> tuple[Dataset, list[str]]:
    """Give a dataset that is opened again the labels, units and derived variables that it had.

    Returns
    -------
    Dataset
    list of str
        Which derived variables can no longer be computed, and why.
    """
    words = {v.name: v for v in known if v.recipe is None}
    variables = tuple(
        replace(v, label=words[v.name].label, unit=words[v.name].unit) if v.name in words else v
        for v in dataset.variables
    )
    dataset = replace(dataset, variables=variables)
    derived = {v.name: v for v in known if v.recipe is not None}
    every = Table(dataset.name, tuple(v.plain() for v in known), pl.DataFrame())
    sources = {name: sources_present(every, v.recipe or "") for name, v in derived.items()}
    problems = []
    for name in dependency_order(sources):
        v = derived[name]
        derive = partial(
            Draft.derive, name=name, expression=v.recipe or "", label=v.label, unit=v.unit
        )
        try:
            dataset, _, _ = dataset.change(derive)
        except UserFacingError as error:
            problems.append(f"'{name}' is not computed any more: {error}")
    return dataset, problems
