"""What is deleted can be brought back, and what belongs to a deleted study takes no changes."""

from __future__ import annotations

import datetime as dt
import sqlite3
from collections.abc import Callable, Iterator
from contextlib import closing
from pathlib import Path

import pytest

from tests.fresh import fresh
from yarrowdew.demo.seeding import add_demo_study
from yarrowdew.figures.document.categories import CategoryLook
from yarrowdew.store import NotFoundError, OutdatedError, Store
from yarrowdew.store.packages import pack_study, unpack_study
from yarrowdew.store.records import DATABASE_NAME
from yarrowdew.tables.draft import Cell
from yarrowdew.tables.errors import TableError
from yarrowdew.tables.filters import Condition, RowFilter, SavedFilter


@pytest.fixture
def store(tmp_path: Path) -> Iterator[Store]:
    opened = Store(fresh(tmp_path))
    yield opened
    opened.close()


@pytest.fixture
def study(store: Store) -> str:
    return add_demo_study(store)


class TestFiguresAndPlates:
    def test_come_back_to_their_place(self, store: Store, study: str) -> None:
        figures, plates = store.figures.of_study(study), store.plates.of_study(study)
        store.figures.delete(figures[1].id)
        store.plates.delete(plates[0].id)
        assert store.figures.of_study(study) == [figures[0], *figures[2:]]
        assert store.plates.of_study(study) == plates[1:]
        with pytest.raises(NotFoundError, match="figure"):
            store.figures.get(figures[1].id)
        assert store.figures.restore(figures[1].id) == figures[1]
        assert store.plates.restore(plates[0].id) == plates[0]
        assert store.figures.of_study(study) == figures
        assert store.plates.of_study(study) == plates

    def test_another_revision_than_the_one_meant_stays(self, store: Store, study: str) -> None:
        first = store.figures.of_study(study)[0]
        with pytest.raises(OutdatedError):
            store.figures.delete(first.id, first.revision + 1)
        assert store.figures.get(first.id) == first

    def test_that_were_deleted_are_not_copied_nor_packed(self, store: Store, study: str) -> None:
        gone = store.figures.of_study(study)[0]
        store.figures.delete(gone.id)
        kept = [f.document.name for f in store.figures.of_study(study)]
        copy = store.studies.copy(study, "Copy")
        read = unpack_study(store, pack_study(store, study), "s.zip")
        for other in (copy, read):
            assert [f.document.name for f in store.figures.of_study(other.id)] == kept

    def test_a_plate_keeps_the_place_of_a_figure_that_is_gone(
        self, store: Store, study: str
    ) -> None:
        plate = store.plates.of_study(study)[0]
        gone = plate.document.cells[0].figure
        store.figures.delete(gone)
        read = unpack_study(store, pack_study(store, study), "s.zip")
        (back, *_) = store.plates.of_study(read.id)
        assert len(back.document.cells) == len(plate.document.cells)
        known = {f.id for f in store.figures.of_study(read.id)}
        missing = [cell.figure not in known for cell in back.document.cells]
        assert missing == [cell.figure == gone for cell in plate.document.cells]

    def test_go_for_good_after_a_month(self, store: Store, study: str) -> None:
        figure = store.figures.of_study(study)[0]
        store.figures.delete(figure.id)
        with closing(sqlite3.connect(store.folder / DATABASE_NAME)) as raw, raw:
            long_ago = dt.datetime(2001, 1, 1).isoformat(sep=" ")
            raw.execute("UPDATE figure SET deleted = ? WHERE deleted IS NOT NULL", (long_ago,))
        store.studies.tidy()
        with pytest.raises(NotFoundError):
            store.figures.restore(figure.id)


