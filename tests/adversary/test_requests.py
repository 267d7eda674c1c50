"""Requests that nobody means, and every one is answered with a sentence and no fault."""

from __future__ import annotations

import random
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import polars as pl
import pytest
from fastapi.testclient import TestClient

from tests.adversary.tables import NAMES
from tests.fresh import fresh
from tests.scope import LONG, examples
from yarrowdew.api.app import create_app
from yarrowdew.api.settings import Settings
from yarrowdew.store import Store
from yarrowdew.tables.table import Kind, Table, Variable


@pytest.fixture
def client(tmp_path: Path) -> Iterator[TestClient]:
    app = create_app(Settings(fresh(tmp_path), max_body_mb=1))
    with TestClient(app, base_url="http://127.0.0.1", client=("127.0.0.1", 1)) as opened:
        # A fault of the server would come out here as itself.
        yield opened


@pytest.fixture
def kept(client: TestClient) -> tuple[str, str]:
    """A study and a table whose variables are called as nobody should."""
    store: Store = client.app.state.store  # type: ignore[attr-defined]
    study = store.studies.create("Odd").id
    variables = tuple(Variable(n, Kind.NUMBER, n) for n in NAMES)
    frame = pl.DataFrame([pl.Series(n, [1.0 + i, 2.0, 4.0 * i, 3.0]) for i, n in enumerate(NAMES)])
    return study, store.tables.add(study, Table("t", variables, frame)).id


@pytest.mark.parametrize(
    ("headers", "status"),
    [
        ({"Host": "["}, 400),
        ({"Host": "evil.example"}, 421),
        ({"Origin": "http://["}, 403),
        ({"Origin": "http://evil.example"}, 403),
    ],
)
def test_malformed_headers(client: TestClient, headers: dict[str, str], status: int) -> None:
    assert client.get("/api/studies", headers=headers).status_code == status


@pytest.mark.parametrize(
    "path",
    [
        "/%00",
        "/a%00b",
        "/" + "a" * 5_000,
        "/" + "a/" * 400,
        "/%2e%2e/%2e%2e/etc/passwd",
        "/assets/..%2f..%2f..%2fpyproject.toml",
        "/api/studies/%ff",
        "/api/tables/" + "x" * 300,
        "/api/jobs/..%2f",
        "/api/uploads/" + "f" * 300 + "/preview",
    ],
)
def test_odd_paths(client: TestClient, path: str) -> None:
    found = client.get(path)
    assert found.status_code < 500
    # Nothing outside the front end's own folder is ever served.
    assert "root:" not in found.text
    assert "build-system" not in found.text


def test_a_page_that_lies_outside_the_folder_is_not_served(client: TestClient) -> None:
    inside = client.get("/index.html")
    for path in ("/..%2f__init__.py", "/..%2fpy.typed", "/%2e%2e/py.typed"):
        found = client.get(path)
        # What is asked for exists one folder up; the page of the app is given in its place.
        assert found.content == inside.content
    assert (Path(__file__).parents[2] / "src/yarrowdew/py.typed").is_file()


def test_head_is_answered(client: TestClient) -> None:
    for path in ("/", "/shared/none"):
        found = client.head(path)
        assert (found.status_code, found.content) in ((200, b""), (503, b""))


@pytest.mark.parametrize("tag", ["²", '"²"', "9" * 40, "x", '"1', "-1", '"1", "2"', "W/"])
def test_odd_entity_tags(client: TestClient, kept: tuple[str, str], tag: str) -> None:
    found = client.patch(
        f"/api/tables/{kept[1]}/rows",
        json={"delete": [0]},
        headers={"If-Match": tag.encode("latin-1")},
    )
    assert found.status_code in (400, 412)
    assert client.get(f"/api/tables/{kept[1]}").headers["ETag"] == '"1"'


def test_bodies_have_a_limit_whether_or_not_they_say_how_long_they_are(client: TestClient) -> None:
    long = b'{"name": "' + b"a" * 1_100_000 + b'"}'
    declared = client.post(
        "/api/studies", content=long, headers={"Content-Type": "application/json"}
    )
    streamed = client.post(
        "/api/studies",
        content=(long[i : i + 65_536] for i in range(0, len(long), 65_536)),
        headers={"Content-Type": "application/json"},
    )
    for found in (declared, streamed):
        assert found.status_code == 413
        assert "at most 1 MB" in found.json()["title"]
    assert client.get("/api/studies").json() == []


