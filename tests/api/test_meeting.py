"""Where parts of the server meet: studies, shares, jobs, writers, and requests that are broken."""

from __future__ import annotations

import io
import os
import threading
import time
import zipfile
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import orjson
import polars as pl
import pytest
from pydantic import BaseModel
from starlette.testclient import TestClient

from tests.api.conftest import HERE
from tests.api.test_api import send
from tests.fresh import fresh
from tests.scope import examples
from yarrowdew.api.app import create_app
from yarrowdew.api.jobs import KEPT_BYTES, Jobs
from yarrowdew.api.models import InParts
from yarrowdew.api.settings import Settings
from yarrowdew.api.uploads import ARRIVING_SECONDS, KEPT_SECONDS, Uploads
from yarrowdew.store import records
from yarrowdew.tables.reading.progress import Progress


def figure_of(study: dict[str, Any]) -> dict[str, Any]:
    document: dict[str, Any] = study["figures"][0]["document"]
    return document


class TestStudiesApart:
    def test_a_share_holds_no_table_of_another_study(
        self, client: TestClient, study: dict[str, Any]
    ) -> None:
        other = client.post("/api/studies", json={"name": "Other"}).json()["id"]
        asked = {"title": "Dew", "figures": [figure_of(study)]}
        assert client.post(f"/api/studies/{other}/shares", json=asked).status_code == 404
        assert client.post(f"/api/studies/{study['id']}/shares", json=asked).status_code == 201

    def test_nor_is_a_table_shaped_from_another_study(
        self, client: TestClient, study: dict[str, Any]
    ) -> None:
        other = client.post("/api/studies", json={"name": "Other"}).json()["id"]
        shape = {
            "shape": "stack",
            "table": study["tables"][0]["id"],
            "variables": ["wind", "humidity"],
            "name": "what",
            "value": "value",
        }
        assert client.post(f"/api/studies/{other}/shaped-tables", json=shape).status_code == 404
        found = client.post(f"/api/studies/{study['id']}/shaped-tables", json=shape)
        assert found.status_code == 201, found.text

    def test_rows_left_out_are_told_apart_by_their_table(
        self, client: TestClient, study: dict[str, Any]
    ) -> None:
        by_table = {one["document"]["table"]: one["document"] for one in study["figures"]}
        first, second, *_ = by_table.values()
        both = {"title": "Dew", "figures": [first, second]}
        whole = client.post("/api/outgoing", json=both).json()["rows"]
        left = {**both, "rows_left_out": {first["table"]: [0, 1, 2]}}
        assert client.post("/api/outgoing", json=left).json()["rows"] == whole - 3
        # As it was sent before: of one table it is clear, of two it is not.
        alone = {"title": "Dew", "figures": [first], "rows_left_out": [0, 1, 2]}
        assert client.post("/api/outgoing", json=alone).status_code == 200
        found = client.post("/api/outgoing", json={**both, "rows_left_out": [0]})
        assert found.status_code == 422
        assert "by table" in found.json()["title"]


class TestDeletedThings:
    def test_are_brought_back_over_http(self, client: TestClient, study: dict[str, Any]) -> None:
        for kind in ("figures", "plates"):
            first = study[kind][0]["id"]
            assert client.delete(f"/api/{kind}/{first}").status_code == 204
            assert client.get(f"/api/{kind}/{first}").status_code == 404
            back = client.post(f"/api/{kind}/{first}/return")
            assert back.status_code == 200
            assert back.headers["etag"]
        assert client.get(f"/api/studies/{study['id']}").json() == study | {
            "changed": client.get(f"/api/studies/{study['id']}").json()["changed"]
        }

    def test_a_table_goes_once_no_figure_shows_it(self, client: TestClient) -> None:
        made = client.post("/api/studies", json={"name": "Dew"}).json()["id"]
        upload = send(client)
        taken = client.post(f"/api/studies/{made}/tables", json={"upload": upload["id"]}).json()
        table = taken["table"]["id"]
        refused = client.delete(f"/api/tables/{table}")
        assert refused.status_code == 422
        assert "1 figure shows" in refused.json()["title"]
        assert client.delete(f"/api/figures/{taken['figure']['id']}").status_code == 204
        assert client.delete(f"/api/tables/{table}").status_code == 204
        assert client.get(f"/api/studies/{made}").json()["tables"] == []
        assert client.post(f"/api/tables/{table}/return").json()["id"] == table


class Made(BaseModel):
    value: int = 1


