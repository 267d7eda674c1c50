"""Three axes turned by hand, and one number by itself."""

from __future__ import annotations

import re
from pathlib import Path

import pytest
from playwright.sync_api import Page, expect

from tests.web.acting import asking, canvas, choose, document, fingers, pick, statement
from tests.web.running import drawn
from tests.web.walking import picture_now


def drag(page: Page, dx: int, dy: int, *, at: tuple[float, float] = (0.5, 0.45)) -> None:
    """Drag on the figure, hold still, and let go."""
    box = canvas(page).bounding_box()
    assert box is not None
    x, y = box["x"] + at[0] * box["width"], box["y"] + at[1] * box["height"]
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x + dx, y + dy, steps=6)
    # What is let go while it moves runs on.
    page.wait_for_function("() => new Promise((r) => setTimeout(() => r(true), 120))")
    page.mouse.up()
    drawn(page)


@pytest.fixture
def box(demo: Page) -> Page:
    """The demo's 3-D scatterplot."""
    demo.get_by_role("button", name="Yield against humidity and wind").click()
    expect(demo.get_by_role("button", name="z variable")).to_be_visible()
    drawn(demo)
    return demo


class TestBox:
    def test_it_is_turned_by_hand_by_keys_and_by_angles_and_that_is_undone(self, box: Page) -> None:
        before = document(box)["space"]["turn"]
        asked = asking(box)
        drag(box, 140, 60)
        turned = document(box)["space"]["turn"]
        assert turned["around"] < before["around"] - 20
        assert turned["above"] > before["above"] + 5
        canvas(box).focus()
        # The last key settles when no other follows it, and is saved then.
        with box.expect_response(lambda got: got.request.method == "PUT"):
            for _ in range(4):
                box.keyboard.press("ArrowLeft")
        drawn(box)
        assert document(box)["space"]["turn"]["around"] > turned["around"] + 15
        box.get_by_role("button", name="box", exact=True).click()
        box.get_by_label("Azimuth, typed").fill("120")
        box.keyboard.press("Enter")
        drawn(box)
        assert document(box)["space"]["turn"]["around"] == 120
        box.get_by_role("button", name="From the top").click()
        drawn(box)
        assert document(box)["space"]["turn"] == {"around": 0, "above": 90}
        # Nothing of it needs another answer: it is all looks.
        assert [url for url in asked if "most_marks" not in url] == []
        canvas(box).focus()
        box.keyboard.press("Control+z")
        drawn(box)
        assert document(box)["space"]["turn"]["around"] == 120

    def test_the_third_axis_comes_and_goes_and_the_pair_keeps_what_was_set(
        self, demo: Page
    ) -> None:
        before = statement(demo)
        choose(demo, "Add a third axis", "wind")
        assert statement(demo).startswith("Yield against humidity and wind, coloured by valley")
        kept = document(demo)
        assert (kept["kind"], kept["space"]["variable"]) == ("3-D scatterplot", "wind")
        demo.get_by_role("button", name="Add a plane").click()
        expect(demo.get_by_label("Readings of Dunlin")).to_contain_text("·humidity")
        choose(demo, "z variable", "remove it")
        # The offers after it speak of the third axis that was there.
        assert statement(demo).split(" + ")[0] == before.split(" + ")[0]
        # What was set about the third axis is there again with it.
        demo.get_by_role("button", name="Add the third axis again").click()
        drawn(demo)
        expect(demo.get_by_label("Readings of Dunlin")).to_contain_text("·humidity")

    def test_what_is_selected_is_what_is_seen_and_goes_with_the_rows(self, box: Page) -> None:
        box.get_by_role("button", name="Box", exact=True).click()
        drag(box, 90, 70, at=(0.5, 0.4))
        panel = box.get_by_test_id("selection")
        expect(panel).to_contain_text(re.compile(r"\d+ rows selected"))
        rings = box.locator(".over .rings")
        expect(rings).to_have_count(1)
        count = int(re.search(r"(\d+) rows", panel.inner_text())[1])  # type: ignore[index]
        assert rings.get_attribute("d").count("M") == count  # type: ignore[union-attr]
        panel.get_by_role("button", name="Set aside").click()
        drawn(box)
        assert len(document(box)["set_aside"]) == count

    def test_a_plate_shows_it_from_several_sides(self, box: Page) -> None:
        box.get_by_role("button", name="Add a plate").click()
        pick(box, "Vary", "from where it is seen")
        box.get_by_role("button", name="Make the plate").click()
        expect(box.get_by_test_id("statement")).to_contain_text("4 figures")
        drawn(box)
        said = canvas(box).get_attribute("aria-label") or ""
        assert "From the top" in said

    def test_two_fingers_come_closer_and_one_turns(self, box: Page) -> None:
        held = canvas(box).bounding_box()
        assert held is not None
        x, y = held["x"] + 0.5 * held["width"], held["y"] + 0.5 * held["height"]
        before = document(box)["space"]
        touch = fingers(box)
        touch("touchStart", (x - 40, y))
        touch("touchStart", (x - 40, y), (x + 40, y))
        for by in range(45, 85, 5):
            touch("touchMove", (x - by, y), (x + by, y))
        touch("touchEnd")
        expect(box.get_by_role("button", name="Undo")).to_be_enabled()
        drawn(box)
        closer = document(box)["space"]
        assert closer["closeness"] == pytest.approx(2, rel=0.1)
        assert closer["turn"] == before["turn"]
        touch("touchStart", (x, y))
        for by in range(0, 90, 10):
            touch("touchMove", (x + by, y))
        # It runs on for a while, and is saved when it stands.
        with box.expect_response(lambda got: got.request.method == "PUT"):
            touch("touchEnd")
        drawn(box)
        assert document(box)["space"]["turn"]["around"] < before["turn"]["around"] - 10

    def test_others_turn_it_on_a_shared_page(self, box: Page) -> None:
        box.get_by_role("button", name="Export").click()
        box.get_by_role("button", name="Share as a page").click()
        box.get_by_role("button", name="Create private link").click()
        link = box.get_by_role("list", name="Shared pages").get_by_role("link")
        box.goto(box.url.split("/studies/")[0] + (link.get_attribute("href") or ""))
        expect(box.get_by_role("article", name="Readings of Dunlin")).to_contain_text("·wind")
        drawn(box)
        first = picture_now(box)
        drag(box, 80, 30)
        turned = picture_now(box)
        assert turned != first
        canvas(box).focus()
        box.keyboard.press("Shift+ArrowRight")
        expect(box.locator(".hover")).to_contain_text("Wind")

    def test_it_is_read_looked_at_closer_and_handed_on_as_it_is_seen(self, box: Page) -> None:
        expect(box.get_by_text("4 rows lack wind")).to_be_visible()
        canvas(box).focus()
        box.keyboard.press("Shift+ArrowRight")
        hover = box.locator(".hover")
        expect(hover).to_contain_text("Row ")
        expect(hover).to_contain_text("Yield")
        expect(hover).to_contain_text("Humidity")
        expect(hover).to_contain_text("Wind")
        box.get_by_role("button", name="Residuals", exact=True).click()
        below = box.get_by_role("region", name="Residuals")
        expect(below.locator("canvas")).to_be_visible()
        box.get_by_role("button", name="against normal quantiles").click()
        expect(below.get_by_role("alert")).to_have_count(0)
        drag(box, -60, 30)
        box.get_by_role("button", name="Export").click()
        with box.expect_download() as kept:
            box.get_by_role("button", name="Save SVG").click()
        text = Path(kept.value.path()).read_text()
        # Every mark as a vector, and the four entries of the legend.
        assert text.count("<use ") == 627 + 4
        assert "Wind (m/s)" in text


