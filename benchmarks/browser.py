"""The page: how soon the figure is seen, and how fast marks are drawn."""

from __future__ import annotations

import tempfile
from collections.abc import Iterator
from pathlib import Path
from statistics import median

from playwright.sync_api import Browser, Page
from tests.web.running import SIZE, Server, chromium, drawn, running

from benchmarks.measuring import Ratio, milliseconds
from benchmarks.numbers import eight_columns
from yarrowdew.store import Store

MOST_MS_TO_FIGURE = 1500

# Made by `make bench` from web/bench/marks.ts: the drawing modules and nothing else.
_MODULES = Path(__file__).parents[1] / "build" / "bench" / "marks.js"

_MILLION = """async () => {
  const { shade, indexMarks, namesOn, randomMarks } = window.bench
  const item = randomMarks(1_000_000)
  const time = (work) => {
    const start = performance.now()
    work()
    return performance.now() - start
  }
  const median = (work, runs = 7) => {
    work()
    return Array.from({ length: runs }, () => time(work)).sort((a, b) => a - b)[runs >> 1]
  }
  const index = indexMarks(item.x, item.y, item.clip)
  const rope = Array.from({ length: 60 }, (_, i) => {
    const angle = (i * Math.PI) / 30
    const radius = i % 2 ? 180 : 260
    return [450 + radius * Math.cos(angle), 300 + radius * Math.sin(angle)]
  }).flat()
  return {
    shading: median(() => shade(item, 900, 600, 1)),
    index: median(() => indexMarks(item.x, item.y, item.clip), 5),
    nearest: median(() => {
      for (let k = 0; k < 1000; k++) index.nearest((k * 37) % 900, (k * 53) % 600, 5)
    }) / 1000,
    rope: median(() => index.inside(rope)),
    names: median(namesOn(2000, 200)),
  }
}"""
_PROMISED_MS = {
    "shading": ("1,000,000 marks in density shading", 40),
    "index": ("index of 1,000,000 marks built", 200),
    "nearest": ("nearest mark among 1,000,000", 1),
    "names": ("200 names placed among 2,000 marks", 100),
    "rope": ("rope of 60 corners over 1,000,000 marks", 50),
}

_DRAW = """async (count) => {
  const { rasterise, randomMarks } = window.bench
  const item = randomMarks(count)
  const canvas = document.createElement('canvas')
  canvas.width = 900
  canvas.height = 600
  const context = canvas.getContext('2d')
  const ours = () => {
    const { data } = rasterise(item, 900, 600, 1)
    context.putImageData(new ImageData(new Uint8ClampedArray(data.buffer), 900, 600), 0, 0)
    context.getImageData(0, 0, 1, 1)
  }
  const arcs = () => {
    context.clearRect(0, 0, 900, 600)
    for (let i = 0; i < count; i++) {
      const { colour: [r, g, b], opacity, size } = item.looks[item.look[i]]
      context.fillStyle = `rgba(${r},${g},${b},${opacity})`
      context.beginPath()
      context.arc(item.x[i], item.y[i], size / 2, 0, 2 * Math.PI)
      context.fill()
    }
    context.getImageData(0, 0, 1, 1)
  }
  const time = (work) => {
    const start = performance.now()
    work()
    return performance.now() - start
  }
  ours()
  arcs()
  const pairs = []
  for (let k = 0; k < 7; k++) pairs.push([time(ours), time(arcs)])
  return pairs
}"""


def marks_drawn(browser: Browser, server: Server) -> Iterator[Ratio]:
    """Marks against one arc and fill each, and what is done with a million of them."""
    page = browser.new_page(viewport=SIZE, bypass_csp=True)
    page.goto(f"{server.address}/api/docs")
    page.add_script_tag(path=_MODULES)
    for count, times in ((100_000, 6), (1_000_000, 8)):
        pairs = page.evaluate(_DRAW, count)
        ours, arcs = (median(pair[k] for pair in pairs) for k in (0, 1))
        yield Ratio(f"{count:,} marks drawn (one arc and fill each)", ours, arcs, 1 / times)
    found = page.evaluate(_MILLION)
    for key, (name, most) in _PROMISED_MS.items():
        yield Ratio(name, found[key], most, 1)
    page.close()


def figure_seen(browser: Browser, server: Server) -> Ratio:
    """From opening the page to the demo figure, on a warm server."""
    times = []
    for _ in range(6):
        context = browser.new_context(viewport=SIZE)
        page = context.new_page()
        study = page.request.post(f"{server.address}/api/studies/demo").json()

        def opened(page: object = page, study: dict = study) -> None:
            page.goto(f"{server.address}/studies/{study['id']}")  # type: ignore[attr-defined]
            drawn(page)  # type: ignore[arg-type]

        times.append(milliseconds(opened))
        context.close()
    return Ratio("demo figure seen after opening the page", median(times[1:]), MOST_MS_TO_FIGURE, 1)


_WATCH_FRAMES = """() => {
  window.worst = 0
  let last = performance.now()
  const look = (now) => {
    window.worst = Math.max(window.worst, now - last)
    last = now
    requestAnimationFrame(look)
  }
  requestAnimationFrame((now) => { last = now; requestAnimationFrame(look) })
}"""


def matrix_opened(browser: Browser, server: Server, data: Path, rows: int) -> Iterator[Ratio]:
    """A matrix of eight variables on the page: first picture, then rows selected in one cell."""
    store = Store(data)
    study = store.studies.create(f"matrix of {rows}")
    table, document = eight_columns(rows)
    store.tables.add(study.id, table, [document])
    store.close()
    times = []
    for run in range(4):
        page = browser.new_context(viewport=SIZE).new_page()

        def opened(page: object = page) -> None:
            page.goto(f"{server.address}/studies/{study.id}")  # type: ignore[attr-defined]
            drawn(page)  # type: ignore[arg-type]

        times.append(milliseconds(opened))
        if run < 3:  # the last page is used on
            page.context.close()
    yield Ratio(f"matrix of 8 x {rows:,} seen after opening", median(times[1:]), 2500, 1)
    if True:
        yield Ratio(f"worst frame of brushing, 8 x {rows:,}", _brushed(page), 50, 1)
    page.context.close()


def _brushed(page: Page) -> float:
    """Select marks by a box in one cell, again and again, and tell the longest frame."""
    page.wait_for_timeout(1500)
    page.get_by_role("button", name="Box", exact=True).click()
    box = page.locator("canvas.canvas").bounding_box() or {}
    at = (box["x"] + box["width"] * 0.22, box["y"] + box["height"] * 0.08)
    page.mouse.move(*at)
    page.evaluate(_WATCH_FRAMES)
    for k in range(6):
        page.mouse.move(*at)
        page.mouse.down()
        page.mouse.move(at[0] + 10 + 4 * k, at[1] + 10 + 4 * k, steps=6)
        page.mouse.up()
        page.wait_for_timeout(150)
    return float(page.evaluate("() => window.worst"))


def all_ratios() -> Iterator[Ratio]:
    """Every measurement of this module."""
    with (
        tempfile.TemporaryDirectory() as data,
        running(Path(data)) as server,
        chromium() as browser,
    ):
        yield figure_seen(browser, server)
        for rows in (5_000, 100_000):
            yield from matrix_opened(browser, server, Path(data), rows)
        yield from marks_drawn(browser, server)
