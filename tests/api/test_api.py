from __future__ import annotations

import email
import io
import json
from pathlib import Path
from threading import Event
from typing import ClassVar

import polars as pl
import pytest
from httpx2 import Response
from starlette.testclient import TestClient

from yarrowdew.api.problems import ProblemError
from yarrowdew.api.uploads import Uploads
from yarrowdew.figures.answer import Answer
from yarrowdew.figures.figure import FigureDocument
from yarrowdew.tables.reading import read_file

PROBLEM = "application/problem+json"
CSV = b"dose (g),shed\n1,5\n2,9\n3,16\n4,19\n"


def parts_of(response: object) -> dict[str, bytes]:
    """Take a multipart body apart with the standard library."""
    head = f"Content-Type: {response.headers['content-type']}\r\n\r\n".encode()
    message = email.message_from_bytes(head + response.content)
    return {
        part.get_param("name", header="content-disposition"): part.get_payload(decode=True)
        for part in message.get_payload()
    }


def send(client: TestClient, content: bytes = CSV, name: str = "trial.csv") -> dict:
    response = client.post("/api/uploads", params={"name": name}, content=content)
    assert response.status_code == 201, response.text
    return response.json()


class TestStudies:
    def test_made_renamed_listed_deleted(self, client: TestClient) -> None:
        made = client.post("/api/studies", json={"name": " Dew "})
        assert made.status_code == 201
        assert made.headers["location"] == f"/api/studies/{made.json()['id']}"
        address = made.headers["location"]
        assert client.patch(address, json={"name": "Fog"}).json()["name"] == "Fog"
        assert [s["name"] for s in client.get("/api/studies").json()] == ["Fog"]
        assert client.delete(address).status_code == 204
        gone = client.get(address)
        assert (gone.status_code, gone.headers["content-type"]) == (404, PROBLEM)

    def test_the_demo_study_is_made_once(self, client: TestClient, study: dict) -> None:
        assert client.post("/api/studies/demo").json()["id"] == study["id"]
        assert len(study["figures"]) == 8


def of_stations(study: dict) -> dict:
    """The document of the demo's bubble chart."""
    found = (f["document"] for f in study["figures"])
    return next(document for document in found if document["x"] == "altitude")


