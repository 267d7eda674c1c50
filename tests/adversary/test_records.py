"""Records under two who change them at once, under kills, and under everything odd in a file."""

from __future__ import annotations

import contextlib
import json
import os
import random
import signal
import sqlite3
import subprocess
import sys
import threading
import time
from collections.abc import Iterator
from pathlib import Path

import numpy as np
import polars as pl
import pytest
from fastapi.testclient import TestClient
from hypothesis import settings
from hypothesis import strategies as st
from hypothesis.stateful import RuleBasedStateMachine, initialize, invariant, rule

from tests.adversary.documents import document
from tests.adversary.killing import kills
from tests.adversary.tables import table
from tests.scope import examples
from yarrowdew.api.app import create_app
from yarrowdew.api.jobs import Jobs
from yarrowdew.api.settings import Settings
from yarrowdew.core.errors import UserFacingError
from yarrowdew.figures.answer import answer
from yarrowdew.figures.figure import FigureDocument
from yarrowdew.store import OutdatedError, Store, StoreError
from yarrowdew.store.packages import pack_study, unpack_study
from yarrowdew.tables.draft import Cell, Draft
from yarrowdew.tables.errors import TableError
from yarrowdew.tables.reading.progress import Progress
from yarrowdew.tables.table import Kind, Table, Variable


@pytest.fixture
def store(tmp_path: Path) -> Iterator[Store]:
    opened = Store(tmp_path / "one?#%20")
    yield opened
    opened.close()


def answers(store: Store, study_id: str) -> list[object]:
    """What every figure of a study answers, or why it does not."""
    found: list[object] = []
    for figure in store.figures.of_study(study_id):
        try:
            found.append(answer(figure.document, store.tables.get(figure.document.table)))
        except TableError as error:
            found.append(str(error))
    return found


@pytest.mark.parametrize("seed", range(8))
def test_a_copy_and_a_study_read_in_answer_as_their_original(store: Store, seed: int) -> None:
    draw = random.Random(seed)
    study = store.studies.create("Odd")
    made = table(draw)
    kept = store.tables.add(study.id, made)
    for _ in range(4):
        asked = document(draw, made)
        if asked is not None:
            asked["table"] = kept.id
            store.figures.create(study.id, FigureDocument.model_validate(asked))
    said = answers(store, study.id)
    copy = store.studies.copy(study.id, "Copy")
    back = unpack_study(store, pack_study(store, study.id), "odd.zip")
    for other in (copy, back):
        assert answers(store, other.id) == said
        (there,) = store.tables.of_study(other.id)
        held = store.tables.get(there.id)
        assert held.row_ids().tolist() == made.row_ids().tolist()
        assert held.frame.equals(store.tables.get(kept.id).frame)
        # New rows get numbers that no row ever had.
        assert store.tables.next_row(there.id) == store.tables.next_row(kept.id)


def test_blank_rows_and_what_is_aside_stay_where_they_are(store: Store) -> None:
    study = store.studies.create("Blank")
    made = Table(
        "blank",
        (Variable("x", Kind.NUMBER, "X"), Variable("y", Kind.NUMBER, "Y")),
        pl.DataFrame({"x": [1.0, None, 3.0, 4.0, 9.0], "y": [2.0, None, 1.0, 5.0, 4.0]}),
    )
    kept = store.tables.add(study.id, made)
    figure = FigureDocument.model_validate(
        {"table": kept.id, "x": "x", "y": ["y"], "set_aside": [3], "trends": [{}]}
    )
    store.figures.create(study.id, figure)
    for other in (
        store.studies.copy(study.id, "Copy"),
        unpack_study(store, pack_study(store, study.id), "blank.zip"),
    ):
        (found,) = store.figures.of_study(other.id)
        assert store.tables.get(found.document.table).rows == 5
        (trend,) = answer(found.document, store.tables.get(found.document.table)).answer.trends
        # Through (1, 2), (3, 1) and (9, 4), by hand: b = Σ dx dy / Σ dx².
        dx, dy = np.array([1, 3, 9]) - 13 / 3, np.array([2, 1, 4]) - 7 / 3
        b = next(c.value for c in trend.report.coefficients if c.name == "b")
        assert b == pytest.approx(float(np.dot(dx, dy) / np.dot(dx, dx)))


