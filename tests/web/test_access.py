"""Everyone gets in: names, keys, contrast."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path

import pytest
from playwright.sync_api import Browser, Page, expect

from tests.web.acting import choose
from tests.web.running import Server, drawn, open_demo

AXE = (Path(__file__).parents[2] / "web/node_modules/axe-core/axe.min.js").read_text()
WRONG = """async () => (await axe.run(document, { resultTypes: ['violations'] })).violations.flatMap(
  ({ id, nodes }) => nodes.map(({ target, html }) => `${id}: ${target} ${html.slice(0, 160)}`)
)"""
SETTLED = "() => Promise.all(document.getAnimations().map((a) => a.finished.catch(() => 0)))"
WIDE = {"width": 1280, "height": 800}
SIZES = (WIDE, {"width": 900, "height": 1100}, {"width": 390, "height": 844})
# These are gone through at every size and in the dark; what opens from them, once.
MAIN = {
    "readings", "tuning of marks", "rows", "handing on", "matrix and pairs", "three axes",
    "distribution and variable", "plate", "reading in", "start",
}  # fmt: skip


def views(page: Page) -> Iterator[str]:
    """Each main view, opened in turn."""

    def press(name: str, *, exact: bool = False) -> None:
        page.get_by_role("button", name=name, exact=exact).first.click()

    press("Intervals and assumptions")
    yield "readings"
    for part in ("marks", "axis across", "legend", "trend"):
        press(part, exact=True)
        yield f"tuning of {part}"
        page.keyboard.press("Escape")
    press("6 without yield")
    yield "rows"
    press("Close", exact=True)
    press("Residuals", exact=True)
    press("Compare forms")
    page.get_by_role("button", name="Adopt").first.wait_for()
    yield "residuals and forms"
    press("Hand on", exact=True)
    yield "handing on"
    press("Share as a page")
    yield "sharing"
    press("What goes across")
    page.get_by_role("combobox", name="What goes across").wait_for()
    yield "statement"
    page.keyboard.press("Escape")
    page.keyboard.press("?")
    keys = page.get_by_role("dialog", name="Keys")
    keys.wait_for()
    yield "keys"
    keys.get_by_role("button", name="Close").click()
    keys.wait_for(state="detached")
    page.keyboard.press("/")
    page.keyboard.type("bigger")
    page.get_by_role("option").first.wait_for()
    yield "find"
    page.keyboard.press("Escape")
    press("Yield, humidity, dew-point gap, wind and cloud against")
    press("pairs, strongest first")
    page.get_by_test_id("pairs").get_by_role("listitem").first.wait_for()
    yield "matrix and pairs"
    press("Yield against humidity and wind")
    drawn(page)
    yield "three axes"
    press("Yield for each mesh")
    drawn(page)
    press("Humidity, %, number")
    yield "distribution and variable"
    press("about the table nights")
    yield "table"
    page.locator("[aria-label=Plates] .figure").first.click()
    drawn(page)
    yield "plate"
    page.set_input_files(
        "input[type=file]", {"name": "a.csv", "mimeType": "text/csv", "buffer": b"a,b\n1,\n3,4\n"}
    )
    page.get_by_role("button", name="Take it in").wait_for()
    page.get_by_text("2 rows").wait_for()
    yield "reading in"
    page.goto("/".join(page.url.split("/")[:3]))
    page.get_by_role("heading", name="Studies", exact=True).wait_for()
    yield "start"


@pytest.mark.parametrize("scheme", ["light", "dark"])
def test_no_view_keeps_anyone_out(browser: Browser, server: Server, scheme: str) -> None:
    context = browser.new_context(color_scheme=scheme, viewport=WIDE)
    page = context.new_page()
    open_demo(page, server.address)
    wrong = {}
    for view in views(page):
        sizes = SIZES if view in MAIN else SIZES[:1] if scheme == "light" else ()
        for size in sizes:
            page.set_viewport_size(size)
            # Colours of buttons fade over a moment; what counts is where they end.
            page.evaluate(SETTLED)
            if not page.evaluate("() => 'axe' in window"):
                page.evaluate(AXE)
            if found := page.evaluate(WRONG):
                wrong[f"{view} at {size['width']}"] = found
        page.set_viewport_size(WIDE)
    context.close()
    assert wrong == {}


def test_the_tab_key_reaches_every_part(demo: Page) -> None:
    demo.locator("body").press("Tab")
    reached = []
    for _ in range(80):
        name = demo.evaluate(
            "() => document.activeElement.getAttribute('aria-label') "
            "|| document.activeElement.textContent.trim()"
        )
        reached.append(name)
        demo.keyboard.press("Tab")
    text = "\n".join(reached)
    for part in ("What goes up", "Band", "Yield against humidity", "Hand on", "Move", "Set aside"):
        assert part in text
    expect(demo.get_by_test_id("statement")).to_be_visible()


def test_nothing_is_wider_or_higher_than_the_screen(demo: Page) -> None:
    for width, height in ((1280, 800), (1024, 700), (1920, 1080)):
        demo.set_viewport_size({"width": width, "height": height})
        drawn(demo)
        size = demo.evaluate(
            "() => [document.documentElement.scrollWidth, document.documentElement.scrollHeight]"
        )
        assert size == [width, height]
        box = demo.locator("canvas.canvas").bounding_box()
        assert box is not None
        # Beside the readings, or where these come as a drawer, in all of the window.
        assert box["x"] + box["width"] <= (width if width < 1100 else width - 304)
        assert box["y"] + box["height"] <= height


def test_the_focus_goes_into_what_opens_and_comes_back(demo: Page) -> None:
    for name, panel in (("marks", "Tuning of Marks"), ("Humidity, %, number", "Variable Humidity")):
        opener = demo.get_by_role("button", name=name, exact=name == "marks").first
        opener.press("Enter")
        heading = demo.get_by_role("region", name=panel).get_by_role("heading").first
        expect(heading).to_be_focused()
        demo.keyboard.press("Tab")
        demo.keyboard.press("Enter")
        expect(heading).to_have_count(0)
        expect(opener).to_be_focused()


def test_what_a_figure_shows_now_is_announced_once(demo: Page) -> None:
    choose(demo, "Colour", "no colour")
    said = demo.get_by_test_id("announced")
    expect(said).to_contain_text("Yield against humidity · trend: straight line for the whole")
    expect(said).to_contain_text("Each 1")