class TestFigures:
    def test_saved_with_the_tag_that_was_read(self, client: TestClient, study: dict) -> None:
        address = f"/api/figures/{study['figures'][0]['id']}"
        read = client.get(address)
        document = read.json()["document"] | {"title": "Dew"}
        saved = client.put(address, json=document, headers={"If-Match": read.headers["etag"]})
        assert saved.status_code == 200
        assert saved.headers["etag"] != read.headers["etag"]
        late = client.put(address, json=document, headers={"If-Match": read.headers["etag"]})
        assert (late.status_code, late.headers["content-type"]) == (412, PROBLEM)
        assert late.headers["etag"] == saved.headers["etag"]
        assert client.get(address).json()["document"]["title"] == "Dew"

    def test_saving_without_a_tag_is_refused(self, client: TestClient, study: dict) -> None:
        figure = study["figures"][0]
        address = f"/api/figures/{figure['id']}"
        assert client.put(address, json=figure["document"]).status_code == 428
        wrong = client.put(address, json=figure["document"], headers={"If-Match": '"soon"'})
        assert wrong.status_code == 400

    def test_made_and_deleted(self, client: TestClient, study: dict) -> None:
        document = {"table": study["tables"][1]["id"], "x": "altitude", "y": ["collectors"]}
        made = client.post(f"/api/studies/{study['id']}/figures", json=document)
        assert (made.status_code, made.headers["etag"]) == (201, '"1"')
        address = made.headers["location"]
        # What the document left out is filled in, and means the same.
        assert made.json()["document"] == FigureDocument(**document).model_dump(mode="json")
        assert client.delete(address).status_code == 204
        assert client.get(address).status_code == 404

    def test_an_answer_comes_in_two_parts(self, client: TestClient, study: dict) -> None:
        response = client.post("/api/answers", json=study["figures"][0]["document"])
        assert response.headers["content-type"].startswith("multipart/form-data")
        parts = parts_of(response)
        answer = Answer.model_validate_json(parts["answer"])
        marks = pl.read_ipc_stream(io.BytesIO(parts["marks"]))
        assert len(marks) == answer.counts.drawn == 631
        assert [t.report.group for t in answer.trends] == ["Argill", "Bracken", "Corrie", "Dunlin"]
        assert "NaN" not in parts["answer"].decode()

    def test_residuals_are_a_figure_of_their_own(self, client: TestClient, study: dict) -> None:
        asked = {"document": study["figures"][0]["document"], "against": "quantile"}
        parts = parts_of(client.post("/api/residuals", json=asked))
        shown = FigureDocument.model_validate_json(parts["document"])
        assert (shown.x, shown.y) == ("normal quantile", ["studentised"])
        assert len(pl.read_ipc_stream(io.BytesIO(parts["marks"]))) == 631
        without = asked["document"] | {"trends": []}
        refused = client.post("/api/residuals", json={"document": without})
        assert (refused.status_code, refused.json()["title"]) == (422, "The figure has no trend 1.")

    def test_the_numbers_behind_a_trend_are_exported(self, client: TestClient, study: dict) -> None:
        asked = {"document": study["figures"][0]["document"]}
        text = client.post("/api/fitted", json=asked)
        frame = pl.read_csv(io.BytesIO(text.content))
        # Units stand behind the names.
        names = {column.split(" (")[0] for column in frame.columns}
        assert {"humidity", "fitted", "residual", "leverage", "group"} <= names
        assert len(frame) == 631
        binary = client.post("/api/fitted?format=parquet", json=asked)
        again = pl.read_parquet(io.BytesIO(binary.content))
        assert again["residual"].sum() == pytest.approx(0, abs=1e-6)

    def test_pairs_are_listed_and_a_matrix_is_answered(
        self, client: TestClient, study: dict
    ) -> None:
        table = study["tables"][0]["id"]
        found = client.post("/api/pairs", json={"table": table, "method": "kendall"}).json()
        assert len(found["pairs"]) == 15
        document = {
            "table": table,
            "kind": "scatterplot matrix",
            "x": "yield",
            "y": ["wind"],
            "matrix": {"variables": ["yield", "wind", "cloud"]},
        }
        parts = parts_of(client.post("/api/answers", json=document))
        answer = Answer.model_validate_json(parts["answer"])
        assert answer.matrix is not None
        assert len(answer.matrix.cells) == 6
        refused = client.post("/api/pairs", json={"table": table, "with_variable": "nothing"})
        assert refused.status_code == 422

    def test_forms_are_compared_with_progress(self, client: TestClient, study: dict) -> None:
        asked = {"document": of_stations(study) | {"trends": [{}]}, "group": None}
        started = client.post("/api/comparisons", json=asked, headers={"Prefer": "respond-async"})
        job = finished(client, started)
        assert (job["state"], job["progress"]) == ("done", 1.0)
        assert {f["family"] for f in job["result"]["forms"]} >= {"straight", "spline", "power"}
        at_once = client.post("/api/comparisons", json=asked).json()
        assert at_once["forms"] == job["result"]["forms"]

    def test_words_where_numbers_are_needed(self, client: TestClient, study: dict) -> None:
        document = study["figures"][0]["document"] | {"x": "station"}
        response = client.post("/api/answers", json=document)
        problem = response.json()
        assert (response.status_code, problem["column"]) == (422, "station")
        assert "must hold numbers or dates" in problem["title"]
        assert "humidity" in problem["detail"]

    def test_a_document_that_is_not_valid(self, client: TestClient) -> None:
        response = client.post("/api/answers", json={"table": "t", "x": "a", "y": []})
        assert (response.status_code, response.headers["content-type"]) == (422, PROBLEM)
        assert response.json()["title"].startswith("The request is not valid: y:")


