from __future__ import annotations

import io
import json
import zipfile
from collections.abc import Iterator
from pathlib import Path

import polars as pl
import pytest

from tests.fresh import fresh
from yarrowdew.demo.seeding import add_demo_study
from yarrowdew.figures.answer import answer
from yarrowdew.figures.document.categories import CategoryLook
from yarrowdew.store import Store
from yarrowdew.store.packages import pack_figure, pack_study, unpack_study, unpack_table
from yarrowdew.tables.draft import Draft
from yarrowdew.tables.errors import TableError
from yarrowdew.tables.reading import ReadOptions
from yarrowdew.tables.table import Kind, Table, Variable


@pytest.fixture
def store(tmp_path: Path) -> Iterator[Store]:
    opened = Store(fresh(tmp_path / "one"))
    yield opened
    opened.close()


@pytest.fixture
def elsewhere(tmp_path: Path) -> Iterator[Store]:
    opened = Store(fresh(tmp_path / "other"))
    yield opened
    opened.close()


def test_a_whole_study_comes_back_the_same_elsewhere(store: Store, elsewhere: Store) -> None:
    study = add_demo_study(store)
    store.studies.set_categories(
        study,
        "valley",
        [CategoryLook(value="Corrie", label="Corrie Glen", colour="#123456", turn=2)],
    )
    back = unpack_study(elsewhere, pack_study(store, study), "survey.zip")
    assert back.name == "Dew survey"
    assert back.categories == store.studies.get(study).categories
    for before, after in zip(
        store.tables.of_study(study), elsewhere.tables.of_study(back.id), strict=True
    ):
        assert after.name == before.name
        assert after.summary == before.summary
        assert elsewhere.tables.get(after.id).frame.equals(store.tables.get(before.id).frame)
    for mine, theirs in zip(
        store.figures.of_study(study), elsewhere.figures.of_study(back.id), strict=True
    ):
        assert theirs.document == mine.document.model_copy(update={"table": theirs.document.table})
        # The same document over the same rows says the same.
        said, says = (
            answer(f.document, s.tables.get(f.document.table))
            for s, f in ((store, mine), (elsewhere, theirs))
        )
        assert says == said
    for plate, copied in zip(
        store.plates.of_study(study), elsewhere.plates.of_study(back.id), strict=True
    ):
        assert [c.varied for c in copied.document.cells] == [c.varied for c in plate.document.cells]
        known = {f.id for f in elsewhere.figures.of_study(back.id)}
        assert {c.figure for c in copied.document.cells} <= known


def _odd_table() -> Table:
    return Table(
        "odd rows 1.5",
        (
            Variable("a", Kind.NUMBER, "A", "mm"),
            Variable("words", Kind.TEXT, "Words"),
            Variable("group", Kind.CATEGORY, "Group"),
        ),
        pl.DataFrame(
            {
                "a": [1.0, None, 0.1 + 0.2, 4.0],
                "words": ["=1+1", "'=1", "-3.5", "plain"],
                "group": pl.Series(["+x", "y", None, "y"], dtype=pl.Enum(["y", "+x"])),
            }
        ),
    )


def test_recipes_row_numbers_and_unread_values_come_back(store: Store, elsewhere: Store) -> None:
    study = store.studies.create("Odd")
    unread = {"a": pl.Series("a", ["1", "soaked", "0.3", "4"])}
    made = store.tables.add(study.id, _odd_table(), (), unread)

    def change(draft: Draft) -> None:
        draft.derive("double", "{a} * 2", "", "")
        draft.delete_rows([0])

    store.tables.change(made.id, change)
    back = unpack_study(elsewhere, pack_study(store, study.id), "odd.zip")
    table = elsewhere.tables.of_study(back.id)[0]
    assert table.name == "odd rows 1.5"
    held = elsewhere.tables.get(table.id)
    assert held.row_ids().tolist() == [1, 2, 3]
    assert held.frame.equals(store.tables.get(made.id).frame)
    assert elsewhere.tables.sources(table.id)["a"].to_list()[0] == "soaked"
    recipes = {v.name: v.recipe for v in table.summary.variables if v.recipe}
    assert recipes == {"double": "{a} * 2"}


def test_what_is_packed_is_safe_in_a_spreadsheet(store: Store) -> None:
    study = store.studies.create("Odd")
    store.tables.add(study.id, _odd_table())
    with zipfile.ZipFile(io.BytesIO(pack_study(store, study.id))) as archive:
        rows = archive.read("odd-rows-1.5.csv").decode().splitlines()
    assert rows == [
        "a,words,group",
        "1.0,'=1+1,'+x",
        ",''=1,y",
        "0.30000000000000004,-3.5,",
        "4.0,plain,y",
    ]


def test_one_figure_with_its_table_is_taken_into_another_study(
    store: Store, elsewhere: Store
) -> None:
    study = add_demo_study(store)
    bubbles = next(f for f in store.figures.of_study(study) if f.document.x == "altitude")
    content = pack_figure(store, study, bubbles.document)
    other = elsewhere.studies.create("Other")
    taken = unpack_table(elsewhere, other.id, content, "bubbles.zip", ReadOptions())
    assert taken is not None
    record, figures = taken
    assert record.name == "stations"
    assert [f.document.size for f in figures] == [bubbles.document.size]
    looks = elsewhere.studies.get(other.id).categories["valley"]
    assert looks == store.studies.get(study).categories["valley"]


class TestDamaged:
    def _with(self, content: bytes, **own: object) -> bytes:
        target = io.BytesIO()
        with zipfile.ZipFile(io.BytesIO(content)) as archive, zipfile.ZipFile(target, "w") as out:
            for name in archive.namelist():
                data = archive.read(name)
                if name == "datapackage.json":
                    description = json.loads(data)
                    description["yarrowdew"] |= own
                    data = json.dumps(description).encode()
                out.writestr(name, data)
        return target.getvalue()

    def test_nothing_is_left_of_a_study_that_cannot_be_read(
        self, store: Store, elsewhere: Store
    ) -> None:
        content = pack_study(store, add_demo_study(store))
        for own in ({"figures": [{"id": "1", "document": {"x": 5}}]}, {"version": 99}):
            with pytest.raises(TableError, match="survey"):
                unpack_study(elsewhere, self._with(content, **own), "survey.zip")
        assert elsewhere.studies.all() == []

    def test_what_is_no_study_is_said(self, elsewhere: Store) -> None:
        with pytest.raises(TableError, match="is not a data package"):
            unpack_study(elsewhere, b"PK nothing", "notes.zip")
