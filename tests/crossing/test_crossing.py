"""Every kind of figure with every part, of a table and of a dataset, through every exit.

Each exit gives an answer or a sentence, over HTTP and the real store, and the exits agree with one
another: on how many rows are drawn and fitted, and on the equations of the lines.
"""

from __future__ import annotations

import io
import json
import re
import shlex
import xml.etree.ElementTree as ET
import zipfile
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import polars as pl
import pytest
from starlette.testclient import TestClient

import yarrowdew as yd
from tests.api.conftest import HERE
from tests.api.test_api import parts_of
from tests.cli.test_cli import run
from tests.crossing.material import KINDS, PARTS, RENAMED, document, everything, frame, line
from tests.scope import LONG
from yarrowdew.api.app import create_app
from yarrowdew.api.settings import Settings
from yarrowdew.drawing.images import LEAST_DPI
from yarrowdew.tables.errors import TableError

Patch = pytest.MonkeyPatch
SOURCES = ("table", "dataset")


@dataclass(frozen=True)
class House:
    """A running server with one study, which has the same rows twice."""

    client: TestClient
    study: str
    tables: dict[str, str]
    figures: dict[str, str]

    def post(self, path: str, body: Any, **headers: str) -> Any:
        """Ask, and take an answer or a sentence; anything else fails."""
        found = self.client.post(path, json=body, headers=headers)
        assert found.status_code in (200, 201, 422), f"{path}: {found.status_code} {found.text}"
        if found.status_code == 422:
            title = found.json()["title"]
            assert title.endswith((".", "?")), title
            assert "valid" not in title, title
            return Sentence(title)
        return found


class Sentence(str):
    """Why there is no answer."""

    __slots__ = ()


@pytest.fixture(scope="module")
def house(tmp_path_factory: pytest.TempPathFactory) -> Iterator[House]:
    sets = tmp_path_factory.mktemp("sets")
    (sets / "rows").mkdir()
    rows = frame()
    rows.head(100).write_parquet(sets / "rows" / "0.parquet")
    rows.tail(-100).write_parquet(sets / "rows" / "1.parquet")
    whole = io.BytesIO()
    rows.write_parquet(whole)
    settings = Settings(tmp_path_factory.mktemp("data"), datasets=(sets.resolve(),))
    with TestClient(create_app(settings), base_url=HERE, client=("127.0.0.1", 50000)) as client:
        study = client.post("/api/studies", json={"name": "Crossing"}).json()["id"]
        upload = client.post("/api/uploads?name=rows.parquet", content=whole.getvalue()).json()
        kinds = {"name": "text", "code": "category"}
        body = {"upload": upload["id"], "options": {"kinds": kinds}}
        table = client.post(f"/api/studies/{study}/tables", json=body).json()
        path = str((sets / "rows").resolve())
        linked = client.post(f"/api/studies/{study}/datasets", json={"path": path}).json()
        tables = {"table": table["table"]["id"], "dataset": linked["table"]["id"]}
        for id_ in tables.values():
            made = {"name": "twice", "expression": "2 * x"}
            assert client.post(f"/api/tables/{id_}/variables", json=made).status_code == 201
        # The study calls one category otherwise, and so do all of its figures.
        looks = client.get(f"/api/studies/{study}").json()["categories"]["group"]
        for look in looks:
            if look["value"] == "site_1":
                look["label"] = RENAMED
        put = client.put(f"/api/studies/{study}/categories/group", json={"looks": looks})
        assert put.status_code == 200, put.text
        figures = {"table": table["figure"]["id"], "dataset": linked["figure"]["id"]}
        yield House(client, study, tables, figures)


def answered(house: House, made: dict[str, Any]) -> tuple[dict[str, Any], pl.DataFrame] | Sentence:
    found = house.post("/api/answers", made)
    if isinstance(found, Sentence):
        return found
    parts = parts_of(found)
    return json.loads(parts["answer"]), pl.read_ipc_stream(io.BytesIO(parts["marks"]))


NO_NUMBER = re.compile(r"NaN|undefined|\bnull\b|Infinity")


def words_of(picture: ET.Element) -> str:
    """Everything that a picture says, in its text and in the places of its parts; no fonts."""
    said = [one.text or "" for one in picture.iter() if not one.tag.endswith("style")]
    said += [one.tail or "" for one in picture.iter()]
    said += [v for one in picture.iter() for n, v in one.attrib.items() if "href" not in n]
    return " ".join(said)


def lines_of(fits: list[dict[str, Any]]) -> list[tuple[Any, ...]]:
    return [(fit["group"], fit["n"], fit["equation"], fit["problem"]) for fit in fits]


