"""Starting the real app and a real browser, for tests, pictures and measurements."""

from __future__ import annotations

import subprocess
import sys
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from playwright.sync_api import Browser, Page, sync_playwright

SIZE = {"width": 1280, "height": 800}
_FLAGS = (
    "--no-sandbox --disable-gpu --disable-quic --disable-background-networking "
    "--disable-component-update --disable-sync --no-first-run"
).split()


class Server:
    """A server of its own process, on a port of its own."""

    def __init__(self, data: Path, *options: str, command: str = "serve") -> None:
        arguments = [sys.executable, "-m", "yarrowdew.cli", command, "--data", str(data)]
        self._process = subprocess.Popen(  # noqa: S603 (our own command)
            [*arguments, "--port", "0", *options], stdout=subprocess.PIPE, text=True
        )
        assert self._process.stdout is not None
        first = self._process.stdout.readline()
        self.address = "/".join(first.split(" is at ")[1].split("/")[:3])

    def kill(self) -> None:
        """End it at once, as a power cut would."""
        self._process.kill()
        self._process.wait()
        assert self._process.stdout is not None
        self._process.stdout.close()


@contextmanager
def running(data: Path, *options: str) -> Iterator[Server]:
    """Run a server for as long as the block lasts."""
    server = Server(data, *options)
    try:
        yield server
    finally:
        server.kill()


@contextmanager
def chromium() -> Iterator[Browser]:
    """Run a headless browser for as long as the block lasts."""
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=_FLAGS)
        yield browser
        browser.close()


# Pages without an origin keep nothing.
_NO_HINTS = """
if (location.origin.startsWith('http'))
  localStorage.setItem('yarrowdew hints that are gone', 'word part find')
"""


def open_demo(page: Page, address: str, *, hints: bool = False) -> None:
    """Open the demo study, of one who has read the hints, and wait until its figure is drawn."""
    if not hints:
        page.add_init_script(_NO_HINTS)
    made = page.request.post(f"{address}/api/studies/demo").json()
    page.goto(f"{address}/studies/{made['id']}")
    drawn(page)


def drawn(page: Page) -> None:
    """Wait until the figure is drawn and nothing is on its way."""
    page.locator("canvas.canvas[data-drawn]:not([data-stand-in])").wait_for()
    page.locator(".page[aria-busy=true]").wait_for(state="detached")
    page.locator(".waiting").wait_for(state="detached")
    # What an answer changes is drawn with the next frame.
    page.evaluate(
        "() => new Promise((drawn) => requestAnimationFrame(() => requestAnimationFrame(drawn)))"
    )
