"""Datasets on the command line: which one is meant, and who looks at its parts."""

from __future__ import annotations

import sys
from dataclasses import replace
from pathlib import Path
from typing import Annotated

import typer

from yarrowdew.cli.data import DataOption, data_folder
from yarrowdew.cli.options import EngineOption
from yarrowdew.core.checkpoints import asking
from yarrowdew.figures.datasets.view import view_of_dataset
from yarrowdew.figures.text.words import count_of
from yarrowdew.tables.errors import TableError


def link(
    *,
    path: Annotated[Path, typer.Argument(help="A Parquet file, a folder of them, or a pattern.")],
    study: Annotated[
        str | None, typer.Option(help="Name or id of a study; one is made where there is none.")
    ] = None,
    name: Annotated[str | None, typer.Option(help="What the dataset is called there.")] = None,
    data: DataOption = None,
    engine: EngineOption = None,
) -> None:
    """Add a dataset to a study; its files stay where they are."""
    from yarrowdew.store import Store  # noqa: PLC0415 (records are not always needed)
    from yarrowdew.store.link_dataset import link_dataset  # noqa: PLC0415

    view = view_of_dataset(path, engine)
    if name is not None:
        view = replace(view, dataset=replace(view.dataset, name=name.strip() or view.dataset.name))
    store = Store(data_folder(data))
    try:
        wanted = study or view.dataset.name
        known = [s for s in store.studies.all() if wanted in (s.id, s.name)]
        if len(known) > 1:
            raise TableError(
                f"{len(known)} studies are called '{wanted}'.",
                "Name one by its id, from its address.",
            )
        study_id = known[0].id if known else store.studies.create(wanted).id
        with asking(_told):
            record, problem = link_dataset(store, study_id, view, path)
    finally:
        store.close()
    typer.echo(
        f"{record.name}: {count_of(view.dataset.rows, 'row')} in "
        f"{count_of(len(view.dataset.files), 'file')}, linked to the study '{wanted}'."
    )
    if problem:
        typer.echo(problem)


def _told(share: float) -> None:
    if sys.stderr.isatty():
        sys.stderr.write(f"\rLooking at all rows … {100 * share:.0f} %")
        sys.stderr.flush()