ALL = LONG
"""Whether nothing is left out."""


def each(*sources: str) -> Any:
    """Every kind with every part, of every source; or each part with one kind or two by turns."""
    crossed = [
        pytest.param(source, kind, part, id=f"{source}-{kind}-{part}")
        for turn, source in enumerate(sources)
        for place, kind in enumerate(KINDS)
        for number, part in enumerate([*PARTS, "everything"])
        if ALL or part == "everything" or (number + place + turn) % 5 == 0
    ]
    return pytest.mark.parametrize(("source", "kind", "part"), crossed)


def made_of(house: House, source: str, kind: str, part: str) -> dict[str, Any]:
    chosen = everything() if part == "everything" else PARTS[part]
    return document(house.tables[source], kind, chosen)


@each(*SOURCES)
def test_an_answer_a_picture_and_what_goes_out(
    house: House, source: str, kind: str, part: str
) -> None:
    made = made_of(house, source, kind, part)
    found = answered(house, made)
    image = house.post("/api/images", made, accept="image/svg+xml")
    going = house.post("/api/outgoing", {"title": "Dew", "figures": [made]})
    readings = house.post("/api/readings", made)
    if isinstance(found, Sentence):
        assert isinstance(image, Sentence)
        assert image == found
        assert isinstance(readings, Sentence)
        return
    answer, marks = found
    drawn = ET.fromstring(image.content)  # noqa: S314 (our own picture)
    words = words_of(drawn)
    # Text of the data is no markup: it stands as it is wherever it is drawn.
    shown = answer["colour"]["categories"] if answer["colour"] else []
    if "a^2" in shown and "own looks" not in part and part != "everything":
        assert "a^2" in words
    assert not NO_NUMBER.search(words)
    if readings is not None and not isinstance(readings, Sentence):
        fits = readings.json()["fits"]
        assert lines_of(fits) == lines_of([trend["report"] for trend in answer["trends"]])
    for trend in answer["trends"]:
        assert trend["report"]["n"] <= answer["counts"]["drawn"] * len(made["y"])
        assert trend["report"]["group"] != "site_1"
    if not isinstance(going, Sentence):
        counts = going.json()
        assert counts["rows"] + counts["counted"] >= answer["counts"]["drawn"] * (source == "table")
        assert counts["rows_aside"] == answer["counts"]["set_aside"]
    if source == "table" and kind == "scatterplot":
        assert len(marks) == answer["counts"]["drawn"]


@each("table")
def test_a_shared_figure_says_what_the_figure_says(
    house: House, source: str, kind: str, part: str
) -> None:
    made = made_of(house, source, kind, part)
    page = house.post("/api/pages", {"title": "Dew", "figures": [made]})
    found = answered(house, made)
    if isinstance(found, Sentence) or isinstance(page, Sentence):
        # What names a variable that is gone is not shared, and what is shared can be answered.
        assert isinstance(found, Sentence) or "no variable 'nowhere'" in page
        return
    share = house.post(
        f"/api/studies/{house.study}/shares", {"title": "Dew", "figures": [made]}
    ).json()
    told = house.client.get(f"/api/shared/{share['id']}").json()["figures"][0]["answer"]
    assert told["counts"]["drawn"] == found[0]["counts"]["drawn"]
    own = [trend["report"] for trend in found[0]["trends"]]
    assert lines_of([trend["report"] for trend in told["trends"]]) == lines_of(own)
    assert house.client.delete(f"/api/shares/{share['id']}").status_code == 204


