"""Handing on: images look like the screen."""

from __future__ import annotations

import base64
import io
import re
from pathlib import Path

import numpy as np
import pytest
from PIL import Image
from playwright.sync_api import Page, expect

from tests.scope import LONG, only_long
from tests.web.acting import canvas, choose, document, origin
from tests.web.running import drawn
from tests.web.turning import go_to


def saved(page: Page, button: str, folder: Path) -> Path:
    with page.expect_download() as download:
        page.get_by_role("button", name=button).click()
    target = folder / download.value.suggested_filename
    download.value.save_as(target)
    return target


def screen(page: Page) -> np.ndarray:
    """The figure's pixels as they are on the screen."""
    data = page.evaluate("() => document.querySelector('canvas.canvas').toDataURL('image/png')")
    return pixels(base64.b64decode(data.split(",")[1]))


def pixels(content: bytes) -> np.ndarray:
    return np.asarray(Image.open(io.BytesIO(content)).convert("RGB"), dtype=float)


@pytest.fixture
def handing(demo: Page) -> Page:
    demo.get_by_role("button", name="Equation on the figure").click()
    demo.get_by_role("button", name="Export").click()
    return demo


def test_png_at_a_chosen_resolution(handing: Page, tmp_path: Path) -> None:
    handing.get_by_role("button", name="150", exact=True).click()
    expect(handing.get_by_text("1500 × 1271 pixels")).to_be_visible()
    file = saved(handing, "Save PNG", tmp_path)
    assert file.name == "yield-against-humidity.png"
    with Image.open(file) as image:
        assert image.size == (1500, 1271)
        assert image.info["dpi"] == pytest.approx((150, 150), abs=0.02)


def test_png_is_what_is_on_the_screen(handing: Page, tmp_path: Path) -> None:
    shown = screen(handing)
    # The resolution at which the page is as large as on the screen.
    handing.get_by_label("Custom resolution").fill(str(shown.shape[1] / 720 * 72))
    handing.get_by_label("Custom resolution").press("Enter")
    exported = pixels(saved(handing, "Save PNG", tmp_path).read_bytes())
    assert abs(exported.shape[0] - shown.shape[0]) <= 1
    height = min(exported.shape[0], shown.shape[0])
    difference = np.abs(exported[:height] - shown[:height])
    assert difference.mean() < 1
    assert (difference.max(axis=2) > 60).mean() < 0.002


def test_svg_is_what_is_on_the_screen_with_real_text(handing: Page, tmp_path: Path) -> None:
    shown = screen(handing)
    file = saved(handing, "Save SVG", tmp_path)
    text = file.read_text(encoding="utf-8")
    assert len(re.findall("<use ", text)) == 631 + 4
    assert "Humidity (%)" in text
    assert re.search(r">Argill<", text)
    assert re.search(r">y = −[\d.]+ \+ [\d.]+ x<", text)
    assert "font/woff2" in text
    assert "NaN" not in re.sub(r"base64,[^)\"]+", "", text)
    page = handing.context.new_page()
    page.set_viewport_size({"width": shown.shape[1], "height": shown.shape[0]})
    page.set_content(
        f"<style>body{{margin:0}}svg{{width:100vw;height:auto;display:block}}</style>{text[text.index('<svg') :]}"
    )
    page.evaluate("() => document.fonts.ready")
    drawn = pixels(page.screenshot())
    page.close()
    difference = np.abs(drawn - shown)
    assert difference.mean() < 2.5
    # Text and marks stand in the same places: few pixels differ by much.
    assert (difference.max(axis=2) > 120).mean() < 0.004


def test_a_resolution_outside_what_is_sensible_is_refused(handing: Page) -> None:
    handing.get_by_label("Custom resolution").fill("5000")
    handing.get_by_label("Custom resolution").press("Enter")
    expect(handing.get_by_role("alert")).to_contain_text("from 30 to 1,200")


def test_the_file_is_named_by_what_is_shown(handing: Page, tmp_path: Path) -> None:
    choose(handing, "x variable", "dew-point")
    assert saved(handing, "Save SVG", tmp_path).name == "yield-against-dew-point-gap.svg"
    expect(canvas(handing)).to_be_visible()