class TestReadingIn:
    def test_sent_previewed_corrected_and_taken(self, client: TestClient) -> None:
        study = client.post("/api/studies", json={"name": "S"}).json()
        upload = send(client)
        address = f"/api/uploads/{upload['id']}/preview"
        seen = client.post(address, json={}).json()
        assert [(v["name"], v["unit"], v["kind"]) for v in seen["variables"]] == [
            ("dose", "g", "number"),
            ("shed", "", "number"),
        ]
        assert seen["head"][0] == ["1", "5"]
        corrected = client.post(address, json={"kinds": {"dose": "category"}}).json()
        assert corrected["variables"][0]["kind"] == "category"
        taken = client.post(
            f"/api/studies/{study['id']}/tables", json={"upload": upload["id"], "name": "Trial"}
        )
        assert taken.status_code == 201
        body = taken.json()
        assert body["table"]["name"] == "Trial"
        assert (body["figure"]["document"]["x"], body["figure"]["document"]["y"]) == (
            "dose",
            ["shed"],
        )
        # A file that was taken in no longer waits.
        assert client.post(address, json={}).status_code == 404

    def test_a_table_without_numbers_is_taken_and_says_so(self, client: TestClient) -> None:
        study = client.post("/api/studies", json={"name": "S"}).json()
        upload = send(client, b"a,b\nx,y\nu,v\n", "words.csv")
        seen = client.post(f"/api/uploads/{upload['id']}/preview", json={}).json()
        assert "words has no variable of numbers" in seen["cautions"][0]
        taken = client.post(f"/api/studies/{study['id']}/tables", json={"upload": upload["id"]})
        assert (taken.status_code, taken.json()["figure"]) == (201, None)
        assert "no variable of numbers" in taken.json()["problem"]

    def test_values_that_cannot_be_read_are_shown(self, client: TestClient) -> None:
        rows = "".join(f"{k}\n" for k in range(20))
        upload = send(client, f"a\n{rows}broken\n".encode())
        seen = client.post(f"/api/uploads/{upload['id']}/preview", json={}).json()
        assert seen["variables"][0]["unread"] == 1
        assert any("“broken” in row 21" in caution for caution in seen["cautions"])

    @pytest.mark.parametrize(
        ("content", "title"),
        [
            (b"", "is empty"),
            (b"\x89PNG\r\n", "is a PNG picture"),
            (b"a,b\n1,2\n3,4,5\n", "Line 3 of"),
        ],
    )
    def test_a_file_that_cannot_be_read(
        self, client: TestClient, content: bytes, title: str
    ) -> None:
        upload = send(client, content)
        response = client.post(f"/api/uploads/{upload['id']}/preview", json={})
        assert (response.status_code, response.headers["content-type"]) == (422, PROBLEM)
        assert title in response.json()["title"]

    def test_too_large_is_said_before_the_file_is_read(
        self, client: TestClient, tmp_path: Path
    ) -> None:
        assert client.get("/api/limits").json() == {"max_upload_bytes": 1_000_000}

        response = client.post(
            "/api/uploads",
            params={"name": "C:\\data\\big.csv"},
            headers={"Content-Length": "200000000"},
        )
        assert response.status_code == 413
        assert (
            response.json()["title"]
            == "big.csv is too large: 200 MB, and at most 1 MB can be read."
        )
        assert list((tmp_path / "uploads").iterdir()) == []

    def test_too_large_without_a_declared_length_leaves_nothing(
        self, client: TestClient, tmp_path: Path
    ) -> None:
        chunks = (b"x" * 100_000 for _ in range(15))
        response = client.post("/api/uploads", params={"name": "big.csv"}, content=chunks)
        assert response.status_code == 413
        assert list((tmp_path / "uploads").iterdir()) == []

    def test_a_file_that_is_left_is_deleted(self, client: TestClient, tmp_path: Path) -> None:
        upload = send(client)
        assert client.delete(f"/api/uploads/{upload['id']}").status_code == 204
        assert list((tmp_path / "uploads").iterdir()) == []
        uploads: Uploads = client.app.state.uploads  # type: ignore[attr-defined]
        for odd in ("..", "../uploads", "", ".", upload["id"].upper(), upload["id"] + "0"):
            uploads.discard(odd)
            with pytest.raises(ProblemError, match="no longer here"):
                uploads.find(odd)
        assert (tmp_path / "studies.sqlite").exists()
        assert (tmp_path / "uploads").exists()


