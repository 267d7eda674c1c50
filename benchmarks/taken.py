"""From a file to its figure, a trend put on, a cell written: what is waited for once."""

from __future__ import annotations

import http.client
import json
import tempfile
from collections.abc import Iterator
from pathlib import Path
from statistics import median

from playwright.sync_api import Browser, Page
from tests.web.acting import choose
from tests.web.running import SIZE, chromium, drawn, running

from benchmarks.measuring import Ratio, milliseconds
from yarrowdew.demo.tables import drift
from yarrowdew.figures.figure import FigureDocument
from yarrowdew.store import Store
from yarrowdew.tables.writing import write_table

SIZES = {100_000: (700, 300), 1_000_000: (2500, 600)}
"""Rows, and milliseconds promised: from the file to its figure, and until a trend stands."""

# From a click, or a key, until the figure that it asks for stands.
_WATCH = """() => {
  const state = { from: 0, stood: null }
  window.stands = state
  const begun = () => {
    Object.assign(state, { from: performance.now(), stood: null })
    let seen = false
    const look = () => {
      const canvas = document.querySelector('canvas.canvas')
      const busy = document.querySelector('.page[aria-busy=true], .waiting')
      seen = seen || !canvas || busy !== null || canvas.dataset.standIn !== undefined
      const stands = canvas && canvas.dataset.drawn !== undefined && !canvas.dataset.standIn
      if (seen && stands && !busy) state.stood = performance.now() - state.from
      else requestAnimationFrame(look)
    }
    requestAnimationFrame(look)
  }
  addEventListener('click', begun, true)
  addEventListener('keydown', (event) => { if (event.key === 'Enter') begun() }, true)
}"""


def _stood(page: Page) -> float:
    while page.evaluate("window.stands.stood") is None:
        page.wait_for_timeout(20)
    return page.evaluate("window.stands.stood")


def from_the_file(browser: Browser, address: str, folder: Path) -> Iterator[Ratio]:
    """From the click on *Take it in* until the figure stands; then a trend is put on."""
    for rows, (most, most_trend) in SIZES.items():
        file = folder / f"drift {rows}.csv"
        file.write_bytes(write_table(drift(rows), "csv"))
        page = browser.new_page(viewport=SIZE)
        page.set_default_timeout(60_000)
        page.goto(address)
        page.set_input_files("input[type=file]", file)
        page.get_by_role("button", name="Import", exact=True).wait_for()
        page.wait_for_timeout(500)
        page.evaluate(_WATCH)
        page.get_by_role("button", name="Import", exact=True).click()
        yield Ratio(f"file taken in and drawn, {rows:,} rows", _stood(page), most, 1)
        drawn(page)
        page.wait_for_timeout(1500)
        choose(page, "Trend", "straight")
        yield Ratio(f"trend put on, {rows:,} rows", _stood(page), most_trend, 1)
        page.close()


def _asked(connection: http.client.HTTPConnection, how: str, where: str, body: object) -> float:
    def work() -> None:
        connection.request(how, where, json.dumps(body), {"Content-Type": "application/json"})
        response = connection.getresponse()
        found = response.read()
        assert response.status == 200, found

    return milliseconds(work)


def a_cell(address: str, table: str, version: int) -> Iterator[Ratio]:
    """A cell of a million rows, written and taken back."""
    connection = http.client.HTTPConnection(address.removeprefix("http://"))
    written, taken_back = [], []
    for _ in range(7):
        cells = {"cells": [{"row": 500_000, "variable": "uptake", "text": "1.5"}]}
        written.append(_asked(connection, "PATCH", f"/api/tables/{table}/rows", cells))
        back = {"version": version}
        taken_back.append(_asked(connection, "PUT", f"/api/tables/{table}/version", back))
    yield Ratio("a cell of 1,000,000 rows written", median(written), 150, 1)
    yield Ratio("and taken back", median(taken_back), 150, 1)


def _opens(browser: Browser, address: str, study: str) -> float:
    def work() -> None:
        page.goto(f"{address}/studies/{study}")
        drawn(page)

    times = []
    for _ in range(5):
        page = browser.new_page(viewport=SIZE)
        times.append(milliseconds(work))
        page.close()
    return median(times)


def all_ratios() -> Iterator[Ratio]:
    """Every measurement of this module."""
    with tempfile.TemporaryDirectory() as named:
        folder = Path(named)
        store = Store(folder / "data")
        large = store.tables.add(store.studies.create("large").id, drift(1_000_000))
        document = FigureDocument.model_validate(
            {"table": "t", "x": "humidity", "y": ["uptake"], "trends": [{}]}
        )
        studies = {}
        for count in (6, 200):
            studies[count] = store.studies.create(f"{count} figures").id
            store.tables.add(studies[count], drift(2_000), [document] * count)
        store.close()
        with running(folder / "data") as server, chromium() as browser:
            yield from a_cell(server.address, large.id, large.version)
            few = _opens(browser, server.address, studies[6])
            many = _opens(browser, server.address, studies[200])
            yield Ratio("a study of 200 figures opens (of 6)", many, few, 1.25)
            yield from from_the_file(browser, server.address, folder)
