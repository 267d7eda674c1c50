"""Datasets over HTTP: what may be opened, what is answered, and what is refused in a sentence."""

from __future__ import annotations

import io
import shlex
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import numpy as np
import polars as pl
import pytest
from starlette.testclient import TestClient

from tests.api.conftest import HERE
from tests.api.test_api import parts_of, send
from tests.fresh import fresh
from yarrowdew.api.app import create_app
from yarrowdew.api.settings import Settings
from yarrowdew.cli import main


@pytest.fixture
def sets(tmp_path: Path) -> Path:
    """A folder with a dataset of two files, and one outside of it."""
    rng = np.random.default_rng(9)
    for name in ("sets/nights", "elsewhere"):
        folder = tmp_path / name
        folder.mkdir(parents=True)
        for place in range(2):
            humidity = rng.uniform(60, 100, 500)
            pl.DataFrame(
                {
                    "humidity (%)": humidity,
                    "uptake": 3 * humidity + rng.normal(0, 5, 500),
                    "valley": rng.choice(["Argill", "Corrie"], 500),
                }
            ).write_parquet(folder / f"{place}.parquet")
    return tmp_path / "sets"


@pytest.fixture
def client(sets: Path, tmp_path: Path) -> Iterator[TestClient]:
    app = create_app(Settings(fresh(tmp_path), datasets=(sets.resolve(),)))
    with TestClient(app, base_url=HERE, client=("127.0.0.1", 50000)) as made:
        yield made


@pytest.fixture
def study(client: TestClient) -> str:
    found: str = client.post("/api/studies", json={"name": "Dew"}).json()["id"]
    return found


@pytest.fixture
def taken(client: TestClient, study: str) -> dict[str, Any]:
    (found,) = client.get("/api/datasets").json()
    made = client.post(f"/api/studies/{study}/datasets", json={"path": found["path"]})
    assert made.status_code == 201, made.text
    answer: dict[str, Any] = made.json()
    return answer


def test_those_that_may_be_opened_are_listed(client: TestClient, sets: Path) -> None:
    assert client.get("/api/datasets").json() == [
        {"path": str((sets / "nights").resolve()), "name": "sets/nights", "files": 2}
    ]


def test_no_others_are_opened_whatever_leads_there(
    client: TestClient, study: str, sets: Path
) -> None:
    (sets / "link").symlink_to(sets.parent / "elsewhere")
    for path in (
        sets.parent / "elsewhere",
        sets / ".." / "elsewhere",
        sets / "link",
        "/etc",
        "nights",
    ):
        found = client.post(f"/api/studies/{study}/datasets", json={"path": str(path)})
        assert found.status_code == 422
        assert "is not among the datasets that this server may open" in found.json()["title"]


def test_one_is_added_with_a_figure(taken: dict[str, Any], sets: Path) -> None:
    table = taken["table"]
    assert table["dataset"] == str((sets / "nights").resolve())
    assert table["summary"]["rows"] == 1_000
    humidity = table["summary"]["variables"][0]
    assert (humidity["name"], humidity["unit"], humidity["distinct"]) == ("humidity", "%", None)
    assert taken["figure"]["document"]["table"] == table["id"]


def test_its_figure_is_answered_and_drawn(client: TestClient, taken: dict[str, Any]) -> None:
    document = taken["figure"]["document"] | {
        "x": "humidity",
        "y": ["uptake"],
        "trends": [{"family": "straight"}],
    }
    found = client.post("/api/answers", json=document)
    assert found.status_code == 200, found.text
    marks = pl.read_ipc_stream(io.BytesIO(parts_of(found)["marks"]))
    assert marks.height == 1_000
    near = client.post("/api/answers?seen_x=70&seen_x=80&seen_y=0&seen_y=999", json=document)
    held = pl.read_ipc_stream(io.BytesIO(parts_of(near)["marks"]))
    assert held["x"].is_between(70, 80).all()
    assert 0 < held.height < 1_000
    fits = client.post("/api/readings", json=document).json()["fits"]
    assert fits[0]["n"] == 1_000
    drawn = client.post("/api/images", json=document, headers={"Accept": "image/svg+xml"})
    assert drawn.status_code == 200
    assert "<svg" in drawn.text


