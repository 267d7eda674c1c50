from __future__ import annotations

import datetime as dt
import sqlite3
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from operator import methodcaller
from pathlib import Path
from typing import Any

import polars as pl
import pytest
from alembic import command
from alembic.autogenerate import compare_metadata
from alembic.migration import MigrationContext
from sqlalchemy import create_engine, text

from tests.fresh import fresh
from yarrowdew.core.errors import UserFacingError
from yarrowdew.demo.seeding import add_demo_study
from yarrowdew.demo.tables import demo_tables
from yarrowdew.figures.figure import FigureDocument
from yarrowdew.store import NotFoundError, OutdatedError, Store
from yarrowdew.store.columns import pack
from yarrowdew.store.models import Base
from yarrowdew.store.records import DATABASE_NAME
from yarrowdew.store.schema_upgrade import migration_config
from yarrowdew.store.table_queries import TableRecord
from yarrowdew.tables.draft import Cell
from yarrowdew.tables.errors import TableError
from yarrowdew.tables.reading import read_bytes
from yarrowdew.tables.reading.progress import StoppedError
from yarrowdew.tables.table import Kind, Table


def changed(store: Store, table: str, what: str, *given: object) -> tuple[TableRecord, Any]:
    """Change a table by one method of its draft."""
    return store.tables.change(table, methodcaller(what, *given))


DOCUMENT = FigureDocument(table="", x="humidity", y=["yield"])


@pytest.fixture
def store(tmp_path: Path) -> Iterator[Store]:
    opened = Store(fresh(tmp_path))
    yield opened
    opened.close()


def test_a_table_comes_back_as_it_was(store: Store) -> None:
    study = store.studies.create("Survey")
    for table in demo_tables():
        record = store.tables.add(study.id, table)
        back = store.tables.get(record.id)
        assert back.variables == table.variables
        assert back.frame.equals(table.frame)
        assert back.frame.schema == table.frame.schema


def test_only_the_columns_asked_for_are_read(store: Store) -> None:
    study = store.studies.create("Survey")
    record = store.tables.add(study.id, demo_tables()[0])
    table = store.tables.get(record.id, ["yield", "humidity", "no such"])
    assert table.frame.columns == ["humidity", "yield"]
    assert len(table.variables) == 10


def test_what_is_read_together_is_of_one_moment(store: Store, tmp_path: Path) -> None:
    study = store.studies.create("Survey")
    record = store.tables.add(study.id, demo_tables()[0])
    before = store.tables.get(record.id, ["humidity"])
    other = Store(tmp_path)
    with store.together():
        assert store.datasets.link(record.id) is None
        changed(other, record.id, "write", [Cell(0, "humidity", "1")])
        assert store.tables.get(record.id, ["humidity"]).frame.equals(before.frame)
    assert store.tables.get(record.id, ["humidity"]).frame["humidity"][0] == 1
    other.close()


def test_everything_is_there_after_a_restart(tmp_path: Path) -> None:
    first = Store(tmp_path)
    study = add_demo_study(first)
    figure = first.figures.of_study(study)[0]
    changed = figure.document.model_copy(update={"title": "Dew"})
    first.figures.save(figure.id, changed, figure.revision)
    first.close()
    second = Store(tmp_path)
    assert [t.name for t in second.tables.of_study(study)] == [
        "nights",
        "stations",
        "coating trial",
        "cistern",
    ]
    assert second.figures.get(figure.id).document.title == "Dew"
    assert second.tables.get(second.tables.of_study(study)[0].id).frame.equals(
        demo_tables()[0].frame
    )
    assert add_demo_study(second) == study
    second.close()


def test_a_figure_is_saved_over_the_revision_that_was_read(store: Store) -> None:
    study = store.studies.create("Survey")
    store.tables.add(study.id, demo_tables()[0], [DOCUMENT])
    (figure,) = store.figures.of_study(study.id)
    saved = store.figures.save(figure.id, figure.document, figure.revision)
    assert saved.revision == figure.revision + 1
    with pytest.raises(OutdatedError) as caught:
        store.figures.save(figure.id, figure.document, figure.revision)
    assert caught.value.revision == saved.revision