class TestVariables:
    def test_label_unit_and_kind_are_changed(self, client: TestClient, study: dict) -> None:
        address = f"/api/tables/{study['tables'][0]['id']}/variables/station"
        changed = client.patch(address, json={"label": "Collector", "kind": "number"}).json()
        variable = next(
            v for v in changed["table"]["summary"]["variables"] if v["name"] == "station"
        )
        assert (variable["label"], variable["kind"], variable["missing"]) == (
            "Collector",
            "number",
            640,
        )
        assert changed["unread"] == 640
        assert changed["unread_values"][0] == {"row": 0, "value": "A1"}
        back = client.patch(address, json={"kind": "text"}).json()
        assert back["unread"] == 0
        rows = client.get(
            address.split("/variables", maxsplit=1)[0] + "/rows", params={"row": 0}
        ).json()
        assert rows["rows"][0]["values"]["station"] == "A1"

    def test_a_variable_is_derived_tried_and_deleted(self, client: TestClient, study: dict) -> None:
        address = f"/api/tables/{study['tables'][0]['id']}"
        tried = client.post(f"{address}/expressions", json={"expression": "yield / humidity"})
        assert (tried.json()["kind"], len(tried.json()["head"])) == ("number", 8)
        wrong = client.post(f"{address}/expressions", json={"expression": "yield / rain"})
        assert (wrong.status_code, wrong.json()["position"]) == (422, 8)
        wanted = {"name": "ratio", "expression": "yield / humidity", "unit": "mL/m²/%"}
        made = client.post(f"{address}/variables", json=wanted)
        assert made.status_code == 201
        assert made.json()["summary"]["variables"][-1]["recipe"] == "yield / humidity"
        answer = client.post(
            "/api/answers",
            json={"table": study["tables"][0]["id"], "x": "ratio", "y": ["yield"]},
        )
        assert answer.status_code == 200
        assert client.delete(f"{address}/variables/ratio").status_code == 200
        client.post(f"{address}/variables", json=wanted)
        refused = client.delete(f"{address}/variables/humidity")
        assert (refused.status_code, refused.json()["detail"]) == (422, "Delete 'ratio' first.")
        named = client.post(f"{address}/variables", json=wanted | {"name": "a{b}"})
        assert named.status_code == 422

    @pytest.mark.parametrize("form", ["csv", "parquet", "package"])
    def test_a_table_is_exported_and_read_back(
        self, client: TestClient, study: dict, form: str
    ) -> None:
        table = study["tables"][2]
        response = client.get(f"/api/tables/{table['id']}/export", params={"format": form})
        assert "coating%20trial" in response.headers["content-disposition"]
        upload = send(client, response.content, f"back.{form}")
        taken = client.post(f"/api/studies/{study['id']}/tables", json={"upload": upload["id"]})
        back = taken.json()["table"]["summary"]
        kinds = {v["name"]: (v["kind"], v["mean"]) for v in table["summary"]["variables"]}
        assert {v["name"]: (v["kind"], v["mean"]) for v in back["variables"]} == kinds


class TestRows:
    def test_rows_with_their_values(self, client: TestClient, study: dict) -> None:
        address = f"/api/tables/{study['tables'][0]['id']}/rows"
        rows = client.get(address, params={"row": [205, 99_999]}).json()["rows"]
        assert [row["row"] for row in rows] == [205]
        assert rows[0]["values"]["yield"] == 498
        assert rows[0]["values"]["night"].startswith("2031-")


class TestStandards:
    def test_other_hosts_and_origins_are_refused(self, client: TestClient) -> None:
        assert client.get("/api/studies", headers={"Host": "elsewhere.test"}).status_code == 421
        foreign = client.post(
            "/api/studies", json={"name": "x"}, headers={"Origin": "http://elsewhere.test"}
        )
        assert foreign.status_code == 403
        assert client.get("/api/studies").json() == []
        own = client.post(
            "/api/studies", json={"name": "x"}, headers={"Origin": "http://127.0.0.1"}
        )
        assert own.status_code == 201

    def test_every_response_carries_the_content_policy(self, client: TestClient) -> None:
        for path in ("/", "/api/studies", "/api/nope"):
            policy = client.get(path).headers["content-security-policy"]
            assert "default-src 'self'" in policy

    def test_unknown_addresses_and_methods_are_problems(self, client: TestClient) -> None:
        assert client.get("/api/nope").headers["content-type"] == PROBLEM
        assert client.put("/api/studies").headers["content-type"] == PROBLEM

    def test_the_schema_describes_the_answer(self, client: TestClient) -> None:
        schema = client.get("/api/openapi.json").json()
        models = schema["components"]["schemas"]
        assert {"Answer", "FitReport", "FigureDocument", "Caution"} <= models.keys()
        references = {v for k, v in _walk(schema) if k == "$ref"}
        assert all(r.rsplit("/", 1)[1] in models for r in references if "/schemas/" in r)

    def test_the_reference_names_every_address(self, client: TestClient, schema: dict) -> None:
        page = client.get("/api/docs").text
        for path in schema["paths"]:
            assert path in page
        assert "http" not in page.replace("http-equiv", "")


def _walk(node: object) -> list[tuple[str, object]]:
    if isinstance(node, dict):
        return [*node.items(), *(pair for v in node.values() for pair in _walk(v))]
    return [pair for v in node for pair in _walk(v)] if isinstance(node, list) else []