@pytest.mark.parametrize("kind", KINDS)
@pytest.mark.parametrize(
    ("source", "part"),
    [("table", "a line for each"), ("dataset", "a line for each"), ("table", "everything")][
        : 3 if ALL else 1
    ],
)
class TestEveryOtherExit:
    def test_images(self, house: House, source: str, kind: str, part: str) -> None:
        made = made_of(house, source, kind, part)
        for accept, first in (("image/png", b"\x89PNG"), ("application/pdf", b"%PDF")):
            found = house.post(f"/api/images?dpi={LEAST_DPI:g}", made, accept=accept)
            if not isinstance(found, Sentence):
                assert found.content.startswith(first)
                assert b"NaN" not in found.content

    def test_residuals_fitted_values_and_comparison(
        self, house: House, source: str, kind: str, part: str
    ) -> None:
        made = made_of(house, source, kind, part)
        for against in ("fitted", "x", "order", "quantile"):
            house.post("/api/residuals", {"document": made, "trend": 0, "against": against})
        fitted = house.post("/api/fitted", {"document": made, "trend": 0})
        compared = house.post("/api/comparisons", {"document": made, "group": None})
        if kind != "scatterplot" or source == "dataset":
            assert isinstance(compared, Sentence)
        elif not isinstance(fitted, Sentence):
            answer = answered(house, made)
            assert not isinstance(answer, Sentence)
            of_first = [t["report"]["n"] for t in answer[0]["trends"] if t["trend"] == 0]
            written = pl.read_csv(io.BytesIO(fitted.content))
            assert written.height >= sum(of_first)

    def test_calls_draw_the_figure(  # noqa: PLR0917 (what is crossed, and where it runs)
        self, house: House, source: str, kind: str, part: str, tmp_path: Path, monkeypatch: Patch
    ) -> None:
        made = made_of(house, source, kind, part)
        found = house.post("/api/calls", made)
        if isinstance(found, Sentence):
            return
        monkeypatch.chdir(tmp_path)
        called = found.json()
        command, _, given = called["command"].partition(" <<'END'\n")
        monkeypatch.setattr("sys.stdin", io.StringIO(given.removesuffix("\nEND")))
        program, draw, file, *options = shlex.split(command)
        assert (program, draw) == ("yarrowdew", "draw")
        if source == "table":
            frame().with_columns((2 * pl.col("x")).alias("twice")).write_csv(file)
        is_drawn = not isinstance(answered(house, made), Sentence)
        assert run(monkeypatch, draw, file, *options) == (0 if is_drawn else 2)
        drawn = Path("figure.svg")
        assert drawn.exists() == is_drawn
        if is_drawn:
            ET.fromstring(drawn.read_bytes())  # noqa: S314 (our own picture)
            drawn.unlink()
            exec(compile(called["python"], "call.py", "exec"), {})  # noqa: S102 (our own call)
            ET.fromstring(drawn.read_bytes())  # noqa: S314 (our own picture)

    def test_a_plate(self, house: House, source: str, kind: str, part: str) -> None:
        made = made_of(house, source, kind, part)
        cells = [{"figure": "first"}, {"figure": "second", "heading": "Again"}]
        asked = {"title": "Dew", "figures": [made, made], "plate": {"cells": cells}}
        once = house.post("/api/outgoing", {"title": "Dew", "figures": [made]})
        twice = house.post("/api/outgoing", asked)
        page = house.post("/api/pages", asked)
        if isinstance(once, Sentence):
            assert once == twice == page
        else:
            assert twice.json()["rows_aside"] == once.json()["rows_aside"]
            assert not isinstance(page, Sentence)

    def test_a_script_says_what_the_page_says(
        self, house: House, source: str, kind: str, part: str
    ) -> None:
        if source == "dataset":
            return
        made = made_of(house, source, kind, part)
        found = answered(house, made)
        try:
            own = yd.figure(frame(), document=made)
            own.image("svg")
            reports = [trend.report for trend in own.answered.answer.trends]
        except TableError as error:
            assert isinstance(found, Sentence), error
            return
        assert not isinstance(found, Sentence)
        told = [trend["report"] for trend in found[0]["trends"]]
        # A script knows of no study, in which a category has another name.
        assert sorted((r.n, r.equation or "") for r in reports) == sorted(
            (r["n"], r["equation"] or "") for r in told
        )

    def test_pairs(self, house: House, source: str, kind: str, part: str) -> None:
        made = made_of(house, source, kind, part)
        for by in (None, "group", "code"):
            asked = {
                "table": made["table"],
                "rows": made.get("rows"),
                "set_aside": made.get("set_aside", []),
                "by": by,
            }
            house.post("/api/pairs", asked)

    def test_saved_copied_and_packed_it_is_the_same_figure(
        self, house: House, source: str, kind: str, part: str
    ) -> None:
        made = made_of(house, source, kind, part)
        before = answered(house, made)
        saved = house.post(f"/api/studies/{house.study}/figures", made).json()
        try:
            image = house.client.get(f"/api/figures/{saved['id']}/image")
            assert image.status_code in (200, 422)
            copy = house.post(f"/api/studies/{house.study}/copies", {}).json()
            package = house.client.get(f"/api/studies/{house.study}/package").content
            upload = house.client.post("/api/uploads?name=s.zip", content=package).json()
            read = house.post("/api/studies/packages", {"upload": upload["id"]}).json()
            for study in (copy, read):
                contents = house.client.get(f"/api/studies/{study['id']}").json()
                last = contents["figures"][-1]["document"]
                after = answered(house, last)
                assert same(before, after)
                again = house.client.get(f"/api/studies/{study['id']}/package").content
                assert described(again)["name"] == study["name"]
                gone = house.client.delete(f"/api/studies/{study['id']}?for_good=true")
                assert gone.status_code == 204
        finally:
            assert house.client.delete(f"/api/figures/{saved['id']}").status_code == 204