def test_a_write_that_fails_leaves_nothing_behind(store: Store) -> None:
    study = store.studies.create("Survey")
    table = demo_tables()[1]
    broken = [FigureDocument(table="", x="altitude", y=["collectors"]), None]
    with pytest.raises(AttributeError):
        store.tables.add(study.id, table, broken)  # type: ignore[arg-type]
    assert store.tables.of_study(study.id) == []
    assert store.figures.of_study(study.id) == []


def test_a_figure_of_another_studys_table_is_refused(store: Store) -> None:
    one, other = store.studies.create("One"), store.studies.create("Other")
    record = store.tables.add(one.id, demo_tables()[1])
    with pytest.raises(NotFoundError):
        store.figures.create(other.id, DOCUMENT.model_copy(update={"table": record.id}))


def test_deleting_a_study_for_good_deletes_what_is_in_it(store: Store, tmp_path: Path) -> None:
    study = add_demo_study(store)
    store.shares.create(study, "A page", b"content")
    store.studies.delete_for_good(study)
    assert store.studies.all() == []
    with sqlite3.connect(tmp_path / DATABASE_NAME) as connection:
        for name in ("data_table", "table_version", "column_values", "figure", "plate", "share"):
            assert connection.execute(f"SELECT count(*) FROM {name}").fetchone() == (0,)  # noqa: S608


class TestBringingBack:
    def test_a_deleted_study_comes_back_whole(self, store: Store) -> None:
        study = add_demo_study(store)
        figures = store.figures.of_study(study)
        store.studies.delete(study)
        assert store.studies.all() == []
        assert [s.id for s in store.studies.all(deleted=True)] == [study]
        with pytest.raises(NotFoundError):
            store.studies.get(study)
        store.studies.restore(study)
        assert [s.id for s in store.studies.all()] == [study]
        assert store.figures.of_study(study) == figures

    def test_after_thirty_days_it_is_gone(self, store: Store, tmp_path: Path) -> None:
        old, recent, last = (store.studies.create(name) for name in ("Old", "Recent", "Last"))
        for study in (old, recent):
            store.studies.delete(study.id)
        with sqlite3.connect(tmp_path / DATABASE_NAME) as connection:
            for study, days in ((old, 31), (recent, 29)):
                when = dt.datetime.now(dt.UTC).replace(tzinfo=None) - dt.timedelta(days=days)
                connection.execute(
                    "UPDATE study SET deleted = ? WHERE id = ?", (when.isoformat(" "), study.id)
                )
        store.studies.delete(last.id)
        assert {s.name for s in store.studies.all(deleted=True)} == {"Recent", "Last"}


class TestPlates:
    def test_a_plate_is_kept_and_saved_over_its_revision(self, store: Store) -> None:
        study = add_demo_study(store)
        first = store.plates.of_study(study)[0]
        assert [cell.varied.level for cell in first.document.cells] == [0.9, 0.95, 0.99]  # type: ignore[union-attr]
        wider = first.document.model_copy(update={"columns": 1})
        saved = store.plates.save(first.id, wider, first.revision)
        assert (saved.revision, store.plates.get(first.id).document.columns) == (2, 1)
        with pytest.raises(OutdatedError):
            store.plates.save(first.id, wider, first.revision)

    def test_a_plate_of_another_studys_figure_is_refused(self, store: Store) -> None:
        study = add_demo_study(store)
        other = store.studies.create("Other")
        with pytest.raises(NotFoundError, match="figure"):
            store.plates.create(other.id, store.plates.of_study(study)[0].document)


class TestSharing:
    def test_a_page_opens_until_it_is_withdrawn(self, store: Store) -> None:
        study = add_demo_study(store)
        page = store.shares.create(study, "A page", b"content")
        assert len(page.id) >= 43  # 256 bits, six to a character
        assert store.shares.content(page.id) == b"content"
        assert [s.id for s in store.shares.of_study(study)] == [page.id]
        store.shares.withdraw(page.id)
        assert store.shares.of_study(study) == []
        with pytest.raises(NotFoundError, match="shared page"):
            store.shares.content(page.id)

    def test_a_page_expires(self, store: Store) -> None:
        study = add_demo_study(store)
        page = store.shares.create(study, "A page", b"content", days=-1)
        with pytest.raises(NotFoundError):
            store.shares.content(page.id)
        assert store.shares.of_study(study) == []

    def test_pages_of_a_deleted_study_do_not_open(self, store: Store) -> None:
        study = add_demo_study(store)
        page = store.shares.create(study, "A page", b"content")
        store.studies.delete(study)
        with pytest.raises(NotFoundError):
            store.shares.content(page.id)