def test_json_is_plain(client: TestClient, study: dict) -> None:
    assert json.dumps(study, allow_nan=False)


def finished(client: TestClient, started: Response) -> dict:
    assert started.status_code == 202
    assert started.headers["Preference-Applied"] == "respond-async"
    for _ in range(20_000):
        job = client.get(started.headers["Location"]).json()
        if job["state"] != "running":
            return job
    raise AssertionError("the job does not end")


class TestJobs:
    ASYNC: ClassVar = {"Prefer": "respond-async"}

    def test_whatever_can_be_a_job_is_a_result_of_one(self, schema: dict) -> None:
        results = schema["components"]["schemas"]["JobOut"]["properties"]["result"]["anyOf"]
        answers = [
            content["application/json"]["schema"]
            for path in schema["paths"].values()
            for operation in path.values()
            if "202" in operation["responses"]
            for status in ("200", "201")
            for content in [operation["responses"].get(status, {}).get("content", {})]
            if "$ref" in content.get("application/json", {}).get("schema", {})
        ]
        assert len(answers) >= 6
        assert [one for one in answers if one not in results] == []

    def test_a_study_is_read_from_a_file_in_the_background(
        self, client: TestClient, study: dict
    ) -> None:
        package = client.get(f"/api/studies/{study['id']}/package").content
        upload = client.post("/api/uploads?name=study.zip", content=package).json()
        asked = {"upload": upload["id"]}
        started = client.post("/api/studies/packages", json=asked, headers=self.ASYNC)
        assert finished(client, started)["result"]["name"] == study["name"]

    def test_a_file_is_previewed_and_taken_in_the_background(
        self, client: TestClient, study: dict
    ) -> None:
        upload = send(client, b"dose,shed\n1,5\n2,9\n3,7\n")["id"]
        preview = client.post(f"/api/uploads/{upload}/preview", json={}, headers=self.ASYNC)
        assert finished(client, preview)["result"]["rows"] == 3
        address = f"/api/studies/{study['id']}/tables"
        job = finished(client, client.post(address, json={"upload": upload}, headers=self.ASYNC))
        assert (job["state"], job["progress"]) == ("done", 1.0)
        assert job["result"]["table"]["name"] == "trial"

    def test_what_goes_wrong_is_told(self, client: TestClient) -> None:
        upload = send(client, b"a,b\n1,2\n1,2,3\n")["id"]
        started = client.post(f"/api/uploads/{upload}/preview", json={}, headers=self.ASYNC)
        job = finished(client, started)
        assert (job["state"], job["problem"]["row"]) == ("failed", 3)

    def test_an_answer_is_waited_for_first(self, client: TestClient, study: dict) -> None:
        document = study["figures"][0]["document"]
        soon = {"Prefer": "respond-async, wait=60"}
        at_once = client.post("/api/answers", json=document, headers=soon)
        assert at_once.status_code == 200
        assert parts_of(at_once) == parts_of(client.post("/api/answers", json=document))

    def test_an_answer_that_takes_longer_waits_to_be_taken_once(
        self, client: TestClient, study: dict
    ) -> None:
        document = study["figures"][0]["document"]
        document = document | {"trends": [document["trends"][0] | {"errors": "bootstrap"}]}
        started = client.post(
            "/api/answers", json=document, headers={"Prefer": "respond-async, wait=0"}
        )
        job = finished(client, started)
        assert (job["state"], job["result"]) == ("done", {"parts": ["answer", "marks"]})
        address = f"{started.headers['Location']}/parts"
        parts = parts_of(client.get(address))
        assert parts == parts_of(client.post("/api/answers", json=document))
        assert "resampled rows" in parts["answer"].decode()
        assert client.get(address).status_code == 404

    def test_what_is_wrong_with_a_document_is_told_though_it_is_waited_for(
        self, client: TestClient, study: dict
    ) -> None:
        document = study["figures"][0]["document"] | {"x": "station"}
        soon = {"Prefer": "respond-async, wait=60"}
        started = client.post("/api/answers", json=document, headers=soon)
        job = finished(client, started)
        assert (job["state"], job["problem"]["column"]) == ("failed", "station")

    def test_a_job_that_is_stopped_leaves_nothing(
        self, client: TestClient, study: dict, monkeypatch: pytest.MonkeyPatch
    ) -> None:
        begun, go, ended = Event(), Event(), Event()

        def held_up(*given: object) -> object:
            begun.set()
            assert go.wait(30)
            try:
                return read_file(*given)  # type: ignore[arg-type]
            finally:
                ended.set()

        monkeypatch.setattr("yarrowdew.api.routers.uploads.read_file", held_up)
        upload = send(client, b"a,b\n1,2\n2,5\n3,4\n", "long.csv")["id"]
        address = f"/api/studies/{study['id']}/tables"
        started = client.post(address, json={"upload": upload}, headers=self.ASYNC)
        assert begun.wait(30)
        client.delete(started.headers["Location"])
        go.set()
        assert ended.wait(30)
        assert finished(client, started)["state"] == "stopped"
        names = [t["name"] for t in client.get(f"/api/studies/{study['id']}").json()["tables"]]
        assert "long" not in names
        assert client.get("/api/jobs/nope").status_code == 404


