"""Datasets that are opened again: what stays, what is said, and what undo brings back."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path

import polars as pl
import pytest

from tests.fresh import fresh
from yarrowdew.api.answering import Answering, change_table
from yarrowdew.api.settings import Settings
from yarrowdew.figures.datasets.view import DatasetView
from yarrowdew.figures.figure import FigureDocument
from yarrowdew.store import Store
from yarrowdew.store.link_dataset import link_dataset
from yarrowdew.tables.dataset_files import open_dataset
from yarrowdew.tables.errors import TableError

SETTINGS = Settings(Path())


@pytest.fixture
def store(tmp_path: Path) -> Iterator[Store]:
    opened = Store(fresh(tmp_path / "data"))
    yield opened
    opened.close()


@pytest.fixture
def folder(tmp_path: Path) -> Path:
    made = tmp_path / "rows"
    made.mkdir()
    written(made, x=[1.0, 2.0, 3.0, 4.0], y=[2.0, 1.0, 4.0, 3.0], z=[1.0, 1.0, 2.0, 2.0])
    return made


def written(folder: Path, **columns: list[float]) -> None:
    pl.DataFrame(columns).write_parquet(folder / "0.parquet")


def opened(store: Store, study: str, folder: Path) -> tuple[str, str | None]:
    record, problem = link_dataset(store, study, DatasetView(open_dataset(folder)), folder)
    return record.id, problem


def drawn(store: Store, table: str, x: str = "x") -> int:
    document = FigureDocument(table=table, x=x, y=["y"])
    return Answering(store, SETTINGS, document).answer().answer.counts.drawn


def test_labels_units_and_derived_variables_stay(store: Store, folder: Path) -> None:
    study = store.studies.create("Survey").id
    table, _ = opened(store, study, folder)
    change_table(store, SETTINGS, table, lambda d: d.derive("b", "x + 1"), None)
    change_table(store, SETTINGS, table, lambda d: d.derive("d", "x * 5"), None)
    # The first is computed from the second now: their order in the table is not that of the work.
    change_table(store, SETTINGS, table, lambda d: d.derive("b", "d * 3"), None)
    change_table(store, SETTINGS, table, lambda d: d.describe("x", "Wind speed", "m/s"), None)
    written(folder, x=[1.0, 2.0], y=[5.0, 6.0], z=[0.0, 0.0])
    again, problem = opened(store, study, folder)
    assert (again, problem) == (table, None)
    variables = {v.name: v for v in store.tables.record(table).summary.variables}
    assert (variables["x"].label, variables["x"].unit) == ("Wind speed", "m/s")
    assert (variables["b"].min, variables["b"].max) == (15, 30)


def test_what_can_no_longer_be_computed_is_said_and_the_rest_opens(
    store: Store, folder: Path
) -> None:
    study = store.studies.create("Survey").id
    table, _ = opened(store, study, folder)
    for name, expression in (("a", "x + 1"), ("b", "z + 1"), ("c", "b * 2")):
        change_table(store, SETTINGS, table, lambda d, n=name, e=expression: d.derive(n, e), None)
    written(folder, x=[1.0, 2.0, 3.0], y=[5.0, 6.0, 7.0])
    _, problem = opened(store, study, folder)
    assert problem is not None
    assert "'b' is not computed any more" in problem
    assert "'c' is not computed any more" in problem
    names = [v.name for v in store.tables.record(table).summary.variables]
    assert names == ["x", "y", "a"]
    assert drawn(store, table) == 3


def test_undo_of_opening_again_brings_back_the_files_of_that_time(
    store: Store, folder: Path
) -> None:
    study = store.studies.create("Survey").id
    table, _ = opened(store, study, folder)
    written(folder, x=[1.0, 2.0], y=[5.0, 6.0])
    opened(store, study, folder)
    assert drawn(store, table) == 2
    store.tables.restore_version(table, 1)
    names = [v.name for v in store.tables.record(table).summary.variables]
    assert names == ["x", "y", "z"]
    # The files of that version are not there any more, and that is what is said.
    with pytest.raises(TableError, match="has changed since the dataset was opened"):
        drawn(store, table)
    store.tables.restore_version(table, 2)
    assert drawn(store, table) == 2
