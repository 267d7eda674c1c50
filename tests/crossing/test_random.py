"""Random documents over awkward tables, through HTTP and the store, of tables and of datasets."""

from __future__ import annotations

import io
import json
import random
from collections import Counter
from typing import Any

import pytest
from starlette.testclient import TestClient

from tests.adversary.answering import is_finite
from tests.adversary.documents import document
from tests.adversary.tables import table
from tests.api.conftest import HERE
from tests.api.test_api import parts_of
from yarrowdew.api.app import create_app
from yarrowdew.api.settings import Settings
from yarrowdew.tables.table import Table

TABLES, DOCUMENTS = 8, 4
SAID = {
    "Rows set aside need all rows in memory, and are not shown for a dataset.",
    "Categories need all rows in memory, and have no strips here.",
}
"""Why a dataset may count otherwise than a table."""


def taken_in(client: TestClient, study: str, over: Table, path: Any) -> dict[str, str]:
    """Take a table in, and link to the same rows as a dataset; where each is called by its id."""
    over.frame.write_parquet(path)
    whole = io.BytesIO(path.read_bytes())
    upload = client.post("/api/uploads?name=rows.parquet", content=whole.getvalue()).json()
    kinds = {one.name: one.kind.value for one in over.variables}
    body = {"upload": upload["id"], "options": {"kinds": kinds}}
    found = {
        "table": client.post(f"/api/studies/{study}/tables", json=body),
        "dataset": client.post(f"/api/studies/{study}/datasets", json={"path": str(path)}),
    }
    for one in found.values():
        assert one.status_code in (201, 422), one.text
    return {name: one.json()["table"]["id"] for name, one in found.items() if one.is_success}


def told(client: TestClient, made: dict[str, Any]) -> dict[str, Any] | None:
    """Ask for an answer; nothing where there is a sentence in its place."""
    found = client.post("/api/answers", json=made)
    assert found.status_code in (200, 422), f"{made}: {found.status_code} {found.text}"
    if found.status_code == 422:
        assert found.json()["title"].endswith((".", "?"))
        return None
    answer: dict[str, Any] = json.loads(parts_of(found)["answer"])
    assert is_finite(answer)
    return answer


def drawn_of(answer: dict[str, Any]) -> int:
    return int(answer["counts"]["drawn"])


def lines_of(answer: dict[str, Any]) -> set[tuple[int, str | None, int]]:
    return {(t["trend"], t["report"]["group"], t["report"]["n"]) for t in answer["trends"]}


def test_random_documents_of_tables_and_of_datasets(
    tmp_path_factory: pytest.TempPathFactory,
) -> None:
    sets = tmp_path_factory.mktemp("sets").resolve()
    settings = Settings(tmp_path_factory.mktemp("data"), datasets=(sets,))
    draw = random.Random(30)
    came: Counter[str] = Counter()
    with TestClient(create_app(settings), base_url=HERE, client=("127.0.0.1", 50000)) as client:
        study = client.post("/api/studies", json={"name": "Random"}).json()["id"]
        for turn in range(TABLES):
            over = table(draw, rows=draw.choice([5, 12, 60, 200]))
            ids = taken_in(client, study, over, sets / f"{turn}.parquet")
            for _ in range(DOCUMENTS):
                made = document(draw, over)
                if made is None:
                    continue
                answers = {name: told(client, {**made, "table": id_}) for name, id_ in ids.items()}
                came.update(f"{n}: {'answer' if a else 'sentence'}" for n, a in answers.items())
                of_table, of_dataset = answers.get("table"), answers.get("dataset")
                # Of a dataset no row is set aside, and no category is in a matrix, which it says.
                if of_table and of_dataset and not SAID & set(of_dataset["problems"]):
                    came["both"] += 1
                    assert drawn_of(of_dataset) == drawn_of(of_table), json.dumps(made)
                    # Some families need all rows in memory, which the answer says.
                    assert lines_of(of_dataset) <= lines_of(of_table), json.dumps(made)
    assert came["table: answer"] > 20
    assert came["dataset: answer"] > 5
    assert came["both"] > 2
