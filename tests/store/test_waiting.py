"""What waits for the disk and what does not: a large import can be had again, a change cannot."""

from __future__ import annotations

from pathlib import Path

import numpy as np
import polars as pl
import pytest
from sqlalchemy import event

from yarrowdew.demo.tables import demo_tables
from yarrowdew.store import Store
from yarrowdew.tables.draft import Cell
from yarrowdew.tables.table import Kind, Table, Variable

FULL, NORMAL = 2, 1


@pytest.fixture
def waits(tmp_path: Path) -> tuple[Store, list[int]]:
    """A store, and how each of its writes waited, as the database itself says."""
    store = Store(tmp_path)
    found: list[int] = []

    @event.listens_for(store.database._engine, "commit")
    def _(connection: object) -> None:
        found.append(connection.exec_driver_sql("PRAGMA synchronous").scalar())  # type: ignore[attr-defined]

    return store, found


def large(rows: int = 1_200_000) -> Table:
    frame = pl.DataFrame({"a": np.arange(rows, dtype=np.float64)})
    return Table("large", (Variable("a", Kind.NUMBER, "a"),), frame)


def test_only_a_large_import_does_not_wait_and_it_is_there_whole(
    waits: tuple[Store, list[int]], tmp_path: Path
) -> None:
    store, found = waits
    study = store.studies.create("Survey")
    store.tables.add(study.id, demo_tables()[1])
    assert set(found) == {FULL}
    found.clear()
    record = store.tables.add(study.id, large())
    assert found == [NORMAL]
    found.clear()
    # The next change waits again, on the same connection.
    store.tables.change(record.id, lambda draft: draft.write([Cell(3, "a", "7")]))
    assert found == [FULL]
    store.close()
    opened = Store(tmp_path)
    values = opened.tables.get(record.id).frame["a"]
    assert (values[2], values[3], len(values)) == (2, 7, 1_200_000)
    opened.close()


def test_words_and_categories_come_back_from_their_packing(tmp_path: Path) -> None:
    words = pl.Series("w", ["", "a\nb", "ä" * 400, None, "=1+1"] * 50)
    groups = pl.Series("g", ["p", None, "q", "q", "p"] * 50, dtype=pl.Enum(["q", "p", "unused"]))
    table = Table(
        "t",
        (Variable("w", Kind.TEXT, "w"), Variable("g", Kind.CATEGORY, "g")),
        pl.DataFrame([words, groups]),
    )
    first = Store(tmp_path)
    study = first.studies.create("Survey")
    record = first.tables.add(study.id, table)
    first.close()
    again = Store(tmp_path)
    frame = again.tables.get(record.id).frame
    assert frame["w"].to_list() == words.to_list()
    assert frame["g"].to_list() == groups.to_list()
    assert frame["g"].dtype == groups.dtype
    again.close()
