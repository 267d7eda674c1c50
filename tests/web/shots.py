"""Takes every picture in docs/screenshots anew, from the demo data: `make shots`."""

from __future__ import annotations

import tempfile
from collections.abc import Callable
from pathlib import Path

from playwright.sync_api import Page

from tests.web.acting import set_odd_row_aside
from tests.web.running import SIZE, chromium, drawn, open_demo, running

FOLDER = Path(__file__).parents[2] / "docs" / "screenshots"
_SETTLED = "() => Promise.all(document.getAnimations().map((a) => a.finished.catch(() => 0)))"


def main_view(page: Page) -> None:
    """The demo figure as it opens."""


def set_aside(page: Page) -> None:
    """A row set aside, with its values and the rows behind it."""
    set_odd_row_aside(page)
    drawn(page)


def bubbles(page: Page) -> None:
    """A bubble chart with names, and its tuning."""
    page.get_by_role("button", name="Mean yield against altitude").click()
    page.get_by_role("button", name="Labels: station").wait_for()
    page.get_by_role("button", name="marks", exact=True).click()
    page.get_by_label("Largest bubble, typed").fill("44")
    page.keyboard.press("Enter")
    drawn(page)


def error_bars(page: Page) -> None:
    """Error bars that differ below and above, on an axis of logarithms."""
    page.get_by_role("button", name="Droplets shed against dose", exact=True).click()
    page.get_by_role("button", name="x axis", exact=True).click()
    page.get_by_role("button", name="logarithmic").click()
    page.get_by_role("button", name="major ticks").click()
    drawn(page)


def jitter(page: Page) -> None:
    """Whole numbers with jitter, and the distributions along the axes."""
    page.get_by_role("button", name="Yield against cloud").click()
    page.get_by_role("button", name="Colour: mesh").wait_for()
    for part, kind in (("x axis", "histogram"), ("y axis", "density")):
        page.keyboard.press("Escape")
        page.get_by_role("button", name=part, exact=True).click()
        group = page.get_by_role("group", name="Distribution along the axis")
        group.get_by_role("button", name=kind).click()
    page.keyboard.press("Escape")
    drawn(page)


def three_axes(page: Page) -> None:
    """A box of three axes, turned so that the valley that goes the other way stands apart."""
    page.get_by_role("button", name="Yield against humidity and wind").click()
    page.get_by_role("button", name="z variable").wait_for()
    drawn(page)


def distribution(page: Page) -> None:
    """One number for each category: density, points and a box."""
    page.get_by_role("button", name="Yield for each mesh").click()
    page.get_by_role("button", name="Shown as").wait_for()
    drawn(page)


def table(page: Page) -> None:
    """A table: its rows, and what can be made of it."""
    page.get_by_role("button", name="About the table nights").click()
    page.get_by_role("button", name="Wide to long").click()
    page.get_by_role("button", name="Show and edit the rows").click()
    page.locator('[data-cell="2 4"]').dblclick()
    drawn(page)


def read_off(page: Page) -> None:
    """S-curves, and the dose at which each reaches a level."""
    page.get_by_role("button", name="Droplets shed against dose", exact=True).click()
    page.get_by_role("article", name="Readings of silica").wait_for()
    drawn(page)


def compare(page: Page) -> None:
    """Forms of trend on the same rows."""
    read_off(page)
    page.get_by_role("button", name="compare trends").click()
    page.get_by_role("button", name="Use the logistic S-curve").wait_for()


def residuals(page: Page) -> None:
    """What the lines leave, with some rows selected in both pictures."""
    page.get_by_role("button", name="Residuals", exact=True).click()
    page.get_by_role("img", name="Residuals against fitted values").wait_for()
    page.get_by_role("button", name="Box", exact=True).click()
    drawn(page)
    box = page.locator("canvas.canvas").bounding_box() or {}
    page.mouse.move(box["x"] + box["width"] * 0.3, box["y"] + box["height"] * 0.15)
    page.mouse.down()
    page.mouse.move(box["x"] + box["width"] * 0.7, box["y"] + box["height"] * 0.4, steps=5)
    page.mouse.up()
    page.get_by_test_id("selection").wait_for()


def matrix(page: Page) -> None:
    """Every pair of some variables, by mesh."""
    page.get_by_role(
        "button", name="Yield, humidity, dew-point gap, wind and cloud against"
    ).click()
    page.get_by_role("heading", name="Strongest of these pairs").wait_for()
    drawn(page)
    box = page.locator("canvas.canvas").bounding_box() or {}
    page.mouse.move(box["x"] + box["width"] * 0.14, box["y"] + box["height"] * 0.4)
    page.locator(".said").filter(has_text="Humidity against yield").wait_for()


