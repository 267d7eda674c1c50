"""What goes to others: pages, PDF, whole studies, and plates on their way there."""

from __future__ import annotations

import re
import zlib
from pathlib import Path

import pytest
from playwright.sync_api import Page, expect

from tests.scope import only_long
from tests.web.acting import canvas, choose, origin, pick
from tests.web.running import drawn

BY_VALLEY = "Yield against humidity by valley"


def saved(page: Page, button: str, folder: Path) -> Path:
    with page.expect_download() as download:
        page.get_by_role("button", name=button).click()
    target = folder / download.value.suggested_filename
    download.value.save_as(target)
    return target


def share(page: Page) -> None:
    page.get_by_role("button", name="Export").click()
    page.get_by_role("button", name="Share as a page").click()
    expect(page.get_by_text("What goes out")).to_be_visible()


def plate(page: Page, name: str) -> None:
    page.get_by_role("button", name=name).click()
    expect(page).to_have_title(re.compile(name))
    drawn(page)


def plate_document(page: Page) -> dict:
    expect(page.get_by_text("Saving …")).to_have_count(0)
    return page.request.get(f"{origin(page)}/api/plates/{page.url.rsplit('/', 1)[1]}").json()[
        "document"
    ]


class TestPages:
    def test_one_file_holds_what_was_agreed_to_and_needs_no_server(
        self, demo: Page, tmp_path: Path
    ) -> None:
        share(demo)
        # What is drawn by and can be left out; what may be read on hover, one by one.
        demo.get_by_role("checkbox", name="Valley").uncheck()
        demo.get_by_role("checkbox", name="Wind").check()
        expect(demo.get_by_role("checkbox", name="Humidity")).to_be_disabled()
        expect(demo.get_by_text("on hover")).to_be_visible()
        file = saved(demo, "Save as one HTML file", tmp_path)
        assert "Argill" not in file.read_text(encoding="utf-8")
        page = demo.context.browser.new_page()  # type: ignore[union-attr]
        asked: list[str] = []
        page.on("request", lambda sent: asked.append(sent.url))
        page.goto(file.as_uri())
        expect(page.get_by_role("heading", name="Yield against humidity")).to_be_visible()
        figure = canvas(page)
        expect(figure).to_have_attribute("data-drawn", re.compile(r"\d"))
        figure.focus()
        page.keyboard.press("ArrowRight")
        expect(page.get_by_role("status")).to_contain_text("Wind")
        before = figure.get_attribute("data-drawn")
        page.keyboard.press("+")
        expect(page.get_by_role("button", name="Show all")).to_be_enabled()
        expect(figure).not_to_have_attribute("data-drawn", before or "")
        assert [url for url in asked if not url.startswith(("file:", "data:", "blob:"))] == []
        page.close()

    @pytest.mark.complains
    def test_an_address_opens_until_it_is_withdrawn(self, demo: Page) -> None:
        share(demo)
        pick(demo, "At a private link", "for a week")
        demo.get_by_role("button", name="Create private link").click()
        link = demo.get_by_role("list", name="Shared pages").get_by_role("link")
        with demo.context.expect_page() as opened:
            link.click()
        page = opened.value
        expect(page.get_by_role("article", name="Readings of Dunlin")).to_contain_text("R²")
        expect(canvas(page)).to_have_attribute("data-drawn", re.compile(r"\d"))
        demo.get_by_role("button", name="Withdraw").click()
        expect(demo.get_by_text("nobody can open it any more")).to_be_visible()
        page.reload()
        expect(page.get_by_text("it was withdrawn, or its time is over")).to_be_visible()


class TestPdf:
    def test_its_page_is_exact_its_text_is_text_and_its_marks_are_vectors(
        self, demo: Page, tmp_path: Path
    ) -> None:
        demo.get_by_role("button", name="Export").click()
        content = saved(demo, "Save PDF", tmp_path).read_bytes()
        assert content.startswith(b"%PDF-1.7")
        assert re.search(rb"/MediaBox \[0 0 720 610\]", content)
        assert len(re.findall(rb"/FontFile2 ", content)) == 2  # regular and bold, both inside
        drawing = b"".join(
            zlib.decompress(stream)
            for stream in re.findall(rb"stream\r?\n(x.*?)\r?\nendstream", content, re.DOTALL)
        )
        # Every mark is four curves, twice: its hairline and its ink; and legend entries.
        assert len(re.findall(rb" c\n", drawing)) >= 4 * 2 * 631
        assert b"/Subtype /Image" not in content

    def test_a_plate_is_exported_as_one(self, demo: Page, tmp_path: Path) -> None:
        plate(demo, BY_VALLEY)
        demo.get_by_role("button", name="Export").click()
        text = saved(demo, "Save SVG", tmp_path).read_text(encoding="utf-8")
        assert text.count("Humidity (%)") == 2  # one under each column
        assert text.count("Yield (mL/m²)") == 2
        for heading in ("Argill", "Bracken", "Corrie", "Dunlin"):
            assert text.count(f">{heading}<") == 1  # beside its letter: no legend says it again
        assert len(re.findall("<use ", text)) == 631