@pytest.mark.parametrize(
    ("method", "path", "body"),
    [
        ("GET", "rows?row=18446744073709551616", None),
        ("GET", "rows?row=-1", None),
        ("GET", "rows?start=99999999999999999999", None),
        ("PATCH", "rows", {"delete": [2**64]}),
        ("PATCH", "rows", {"cells": [{"row": 2**63, "variable": "x", "text": "1"}]}),
        ("PATCH", "rows", {"add": {"count": 1, "before": 2**70}}),
        ("PUT", "version", {"version": 2**63}),
        ("PUT", "version", {"version": 77}),
        ("POST", "expressions", {"expression": "round(x, 400)"}),
        ("POST", "expressions", {"expression": "round(x, 1e999)"}),
        ("POST", "expressions", {"expression": "1e999 * x"}),
        ("POST", "expressions", {"expression": "(" * 300}),
        ("POST", "expressions", {"expression": "{nothing}"}),
    ],
)
def test_numbers_beyond_what_there_is(
    client: TestClient, kept: tuple[str, str], method: str, path: str, body: Any
) -> None:
    found = client.request(method, f"/api/tables/{kept[1]}/{path}", json=body)
    assert 400 <= found.status_code < 500
    assert found.json()["title"]


@pytest.mark.parametrize("name", NAMES if LONG else NAMES[::6])
def test_every_name_works_everywhere(client: TestClient, kept: tuple[str, str], name: str) -> None:
    """In a document, a filter, an expression, an address, a sort, and when it is deleted."""
    from urllib.parse import quote

    study, table = kept
    other = NAMES[0] if name != NAMES[0] else NAMES[1]
    document = {
        "table": table,
        "x": name,
        "y": [other],
        "rows": {"conditions": [{"variable": name, "test": "present"}]},
        "names": {"variable": name},
        "size": {"variable": name},
        "trends": [{"letters": "variables"}],
    }
    figure = client.post(f"/api/studies/{study}/figures", json=document)
    assert figure.status_code == 201
    for path in ("answers", "readings"):
        assert client.post(f"/api/{path}", json=document).status_code == 200
    residuals = client.post("/api/residuals", json={"document": document, "against": "x"})
    assert residuals.status_code == 200
    shared = {"title": "T", "figures": [document], "hover": [name]}
    for path in ("outgoing", "pages"):
        assert client.post(f"/api/{path}", json=shared).status_code == 200
    braced = "{" + name.replace("{", "{{").replace("}", "}}") + "}"
    tried = client.post(
        f"/api/tables/{table}/expressions", json={"expression": f"{braced} * 1"}
    ).json()
    place = NAMES.index(name)
    assert tried["head"] == [str(v) for v in (1 + place, 2, 4 * place, 3)]
    address = f"/api/tables/{table}/variables/{quote(name, safe='')}"
    assert client.patch(address, json={"label": "Another"}).status_code == 200
    found = client.get(f"/api/tables/{table}/rows", params={"sort": name}).json()["rows"]
    values = [row["values"][name] for row in found]
    assert values == sorted(values)
    package = client.post("/api/packages", json=document)
    assert package.status_code == 200
    deleted = client.delete(address)
    assert deleted.status_code == 200
    assert name not in [v["name"] for v in deleted.json()["summary"]["variables"]]


def test_random_bodies_at_every_address(
    client: TestClient, kept: tuple[str, str], schema: dict
) -> None:
    draw = random.Random(4)
    odd: list[Any] = [
        None, 1, -1, 2**64, 1.5, "", "x", "\0", [], {}, [[]], True, {"": 1}, "a" * 300, [None],
    ]  # fmt: skip
    count = 0
    for path, methods in schema["paths"].items():
        for method in methods:
            for _ in range(examples(2, 4)):
                address = path
                for part in ("study_id", "table_id", "name", "variable", "figure_id", "plate_id"):
                    ours = {"study_id": kept[0], "table_id": kept[1]}.get(part, "x")
                    value = draw.choice([ours, ours, "y" * 70, "%00", "é"])
                    address = address.replace("{" + part + "}", value)
                body = {
                    draw.choice(["name", "table", "document", "x", "looks", "figures", "cells"]): draw.choice(odd)
                    for _ in range(3)
                }  # fmt: skip
                if (method, path) == ("delete", "/api/studies/{study_id}"):
                    continue
                found = client.request(method.upper(), address, json=draw.choice([body, *odd]))
                assert found.status_code < 500, (method, address, found.text)
                count += 1
    assert count > examples(75, 150)


@pytest.mark.parametrize("piece", [1, 7, 4096, 65_537])
def test_a_file_that_arrives_in_pieces_is_the_same_file(client: TestClient, piece: int) -> None:
    lines = "".join(f"{i};{i / 7:.3f};„Wort {i % 5}“\n" for i in range(300))
    content = f"zähler;wert;wörter\n{lines}".encode()
    parts = (content[i : i + piece] for i in range(0, len(content), piece))
    sent = client.post("/api/uploads", params={"name": "stücke.csv"}, content=parts).json()
    seen = client.post(f"/api/uploads/{sent['id']}/preview", json={}).json()
    assert (sent["size"], seen["rows"]) == (len(content), 300)
    assert [v["name"] for v in seen["variables"]] == ["zähler", "wert", "wörter"]
    assert seen["head"][13][2] == "„Wort 3“"
