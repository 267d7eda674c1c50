from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path

import httpx2
import pytest
from playwright.sync_api import Browser, BrowserContext, Page, expect

from tests.web.running import SIZE, Server, chromium, open_demo, running

# Long enough for a machine that does something else meanwhile; nothing waits for it otherwise.
PATIENCE_MS = 30_000
expect.set_options(timeout=PATIENCE_MS)


@pytest.fixture(scope="session")
def browser() -> Iterator[Browser]:
    with chromium() as opened:
        yield opened


@pytest.fixture(scope="session")
def server(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Server]:
    with running(tmp_path_factory.mktemp("data"), "--max-upload", "1") as started:
        yield started


@pytest.fixture(scope="session")
def context(browser: Browser) -> Iterator[BrowserContext]:
    """One for all tests, so that the front end is fetched and compiled once."""
    opened = browser.new_context(viewport=SIZE, accept_downloads=True)
    opened.set_default_timeout(PATIENCE_MS)
    yield opened
    opened.close()


@pytest.fixture
def page(
    context: BrowserContext, server: Server, request: pytest.FixtureRequest
) -> Iterator[Page]:
    """A page that may neither complain nor reach beyond its server."""
    opened = context.new_page()
    complaints: list[str] = []
    opened.on("pageerror", lambda error: complaints.append(str(error)))
    opened.on(
        "console",
        lambda message: complaints.append(message.text) if message.type == "error" else None,
    )
    outside: list[str] = []
    opened.on(
        "request",
        lambda sent: (
            outside.append(sent.url)
            if not sent.url.startswith((server.address, "blob:", "data:"))
            else None
        ),
    )
    yield opened
    expected = request.node.get_closest_marker("complains")
    # The page goes first: what it still asks for must not be missed once the study is gone.
    for page_left in context.pages:
        page_left.close()
    # Not by the browser's connections, which the server may just have closed for being idle.
    with httpx2.Client(base_url=server.address) as client:
        for study in client.get("/api/studies").json():
            client.delete(f"/api/studies/{study['id']}?for_good=true")
    assert outside == []
    if expected is None:
        assert complaints == []


@pytest.fixture
def demo(page: Page, server: Server) -> Page:
    """The demo study, its first figure drawn."""
    open_demo(page, server.address)
    return page


@pytest.fixture
def trial(tmp_path: Path) -> Path:
    """A file of one's own."""
    file = tmp_path / "run-off trial.csv"
    rows = [(d, 4 + 9.5 * d + (-1) ** d, "AB"[d % 2]) for d in range(1, 11)]
    lines = [f"{d},{s},{c}" for d, s, c in rows]
    file.write_text("\n".join(["dose (g/m²),shed (%),coating", *lines]) + "\n")
    return file