def same(
    one: tuple[dict[str, Any], pl.DataFrame] | Sentence,
    other: tuple[dict[str, Any], pl.DataFrame] | Sentence,
) -> bool:
    if isinstance(one, Sentence) or isinstance(other, Sentence):
        return one == other
    return one[0] == other[0] and one[1].equals(other[1])


def described(package: bytes) -> dict[str, Any]:
    with zipfile.ZipFile(io.BytesIO(package)) as archive:
        own: dict[str, Any] = json.loads(archive.read("datapackage.json"))["yarrowdew"]
    return own


@pytest.mark.parametrize("source", SOURCES)
@pytest.mark.parametrize("kind", KINDS)
def test_rows_left_out_are_in_no_exit(house: House, source: str, kind: str) -> None:
    """Of a table and of a dataset: neither drawn, counted nor fitted."""
    made = document(house.tables[source], kind, {"trends": [{"family": "straight"}]})
    whole = {"title": "Dew", "figures": [made]}
    less = {**whole, "rows_left_out": {house.tables[source]: list(range(60))}}
    all_of_it, some = (house.post("/api/outgoing", asked) for asked in (whole, less))
    if isinstance(all_of_it, Sentence):
        assert isinstance(some, Sentence)
        return
    before, after = all_of_it.json(), some.json()
    assert after["rows"] + after["counted"] < before["rows"] + before["counted"]
    share = house.post(f"/api/studies/{house.study}/shares", less).json()
    told = house.client.get(f"/api/shared/{share['id']}").json()["figures"][0]["answer"]
    assert told["counts"]["drawn"] == after["rows"] + after["counted"]
    filtered = {**made, "rows": None}
    assert filtered["table"] == made["table"]


@pytest.mark.parametrize("source", SOURCES)
def test_a_line_for_each_is_called_as_the_study_calls_it(house: House, source: str) -> None:
    found = answered(house, made_of(house, source, "scatterplot", "a line for each"))
    assert not isinstance(found, Sentence)
    reports = {t["report"]["group"]: t["report"] for t in found[0]["trends"]}
    assert set(reports) == {RENAMED, "a^2", "plain"}
    # Read off at x = 5 for each, and the level for the renamed one alone.
    assert [len(reports[g]["readings"]) for g in reports] == [1, 1, 1]
    assert {g for g in reports if reports[g]["solutions"]} == {RENAMED}


@pytest.mark.parametrize("source", SOURCES)
@pytest.mark.parametrize("name", ["site_1", RENAMED], ids=["value", "label, as before"])
def test_what_a_figure_says_of_a_category_holds_however_it_is_called(
    house: House, source: str, name: str
) -> None:
    made = document(
        house.tables[source],
        "scatterplot",
        {
            "colour": {"variable": "group"},
            "trends": [line(by="group", read_off=[{"at": 5.0, "group": name}])],
            "marks": {"each": {name: {"colour": "#123456"}}},
            "legend": {"renamed": {name: "foot of the hill"}},
        },
    )
    found = answered(house, made)
    assert not isinstance(found, Sentence)
    colour = found[0]["colour"]
    assert dict(zip(colour["values"], colour["categories"], strict=True))["site_1"] == RENAMED
    lines = {t["group_value"]: t["report"] for t in found[0]["trends"]}
    assert {value for value in lines if lines[value]["readings"]} == {"site_1"}
    picture = house.post("/api/images", made, accept="image/svg+xml").text
    assert "foot of the hill" in picture
    assert "#123456" in picture
    shared = house.post("/api/pages", {"title": "Dew", "figures": [made]})
    assert "foot of the hill" in shared.text
    assert "#123456" in shared.text


def test_a_table_and_a_dataset_of_the_same_rows_say_the_same(house: House) -> None:
    for part in ("a line", "a line for each", "a polynomial", "a filter", "dates"):
        table, dataset = (
            answered(house, made_of(house, source, "scatterplot", part)) for source in SOURCES
        )
        assert not isinstance(table, Sentence)
        assert not isinstance(dataset, Sentence)
        assert table[0]["counts"]["drawn"] == dataset[0]["counts"]["drawn"]
        reports = [
            sorted(lines_of([t["report"] for t in one[0]["trends"]])) for one in (table, dataset)
        ]
        assert reports[0] == reports[1]
