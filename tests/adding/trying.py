# ruff: noqa: E402 (what is imported is counted)
"""Run in a process of its own beside the toys: prints what the program knows of them."""

from __future__ import annotations

import contextlib
import inspect
import io
import json
import sys
import tempfile
from pathlib import Path

LOOKED: list[object] = []
_getmodule = inspect.getmodule


def _counted(*given: object, **more: object) -> object:
    LOOKED.append(given)
    return _getmodule(*given, **more)


# Before anything of the program is imported: how often a source is looked for while models are made.
inspect.getmodule = _counted

from fastapi.testclient import TestClient

from tests.api.test_api import parts_of
from yarrowdew.api.app import create_app
from yarrowdew.api.settings import Settings
from yarrowdew.figures.figure import FigureDocument
from yarrowdew.figures.sharing.bundle import outgoing, shared
from yarrowdew.figures.sharing.models import ShareRequest
from yarrowdew.tables.reading import read_bytes

CONTENT = b"dose,shed\n1,5\n2,9\n3,4\n4,2\n"


def command(*arguments: str) -> tuple[int, str, str]:
    """Run the command line, and give its status and what it printed."""
    from yarrowdew import cli

    out, err = io.StringIO(), io.StringIO()
    sys.argv = ["yarrowdew", *arguments]
    with contextlib.redirect_stdout(out), contextlib.redirect_stderr(err):
        try:
            cli.main()
        except SystemExit as ended:
            return int(ended.code or 0), out.getvalue(), err.getvalue()
    raise AssertionError("the command line ends with a status")


def fitted(*more: str) -> tuple[int, str, str]:
    with tempfile.TemporaryDirectory() as folder:
        file = Path(folder) / "dew.csv"
        file.write_bytes(CONTENT)
        asked = ("fit", str(file), "--x", "dose", "--y", "shed", "--family", "toy")
        return command(*asked, *more)


def main() -> None:
    looked = len(LOOKED)
    with (
        tempfile.TemporaryDirectory() as folder,
        TestClient(
            create_app(Settings(Path(folder))),
            base_url="http://127.0.0.1",
            client=("127.0.0.1", 1),
        ) as client,
    ):
        study = client.post("/api/studies", json={"name": "Toys"}).json()["id"]
        upload = client.post("/api/uploads?name=dew.csv", content=CONTENT).json()["id"]
        table = client.post(f"/api/studies/{study}/tables", json={"upload": upload}).json()["table"]
        asked = {"table": table["id"], "x": "dose", "y": ["shed"]}
        lifted = {"family": "toy", "settings": {"lift": 2}}
        answered = client.post("/api/answers", json={**asked, "trends": [lifted]})
        refused = client.post(
            "/api/answers", json={**asked, "trends": [{**lifted, "settings": {"lift": 11}}]}
        )
        tally = {**asked, "kind": "tally", "tally": {"counted": "shed", "secret": "sotto voce"}}
        counted = client.post("/api/answers", json=tally)
        known = client.get("/api/vocabulary").json()
        paths = json.dumps(client.get("/api/openapi.json").json())
    held = read_bytes(CONTENT, "dew.csv").table
    share = ShareRequest(title="T", figures=[FigureDocument.model_validate(tally)])
    gone = shared(share, lambda _: held).model_dump_json()
    listed = {v.name: v.drawn_as for v in outgoing(share, lambda _: held).variables}
    print(
        json.dumps(
            {
                "trend": json.loads(parts_of(answered)["answer"])["trends"][0]["report"],
                "refused": refused.status_code,
                "tally": json.loads(parts_of(counted)["answer"])["tally"],
                "families": [f for f in known["families"] if f["name"] == "toy"],
                "kinds": [k for k in known["kinds"] if k["name"] == "tally"],
                "start": known["trends"]["toy"],
                "in_schema": ["ToyTrend" in paths, "Tally" in paths],
                "shared": ["sotto voce" in gone, '"counted":"shed"' in gone],
                "drawn_as": listed,
                "lifted": fitted("--lift", "1", "--json"),
                "wrong": fitted("--lift", "high"),
                "looked": looked,
            }
        )
    )


if __name__ == "__main__":
    main()