class TestJobs:
    def test_a_result_is_forgotten_with_its_job(self) -> None:
        jobs = Jobs()
        job = jobs.start(lambda _: Made())
        assert job.has_ended.wait(10)
        jobs.sweep()
        assert jobs.find(job.id) is job
        job.ended -= 10_000
        jobs.sweep()
        with pytest.raises(LookupError):
            jobs.find(job.id)
        jobs.close()

    def test_large_results_that_nobody_fetches_go_first(self) -> None:
        jobs = Jobs()
        made = []
        for _ in range(3):
            body = memoryview(bytearray(KEPT_BYTES // 2)).tobytes()
            answer = InParts(parts=[], body=body, media_type="x")
            job = jobs.start(lambda _, answer=answer: answer)
            assert job.has_ended.wait(10)
            made.append(job)
        jobs.sweep()
        kept = [job.id in jobs._jobs for job in made]
        assert kept == [False, True, True]
        jobs.close()

    def test_stopping_what_is_done_forgets_it(self, client: TestClient) -> None:
        upload = send(client)
        started = client.post(
            f"/api/uploads/{upload['id']}/preview", json={}, headers={"prefer": "respond-async"}
        ).json()
        while client.get(f"/api/jobs/{started['id']}").json()["state"] == "running":
            time.sleep(0.01)
        assert client.delete(f"/api/jobs/{started['id']}").json()["state"] == "done"
        assert client.get(f"/api/jobs/{started['id']}").status_code == 404

    def test_who_waits_for_work_keeps_it_alive(
        self, client: TestClient, monkeypatch: pytest.MonkeyPatch
    ) -> None:
        monkeypatch.setattr("yarrowdew.api.jobs.FORGOTTEN_SECONDS", 0.2)
        monkeypatch.setattr("yarrowdew.api.state._LOOKED_EVERY", 0.05)
        ended = threading.Event()

        def preview(path: Path, options: object, name: str, progress: Progress, *_: object) -> Any:
            until = time.monotonic() + 0.6
            while time.monotonic() < until:
                progress(0.1)
                ended.wait(0.02)
            return real(path, options, name, progress, *_)

        from yarrowdew.api.routers import uploads

        real = uploads.read_file
        monkeypatch.setattr(uploads, "read_file", preview)
        upload = send(client)
        found = client.post(
            f"/api/uploads/{upload['id']}/preview",
            json={},
            headers={"prefer": "respond-async, wait=30"},
        )
        assert found.status_code == 200, found.text


class TestWriters:
    def test_who_waits_too_long_is_told_when_to_try_again(
        self, client: TestClient, monkeypatch: pytest.MonkeyPatch
    ) -> None:
        monkeypatch.setattr(records, "WAITS_SECONDS", 0.05)
        store = client.app.state.store  # type: ignore[attr-defined]
        inside, done = threading.Event(), threading.Event()

        def hold() -> None:
            with store.unit():
                inside.set()
                done.wait(20)

        holder = threading.Thread(target=hold)
        holder.start()
        try:
            assert inside.wait(10)
            refused = client.post("/api/studies", json={"name": "Dew"})
            assert refused.status_code == 503
            assert int(refused.headers["retry-after"]) > 0
            # Who reads does not wait for who writes.
            assert client.get("/api/studies").status_code == 200
        finally:
            done.set()
            holder.join()
        assert client.post("/api/studies", json={"name": "Dew"}).status_code == 201

    def test_a_package_of_very_many_figures_comes_in_whole(
        self, client: TestClient, study: dict[str, Any]
    ) -> None:
        content = client.get(f"/api/studies/{study['id']}/package").content
        crowded = io.BytesIO()
        with (
            zipfile.ZipFile(io.BytesIO(content)) as old,
            zipfile.ZipFile(crowded, "w", zipfile.ZIP_DEFLATED) as new,
        ):
            for info in old.infolist():
                data = old.read(info)
                if info.filename == "datapackage.json":
                    described = orjson.loads(data)
                    own = described["yarrowdew"]
                    first = own["figures"][0]
                    own["figures"] = [{**first, "id": str(i)} for i in range(examples(500, 2000))]
                    own["plates"] = []
                    look = {"value": "a", "turn": 0}
                    own["categories"] |= {f"v{i}": [look] for i in range(3000)}
                    data = orjson.dumps(described)
                new.writestr(info.filename, data)
        upload = client.post("/api/uploads?name=s.zip", content=crowded.getvalue()).json()
        found = client.post("/api/studies/packages", json={"upload": upload["id"]})
        assert found.status_code == 201, found.text
        made = client.get(f"/api/studies/{found.json()['id']}").json()
        assert len(made["figures"]) == examples(500, 2000)
        assert len(made["categories"]) >= 3000


HALF = '"\\ud800"'


class TestBrokenRequests:
    @pytest.mark.parametrize(
        ("path", "body"),
        [
            ("/api/studies", f'{{"name": {HALF}}}'),
            ("/api/answers", f'{{"table": {HALF}, "x": "a", "y": ["b"]}}'),
            ("/api/answers", f'{{"table": "t", "x": {HALF}, "y": ["b"]}}'),
            (
                "/api/answers",
                f'{{"table": "t", "x": "a", "y": ["b"], "trends": [{{"family": {HALF}}}]}}',
            ),
            ("/api/images", f'{{"table": "t", "x": "a", "y": ["b"], "title": {HALF}}}'),
            ("/api/pairs", f'{{"table": "t", "by": {HALF}}}'),
        ],
    )
    def test_half_a_character_is_refused_in_a_sentence(
        self, client: TestClient, path: str, body: str
    ) -> None:
        found = client.post(path, content=body, headers={"content-type": "application/json"})
        assert found.status_code in (404, 422), found.text
        assert found.json()["title"]

    def test_a_path_with_a_nul_opens_nothing(
        self, client: TestClient, study: dict[str, Any]
    ) -> None:
        for path in ("\0", "a\0b", "/x" * 1900):
            found = client.post(f"/api/studies/{study['id']}/datasets", json={"path": path})
            assert found.status_code == 422
            assert "may open" in found.json()["title"]

    def test_an_unforeseen_error_says_that_the_connection_ends(
        self, client: TestClient, monkeypatch: pytest.MonkeyPatch
    ) -> None:
        def fail(*_: object, **__: object) -> None:
            raise RuntimeError("unforeseen")

        monkeypatch.setattr(client.app.state.store, "studies", fail)  # type: ignore[attr-defined]
        found = client.get("/api/studies")
        assert found.status_code == 500
        assert found.headers["connection"] == "close"

    def test_pairs_within_categories_that_no_row_has(self, client: TestClient) -> None:
        made = client.post("/api/studies", json={"name": "Dew"}).json()["id"]
        upload = send(client, b"a,b,e\n1,2,\n2,1,\n3,5,\n", "blank.csv")
        options = {"kinds": {"e": "category"}}
        body = {"upload": upload["id"], "options": options}
        taken = client.post(f"/api/studies/{made}/tables", json=body).json()
        found = client.post("/api/pairs", json={"table": taken["table"]["id"], "by": "e"})
        assert found.status_code == 422
        assert "'e' has no value" in found.json()["title"]


class TestUploads:
    def test_what_arrives_no_more_is_deleted_and_what_is_whole_is_kept(
        self, tmp_path: Path
    ) -> None:
        folder = tmp_path / "uploads"
        for name, whole, age in (
            ("half", False, ARRIVING_SECONDS + 5),
            ("arriving", False, 0),
            ("whole", True, ARRIVING_SECONDS + 5),
            ("old", True, KEPT_SECONDS + 5),
        ):
            own = folder / name
            own.mkdir(parents=True)
            (own / "content").write_bytes(b"x")
            if whole:
                (own / "name").write_text("a.csv")
            os.utime(own / "content", (time.time() - age,) * 2)
        Uploads(folder, 1_000)
        assert sorted(one.name for one in folder.iterdir()) == ["arriving", "whole"]


@pytest.fixture
def linked(tmp_path: Path) -> Iterator[tuple[TestClient, str, Path]]:
    sets = tmp_path / "sets"
    sets.mkdir()
    outside = tmp_path / "outside"
    outside.mkdir()
    secret = pl.DataFrame({"secret": [1.0, 2.0], "other": [2.0, 1.0]})
    secret.write_parquet(outside / "p.parquet")
    settings = Settings(fresh(tmp_path / "data"), datasets=(sets.resolve(),))
    with TestClient(create_app(settings), base_url=HERE, client=("127.0.0.1", 50000)) as client:
        study = client.post("/api/studies", json={"name": "Dew"}).json()["id"]
        yield client, study, sets


@pytest.mark.parametrize("path", ["folder", "*/p.parquet", "folder/p.parquet", "away"])
def test_links_in_an_allowed_folder_do_not_lead_out_of_it(
    linked: tuple[TestClient, str, Path], path: str
) -> None:
    client, study, sets = linked
    (sets / "folder").mkdir()
    (sets / "folder" / "p.parquet").symlink_to(sets.parent / "outside" / "p.parquet")
    (sets / "away").symlink_to(sets.parent / "outside")
    found = client.post(f"/api/studies/{study}/datasets", json={"path": str(sets / path)})
    assert found.status_code == 422
    assert "may not open" in found.text or "may open" in found.text
    assert client.get("/api/datasets").json() == []