def test_what_is_not_there_is_said(store: Store) -> None:
    for look in (store.studies.get, store.tables.get, store.figures.get, store.tables.of_study):
        with pytest.raises(NotFoundError, match="'nope'; it may have been deleted"):
            look("nope")


def test_the_journal_is_written_ahead_and_keys_are_checked(store: Store) -> None:
    with store.database._engine.connect() as connection:
        assert connection.scalar(text("PRAGMA journal_mode")) == "wal"
        assert connection.scalar(text("PRAGMA foreign_keys")) == 1


def test_the_migrations_make_what_the_models_say(store: Store) -> None:
    with store.database._engine.connect() as connection:
        context = MigrationContext.configure(connection)
        assert compare_metadata(context, Base.metadata) == []


def test_an_older_file_is_set_aside_before_it_is_changed(tmp_path: Path) -> None:
    path = tmp_path / DATABASE_NAME
    with sqlite3.connect(path) as connection:
        connection.execute("CREATE TABLE kept (word TEXT)")
        connection.execute("INSERT INTO kept VALUES ('before')")
    connection.close()
    Store(tmp_path).close()
    (copy,) = tmp_path.glob("studies-before-*.sqlite")
    with sqlite3.connect(copy) as connection:
        assert connection.execute("SELECT word FROM kept").fetchone() == ("before",)
    connection.close()


def test_tables_of_an_older_file_are_kept(tmp_path: Path) -> None:
    path = tmp_path / DATABASE_NAME
    engine = create_engine(f"sqlite:///{path}")
    values = pack(pl.Series([1.5, None, 3.0]))
    with engine.begin() as connection:
        command.upgrade(migration_config(connection), "0003")
        for statement in (
            "INSERT INTO study VALUES ('s', 'Survey', '2031-04-01', '2031-04-01')",
            "INSERT INTO data_table VALUES ('t', 's', 0, 'trial', 3, "
            """'{"rows": 3, "variables": []}', '2031-04-01')""",
            "INSERT INTO figure VALUES ('f', 's', 0, "
            """'{"table": "t", "x": "dose", "y": ["dose"]}', 1, '2031-04-01')""",
        ):
            connection.exec_driver_sql(statement)
        connection.exec_driver_sql(
            "INSERT INTO variable VALUES "
            "('v', 't', 0, 'dose', 'Dose', 'g/m²', 'number', ?, NULL, NULL)",
            (values,),
        )
    engine.dispose()
    store = Store(tmp_path)
    assert store.tables.get("t").frame["dose"].to_list() == [1.5, None, 3.0]
    assert store.tables.record("t").version == 1
    assert [f.id for f in store.figures.of_study("s")] == ["f"]
    assert changed(store, "t", "add_rows", 1)[1] == [3]
    store.close()