class TwoClients(RuleBasedStateMachine):
    """Two who change one table, each knowing the version that it saw last."""

    def __init__(self) -> None:
        super().__init__()
        self.folder = Path(f"/tmp/yarrowdew-model-{os.getpid()}-{time.monotonic_ns()}")  # noqa: S108
        self.context = TestClient(
            create_app(Settings(self.folder)), base_url="http://127.0.0.1", client=("127.0.0.1", 1)
        )
        self.client = self.context.__enter__()

    def teardown(self) -> None:
        self.context.__exit__(None, None, None)
        for file in sorted(self.folder.rglob("*"), reverse=True):
            file.unlink() if file.is_file() else file.rmdir()
        self.folder.rmdir()

    @initialize()
    def begin(self) -> None:
        study = self.client.post("/api/studies", json={"name": "Model"}).json()["id"]
        made = self.client.post(
            f"/api/studies/{study}/typed-tables",
            json={"name": "t", "variables": [{"name": "a"}, {"name": "b/c"}], "rows": 3},
        ).json()
        self.address = f"/api/tables/{made['table']['id']}"
        #: What each client knows: the version it saw, and what the table held then.
        self.seen = dict.fromkeys("AB", 1)
        self.versions = {1: {row: {"a": None, "b/c": None} for row in range(3)}}
        self.now = 1
        self.steps: dict[str, list[tuple[int, int]]] = {"A": [], "B": []}

    def held(self) -> dict[int, dict[str, float | None]]:
        return {row: dict(values) for row, values in self.versions[self.now].items()}

    def changed(
        self,
        who: str,
        status: int,
        body: dict[str, object],
        model: dict[int, dict[str, float | None]],
    ) -> None:
        """What an answer to a change has to be, and what is known after it."""
        if self.seen[who] != self.now:
            assert status == 412
            # It loads the table again.
            self.seen[who] = self.client.get(self.address).json()["version"]
            assert self.seen[who] == self.now
            return
        assert status == 200, body
        version = int(str(body["version"]))
        if version != self.now:
            self.steps[who].append((self.now, version))
            self.versions[version] = model
            self.now = version
        self.seen[who] = version

    def patch(self, who: str, edit: dict[str, object]) -> tuple[int, dict[str, object]]:
        found = self.client.patch(
            f"{self.address}/rows", json=edit, headers={"If-Match": f'"{self.seen[who]}"'}
        )
        return found.status_code, found.json()

    @rule(who=st.sampled_from("AB"), data=st.data(), value=st.integers(-99, 99))
    def write(self, who: str, data: st.DataObject, value: int) -> None:
        model = self.held()
        if not model:
            return
        row = data.draw(st.sampled_from(sorted(model)))
        name = data.draw(st.sampled_from(["a", "b/c"]))
        model[row][name] = float(value)
        cells = [{"row": row, "variable": name, "text": str(value)}]
        self.changed(who, *self.patch(who, {"cells": cells}), model)

    @rule(who=st.sampled_from("AB"), count=st.integers(1, 3))
    def add(self, who: str, count: int) -> None:
        model = self.held()
        ever = max((row for held in self.versions.values() for row in held), default=-1)
        for row in range(ever + 1, ever + 1 + count):
            model[row] = {"a": None, "b/c": None}
        self.changed(who, *self.patch(who, {"add": {"count": count}}), model)

    @rule(who=st.sampled_from("AB"), data=st.data())
    def delete(self, who: str, data: st.DataObject) -> None:
        model = self.held()
        if len(model) < 2:
            return
        row = data.draw(st.sampled_from(sorted(model)))
        del model[row]
        self.changed(who, *self.patch(who, {"delete": [row]}), model)

    @rule(who=st.sampled_from("AB"))
    def undo(self, who: str) -> None:
        """It takes back its own last step, or is told that it cannot."""
        if not self.steps[who]:
            return
        before, after = self.steps[who][-1]
        found = self.client.put(
            f"{self.address}/version",
            json={"version": before},
            headers={"If-Match": f'"{after}"'},
        )
        if after != self.now:
            assert found.status_code == 412
            return
        assert found.status_code == 200
        self.steps[who].pop()
        self.now = self.seen[who] = before

    @invariant()
    def the_table_holds_what_was_acknowledged(self) -> None:
        if not hasattr(self, "address"):
            return
        rows = self.client.get(f"{self.address}/rows").json()["rows"]
        assert {row["row"]: row["values"] for row in rows} == self.versions[self.now]


TestTwoClients = TwoClients.TestCase
TestTwoClients.settings = settings(
    max_examples=examples(3, 10), stateful_step_count=25, deadline=None
)


