from __future__ import annotations

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path

import httpx2
import pytest
from playwright.sync_api import (
    Browser,
    BrowserContext,
    ConsoleMessage,
    Error,
    Page,
    Request,
    Response,
    expect,
)

from tests.web.running import SIZE, Server, chromium, running
from tests.web.turning import TurnedPage

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
    # As one who asks for little motion sees it: nothing fades, and nothing is waited for that does.
    opened = browser.new_context(viewport=SIZE, accept_downloads=True, reduced_motion="reduce")
    opened.set_default_timeout(PATIENCE_MS)
    yield opened
    opened.close()


@contextmanager
def watched(
    opened: Page, server: Server, request: pytest.FixtureRequest, leave: Callable[[], None]
) -> Iterator[None]:
    """Let a page neither complain nor reach beyond its server; nothing is left for the next test."""
    complaints: list[str] = []
    outside: list[str] = []

    def hear(message: ConsoleMessage) -> None:
        # What the browser says of a refused request names no address: `get` says it better.
        if message.type == "error" and "responded with a status of" not in message.text:
            complaints.append(message.text)

    def get(response: Response) -> None:
        if response.status >= 400:
            complaints.append(f"{response.status} for {response.request.method} {response.url}")

    def see(sent: Request) -> None:
        if not sent.url.startswith((server.address, "blob:", "data:")):
            outside.append(sent.url)

    def fail(error: Error) -> None:
        complaints.append(str(error))

    opened.on("pageerror", fail)
    opened.on("console", hear)
    opened.on("request", see)
    opened.on("response", get)
    yield
    # The page goes first: what it still asks for must not be missed once the study is gone.
    leave()
    # Not by the browser's connections, which the server may just have closed for being idle.
    with httpx2.Client(base_url=server.address) as client:
        for study in client.get("/api/studies").json():
            client.delete(f"/api/studies/{study['id']}?for_good=true")
    opened.remove_listener("pageerror", fail)
    opened.remove_listener("console", hear)
    opened.remove_listener("request", see)
    opened.remove_listener("response", get)
    assert outside == []
    if request.node.get_closest_marker("complains") is None:
        assert complaints == []


@pytest.fixture
def page(
    context: BrowserContext, server: Server, request: pytest.FixtureRequest, turned: TurnedPage
) -> Iterator[Page]:
    """A page of its own."""
    opened = context.new_page()
    with watched(opened, server, request, lambda: turned.close_others(context)):
        yield opened


@pytest.fixture(scope="session")
def turned() -> TurnedPage:
    """The one page in which study after study is opened."""
    return TurnedPage()


@pytest.fixture
def demo(
    context: BrowserContext, server: Server, request: pytest.FixtureRequest, turned: TurnedPage
) -> Iterator[Page]:
    """The demo study, its first figure drawn."""
    opened = turned.open(context, server)
    failed_before = request.session.testsfailed

    def leave() -> None:
        turned.close_others(context)
        turned.leave(server, is_sound=request.session.testsfailed == failed_before)

    with watched(opened, server, request, leave):
        yield opened


@pytest.fixture
def trial(tmp_path: Path) -> Path:
    """A file of one's own."""
    file = tmp_path / "run-off trial.csv"
    rows = [(d, 4 + 9.5 * d + (-1) ** d, "AB"[d % 2]) for d in range(1, 11)]
    lines = [f"{d},{s},{c}" for d, s, c in rows]
    file.write_text("\n".join(["dose (g/m²),shed (%),coating", *lines]) + "\n")
    return file