class TestLookingThroughRows:
    def test_a_stretch_in_an_order(self, client: TestClient, study: dict) -> None:
        address = f"/api/tables/{study['tables'][1]['id']}/rows"
        found = client.get(address, params={"sort": "altitude", "descending": True, "count": 2})
        first, second = found.json()["rows"]
        assert found.json()["total"] == 32
        assert first["values"]["altitude"] > second["values"]["altitude"]
        found = client.get(address, params={"find": "dunlin"}).json()
        assert found["total"] == 8
        assert {row["values"]["valley"] for row in found["rows"]} == {"Dunlin"}

    def test_changed_and_brought_back(self, client: TestClient, study: dict) -> None:
        table = study["tables"][1]
        address = f"/api/tables/{table['id']}"
        cells = [{"row": 0, "variable": "altitude", "text": "1 000"}]
        refused = client.patch(f"{address}/rows", json={"cells": cells})
        assert (refused.status_code, refused.json()["row"]) == (422, 1)
        cells[0]["text"] = "1000"
        edit = {"cells": cells, "add": {"count": 1}, "delete": [1]}
        changed = client.patch(f"{address}/rows", json=edit).json()
        assert (changed["version"], changed["summary"]["rows"]) == (2, 32)
        rows = client.get(f"{address}/rows", params={"row": [0, 1, 32]}).json()["rows"]
        assert [row["row"] for row in rows] == [0, 32]
        assert rows[0]["values"]["altitude"] == 1000
        back = client.put(f"{address}/version", json={"version": 1}).json()
        assert back["summary"] == table["summary"]
        assert client.put(f"{address}/version", json={"version": 9}).status_code == 404

    def test_what_is_set_aside_stays_so_when_rows_go(self, client: TestClient, study: dict) -> None:
        table = study["tables"][1]["id"]
        document = {"table": table, "x": "altitude", "y": ["mean yield"], "set_aside": [5]}
        client.patch(f"/api/tables/{table}/rows", json={"delete": [0, 1]})
        form = client.post("/api/answers", json=document).content
        assert b'"set_aside":1' in form
        client.patch(f"/api/tables/{table}/rows", json={"delete": [5]})
        assert b'"set_aside":0' in client.post("/api/answers", json=document).content