class TestWhole:
    def test_a_study_is_there_whole_or_not_at_all_after_a_kill(self, tmp_path: Path) -> None:
        count = examples(8, 25)
        assert kills(tmp_path, count) == {"whole": count}

    def test_a_failure_half_way_leaves_nothing(self, store: Store) -> None:
        with contextlib.suppress(ZeroDivisionError), store.unit():
            store.studies.create("Half")
            raise ZeroDivisionError
        assert store.studies.all() == []


class TestOddRecords:
    def test_one_unreadable_document_spoils_itself_alone(self, store: Store) -> None:
        study = store.studies.create("Odd")
        made = table(random.Random(3), rows=5)
        kept = store.tables.add(study.id, made)
        x = next(v.name for v in made.variables if v.on_axis)
        good = store.figures.create(study.id, FigureDocument(table=kept.id, x=x, y=[x]))
        for odd in (
            {"kind": "something new", "table": kept.id},
            {"table": kept.id, "x": x, "y": [x], "set_aside": [2**64, 1]},
        ):
            figure = store.figures.create(study.id, FigureDocument(table=kept.id, x=x, y=[x]))
            with sqlite3.connect(store.folder / "studies.sqlite") as raw:
                raw.execute(
                    "UPDATE figure SET document = ? WHERE id = ?", (json.dumps(odd), figure.id)
                )
        with sqlite3.connect(store.folder / "studies.sqlite") as raw:
            raw.execute("UPDATE study SET looks = '[{\"name\": 5}]', filters = '[7]'")
        read = store.figures.of_study(study.id)
        # Rows that cannot be are left out; what cannot be read at all is named.
        assert [f.document.set_aside for f in read] == [[], [1]]
        assert [u.what for u in store.figures.unreadable(study.id)] == ["figure"]
        assert [s.id for s in store.studies.all()] == [study.id]
        copy = store.studies.copy(study.id, "Copy")
        assert len(store.figures.of_study(copy.id)) == 2
        unpack_study(store, pack_study(store, study.id), "odd.zip")
        assert store.figures.save(good.id, good.document, good.revision).revision == 2
        with pytest.raises(StoreError, match="cannot be read"):
            store.figures.get(store.figures.unreadable(study.id)[0].id)

    def test_a_newer_database_is_a_sentence(self, tmp_path: Path) -> None:
        Store(tmp_path).close()
        with sqlite3.connect(tmp_path / "studies.sqlite") as raw:
            raw.execute("UPDATE alembic_version SET version_num = '9999_later'")
        with pytest.raises(UserFacingError, match=r"newer version of Yarrowdew"):
            Store(tmp_path)

    def test_what_is_no_database_is_a_sentence(self, tmp_path: Path) -> None:
        (tmp_path / "studies.sqlite").write_bytes(b"not a database at all " * 500)
        with pytest.raises(UserFacingError, match="no database of this program"):
            Store(tmp_path)

    def test_a_full_disk_is_a_sentence_and_changes_nothing(self, store: Store) -> None:
        study = store.studies.create("Full")
        big = Table(
            "big",
            (Variable("a", Kind.NUMBER, "A"), Variable("b", Kind.NUMBER, "B")),
            pl.DataFrame({"a": np.arange(2e6), "b": np.arange(2e6)}),
        )
        with store.database._engine.connect() as connection:
            pages = connection.exec_driver_sql("PRAGMA page_count").scalar() or 0
        from sqlalchemy import event

        def limited(raw: sqlite3.Connection, *_: object) -> None:
            raw.execute(f"PRAGMA max_page_count={pages + 20}")

        event.listen(store.database._engine, "connect", limited)
        store.database._engine.dispose()
        with pytest.raises(StoreError, match="disk is full; nothing was changed"):
            store.tables.add(study.id, big)
        assert store.tables.of_study(study.id) == []

    def test_space_is_given_back(self, store: Store) -> None:
        path = store.folder / "studies.sqlite"
        study = store.studies.create("Large")
        values = np.random.default_rng(1).normal(size=400_000)
        frame = pl.DataFrame({"a": values, "b": values[::-1]})
        variables = (Variable("a", Kind.NUMBER, "A"), Variable("b", Kind.NUMBER, "B"))
        store.tables.add(study.id, Table("t", variables, frame))
        store.studies.tidy()
        large = path.stat().st_size
        store.studies.delete_for_good(study.id)
        store.studies.tidy()
        assert path.stat().st_size < large - 5_000_000