class TestVersions:
    def test_every_change_can_be_taken_back(self, store: Store) -> None:
        study = store.studies.create("Survey")
        table = store.tables.add(study.id, demo_tables()[1]).id
        before = store.tables.get(table).frame
        changed(store, table, "delete_rows", [0, 3])
        changed(store, table, "derive", "double", "2 * altitude")
        newest, _ = changed(store, table, "describe", "double", "Twice", None)
        assert newest.version == 4
        assert store.tables.restore_version(table, 1).summary.rows == 32
        assert store.tables.get(table).frame.equals(before)
        assert store.tables.restore_version(table, 4) == newest
        assert store.tables.get(table).row_ids().tolist()[:3] == [1, 2, 4]
        with pytest.raises(NotFoundError, match="version of stations '9'"):
            store.tables.restore_version(table, 9)

    def test_a_change_that_fails_is_no_version(self, store: Store) -> None:
        study = store.studies.create("Survey")
        table = store.tables.add(study.id, demo_tables()[1]).id
        with pytest.raises(TableError):
            changed(store, table, "write", [Cell(0, "altitude", "high")])
        assert store.tables.record(table).version == 1

    def test_others_write_while_columns_are_packed(self, store: Store) -> None:
        study = store.studies.create("Survey")
        named: list[str] = []

        def meanwhile(_share: float) -> None:
            if not named:
                # From another thread, as another request would come.
                with ThreadPoolExecutor(1) as pool:
                    named.append(
                        pool.submit(store.studies.create, "Another").result(timeout=5).name
                    )

        store.tables.add(study.id, demo_tables()[1], progress=meanwhile)
        assert named == ["Another"]
        assert len(store.tables.of_study(study.id)) == 1

    def test_a_change_made_while_another_is_packed_is_not_lost(self, store: Store) -> None:
        study = store.studies.create("Survey")
        table = store.tables.add(study.id, demo_tables()[1]).id
        meanwhile = iter([lambda: changed(store, table, "add_rows", 2)])
        record, new = store.tables.change(
            table,
            lambda draft: draft.add_rows(1),
            progress=lambda _share: next(meanwhile, lambda: None)(),
        )
        assert record.summary.rows == demo_tables()[1].rows + 3
        # Numbers are never given twice.
        assert new == [demo_tables()[1].rows + 2]
        with pytest.raises(OutdatedError):
            store.tables.change(table, lambda draft: draft.add_rows(1), expected=record.version - 1)

    def test_the_oldest_are_let_go_of(self, store: Store, monkeypatch: pytest.MonkeyPatch) -> None:
        monkeypatch.setattr("yarrowdew.store.versions.MOST_VERSIONS", 3)
        study = store.studies.create("Survey")
        table = store.tables.add(study.id, demo_tables()[1]).id
        for place in range(6):
            changed(store, table, "write", [Cell(place, "altitude", "1")])
        assert store.tables.restore_version(table, 5).version == 5
        with pytest.raises(NotFoundError):
            store.tables.restore_version(table, 3)
        with store.database._engine.connect() as connection:
            held = connection.scalar(text("SELECT count(*) FROM column_values"))
        # Eight columns, and the altitude of the two versions before.
        assert held == len(demo_tables()[1].variables) + 2


class TestKinds:
    @pytest.fixture
    def table(self, store: Store) -> str:
        study = store.studies.create("Survey")
        content = b"dose,shed\n1,5\n2,9\n3,many\n" + b"4,1\n" * 20
        result = read_bytes(content, "trial.csv")
        return store.tables.add(study.id, result.table, (), result.sources).id

    def test_no_value_is_lost_by_changing_the_kind(self, store: Store, table: str) -> None:
        assert store.tables.get(table).frame["shed"][2] is None
        _, unread = changed(store, table, "change_kind", "shed", Kind.TEXT)
        assert unread.count == 0
        assert store.tables.get(table).frame["shed"].to_list()[:4] == ["5", "9", "many", "1"]
        record, unread = changed(store, table, "change_kind", "shed", Kind.NUMBER)
        assert (unread.count, unread.rows, unread.values) == (1, [2], ["many"])
        assert store.tables.get(table).frame["shed"].to_list()[:4] == [5, 9, None, 1]
        summary = next(v for v in record.summary.variables if v.name == "shed")
        assert (summary.kind, summary.missing) == (Kind.NUMBER, 1)
        changed(store, table, "change_kind", "shed", Kind.CATEGORY)
        assert store.tables.get(table).frame["shed"].to_list()[2] == "many"

    def test_every_kind_there_and_back(self, store: Store) -> None:
        study = store.studies.create("Survey")
        nights = demo_tables()[0]
        record = store.tables.add(study.id, nights)
        for variable in nights.variables:
            for kind in Kind:
                changed(store, record.id, "change_kind", variable.name, kind)
            changed(store, record.id, "change_kind", variable.name, variable.kind)
            back = store.tables.get(record.id, [variable.name]).frame[variable.name]
            held = nights.frame[variable.name]
            assert back.cast(pl.String).to_list() == held.cast(pl.String).to_list(), variable

    def test_labels_and_units(self, store: Store, table: str) -> None:
        record, _ = changed(store, table, "describe", "dose", "Dose of wax", "g/m²")
        described = record.summary.variables[0]
        assert (described.label, described.unit) == ("Dose of wax", "g/m²")
        assert store.tables.get(table, ["dose"]).variables[0].label == "Dose of wax"
        with pytest.raises(TableError, match="no variable 'rain'"):
            changed(store, table, "describe", "rain", "Rain", None)