class TestSetForTheStudy:
    def test_categories(self, client: TestClient, study: dict) -> None:
        assert [look["value"] for look in study["categories"]["valley"]] == [
            "Argill",
            "Bracken",
            "Corrie",
            "Dunlin",
        ]
        address = f"/api/studies/{study['id']}/categories/valley"
        looks = [{"value": "Dunlin", "label": "Dunlin slope", "colour": "#102030", "turn": 3}]
        set_ = client.put(address, json={"looks": looks}).json()["categories"]["valley"]
        assert [look["value"] for look in set_] == ["Dunlin", "Argill", "Bracken", "Corrie"]
        document = {
            "table": study["tables"][0]["id"],
            "x": "humidity",
            "y": ["yield"],
            "colour": {"variable": "valley"},
        }
        body = client.post("/api/answers", json=document).content
        assert b'"categories":["Dunlin slope","Argill","Bracken","Corrie"]' in body
        assert b'"turns":[3,0,1,2]' in body
        looks.append({"value": "Argill", "label": "Dunlin slope", "turn": 0})
        refused = client.put(address, json={"looks": looks})
        assert refused.status_code == 422
        assert "both be called 'Dunlin slope'" in refused.json()["title"]

    def test_filters(self, client: TestClient, study: dict) -> None:
        table = study["tables"][0]["id"]
        condition = {"variable": "wind", "test": "between", "low": 3}
        saved = {"name": "windy", "table": table, "filter": {"conditions": [condition]}}
        address = f"/api/studies/{study['id']}/filters"
        assert len(client.put(address, json=saved).json()["filters"]) == 1
        condition["low"] = 4
        (kept,) = client.put(address, json=saved).json()["filters"]
        assert kept["filter"]["conditions"][0]["low"] == 4
        assert client.delete(f"{address}/{table}/windy").json()["filters"] == []
        assert client.delete(f"{address}/{table}/windy").status_code == 404

    def test_looks(self, client: TestClient, study: dict) -> None:
        address = f"/api/studies/{study['id']}/looks"
        document = study["figures"][0]["document"]
        look = {"name": "plain"} | {k: document[k] for k in ("marks", "axes", "type", "page")}
        assert [kept["name"] for kept in client.put(address, json=look).json()["looks"]] == [
            "plain"
        ]
        look["type"] = {"scale": 1.5}
        (kept,) = client.put(address, json=look).json()["looks"]
        assert kept["type"]["scale"] == 1.5
        assert client.delete(f"{address}/plain").json()["looks"] == []
        assert client.delete(f"{address}/plain").status_code == 404

    def test_formulas_are_kept_compared_and_go_along_with_a_copy(
        self, client: TestClient, study: dict
    ) -> None:
        address = f"/api/studies/{study['id']}/formulas"
        kept = {"name": "dew rise", "formula": "a + b * sqrt(x)", "known": "b > 0"}
        assert client.put(address, json=kept).json()["formulas"] == [kept]
        kept["formula"] = "a + b * x^0.4"
        assert client.put(address, json=kept).json()["formulas"] == [kept]
        copy = client.post(f"/api/studies/{study['id']}/copies").json()
        assert copy["formulas"] == [kept]
        document = study["figures"][0]["document"]
        compared = client.post(
            "/api/comparisons", json={"document": document, "group": "Dunlin", "formulas": [kept]}
        )
        (own,) = (f for f in compared.json()["forms"] if f["label"] == "dew rise")
        assert own["settings"] == {"formula": "a + b * x^0.4", "known": "b > 0"}
        assert client.delete(f"{address}/dew%20rise").json()["formulas"] == []
        assert client.delete(f"{address}/dew%20rise").status_code == 404
        too_long = {"name": "x", "formula": "x" * 501}
        assert client.put(address, json=too_long).status_code == 422


class TestMadeTables:
    def test_typed_shaped_and_read_in_again(self, client: TestClient, study: dict) -> None:
        address = f"/api/studies/{study['id']}"
        wanted = {"name": "typed", "variables": [{"name": "x"}, {"name": "x"}], "rows": 3}
        typed = client.post(f"{address}/typed-tables", json=wanted).json()["table"]
        names = [v["name"] for v in typed["summary"]["variables"]]
        assert (names, typed["summary"]["rows"]) == (["x", "x 2"], 3)
        shape = {"shape": "stack", "table": typed["id"], "variables": names}
        shaped = client.post(f"{address}/shaped-tables", json=shape)
        assert shaped.json()["table"]["summary"]["rows"] == 6
        upload = send(client, b"x,z\n1,5\n2,9\n3,7\n4,8\n", "newer.csv")["id"]
        again = client.put(f"/api/tables/{typed['id']}/rows", json={"upload": upload}).json()
        assert (again["gone"], again["new"]) == (["x 2"], ["z"])
        assert again["table"]["summary"]["rows"] == 4


