"""A dataset in the browser: opened, shaded from afar, its rows from near."""

from __future__ import annotations

import re
from pathlib import Path

import numpy as np
import polars as pl
import pytest
from playwright.sync_api import Browser, expect

from tests.web.acting import statement
from tests.web.running import SIZE, drawn, running

ROWS = 120_000


@pytest.fixture(scope="module")
def sets(tmp_path_factory: pytest.TempPathFactory) -> Path:
    folder = tmp_path_factory.mktemp("sets") / "nights"
    folder.mkdir()
    rng = np.random.default_rng(2)
    for place in range(2):
        humidity = rng.normal(80, 6, ROWS // 2)
        frame = {"humidity": humidity, "uptake": 2 * humidity + rng.normal(0, 9, ROWS // 2)}
        pl.DataFrame(frame).write_parquet(folder / f"{place}.parquet")
    return folder.parent


def test_it_is_shaded_from_afar_and_shows_its_rows_from_near(
    browser: Browser, sets: Path, tmp_path: Path
) -> None:
    complaints: list[str] = []
    with running(tmp_path, "--datasets", str(sets)) as server:
        page = browser.new_page(viewport=SIZE)
        page.on("console", lambda m: complaints.append(m.text) if m.type == "error" else None)
        page.on("pageerror", lambda error: complaints.append(str(error)))
        page.goto(server.address)
        page.get_by_role("button", name="New study").click()
        page.get_by_role("button", name="+ Open a dataset").click()
        page.get_by_role("button", name=re.compile("nights")).click()
        drawn(page)
        assert statement(page).startswith("Uptake against humidity")
        counts = page.get_by_test_id("counts")
        expect(counts).to_have_text("120\u202f000 rows, shaded by count")
        page.get_by_role("button", name="Fit a straight line").click()
        expect(page.get_by_text("120,000").first).to_be_visible()
        # What needs all rows says why it is off, and does nothing.
        for name in ("Residuals", "Compare trends", "Box", "+ size: Add a size"):
            off = page.get_by_role("button", name=name, exact=True)
            expect(off).to_have_attribute("aria-description", re.compile("all rows|Zoom in"))
            off.dispatch_event("click")
        expect(page.get_by_role("listbox")).to_have_count(0)
        expect(page.get_by_test_id("compare")).to_have_count(0)
        page.get_by_role("button", name="Residuals").focus()
        page.keyboard.press("Shift+Tab")
        page.keyboard.press("Tab")
        expect(page.get_by_role("tooltip", name=re.compile("read in chunks"))).to_be_visible()
        page.keyboard.press("Escape")
        for _ in range(10):
            page.get_by_role("button", name="Zoom in").click()
        expect(counts).to_have_text(re.compile(r"^[\d\u202f]+ marks in view, of 120\u202f000 rows"))
        drawn(page)
        # The line is that of all rows, wherever one looks.
        expect(page.get_by_text("120,000").first).to_be_visible()
        # Rows that are drawn one by one have names.
        page.get_by_role("button", name="+ labels: Add labels").click()
        page.get_by_role("option", name="Humidity").click()
        drawn(page)
        expect(page.get_by_text("Labels are shown where")).to_have_count(0)
        page.keyboard.press("Control+z")
        drawn(page)
        # What is handed on is all of the figure, and what the server draws of it.
        page.get_by_role("button", name="Export").click()
        with page.expect_download() as download:
            page.get_by_role("button", name="Save SVG").click()
        saved = Path(download.value.path()).read_bytes()
        figure = page.url.split("/")[-1]
        drawn_there = page.request.get(
            f"{server.address}/api/figures/{figure}/image", headers={"Accept": "image/svg+xml"}
        )
        assert saved == drawn_there.body()
        # Shared are the counts: the page is of one file, and shows them without a server.
        page.get_by_role("button", name="Share as a page").click()
        expect(page.get_by_role("group", name="What goes out")).to_contain_text(
            "Rows of a dataset are never shared"
        )
        with page.expect_download() as download:
            page.get_by_role("button", name="Save as one HTML file").click()
        shared = tmp_path / "shared.html"
        download.value.save_as(shared)
        other = browser.new_page(viewport=SIZE)
        other.on("pageerror", lambda error: complaints.append(str(error)))
        other.goto(shared.as_uri())
        drawn(other)
        expect(other.get_by_text("120,000").first).to_be_visible()
        other.close()
        page.get_by_role("button", name="Readings").click()
        page.get_by_role("button", name="Show all").click()
        expect(counts).to_have_text("120\u202f000 rows, shaded by count")
        # A distribution and a matrix are made of counts; what would need rows is off.
        page.get_by_role("button", name="+ distribution: Show its distribution").click()
        page.get_by_role("option", name="Uptake by itself").click()
        drawn(page)
        assert statement(page).startswith("Uptake by itself, as histogram and density")
        expect(counts).to_have_text("120\u202f000 rows, counted")
        box = page.get_by_role("button", name="Box", exact=True)
        expect(box).to_have_attribute("aria-description", re.compile("all rows"))
        page.get_by_role("button", name="+ matrix: Every pair against each other").click()
        drawn(page)
        expect(page.get_by_text("120\u202f000 of 120\u202f000 rows have every")).to_be_visible()
        expect(counts).to_have_text("120\u202f000 rows, counted")
        for _ in range(2):
            page.keyboard.press("Control+z")
            drawn(page)
        # A variable is made of two others, of every row, and shown.
        page.get_by_role("button", name="+ Derive a variable").click()
        panel = page.get_by_test_id("derive")
        panel.get_by_label("Name").fill("ratio")
        panel.get_by_label("Expression").fill("uptake / humidity")
        page.get_by_role("button", name="Add it").click()
        expect(page.get_by_text("120000", exact=True)).to_be_visible()
        page.get_by_role("button", name="y variable: Uptake").click()
        page.get_by_role("option", name="Ratio").click()
        drawn(page)
        assert statement(page).startswith("Ratio against humidity")
        expect(counts).to_have_text("120\u202f000 rows, shaded by count")
        # Three axes show some of the rows, and say so.
        page.get_by_role("button", name="+ third axis").click()
        page.get_by_role("option", name="Uptake").click()
        drawn(page)
        expect(counts).to_have_text("6\u202f000 marks, a sample of 120\u202f000 rows")
        page.get_by_role("button", name="Rows", exact=True).click()
        expect(page.get_by_text("120\u202f000 rows", exact=True).first).to_be_visible()
        page.close()
    assert complaints == []
