"""The server while its application is still being loaded."""

from __future__ import annotations

from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from contextlib import contextmanager
from pathlib import Path
from threading import Event

import pytest
from starlette.applications import Starlette
from starlette.testclient import TestClient

from tests.api.conftest import HERE
from tests.fresh import fresh
from yarrowdew.api.app import create_app
from yarrowdew.api.opening import Opening
from yarrowdew.api.problems import MEDIA_TYPE
from yarrowdew.api.settings import Settings
from yarrowdew.store import StoreError


@contextmanager
def opened(opening: Opening) -> Iterator[TestClient]:
    with TestClient(opening, base_url=HERE, client=("127.0.0.1", 50000)) as client:
        yield client


def test_pages_are_answered_at_once_and_the_rest_when_it_is_there(tmp_path: Path) -> None:
    may_load = Event()

    def load() -> Starlette:
        assert may_load.wait(60)
        return create_app(Settings(fresh(tmp_path)))

    with opened(Opening(load, failed=Event().set)) as client, ThreadPoolExecutor(2) as asked:
        try:
            page = client.get("/")
            assert page.status_code == 200
            assert "script" in page.text
            assert "default-src 'self'" in page.headers["content-security-policy"]
            assert client.get("/studies/x").text == page.text
            assert client.get("/", headers={"host": "elsewhere"}).status_code == 421
            made = asked.submit(client.post, "/api/studies", json={"name": "Dew"})
            listed = asked.submit(client.get, "/api/none")
            # However long it is waited for: they cannot be done.
            assert not made.done()
            assert not listed.done()
        finally:
            may_load.set()
        assert made.result(60).status_code == 201
        assert listed.result(60).status_code == 404
        assert [study["name"] for study in client.get("/api/studies").json()] == ["Dew"]
        assert client.get("/").text == page.text


def test_the_application_lives_as_long_as_the_server(tmp_path: Path) -> None:
    app = create_app(Settings(fresh(tmp_path)))
    with opened(Opening(lambda: app, failed=Event().set)) as client:
        assert client.get("/api/studies").status_code == 200
        assert not app.state.jobs.closing
    assert app.state.jobs.closing


@pytest.mark.parametrize("error", [StoreError("No room.", "Make some."), RuntimeError("?")])
def test_what_cannot_be_loaded_is_told_to_who_started_it_and_to_who_waits(error: Exception) -> None:
    may_fail, failed = Event(), Event()

    def load() -> Starlette:
        assert may_fail.wait(60)
        raise error

    opening = Opening(load, failed.set)
    with opened(opening) as client, ThreadPoolExecutor(1) as asked:
        waits = asked.submit(client.get, "/api/studies")
        may_fail.set()
        answer = waits.result(60)
        assert answer.status_code == 503
        assert answer.headers["content-type"] == MEDIA_TYPE
        assert "could not be started" in answer.json()["title"]
    assert failed.is_set()
    assert opening.error is error