class TestWholeStudies:
    def test_saved_as_a_file_and_read_in(self, client: TestClient, study: dict) -> None:
        saved = client.get(f"/api/studies/{study['id']}/package")
        assert "Dew%20survey.zip" in saved.headers["Content-Disposition"]
        upload = send(client, saved.content, "survey.zip")
        made = client.post("/api/studies/packages", json={"upload": upload["id"]})
        assert made.status_code == 201
        back = client.get(f"/api/studies/{made.json()['id']}").json()
        for part in ("tables", "figures", "plates"):
            assert len(back[part]) == len(study[part])

    def test_copied(self, client: TestClient, study: dict) -> None:
        copy = client.post(f"/api/studies/{study['id']}/copies").json()
        assert copy["name"] == "Dew survey (copy)"
        listed = {s["name"]: s for s in client.get("/api/studies").json()}
        assert listed["Dew survey (copy)"]["figures"] == len(study["figures"])
        assert len(listed["Dew survey"]["first"]) == 4

    def test_deleted_and_brought_back(self, client: TestClient, study: dict) -> None:
        address = f"/api/studies/{study['id']}"
        assert client.delete(address).status_code == 204
        assert client.get(address).status_code == 404
        assert [s["id"] for s in client.get("/api/studies?deleted=true").json()] == [study["id"]]
        assert client.post(f"{address}/return").status_code == 200
        assert client.get(address).json()["figures"] == study["figures"]

    def test_a_figure_and_its_table_as_one_file(self, client: TestClient, study: dict) -> None:
        document = of_stations(study)
        saved = client.post("/api/packages", json=document)
        other = client.post("/api/studies", json={"name": "Other"}).json()
        upload = send(client, saved.content, "bubbles.zip")
        taken = client.post(
            f"/api/studies/{other['id']}/tables", json={"upload": upload["id"]}
        ).json()
        assert taken["figure"]["document"] == document | {"table": taken["table"]["id"]}

    def test_what_is_no_study_is_refused(self, client: TestClient) -> None:
        upload = send(client, b"a,b\n1,2\n", "rows.csv")
        refused = client.post("/api/studies/packages", json={"upload": upload["id"]})
        assert refused.status_code == 422
        assert refused.json()["title"] == "rows.csv is not a data package."


class TestPlates:
    def test_made_saved_and_deleted(self, client: TestClient, study: dict) -> None:
        document = {"cells": [{"figure": f["id"]} for f in study["figures"][:2]]}
        made = client.post(f"/api/studies/{study['id']}/plates", json=document)
        assert made.status_code == 201
        address, tag = made.headers["Location"], made.headers["ETag"]
        wider = made.json()["document"] | {"columns": 1}
        assert client.put(address, json=wider).status_code == 428
        assert client.put(address, json=wider, headers={"If-Match": tag}).status_code == 200
        assert client.put(address, json=wider, headers={"If-Match": tag}).status_code == 412
        assert client.get(address).json()["document"]["columns"] == 1
        assert client.delete(address).status_code == 204
        assert client.get(address).status_code == 404

    def test_a_plate_has_as_many_widths_as_columns(self, client: TestClient, study: dict) -> None:
        document = study["plates"][0]["document"] | {"widths": [1, 1]}
        refused = client.post(f"/api/studies/{study['id']}/plates", json=document)
        assert refused.status_code == 422
        assert "as many widths as columns" in refused.json()["title"]


class TestSharing:
    def asked(self, study: dict, **more: object) -> dict:
        return {"title": "Stations", "figures": [of_stations(study)], **more}

    def test_shared_listed_opened_and_withdrawn(self, client: TestClient, study: dict) -> None:
        address = f"/api/studies/{study['id']}/shares"
        made = client.post(address, json=self.asked(study, days=3, leave_out=["station"])).json()
        assert made["path"] == f"/shared/{made['id']}"
        assert client.get(address).json() == [made]
        opened = client.get(f"/api/shared/{made['id']}")
        assert opened.headers["Cache-Control"] == "private, no-store"
        assert opened.json()["figures"][0]["document"]["names"] is None
        assert client.delete(f"/api/shares/{made['id']}").status_code == 204
        assert client.get(f"/api/shared/{made['id']}").status_code == 404

    def test_what_goes_out_is_listed(self, client: TestClient, study: dict) -> None:
        said = client.post("/api/outgoing", json=self.asked(study)).json()
        assert said["rows"] == 32
        assert {v["name"] for v in said["variables"] if v["needed"]} == {"altitude", "mean yield"}

    def test_other_machines_get_shared_pages_and_nothing_else(
        self, client: TestClient, study: dict
    ) -> None:
        page = client.post(f"/api/studies/{study['id']}/shares", json=self.asked(study)).json()
        other = TestClient(
            client.app, base_url="http://survey-desk.local", client=("192.0.2.7", 4711)
        )
        assert other.get(f"/api/shared/{page['id']}").status_code == 200
        for path in ("/", "/api/studies", f"/api/studies/{study['id']}", "/api/docs"):
            assert other.get(path).status_code == 403
        assert other.post("/api/shared/x").status_code == 403


def test_what_is_wrong_with_a_trend_is_named_by_its_place_in_the_request(
    client: TestClient, study: dict
) -> None:
    document = study["figures"][0]["document"]
    wrong = {**document, "trends": [{"family": "polynomial", "settings": {"degree": 11}}]}
    title = client.post("/api/answers", json=wrong).json()["title"]
    assert title == (
        "The request is not valid: trends.0.settings.degree: "
        "Input should be less than or equal to 10."
    )
