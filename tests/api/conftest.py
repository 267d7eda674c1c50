from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path

import pytest
from starlette.testclient import TestClient

from tests.fresh import fresh
from yarrowdew.api.app import create_app
from yarrowdew.api.settings import Settings

HERE = "http://127.0.0.1"


@pytest.fixture
def client(tmp_path: Path) -> Iterator[TestClient]:
    app = create_app(Settings(fresh(tmp_path), max_upload_mb=1))
    with TestClient(
        app, base_url=HERE, client=("127.0.0.1", 50000), raise_server_exceptions=False
    ) as opened:
        yield opened


@pytest.fixture
def study(client: TestClient) -> dict:
    made = client.post("/api/studies/demo").json()
    return client.get(f"/api/studies/{made['id']}").json()
