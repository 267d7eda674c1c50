"""Everyone gets in: names, keys, contrast."""

from __future__ import annotations

import re
from collections.abc import Iterator
from pathlib import Path

import pytest
from playwright.sync_api import Browser, FloatRect, Page, expect

from tests.scope import LONG, only_long
from tests.web.acting import canvas, choose, document, fingers, origin
from tests.web.running import Server, drawn, open_demo

AXE = (Path(__file__).parents[2] / "web/node_modules/axe-core/axe.min.js").read_text()
WRONG = """async (more) => (
  await axe.run(document, { resultTypes: ['violations'], ...more })
).violations.flatMap(
  ({ id, nodes }) => nodes.map(({ target, html }) => `${id}: ${target} ${html.slice(0, 160)}`)
)"""
# What a theme can change; names, roles and order are the same in both.
OF_A_THEME = {"runOnly": ["color-contrast", "link-in-text-block"]}
SETTLED = "() => Promise.all(document.getAnimations().map((a) => a.finished.catch(() => 0)))"
WIDE = {"width": 1280, "height": 800}
SIZES = (WIDE, {"width": 900, "height": 1100}, {"width": 390, "height": 844})
# These are gone through at every size and in the dark; what opens from them, once.
MAIN = {
    "readings", "tuning of marks", "rows", "handing on", "matrix and pairs", "three axes",
    "distribution and variable", "plate", "reading in", "start", "shared page",
}  # fmt: skip


def views(page: Page) -> Iterator[str]:
    """Each main view, opened in turn."""

    def press(name: str, *, exact: bool = False) -> None:
        page.get_by_role("button", name=name, exact=exact).first.click()

    page.get_by_text("Intervals and assumptions").first.click()
    yield "readings"
    for part in ("marks", "x axis", "legend", "trend"):
        press(part, exact=True)
        yield f"tuning of {part}"
        page.keyboard.press("Escape")
    press("6 rows lack yield")
    yield "rows"
    press("Close", exact=True)
    press("Residuals", exact=True)
    press("Compare trends")
    page.get_by_role("button", name="Use the").first.wait_for()
    yield "residuals and forms"
    press("Export", exact=True)
    yield "handing on"
    press("Share as a page")
    press("Create private link")
    # The same study may have been shared before: the newest comes first.
    page.get_by_text("Shared, as it is now.").wait_for()
    link = page.get_by_role("list", name="Shared pages").get_by_role("link").first
    shared = origin(page) + (link.get_attribute("href") or "")
    yield "sharing"
    press("x variable")
    page.get_by_role("combobox", name="x variable").wait_for()
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
    press("strongest pairs")
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
    page.get_by_role("button", name="Import", exact=True).wait_for()
    page.get_by_text("2 rows").wait_for()
    yield "reading in"
    page.goto(origin(page))
    page.get_by_role("heading", name="Studies", exact=True).wait_for()
    yield "start"
    page.goto(shared)
    page.get_by_role("article", name="Readings of Dunlin").wait_for()
    drawn(page)
    yield "shared page"


@pytest.mark.parametrize("scheme", ["light", pytest.param("dark", marks=only_long)])
def test_no_view_keeps_anyone_out(browser: Browser, server: Server, scheme: str) -> None:
    context = browser.new_context(color_scheme=scheme, viewport=WIDE)
    page = context.new_page()
    open_demo(page, server.address)
    wrong = {}
    for place, view in enumerate(views(page)):
        sizes = SIZES if view in MAIN else SIZES[:1]
        if not LONG:
            # Each view once: the main ones wide and narrow by turns, in the dark the other way.
            turn = 2 * ((place + (scheme == "dark")) % 2)
            sizes = (SIZES[turn],) if view in MAIN else sizes * (scheme == "light")
        for size in sizes:
            page.set_viewport_size(size)
            # Colours of buttons fade over a moment; what counts is where they end.
            page.evaluate(SETTLED)
            if not page.evaluate("() => 'axe' in window"):
                page.evaluate(AXE)
            if found := page.evaluate(WRONG, {} if scheme == "light" else OF_A_THEME):
                wrong[f"{view} at {size['width']}"] = found
        page.set_viewport_size(WIDE)
    for study in page.request.get(f"{server.address}/api/studies").json():
        page.request.delete(f"{server.address}/api/studies/{study['id']}?for_good=true")
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
    for part in ("y variable", "Band", "Yield against humidity", "Export", "Pan", "Show in table"):
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
    expect(said).to_contain_text("Yield against humidity · trend: straight line for all rows")
    expect(said).to_contain_text("Per 1")


