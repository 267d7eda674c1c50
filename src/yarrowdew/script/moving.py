"""Figures that move between a script and the app."""

from __future__ import annotations

import json
import tempfile
import webbrowser
from dataclasses import replace
from pathlib import Path
from typing import Any
from urllib.parse import urlsplit

import urllib3

from yarrowdew.drawing.built import DrawingError
from yarrowdew.figures.document.categories import CategoryLook
from yarrowdew.figures.figure import FigureDocument
from yarrowdew.script.figures import Figure, figure
from yarrowdew.store import Store
from yarrowdew.store.packages import pack_study, packed_study
from yarrowdew.tables.reading import read_bytes
from yarrowdew.tables.table import Table

_PATIENCE = urllib3.Timeout(connect=5.0, read=120.0)


def opened(document: FigureDocument, table: Table, address: str, *, browser: bool) -> str:
    """Send a figure to the app, as a study of its own; see `Figure.open`."""
    base = address.rstrip("/")
    with tempfile.TemporaryDirectory() as folder:
        store = Store(Path(folder))
        study = store.studies.create(table.name[:200] or "From a script")
        looks = {
            name: [one for one in own if isinstance(one, CategoryLook)]
            for name, own in table.categories.items()
        }
        store.studies.fill(study.id, categories=looks)
        store.tables.add(study.id, table, [document])
        packed = pack_study(store, study.id)
        store.close()
    upload = _asked("POST", f"{base}/api/uploads?name=figure.zip", packed, base)["id"]
    made = _asked(
        "POST", f"{base}/api/studies/packages", json.dumps({"upload": upload}).encode(), base
    )
    there = f"{base}/studies/{made['id']}"
    if browser:
        webbrowser.open(there)
    return there


def fetch(address: str) -> Figure:
    """Fetch a figure of the app by the address at which it is open there.

    Parameters
    ----------
    address : str
        Such as http://127.0.0.1:8420/studies/…/….

    Raises
    ------
    DrawingError
        If no app answers there, or it is no address of a figure.
    """
    parts = urlsplit(address)
    words = [word for word in parts.path.split("/") if word]
    base = f"{parts.scheme}://{parts.netloc}"
    if len(words) < 2 or words[0] != "studies" or "plates" in words:
        raise DrawingError(
            f"{address} is no address of a figure.",
            "Copy it from the browser while the figure is open.",
        )
    if len(words) == 2:
        study = _asked("GET", f"{base}/api/studies/{words[1]}", None, base)
        words.append(study["figures"][0]["id"])
    document = _asked("GET", f"{base}/api/figures/{words[2]}", None, base)["document"]
    body = json.dumps(document).encode()
    content = _answer(
        "POST",
        f"{base}/api/packages",
        body,
        {"Content-Type": "application/json", "Origin": base},
    )
    table = read_bytes(content, "figure.zip").table
    packed = packed_study(content, "figure.zip")
    looks = packed.categories if packed else {}
    return figure(
        replace(table, categories={name: tuple(own) for name, own in looks.items()}),
        document=document,
    )


def _asked(method: str, address: str, body: bytes | None, base: str) -> Any:
    kind = "application/octet-stream" if "/uploads" in address else "application/json"
    return json.loads(_answer(method, address, body, {"Content-Type": kind, "Origin": base}))


def _answer(
    method: str, address: str, body: bytes | None, headers: dict[str, str] | None = None
) -> bytes:
    try:
        with urllib3.PoolManager(retries=False, timeout=_PATIENCE) as pool:
            answer = pool.request(method, address, body=body, headers=headers)
    except (urllib3.exceptions.HTTPError, ValueError) as error:
        raise DrawingError(
            f"No app answers at {address.split('/api', maxsplit=1)[0]}.",
            "Start it with: yarrowdew serve",
        ) from error
    if answer.status >= 400:
        try:
            said = json.loads(answer.data).get("title", "")
        except ValueError:
            said = ""
        raise DrawingError(said or f"The app answered {answer.status}.")
    return answer.data