def pairs(page: Page) -> None:
    """Pairs, strongest first, beside density contours and names alone."""
    matrix(page)
    for part, words in (("Above", "contours"), ("On", "names only")):
        name = f"{part} the diagonal"
        page.get_by_role("button", name=name).first.click()
        page.get_by_role("combobox", name=name).fill(words)
        page.keyboard.press("Enter")
    page.get_by_role("button", name="strongest pairs").click()
    page.get_by_test_id("pairs").get_by_role("listitem").first.wait_for()
    drawn(page)


def import_(page: Page) -> None:
    """A file before it counts."""
    rows = [(d, 4 + 9.5 * d + (-1) ** d, ("plain wax", "silica")[d % 2]) for d in range(1, 25)]
    text = "\n".join(f"{d};{s};{c}" for d, s, c in rows).replace(".", ",")
    content = f"Coating trial, second series\n\ndose (g/m²);droplets shed (%);coating\n{text}\n"
    page.set_input_files(
        "input[type=file]",
        {"name": "second series.csv", "mimeType": "text/csv", "buffer": content.encode("cp1252")},
    )
    page.get_by_text("24 rows, 3 variables.").wait_for()


def export(page: Page) -> None:
    """Images to export."""
    page.get_by_role("button", name="Export").click()
    page.get_by_role("button", name="Save PNG").wait_for()


def plate(page: Page) -> None:
    """The four valleys on one page."""
    page.get_by_role("button", name="Yield against humidity by valley").click()
    page.get_by_role("region", name="Plate").wait_for()
    drawn(page)


def share(page: Page) -> None:
    """What goes out, before anything is shared."""
    export(page)
    page.get_by_role("button", name="Share as a page").click()
    page.get_by_role("checkbox", name="Wind").check()
    page.get_by_text("on hover").wait_for()


def shared_page(page: Page) -> None:
    """A page as others open it, a mark read with the keys."""
    share(page)
    page.get_by_role("button", name="Create private link").click()
    link = page.get_by_role("list", name="Shared pages").get_by_role("link")
    page.goto("/".join(page.url.split("/")[:3]) + (link.get_attribute("href") or ""))
    page.get_by_role("article", name="Readings of Dunlin").wait_for()
    drawn(page)
    page.locator("canvas.canvas").focus()
    for _ in range(3):
        page.keyboard.press("ArrowRight")
    page.locator(".hover").get_by_text("Wind").wait_for()


def start(page: Page) -> None:
    """The start screen: studies with their pictures, and one that was deleted."""
    page.get_by_role("link", name="Yarrowdew").click()
    for _ in range(2):
        page.get_by_role("button", name="Copy", exact=True).last.click()
        page.get_by_role("status").filter(has_text="was copied").wait_for()
    page.get_by_role("button", name="Delete", exact=True).first.click()
    page.get_by_role("button", name="Bring back").wait_for()
    page.wait_for_timeout(1500)


VIEWS: tuple[Callable[[Page], None], ...] = (
    main_view,
    set_aside,
    bubbles,
    error_bars,
    jitter,
    three_axes,
    distribution,
    table,
    read_off,
    compare,
    residuals,
    matrix,
    pairs,
    import_,
    export,
    plate,
    share,
    shared_page,
    start,
)


def main() -> None:
    """Take one picture of each view, each from a fresh demo study."""
    FOLDER.mkdir(parents=True, exist_ok=True)
    with (
        tempfile.TemporaryDirectory() as data,
        running(Path(data)) as server,
        chromium() as browser,
    ):
        for view in VIEWS:
            page = browser.new_page(viewport=SIZE)
            open_demo(page, server.address)
            view(page)
            page.get_by_text("Saving …").wait_for(state="detached")
            # Small pictures come one after another.
            page.wait_for_load_state("networkidle")
            page.evaluate(_SETTLED)
            page.screenshot(path=FOLDER / f"{view.__name__.strip('_').replace('_', '-')}.png")
            for deleted in ("false", "true"):
                listed = f"{server.address}/api/studies?deleted={deleted}"
                for study in page.request.get(listed).json():
                    address = f"{server.address}/api/studies/{study['id']}?for_good=true"
                    page.request.delete(address)
            page.close()


if __name__ == "__main__":
    main()
