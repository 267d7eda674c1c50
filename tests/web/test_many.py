"""Very many marks: drawn beside the page, and the same to the pixel as in one go."""

from __future__ import annotations

from collections.abc import Callable, Iterator

import numpy as np
import polars as pl
import pytest
from playwright.sync_api import Browser, Page, expect

from tests.scope import only_long
from tests.web.running import SIZE, Server, drawn, running
from yarrowdew.figures.figure import FigureDocument
from yarrowdew.store import Store
from yarrowdew.tables.table import Kind, Table, Variable

ROWS = 60_000


@pytest.fixture(scope="module")
def many(tmp_path_factory: pytest.TempPathFactory) -> Iterator[tuple[Server, str]]:
    """A table above every limit of what is drawn on the page itself, with awkward values in it."""
    draw = np.random.default_rng(20310512)
    x = draw.normal(10, 3, ROWS)
    y = np.exp(draw.normal(0, 1, ROWS)) * np.where(np.arange(ROWS) % 97, 1, -1)
    x[::1001] = np.nan
    frame = pl.DataFrame(
        {
            "x": pl.Series(x).fill_nan(None),
            "y": y,
            "g": pl.Series(np.array(["a", "b", "c"])[np.arange(ROWS) % 3], dtype=pl.Enum("abc")),
        }
    )
    kinds = {"x": Kind.NUMBER, "y": Kind.NUMBER, "g": Kind.CATEGORY}
    table = Table("many", tuple(Variable(n, kind, n) for n, kind in kinds.items()), frame)
    document = FigureDocument.model_validate(
        {"table": "t", "x": "x", "y": ["y"], "colour": {"variable": "g"}, "trends": [{}]}
        | {"error_bars": {"x": {"kind": "fixed", "amount": 0.3}, "y": {"kind": "share"}}}
    )
    data = tmp_path_factory.mktemp("many")
    store = Store(data)
    study = store.studies.create("many")
    store.tables.add(study.id, table, [document])
    store.close()
    with running(data) as server:
        yield server, study.id


@pytest.fixture
def opened(browser: Browser, many: tuple[Server, str]) -> Iterator[Callable[[bool], Page]]:
    """Opens the figure, with or without something that draws beside the page."""
    server, study = many
    contexts = []

    def opening(beside: bool) -> Page:
        context = browser.new_context(viewport=SIZE)
        contexts.append(context)
        page = context.new_page()
        if not beside:
            page.add_init_script("delete window.Worker")
        page.goto(f"{server.address}/studies/{study}")
        drawn(page)
        assert len(page.workers) == int(beside)
        return page

    yield opening
    for context in contexts:
        context.close()


def seen(page: Page) -> list[int]:
    """Digest of the true picture, once nothing is on its way."""
    page.locator("canvas.canvas:not([data-stand-in])").wait_for()
    return page.evaluate(
        """async () => {
          const canvas = document.querySelector('canvas.canvas')
          const { data } = canvas.getContext('2d').getImageData(0, 0, canvas.width, canvas.height)
          return [...new Uint8Array(await crypto.subtle.digest('SHA-256', data))]
        }"""
    )


def act(page: Page, action: str) -> None:
    before = page.locator("canvas.canvas").get_attribute("data-drawn")
    box = page.locator("canvas.canvas").bounding_box()
    assert box is not None
    page.mouse.move(box["x"] + 0.4 * box["width"], box["y"] + 0.5 * box["height"])
    if action == "zoom":
        page.mouse.wheel(0, -300)
    elif action == "deep":
        for _ in range(8):
            page.mouse.wheel(0, -300)
    elif action == "move":
        page.locator("canvas.canvas").press("Shift+ArrowRight")
    else:
        page.locator("canvas.canvas").press("0")
    expect(page.locator("canvas.canvas:not([data-stand-in])")).not_to_have_attribute(
        "data-drawn", before or ""
    )


@only_long
def test_what_is_drawn_beside_the_page_is_the_same_to_the_pixel(
    opened: Callable[[bool], Page],
) -> None:
    beside, alone = opened(True), opened(False)
    pictures = {tuple(seen(beside))}
    assert seen(alone) in [list(one) for one in pictures]
    for action in ("zoom", "move", "deep", "home"):
        for page in (beside, alone):
            act(page, action)
        assert seen(beside) == seen(alone), action
        pictures.add(tuple(seen(beside)))
    # Each view was another picture, and the last of them the first again.
    assert len(pictures) == 4


def test_rows_are_told_and_selected_where_they_are_drawn(opened: Callable[[bool], Page]) -> None:
    found = []
    for page in (opened(True), opened(False)):
        act(page, "deep")
        seen(page)
        page.get_by_role("button", name="Box", exact=True).click()
        box = page.locator("canvas.canvas").bounding_box()
        assert box is not None
        x, y = box["x"] + 0.3 * box["width"], box["y"] + 0.35 * box["height"]
        page.mouse.move(x, y)
        page.mouse.down()
        page.mouse.move(x + 220, y + 190, steps=4)
        page.mouse.up()
        panel = page.get_by_role("heading", name="selected")
        found.append(panel.inner_text())
        assert found[-1][0] not in "0N"
    assert found[0] == found[1]


@only_long
def test_a_broken_worker_is_no_loss(browser: Browser, many: tuple[Server, str]) -> None:
    server, study = many
    page = browser.new_context(viewport=SIZE).new_page()
    page.route("**/*marks-worker*", lambda route: route.abort())
    page.goto(f"{server.address}/studies/{study}")
    drawn(page)
    act(page, "zoom")
    page.context.close()


@only_long
def test_two_figures_on_a_plate_are_drawn_each_in_its_place(
    opened: Callable[[bool], Page], many: tuple[Server, str]
) -> None:
    server, study = many
    pages = opened(True), opened(False)
    place = f"{server.address}/api/studies/{study}"
    figure = pages[0].request.get(place).json()["figures"][0]["id"]
    cells = [{"figure": figure}, {"figure": figure}]
    plate = pages[0].request.post(f"{place}/plates", data={"cells": cells}).json()
    pictures = []
    for page in pages:
        page.goto(f"{server.address}/studies/{study}/plates/{plate['id']}")
        drawn(page)
        pictures.append(seen(page))
    assert pictures[0] == pictures[1]
    pages[0].request.delete(f"{server.address}/api/plates/{plate['id']}")