class TestDistribution:
    def test_from_the_ledger_in_one_click_and_to_its_categories(self, demo: Page) -> None:
        demo.get_by_role("button", name="Wind, m/s").click()
        demo.get_by_test_id("variable").get_by_role("button", name="by itself").click()
        expect(demo.get_by_role("button", name="Shown as")).to_be_visible()
        drawn(demo)
        assert statement(demo).startswith("Wind by itself, as histogram and density")
        choose(demo, "For which categories", "for each mesh")
        assert statement(demo).startswith("Wind for each mesh")
        expect(demo.get_by_label("Readings of ribbed")).to_contain_text("Median")
        expect(demo.get_by_label("Readings", exact=True)).to_contain_text("categories of mesh")

    def test_bins_and_smoothing_follow_their_sliders(self, demo: Page) -> None:
        demo.get_by_role("button", name="Yield for each mesh").click()
        drawn(demo)
        choose(demo, "Shown as", "histogram and density")
        demo.get_by_role("button", name="distribution", exact=True).last.click()
        demo.get_by_text("Bins and smoothing").click()
        before = picture_now(demo)
        slider = demo.get_by_role("slider", name="Bin width")
        slider.focus()
        slider.press("ArrowRight")
        drawn(demo)
        expect(demo.get_by_label("Bin width, typed")).not_to_have_value(re.compile("good"))
        assert document(demo)["distribution"]["bin_width"] > 0
        assert picture_now(demo) != before
        demo.get_by_role("button", name="As found from the values").click()
        drawn(demo)
        assert document(demo)["distribution"]["bin_width"] is None

    def test_a_matrix_shows_a_variable_of_its_diagonal_by_itself(self, demo: Page) -> None:
        demo.get_by_role("button", name="Yield, humidity, dew-point gap").click()
        expect(demo.get_by_role("button", name="Below the diagonal")).to_be_visible()
        drawn(demo)
        choose(demo, "Show its distribution", "Wind by itself")
        assert statement(demo).startswith("Wind by itself")
        demo.keyboard.press("Control+z")
        expect(demo.get_by_role("button", name="Below the diagonal")).to_be_visible()

    def test_it_turns_over_keeps_every_row_and_leads_to_those_far_out(self, demo: Page) -> None:
        demo.get_by_role("button", name="Yield for each mesh").click()
        drawn(demo)
        demo.get_by_role("button", name="distribution", exact=True).last.click()
        demo.get_by_text("Groups", exact=True).click()
        lying = picture_now(demo)
        demo.get_by_role("group", name="Orientation").get_by_role("button", name="vertical").click()
        drawn(demo)
        assert picture_now(demo) != lying
        expect(demo.get_by_test_id("counts")).to_contain_text("634 marks drawn")
        demo.keyboard.press("Escape")
        demo.get_by_role("button", name="Show the outliers of single in the table").click()
        grid = demo.get_by_role("grid", name="Rows")
        expect(grid).to_contain_text("single")
        expect(grid.get_by_role("row")).to_have_count(2)