class TestTables:
    def test_that_figures_show_stay(self, store: Store, study: str) -> None:
        table = store.figures.of_study(study)[0].document.table
        with pytest.raises(TableError, match="nights"):
            store.tables.delete(table)
        assert store.tables.record(table).id == table

    def test_come_back_with_their_values(self, store: Store, study: str) -> None:
        (*_, table) = store.tables.of_study(study)
        values = store.tables.get(table.id).frame
        for figure in store.figures.of_study(study):
            if figure.document.table == table.id:
                store.figures.delete(figure.id)
        store.tables.delete(table.id)
        assert table.id not in [one.id for one in store.tables.of_study(study)]
        with pytest.raises(NotFoundError, match="table"):
            store.tables.get(table.id)
        assert store.tables.restore(table.id) == table
        assert store.tables.get(table.id).frame.equals(values)

    def test_a_figure_does_not_come_back_without_its_table(self, store: Store, study: str) -> None:
        (*_, table) = store.tables.of_study(study)
        own = [f.id for f in store.figures.of_study(study) if f.document.table == table.id]
        for figure in own:
            store.figures.delete(figure)
        store.tables.delete(table.id)
        for figure in own:
            with pytest.raises(NotFoundError, match="table"):
                store.figures.restore(figure)


def changes(store: Store, study: str) -> dict[str, Callable[[], object]]:
    figure, plate, table = (
        store.figures.of_study(study)[0],
        store.plates.of_study(study)[0],
        store.tables.of_study(study)[0],
    )
    some = RowFilter(conditions=[Condition(variable="wind", test="between", low=1)])
    cell = Cell(0, "wind", "3")
    return {
        "rename": lambda: store.studies.rename(study, "Other"),
        "copy": lambda: store.studies.copy(study, "Copy"),
        "figure": lambda: store.figures.create(study, figure.document),
        "save": lambda: store.figures.save(figure.id, figure.document, figure.revision),
        "delete": lambda: store.figures.delete(figure.id),
        "plate": lambda: store.plates.save(plate.id, plate.document, plate.revision),
        "rows": lambda: store.tables.change(table.id, lambda draft: draft.write([cell])),
        "undo": lambda: store.tables.restore_version(table.id, 1),
        "table": lambda: store.tables.add(study, store.tables.get(table.id)),
        "filter": lambda: store.studies.save_filter(
            study, SavedFilter(name="windy", table=table.id, filter=some)
        ),
        "share": lambda: store.shares.create(study, "Dew", b"{}"),
        "categories": lambda: store.studies.set_categories(study, "valley", []),
    }


@pytest.mark.parametrize(
    "what",
    "rename copy figure save delete plate rows undo table filter share categories".split(),
)
def test_a_deleted_study_takes_no_changes(store: Store, study: str, what: str) -> None:
    change = changes(store, study)[what]
    store.studies.delete(study)
    with pytest.raises(NotFoundError, match="study"):
        change()
    store.studies.restore(study)
    change()


def test_nothing_is_written_where_records_are_read_together(store: Store) -> None:
    with store.together(), pytest.raises(RuntimeError, match="read together"):
        store.studies.create("Lost")
    assert store.studies.all() == []


class TestLabelsOfCategories:
    def test_stay_distinct_when_a_value_of_that_name_arrives(
        self, store: Store, study: str
    ) -> None:
        table = next(t for t in store.tables.of_study(study) if t.name == "nights")
        looks = store.studies.get(study).categories["valley"]
        renamed = [
            one.model_copy(update={"label": "Elder"}) if one.value == "Argill" else one
            for one in looks
        ]
        store.studies.set_categories(study, "valley", renamed)
        store.tables.change(table.id, lambda draft: draft.write([Cell(0, "valley", "Elder")]))
        after = store.studies.get(study).categories["valley"]
        assert [one.shown for one in after][-1] == "Elder (2)"
        # What the study holds can be changed, and be read in again.
        store.studies.set_categories(study, "valley", after)
        read = unpack_study(store, pack_study(store, study), "s.zip")
        assert store.studies.get(read.id).categories == store.studies.get(study).categories

    def test_of_an_old_database_are_made_distinct(self, store: Store, study: str) -> None:
        twice = [CategoryLook(value="a", label="b", turn=0), CategoryLook(value="b", turn=1)]
        with closing(sqlite3.connect(store.folder / DATABASE_NAME)) as raw, raw:
            dumped = ",".join(one.model_dump_json() for one in twice)
            raw.execute("UPDATE study SET categories = ?", (f'{{"g": [{dumped}]}}',))
        assert [one.shown for one in store.studies.get(study).categories["g"]] == ["b", "b (2)"]