class TestVersions:
    def test_undo_takes_back_its_own_step_alone(self, store: Store) -> None:
        study = store.studies.create("Two")
        made = table(random.Random(8), rows=4)
        kept = store.tables.add(study.id, made)
        mine, _ = store.tables.change(kept.id, lambda d: d.add_rows(1), expected=1)
        theirs, _ = store.tables.change(kept.id, lambda d: d.add_rows(1), expected=mine.version)
        with pytest.raises(OutdatedError):
            store.tables.restore_version(kept.id, 1, expected=mine.version)
        with pytest.raises(OutdatedError):
            store.tables.change(kept.id, lambda d: d.add_rows(1), expected=mine.version)
        assert store.tables.record(kept.id).version == theirs.version

    def test_what_is_derived_from_something_gone_can_be_deleted(self, store: Store) -> None:
        study = store.studies.create("Gone")
        kept = store.tables.add(
            study.id,
            Table(
                "t",
                tuple(Variable(n, Kind.NUMBER, n) for n in "abc"),
                pl.DataFrame({n: [1.0, 2.0] for n in "abc"}),
            ),
        )
        store.tables.change(kept.id, lambda d: d.derive("double", "a * 2"))
        # Read in again from a file that has no a any more.
        smaller = Table(
            "t",
            tuple(Variable(n, Kind.NUMBER, n) for n in "bc"),
            pl.DataFrame({n: [1.0, 2.0, 3.0] for n in "bc"}),
        )
        store.tables.change(kept.id, lambda d: d.replace(smaller, {}))
        for name in ("c", "double"):
            store.tables.change(kept.id, lambda d: d.delete_variable(name))  # noqa: B023 (at once)
        assert [v.name for v in store.tables.record(kept.id).summary.variables] == ["b"]

    def test_rows_out_of_number_are_refused(self, store: Store) -> None:
        study = store.studies.create("Rows")
        kept = store.tables.add(study.id, table(random.Random(5), rows=3))

        def write(draft: Draft) -> None:
            draft.write([Cell(2**63, draft.held[0].variable.name, "1")])

        with pytest.raises(TableError, match="no row"):
            store.tables.change(kept.id, write)


class TestJobs:
    def test_no_job_is_lost_that_many_threads_start(self) -> None:
        jobs = Jobs()
        started: list[str] = []
        lock = threading.Lock()

        def start() -> None:
            for _ in range(40):
                job = jobs.start(lambda _: Settings(Path()))  # type: ignore[arg-type, return-value]
                with lock:
                    started.append(job.id)

        threads = [threading.Thread(target=start) for _ in range(8)]
        for thread in threads:
            thread.start()
        for thread in threads:
            thread.join()
        assert {jobs.find(job).id for job in started} == set(started)
        assert len(started) == 320
        jobs.close()

    def test_a_job_that_panics_says_so(self) -> None:
        class PanicError(BaseException):
            """As reader libraries panic: it is no `Exception`."""

        def panic(_: Progress) -> Settings:
            raise PanicError

        jobs = Jobs()
        job = jobs.start(panic)  # type: ignore[arg-type]
        jobs._pool.shutdown(wait=True)
        assert jobs.find(job.id).state == "failed"
        assert jobs.find(job.id).problem is not None

    def test_work_that_nobody_waits_for_is_stopped(self) -> None:
        jobs = Jobs()
        told = threading.Event()

        def work(progress: Progress) -> Settings:
            told.wait(10)
            progress(0.5)
            raise AssertionError("it went on")

        job = jobs.start(work)  # type: ignore[arg-type]
        job.asked -= 1_000
        told.set()
        jobs._pool.shutdown(wait=True)
        assert job.state == "stopped"


def test_a_server_that_is_told_to_stop_does_so_though_pairs_are_looked_at(tmp_path: Path) -> None:
    server = subprocess.Popen(  # noqa: S603 (a module of ours)
        [sys.executable, "-m", "tests.adversary.long_pairs", str(tmp_path)],
        stdout=subprocess.PIPE,
        text=True,
    )
    with server:
        assert server.stdout is not None
        assert server.stdout.readline().strip() == "busy"
        server.send_signal(signal.SIGTERM)
        # Alone, the pairs would take many minutes; the wait fails where the server goes on.
        assert server.wait(timeout=40) in (0, -signal.SIGTERM)