def test_a_finger_asks_and_moves_no_axis_by_accident(demo: Page) -> None:
    held = canvas(demo).bounding_box()
    assert held is not None
    finger = fingers(demo)
    before = document(demo)["axes"]
    middle, foot = held["x"] + held["width"] / 2, held["y"] + held["height"] - 40
    finger("touchStart", (middle + 200, foot))
    for by in range(0, 200, 20):
        finger("touchMove", (middle + 200 - by, foot))
    finger("touchEnd")
    expect(demo.get_by_role("button", name="Undo")).to_be_disabled()
    assert document(demo)["axes"] == before
    # A mark is found by the keys; a finger that rests on it says the same, and opens nothing.
    canvas(demo).focus()
    demo.keyboard.press("ArrowRight")
    hover = demo.locator(".hover")
    row = hover.inner_text().splitlines()[0]
    demo.keyboard.press("Escape")
    expect(hover).to_have_count(0)
    finger("touchStart", mark_left_of_all(demo, held))
    expect(hover).to_contain_text(row)
    finger("touchEnd")
    expect(hover).to_contain_text(row)
    expect(demo.get_by_test_id("tuning")).to_have_count(0)


def test_two_fingers_move_the_view_and_leave_its_width(demo: Page) -> None:
    held = canvas(demo).bounding_box()
    assert held is not None
    x, y = held["x"] + held["width"] / 2, held["y"] + held["height"] / 2
    touch = fingers(demo)

    def moved_right(by: int) -> tuple[float, float]:
        touch("touchStart", (x - 50, y))
        touch("touchStart", (x - 50, y), (x + 50, y))
        for way in range(0, by + 1, 20):
            touch("touchMove", (x - 50 + way, y), (x + 50 + way, y))
        touch("touchEnd")
        said = demo.get_by_test_id("announced")
        expect(said).to_contain_text("In view")
        expect(said).not_to_contain_text(before[-1])
        before.append(re.search(r"In view: .*?%", said.inner_text())[0])  # type: ignore[index]
        low, high = re.findall(r"[\d.]+", before[-1])
        return float(low), float(high)

    before = ["nothing yet"]
    first, second = moved_right(60), moved_right(60)
    # To the right goes the paper: its ends lie lower, by as much each time, as far apart.
    assert second[0] < first[0]
    assert second[1] - second[0] == pytest.approx(first[1] - first[0], rel=0.01)


def mark_left_of_all(page: Page, held: FloatRect) -> tuple[float, float]:
    """Where the mark with the smallest x lies: looked for by its ink, column by column."""
    found = page.evaluate(
        """() => {
          const canvas = document.querySelector('canvas.canvas')
          const { width, height } = canvas
          const { data } = canvas.getContext('2d').getImageData(0, 0, width, height)
          const is = (x, y) => {
            const i = 4 * (y * width + x)
            return data[i] > data[i + 2] + 90 && data[i + 1] > data[i + 2] + 60
          }
          // A disc of the third colour: ink all round a place.
          for (let x = 4; x < width - 4; x++)
            for (let y = 4; y < height - 4; y++)
              if ([-2, 0, 2].every((d) => is(x + d, y) && is(x, y + d))) return [x / width, y / height]
          return null
        }"""
    )
    assert found is not None
    return held["x"] + found[0] * held["width"], held["y"] + found[1] * held["height"]


def test_few_tabs_lead_to_a_picture_and_single_keys_can_be_turned_off(demo: Page) -> None:
    demo.get_by_role("button", name="Export", exact=True).press("Enter")
    expect(demo.get_by_role("heading", name="Export")).to_be_focused()
    save = demo.get_by_role("button", name="Save PNG")
    for _ in range(10):
        demo.keyboard.press("Tab")
        if save.evaluate("(one) => one === document.activeElement"):
            break
    expect(save).to_be_focused()
    demo.keyboard.press("?")
    keys = demo.get_by_role("dialog", name="Keys")
    keys.get_by_label("Single-key shortcuts").uncheck()
    keys.get_by_role("button", name="Close").click()
    expect(save).to_be_focused()
    demo.keyboard.press("/")
    demo.keyboard.press("?")
    expect(keys).to_have_count(0)
    expect(save).to_be_focused()
    # The page is turned to the next test as it stands: they hold again.
    demo.get_by_role("button", name="Keys (?)").click()
    keys.get_by_label("Single-key shortcuts").check()
    keys.get_by_role("button", name="Close").click()


def test_what_is_taken_back_is_said_and_the_focus_goes_to_what_came(demo: Page) -> None:
    said = demo.get_by_test_id("announced")
    button = demo.get_by_role("button", name="Add a size")
    button.press("Enter")
    demo.keyboard.type("wind")
    demo.keyboard.press("Enter")
    drawn(demo)
    statement = demo.get_by_test_id("statement")
    expect(statement.locator(":focus")).to_have_count(1)
    demo.keyboard.press("Control+z")
    expect(said).to_contain_text("Undone.")