class TestDerived:
    @pytest.fixture
    def table(self, store: Store) -> str:
        study = store.studies.create("Survey")
        return store.tables.add(study.id, demo_tables()[1]).id

    def test_a_recipe_is_kept_and_its_values_are_stored(self, store: Store, table: str) -> None:
        record, _ = changed(
            store, table, "derive", "per home", "{mean yield} / {households served}"
        )
        summary = record.summary.variables[-1]
        assert (summary.name, summary.label) == ("per home", "Per home")
        assert summary.recipe == "{mean yield} / {households served}"
        frame = store.tables.get(table).frame
        expected = frame["mean yield"] / frame["households served"]
        assert frame["per home"].to_list() == pytest.approx(expected.to_list())

    def test_derived_variables_follow_their_sources(self, store: Store, table: str) -> None:
        changed(store, table, "derive", "double", "2 * altitude")
        changed(store, table, "derive", "fourfold", "2 * double")
        altitude = store.tables.get(table, ["altitude"]).frame["altitude"]
        changed(store, table, "derive", "double", "3 * altitude")
        assert store.tables.get(table).frame["fourfold"].to_list() == (6 * altitude).to_list()
        changed(store, table, "change_kind", "altitude", Kind.TEXT)
        assert store.tables.get(table).frame["fourfold"].null_count() == len(altitude)
        changed(store, table, "change_kind", "altitude", Kind.NUMBER)
        assert store.tables.get(table).frame["fourfold"].to_list() == (6 * altitude).to_list()

    def test_what_cannot_be_is_refused(self, store: Store, table: str) -> None:
        changed(store, table, "derive", "double", "2 * altitude")
        changed(store, table, "derive", "fourfold", "2 * double")
        for name, expression, message in (
            ("altitude", "2 * collectors", "already has a variable"),
            ("double", "fourfold / 2", "derived from itself"),
            ("half", "altitude / twice", "no variable 'twice'"),
        ):
            with pytest.raises(UserFacingError, match=message):
                changed(store, table, "derive", name, expression)
        with pytest.raises(TableError, match="'fourfold' is derived from 'double'"):
            changed(store, table, "delete_variable", "double")
        with pytest.raises(TableError, match="'double' is derived from 'altitude'"):
            changed(store, table, "delete_variable", "altitude")
        with pytest.raises(TableError, match="kind follows from its expression"):
            changed(store, table, "change_kind", "double", Kind.TEXT)
        changed(store, table, "delete_variable", "fourfold")
        record, _ = changed(store, table, "delete_variable", "double")
        assert [v.name for v in record.summary.variables] == [
            v.name for v in demo_tables()[1].variables
        ]


def test_a_table_whose_storing_is_stopped_leaves_nothing(store: Store) -> None:
    study = store.studies.create("Survey")

    def stop(share: float) -> None:
        if share > 0.5:
            raise StoppedError

    with pytest.raises(StoppedError):
        store.tables.add(study.id, demo_tables()[0], progress=stop)
    assert store.tables.of_study(study.id) == []
    assert store.studies.get(study.id).categories == {}
    with store.database._engine.connect() as connection:
        assert connection.scalar(text("SELECT count(*) FROM column_values")) == 0


def test_a_category_keeps_its_colour_in_another_table(store: Store) -> None:
    study = store.studies.create("Survey")
    nights, stations = demo_tables()[:2]
    store.tables.add(study.id, nights)
    dunlin = stations.where(stations.frame["valley"].cast(pl.String) == "Dunlin")
    valley = dunlin.frame["valley"].cast(pl.String).cast(pl.Enum(["Dunlin", "Elder"]))
    other = Table("few", dunlin.variables, dunlin.frame.with_columns(valley))
    table = store.tables.get(store.tables.add(study.id, other).id)
    turns = {look.value: look.colour_index for look in table.categories["valley"]}
    assert turns == {"Argill": 0, "Bracken": 1, "Corrie": 2, "Dunlin": 3, "Elder": 4}