class TestVenuesAndImages:
    def test_a_venue_sets_page_text_and_lines_together(self, demo: Page) -> None:
        demo.get_by_role("button", name="titles", exact=True).click()
        before = canvas(demo).bounding_box()
        venues = demo.get_by_role("group", name="Venue")
        venues.get_by_role("button", name="slide").click()
        saved = document(demo)
        assert (saved["page"]["width"], saved["page"]["height"]) == (960, 540)
        assert saved["type"]["scale"] == 1.5
        assert saved["trends"][0]["width"] == pytest.approx(2.7)
        after = canvas(demo).bounding_box()
        assert before is not None
        assert after is not None
        assert after["width"] / after["height"] == pytest.approx(960 / 540, rel=0.01)
        venues.get_by_role("button", name="custom size").click()
        demo.get_by_label("Width", exact=True).fill("100")
        demo.get_by_label("Width", exact=True).press("Enter")
        assert document(demo)["page"]["width"] == pytest.approx(100 * 72 / 25.4)

    def test_a_caption_is_drafted_from_the_readings(self, demo: Page) -> None:
        demo.get_by_role("button", name="titles", exact=True).click()
        demo.get_by_role("button", name="Draft the caption").click()
        assert document(demo)["caption"].startswith("Figure {number}. Yield against humidity")
        demo.get_by_role("button", name="Export").click()
        reads = demo.get_by_test_id("caption")
        expect(reads).to_contain_text(
            "Figure 1. Yield against humidity, coloured by valley; Argill"
        )
        expect(reads).to_contain_text("n = 157")
        # What stands in braces follows the data.
        demo.get_by_label("Caption", exact=True).fill("{n} nights")
        choose(demo, "Fitted to", "all rows")
        expect(reads).to_have_text("631 nights")
        demo.get_by_label("below the figure").uncheck()
        assert document(demo)["caption_below"] is False

    @only_long
    def test_a_jpeg_holds_its_resolution_and_a_png_may_have_no_ground(
        self, demo: Page, tmp_path: Path
    ) -> None:
        demo.get_by_role("button", name="Export").click()
        with demo.expect_download() as started:
            demo.get_by_role("button", name="Save JPEG").click()
        content = started.value.path().read_bytes()
        assert content[:4] == b"\xff\xd8\xff\xe0"
        assert content[13:18] == bytes([1, 1, 44, 1, 44])
        demo.get_by_label("Transparent background").check()
        with demo.expect_download() as started:
            demo.get_by_role("button", name="Save PNG").click()
        # Colour type 6 in the header: with opacity.
        assert started.value.path().read_bytes()[25] == 6

    def test_the_numbers_behind_it_are_saved(self, demo: Page) -> None:
        demo.get_by_role("button", name="Export").click()
        with demo.expect_download() as started:
            demo.get_by_role("button", name="Save CSV").click()
        head = started.value.path().read_text().splitlines()[0]
        assert "fitted" in head
        assert "residual" in head


ALIKE = 0.02
"""Share of pixels that two rasterisers may draw differently: the smoothing of edges and letters."""


@only_long
def test_a_script_draws_every_figure_as_the_page_does(demo: Page, tmp_path: Path) -> None:
    study = demo.url.split("/studies/")[1].split("/")[0]
    figures = demo.request.get(f"{origin(demo)}/api/studies/{study}").json()["figures"]
    # One of each kind, where not all of them are tried.
    kinds = {one["document"]["kind"]: one for one in figures}
    for figure in figures if LONG else kinds.values():
        go_to(demo, f"{origin(demo)}/studies/{study}/{figure['id']}")
        drawn(demo)
        demo.get_by_role("button", name="Export").click()
        demo.get_by_role("button", name="96", exact=True).click()
        address = f"{origin(demo)}/api/figures/{figure['id']}/image"
        vectors = demo.request.get(address, headers={"Accept": "image/svg+xml"}).body()
        assert saved(demo, "Save SVG", tmp_path).read_bytes() == vectors
        png = demo.request.get(f"{address}?dpi=96", headers={"Accept": "image/png"}).body()
        here = pixels(saved(demo, "Save PNG", tmp_path).read_bytes())
        there = pixels(png)
        assert here.shape == there.shape
        off = np.abs(here - there).max(axis=2)
        assert (off > 60).mean() < ALIKE, figure["document"]["kind"]
        assert np.abs(here - there).mean() < 2


@only_long
def test_every_venue_is_drawn_alike(demo: Page, tmp_path: Path) -> None:
    for venue in ("slide", "report column", "full page", "poster"):
        demo.keyboard.press("Escape")
        demo.get_by_role("button", name="titles", exact=True).click()
        demo.get_by_role("group", name="Venue").get_by_role("button", name=venue).click()
        drawn(demo)
        demo.get_by_role("button", name="Export").click()
        response = demo.request.post(
            f"{origin(demo)}/api/images",
            data=document(demo),
            headers={"Accept": "image/svg+xml"},
        )
        assert response.text() != ""
        here = saved(demo, "Save SVG", tmp_path).read_bytes()
        assert re.sub(rb"<title>.*?</title>", b"", here) == re.sub(
            rb"<title>.*?</title>", b"", response.body()
        )


def test_the_call_that_makes_a_figure_is_written(handing: Page) -> None:
    handing.get_by_role("button", name="As a command").click()
    call = handing.get_by_role("textbox", name="The call")
    expect(call).to_have_value(re.compile(r"^yarrowdew draw nights\.csv --x humidity --y yield"))
    handing.get_by_role("button", name="As Python").click()
    expect(call).to_have_value(re.compile("^import yarrowdew as yd\n"))
    expect(call).to_have_attribute("readonly", "")