class TestPlates:
    @only_long
    def test_one_thing_of_a_figure_is_varied(self, demo: Page) -> None:
        demo.get_by_role("button", name="Add a plate").click()
        pick(demo, "Vary", "trend type")
        demo.get_by_role("checkbox", name="smoothing spline").check()
        demo.get_by_role("button", name="Make the plate").click()
        expect(demo.get_by_test_id("statement")).to_contain_text("4 figures in")
        drawn(demo)
        headings = canvas(demo).get_attribute("aria-label")
        assert headings == (
            "Plate of 4 figures. a: straight line; b: polynomial; c: local regression; "
            "d: smoothing spline"
        )
        choose(demo, "Columns of the plate", "4 columns")
        choose(demo, "Shared axes", "each its own")
        assert plate_document(demo)["columns"] == 4
        demo.get_by_role("button", name="Undo").click()
        expect(demo.get_by_test_id("statement")).to_contain_text("both shared")

    def test_edges_are_dragged_and_moved_by_keys(self, demo: Page) -> None:
        plate(demo, BY_VALLEY)
        edge = demo.get_by_role("separator", name="Edge between columns 1 and 2")
        box = edge.bounding_box()
        assert box is not None
        demo.mouse.move(box["x"] + 5, box["y"] + 40)
        demo.mouse.down()
        demo.mouse.move(box["x"] + 95, box["y"] + 40, steps=4)
        demo.mouse.up()
        after = edge.bounding_box()
        assert after is not None
        # The page is 860 points wide; what one column gains the other loses.
        widths = plate_document(demo)["widths"]
        assert widths[0] > 1.15
        assert sum(widths) == pytest.approx(2)
        assert after["x"] > box["x"] + 60
        demo.get_by_role("separator", name="Edge between rows").focus()
        demo.keyboard.press("ArrowDown")
        expect(demo.get_by_text("Saving …")).to_have_count(0)
        assert plate_document(demo)["heights"] == pytest.approx([1.04, 0.96])

    def test_places_are_changed_and_a_deleted_figure_is_said(self, demo: Page) -> None:
        plate(demo, BY_VALLEY)
        demo.get_by_role("button", name="Later").click()
        expect(canvas(demo)).to_have_attribute("aria-label", re.compile("a: Bracken; b: Argill"))
        pick(demo, "Here it is", "Corrie")
        expect(canvas(demo)).to_have_attribute("aria-label", re.compile("a: Bracken; b: Corrie"))
        demo.get_by_role("button", name="Remove").click()
        expect(demo.get_by_test_id("statement")).to_contain_text("3 figures in")
        demo.get_by_role("button", name="Open the figure").click()
        drawn(demo)
        demo.get_by_role("button", name="Delete the open figure").click()
        demo.locator("[aria-label=Plates] .figure").nth(1).click()
        expect(demo.get_by_label("Figure at a")).to_have_value("(deleted)")


@only_long
def test_a_study_is_copied_deleted_brought_back_and_read_in(demo: Page, tmp_path: Path) -> None:
    demo.get_by_role("link", name="Yarrowdew").click()
    demo.get_by_role("button", name="Copy", exact=True).click()
    copy = demo.get_by_role("listitem").filter(has=demo.get_by_label("Open Dew survey (copy)"))
    expect(copy).to_contain_text("8 figures · 2 plates")
    copy.get_by_role("button", name="Rename").click()
    name = demo.get_by_label("Name of the study Dew survey (copy)")
    name.fill("Second survey")
    name.press("Enter")
    second = demo.get_by_role("listitem").filter(has=demo.get_by_label("Open Second survey"))
    second.get_by_role("button", name="Delete").click()
    deleted = demo.get_by_role("region", name="Deleted studies")
    expect(deleted).to_contain_text("Second survey")
    deleted.get_by_role("button", name="Bring back").click()
    expect(second).to_be_visible()
    with demo.expect_download() as download:
        second.get_by_role("button", name="Export study").click()
    file = tmp_path / download.value.suggested_filename
    download.value.save_as(file)
    demo.get_by_label("File of a study").set_input_files(file)
    expect(demo.get_by_label("Open Second survey")).to_have_count(2)
    demo.get_by_label("Open Second survey").first.click()
    drawn(demo)
    expect(demo.locator("[aria-label=Plates] .figure")).to_have_count(2)


def test_a_figure_with_its_table_reads_in_as_the_same_figure(demo: Page, tmp_path: Path) -> None:
    demo.get_by_role("button", name="Mean yield against altitude").click()
    drawn(demo)
    said = canvas(demo).get_attribute("aria-label")
    demo.get_by_role("button", name="Export").click()
    file = saved(demo, "Figure and table as one file", tmp_path)
    demo.get_by_role("link", name="Yarrowdew").click()
    bring = demo.get_by_role("region", name="Bring a table")
    bring.get_by_label("File to import").set_input_files(file)
    demo.get_by_role("button", name="Import", exact=True).click()
    drawn(demo)
    expect(canvas(demo)).to_have_attribute("aria-label", said or "")