def test_the_command_that_is_written_draws_it(
    client: TestClient, taken: dict[str, Any], tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    document = taken["figure"]["document"] | {"x": "humidity", "y": ["uptake"]}
    command = client.post("/api/calls", json=document).json()["command"]
    assert taken["table"]["dataset"] in command
    monkeypatch.chdir(tmp_path)
    monkeypatch.setattr("sys.argv", shlex.split(command))
    with pytest.raises(SystemExit) as ended:
        main()
    assert not ended.value.code
    (made,) = tmp_path.glob("*.svg")
    drawn = client.post("/api/images", json=document, headers={"Accept": "image/svg+xml"})
    assert made.read_bytes() == drawn.content


def test_its_rows_can_be_looked_at_in_their_order(
    client: TestClient, taken: dict[str, Any], sets: Path
) -> None:
    address = f"/api/tables/{taken['table']['id']}/rows"
    whole = pl.concat(pl.read_parquet(sets / "nights" / f"{i}.parquet") for i in range(2))
    some = client.get(address, params={"start": 498, "count": 4}).json()
    assert some["total"] == 1_000
    assert [r["row"] for r in some["rows"]] == [498, 499, 500, 501]
    assert [r["values"]["uptake"] for r in some["rows"]] == whole["uptake"][498:502].to_list()
    named = client.get(address, params={"row": [700, 3, 5_000]}).json()
    assert [r["row"] for r in named["rows"]] == [700, 3]
    assert named["rows"][0]["values"]["uptake"] == whole["uptake"][700]


def test_variables_are_made_of_it_over_all_its_rows(
    client: TestClient, study: str, taken: dict[str, Any], sets: Path
) -> None:
    frame = pl.read_parquet(sets / "nights")
    ratio = (frame["uptake"] / frame["humidity (%)"]).to_numpy()
    table = f"/api/tables/{taken['table']['id']}"
    tried = client.post(f"{table}/expressions", json={"expression": "uptake / humidity"}).json()
    assert float(tried["head"][0]) == pytest.approx(ratio[0])
    made = {"name": "ratio", "expression": "uptake / humidity", "unit": "g"}
    answer = client.post(f"{table}/variables", json=made)
    assert answer.status_code == 201, answer.text
    # One is made from another, and coloured by.
    high = {"name": "high", "expression": 'if_else(ratio > 3, "above", "below")'}
    answer = client.post(f"{table}/variables", json=high)
    assert answer.status_code == 201, answer.text
    told = {v["name"]: v for v in answer.json()["summary"]["variables"]}
    assert told["ratio"]["mean"] == pytest.approx(ratio.mean(), rel=1e-12)
    assert (told["ratio"]["unit"], told["ratio"]["recipe"]) == ("g", made["expression"])
    assert told["high"]["counts"] == {
        "above": int((ratio > 3).sum()),
        "below": int((ratio <= 3).sum()),
    }
    document = taken["figure"]["document"] | {
        "x": "humidity",
        "y": ["ratio"],
        "colour": {"variable": "high"},
        "trends": [{"family": "straight"}],
    }

    def fitted() -> list[float]:
        fits = client.post("/api/readings", json=document).json()["fits"]
        return [c["value"] for c in fits[0]["coefficients"]]

    line = fitted()
    slope, intercept = np.polyfit(frame["humidity (%)"].to_numpy(), ratio, 1)
    assert line == pytest.approx([intercept, slope], rel=1e-9)
    rows = client.get(f"{table}/rows", params={"start": 999, "count": 1}).json()["rows"]
    assert float(rows[0]["values"]["ratio"]) == pytest.approx(ratio[999])
    # What something is made from stays; made anew, all that follows is anew.
    refused = client.delete(f"{table}/variables/ratio")
    assert refused.json()["title"] == "'high' is derived from 'ratio'."
    before = client.get(table).json()["version"]
    broken = client.post(
        f"{table}/variables", json=made | {"expression": 'if_else(uptake > 200, "a", "b")'}
    )
    assert broken.status_code == 422
    assert broken.json()["title"].startswith(
        "A variable that is derived from it could no longer be computed"
    )
    assert client.get(table).json()["version"] == before
    client.post(f"{table}/variables", json=made | {"expression": "humidity / uptake"})
    slope, intercept = np.polyfit(frame["humidity (%)"].to_numpy(), 1 / ratio, 1)
    assert fitted() == pytest.approx([intercept, slope], rel=1e-9)
    told = {v["name"]: v for v in client.get(table).json()["summary"]["variables"]}
    assert told["high"]["counts"] == {"below": 1000}
    # Opened anew it is still made; and all of it can be taken back.
    (known,) = client.get("/api/datasets").json()
    opened = client.post(f"/api/studies/{study}/datasets", json={"path": known["path"]}).json()
    assert [v["name"] for v in opened["table"]["summary"]["variables"]][-2:] == ["ratio", "high"]
    client.put(f"{table}/version", json={"version": before})
    assert fitted() == line
    assert client.delete(f"{table}/variables/high").status_code == 200
    renamed = client.patch(f"{table}/variables/uptake", json={"label": "Dew", "unit": "g"}).json()
    assert ("Dew", "g") in [
        (v["label"], v["unit"]) for v in renamed["table"]["summary"]["variables"]
    ]


def test_its_pairs_are_those_of_all_its_rows(
    client: TestClient, taken: dict[str, Any], sets: Path
) -> None:
    kept = {"conditions": [{"variable": "valley", "test": "one_of", "values": ["Corrie"]}]}
    frame = pl.read_parquet(sets / "nights").filter(pl.col("valley") == "Corrie")
    asked = {"table": taken["table"]["id"], "rows": kept}
    found = client.post("/api/pairs", json=asked).json()
    (pair,) = found["pairs"]
    r = np.corrcoef(frame["humidity (%)"], frame["uptake"])[0, 1]
    assert (pair["n"], found["total"]) == (frame.height, 1)
    assert pair["r"] == pytest.approx(r, rel=1e-12)
    assert len(pair["across"]) == len(pair["up"]) > 20
    same = client.post("/api/pairs", json=asked | {"with_variable": "uptake"}).json()
    assert same == found
    none = client.post("/api/pairs", json=asked | {"with_variable": "valley"})
    assert (none.status_code, none.json()["title"]) == (422, "'valley' holds no numbers.")


def test_what_needs_its_rows_together_is_refused(
    client: TestClient, study: str, taken: dict[str, Any]
) -> None:
    table, document = taken["table"]["id"], taken["figure"]["document"]
    trend = document | {"x": "humidity", "y": ["uptake"], "trends": [{"family": "straight"}]}
    for found in (
        client.get(f"/api/tables/{table}/rows", params={"sort": "uptake"}),
        client.get(f"/api/tables/{table}/export"),
        client.post("/api/residuals", json={"document": trend, "trend": 0}),
        client.post("/api/pairs", json={"table": table, "method": "spearman"}),
        client.post("/api/pairs", json={"table": table, "by": "valley"}),
        client.post(
            f"/api/tables/{table}/variables", json={"name": "d", "expression": "rank(uptake)"}
        ),
        client.post(f"/api/tables/{table}/expressions", json={"expression": "lag(uptake)"}),
        client.put(f"/api/tables/{table}/variables/more", json={"name": "more", "kind": "number"}),
        client.delete(f"/api/tables/{table}/variables/uptake"),
        client.patch(f"/api/tables/{table}/variables/uptake", json={"kind": "category"}),
        client.patch(f"/api/tables/{table}/rows", json={"delete": [1]}),
        client.post("/api/packages", json=document),
    ):
        assert found.status_code in (409, 422), (found.request.url, found.text[:300])
        said = found.json()["title"]
        assert "dataset" in said or "never written" in said


def test_files_that_change_are_noticed_and_it_can_be_opened_anew(
    client: TestClient, study: str, taken: dict[str, Any], sets: Path
) -> None:
    document = taken["figure"]["document"] | {"x": "humidity", "y": ["uptake"]}
    more = pl.read_parquet(sets / "nights" / "0.parquet").head(7)
    more.write_parquet(sets / "nights" / "2.parquet")
    more.write_parquet(sets / "nights" / "0.parquet")
    found = client.post("/api/answers", json=document)
    assert found.status_code == 422
    assert "0.parquet has changed since the dataset was opened" in found.json()["title"]
    path = taken["table"]["dataset"]
    again = client.post(f"/api/studies/{study}/datasets", json={"path": path}).json()
    assert again["table"]["id"] == taken["table"]["id"]
    assert again["table"]["summary"]["rows"] == 514
    assert client.post("/api/answers", json=document).status_code == 200


def test_a_study_with_one_is_copied(client: TestClient, study: str, taken: dict[str, Any]) -> None:
    copy = client.post(f"/api/studies/{study}/copies").json()
    held = client.get(f"/api/studies/{copy['id']}").json()
    assert held["tables"][0]["dataset"] == taken["table"]["dataset"]
    document = held["figures"][0]["document"]
    assert client.post("/api/answers", json=document).status_code == 200


def test_a_study_with_one_is_saved_as_a_file_and_read_in_where_it_may_be_opened(
    client: TestClient, study: str, taken: dict[str, Any], sets: Path, tmp_path: Path
) -> None:
    table = taken["table"]["id"]
    assert client.post(
        f"/api/tables/{table}/variables", json={"name": "half", "expression": "uptake / 2"}
    ).is_success
    document = taken["figure"]["document"] | {"x": "humidity", "y": ["half"]}
    made = client.post(f"/api/studies/{study}/figures", json=document).json()
    wanted = parts_of(client.post("/api/answers", json=made["document"]))
    # What is saved names the files, and holds none of their rows.
    saved = client.get(f"/api/studies/{study}/package")
    assert saved.status_code == 200
    assert len(saved.content) < 20_000
    (sets / "nights").rename(sets / "moved")
    assert client.get(f"/api/studies/{study}/package").status_code == 200
    (sets / "moved").rename(sets / "nights")
    upload = send(client, saved.content, "dew.zip")
    back = client.post("/api/studies/packages", json={"upload": upload["id"]})
    assert back.status_code == 201, back.text
    held = client.get(f"/api/studies/{back.json()['id']}").json()
    (own,) = held["tables"]
    assert own["dataset"] == taken["table"]["dataset"]
    assert [v["recipe"] for v in own["summary"]["variables"] if v["name"] == "half"] == [
        "uptake / 2"
    ]
    assert len(held["figures"]) == 2
    again = next(f["document"] for f in held["figures"] if f["document"]["y"] == ["half"])
    assert parts_of(client.post("/api/answers", json=again)) == wanted
    # Elsewhere it may not be opened, whatever the file says; nothing is made then.
    other = create_app(Settings(fresh(tmp_path / "other"), datasets=(tmp_path / "other",)))
    with TestClient(other, base_url=HERE, client=("127.0.0.1", 50000)) as stranger:
        upload = send(stranger, saved.content, "dew.zip")
        refused = stranger.post("/api/studies/packages", json={"upload": upload["id"]})
        assert refused.status_code == 422
        assert "may not open" in refused.json()["title"]
        assert stranger.get("/api/studies").json() == []
