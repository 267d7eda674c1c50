"""Images over HTTP."""

from __future__ import annotations

import io

import pytest
from PIL import Image
from starlette.testclient import TestClient


def test_a_document_is_drawn_as_what_is_accepted(client: TestClient, study: dict) -> None:
    document = study["figures"][0]["document"]
    for accept, kind, start in (
        ("image/svg+xml", "image/svg+xml", b"<?xml"),
        ("image/png", "image/png", b"\x89PNG"),
        ("application/pdf, image/png;q=0.5", "application/pdf", b"%PDF"),
        ("text/html, image/jpeg;q=0.2, image/png;q=0.1", "image/jpeg", b"\xff\xd8"),
        ("*/*", "image/svg+xml", b"<?xml"),
    ):
        response = client.post("/api/images?dpi=72", json=document, headers={"Accept": accept})
        assert (response.status_code, response.headers["content-type"]) == (200, kind)
        assert response.content.startswith(start)
        assert response.headers["vary"] == "Accept"


def test_its_resolution_is_asked_for(client: TestClient, study: dict) -> None:
    document = study["figures"][5]["document"]
    response = client.post("/api/images?dpi=144", json=document, headers={"Accept": "image/png"})
    assert Image.open(io.BytesIO(response.content)).size == (1440, 1220)
    assert client.post("/api/images?dpi=9", json=document).status_code == 422


@pytest.mark.parametrize("accept", ["text/html", "image/gif", "image/png;q=0"])
def test_what_no_figure_is_drawn_as_is_said(client: TestClient, study: dict, accept: str) -> None:
    document = study["figures"][0]["document"]
    response = client.post("/api/images", json=document, headers={"Accept": accept})
    assert response.status_code == 406
    assert "image/svg+xml" in response.json()["detail"]


def test_a_figure_is_fetched_once_as_long_as_it_stays(client: TestClient, study: dict) -> None:
    figure = study["figures"][0]
    address = f"/api/figures/{figure['id']}/image"
    first = client.get(address)
    tag = first.headers["etag"]
    assert client.get(address, headers={"If-None-Match": tag}).status_code == 304
    assert (
        client.get(address, headers={"If-None-Match": tag, "Accept": "image/png"}).status_code
        == 200
    )
    saved = figure["document"] | {"title": "Dew"}
    client.put(f"/api/figures/{figure['id']}", json=saved, headers={"If-Match": "*"})
    again = client.get(address, headers={"If-None-Match": tag})
    assert again.status_code == 200
    assert ">Dew</text>" in again.text
    # Categories belong to the study: another order is another picture.
    tag = again.headers["etag"]
    looks = client.get(f"/api/studies/{study['id']}").json()["categories"]["valley"]
    client.put(f"/api/studies/{study['id']}/categories/valley", json={"looks": looks[::-1]})
    assert client.get(address, headers={"If-None-Match": tag}).status_code == 200
    assert client.get("/api/figures/nowhere/image").status_code == 404


def test_calls_are_written(client: TestClient, study: dict) -> None:
    calls = client.post("/api/calls", json=study["figures"][0]["document"]).json()
    assert calls["command"].startswith("yarrowdew draw nights.csv --x humidity --y yield")
    assert calls["python"].startswith("import yarrowdew as yd\n")
