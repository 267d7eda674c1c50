"""Somebody comes for the first time: a file, a figure, a picture of it; and what is looked for is found."""

from __future__ import annotations

import re
from pathlib import Path

import numpy as np
import pytest
from playwright.sync_api import Page, expect

from tests.scope import only_long
from tests.web.acting import document
from tests.web.running import Server, drawn

DROP = """([name, text]) => {
  const data = new DataTransfer()
  data.items.add(new File([text], name, { type: 'text/csv' }))
  const target = document.querySelector('main')
  for (const kind of ['dragenter', 'dragover', 'drop'])
    target.dispatchEvent(new DragEvent(kind, { bubbles: true, cancelable: true, dataTransfer: data }))
}"""


def survey() -> str:
    """Forty rows: a counter, a site, two amounts that go together, and one that does not."""
    some = np.random.default_rng(7)
    lines = ["no,site,flow (L/min),depth (cm),noise"]
    for i in range(40):
        flow = 3 + i / 4 + some.normal(0, 0.4)
        lines.append(
            f"{i + 1},{'upper' if i % 2 else 'lower'},{flow:.2f},{2 * flow + 5 + some.normal(0, 1):.2f},"
            f"{some.normal(0, 1):.3f}"
        )
    return "\n".join(lines)


class Walk:
    """Counts what a person does."""

    def __init__(self, page: Page) -> None:
        self.page = page
        self.actions = 0

    def drop(self, name: str, text: str) -> None:
        """Drop a file on the page."""
        self.actions += 1
        self.page.evaluate(DROP, [name, text])

    def press(self, name: str) -> None:
        """Click what is called so."""
        self.actions += 1
        self.page.get_by_role("button", name=re.compile(rf"^(\+ [\w ]+: )?{name}")).first.click()

    def take(self, part: str, words: str) -> None:
        """Open a list of the statement, and click one of it: two actions."""
        self.press(part)
        self.actions += 1
        self.page.get_by_role("option", name=words).first.click()
        drawn(self.page)


@pytest.mark.parametrize("grouped", [pytest.param(False, marks=only_long), True])
def test_a_first_walk_from_a_file_to_a_picture(
    page: Page, server: Server, tmp_path: Path, grouped: bool
) -> None:
    page.goto(server.address)
    page.evaluate("() => localStorage.clear()")
    page.reload()
    page.get_by_role("heading", name="Drop a file here").wait_for()
    walk = Walk(page)
    walk.drop("flow.csv", survey())
    walk.press("Import")
    drawn(page)
    made = document(page)
    assert {made["x"], *made["y"]} == {"flow", "depth"}
    # A hint stands on the figure, and is gone for good once it is used.
    expect(page.get_by_role("note")).to_contain_text("Click a word of the sentence")
    if grouped:
        walk.take("Add a colour", "site")
        walk.take("Add labels", "site")
        expect(page.get_by_role("note")).to_contain_text("Click a mark")
    walk.press("Fit a straight line")
    drawn(page)
    walk.press("Export")
    with page.expect_download() as download:
        walk.press("Save PNG")
    download.value.save_as(tmp_path / "figure.png")
    assert (tmp_path / "figure.png").read_bytes()[:8] == b"\x89PNG\r\n\x1a\n"
    assert walk.actions <= (9 if grouped else 6)
    made = document(page)
    assert [trend["family"] for trend in made["trends"]] == ["straight"]
    assert {"equation", "r_squared"} <= set(made["trends"][0]["on_figure"])
    if grouped:
        assert (made["colour"]["variable"], made["names"]["variable"]) == ("site", "site")


def look_for(page: Page) -> None:
    """Press the key of the search, once it is there."""
    field = page.get_by_role("combobox", name="Find a setting")
    expect(field).to_be_visible()
    page.keyboard.press("/")
    expect(field).to_be_focused()


@pytest.mark.parametrize(
    ("wish", "part", "control"),
    [
        ("bigger text", "Titles and page", "Text size"),
        ("axis minimum", "axis", "Starts at"),
        ("make dots smaller", "Marks", "Size"),
        ("colour of the band", "Trend", "Colour of the band"),
    ],
)
def test_what_is_looked_for_is_found_lit_and_ready(
    demo: Page, wish: str, part: str, control: str
) -> None:
    look_for(demo)
    demo.keyboard.type(wish)
    demo.get_by_role("option").first.wait_for()
    demo.keyboard.press("Enter")
    tuning = demo.get_by_test_id("tuning")
    expect(tuning.get_by_role("heading").first).to_contain_text(part)
    lit = tuning.locator("[data-lit]")
    expect(lit).to_have_count(1)
    expect(lit).to_be_in_viewport()
    expect(lit).to_contain_text(control)


def test_an_act_is_done_and_what_cannot_be_done_says_why(demo: Page) -> None:
    look_for(demo)
    demo.keyboard.type("swap the axes")
    demo.get_by_role("option").first.wait_for()
    demo.keyboard.press("Enter")
    drawn(demo)
    assert (document(demo)["x"], document(demo)["y"]) == ("yield", ["humidity"])
    demo.keyboard.press("Escape")
    look_for(demo)
    demo.keyboard.type("redo")
    expect(demo.get_by_role("option").first).to_contain_text("Nothing was taken back.")


def test_nothing_is_said_of_studies_before_it_is_known(page: Page, server: Server) -> None:
    # Never answered.
    page.route("**/api/studies**", lambda _: None)
    page.goto(server.address)
    expect(page.get_by_text("Looking for your studies")).to_be_visible()
    expect(page.get_by_text("No study yet")).to_have_count(0)
    page.goto(f"{server.address}/studies/any")
    expect(page.get_by_text("Opening the study")).to_be_visible()
    expect(page.get_by_text("No table yet")).to_have_count(0)
    expect(page.get_by_text("No figure yet")).to_have_count(0)
