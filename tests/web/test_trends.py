"""Trends of every form, what is read off them, and the readings, by mouse and keyboard."""

from __future__ import annotations

import json
import re
from pathlib import Path

import polars as pl
import pytest
from playwright.sync_api import Page, expect

from tests.web.acting import canvas, choose, document, pick, statement
from tests.web.running import drawn


def open_trial(page: Page) -> None:
    page.get_by_role("button", name="Droplets shed against dose", exact=True).click()
    expect(page.get_by_role("article", name="Readings of silica")).to_be_visible()


def open_cistern(page: Page) -> None:
    page.get_by_role("button", name="Level against day", exact=True).click()
    expect(
        page.get_by_role("article", name="Readings of All rows · moving average")
    ).to_be_visible()


def tune_trend(page: Page, name: str = "trend") -> None:
    page.keyboard.press("Escape")
    page.get_by_role("button", name=name, exact=True).click()


def unfold(page: Page, heading: str) -> None:
    page.get_by_role("button", name=heading, exact=True).click()


class TestForms:
    def test_a_form_is_chosen_in_the_statement(self, demo: Page) -> None:
        choose(demo, "Trend", "polynomial")
        assert "trend: polynomial for each valley with a 95 % band" in statement(demo)
        card = demo.get_by_role("article", name="Readings of Corrie")
        expect(card).to_contain_text("along this curve")
        choose(demo, "Trend", "theil-sen")
        assert "Theil–Sen line for each valley with no band" in statement(demo)

    def test_nested_bands_are_typed(self, demo: Page) -> None:
        choose(demo, "Band", "90 95 99")
        assert "with 90, 95 and 99 % bands" in statement(demo)
        assert [b["level"] for b in document(demo)["trends"][0]["bands"]] == [0.9, 0.95, 0.99]

    def test_a_formula_is_typed_mended_and_kept(self, demo: Page) -> None:
        open_trial(demo)
        choose(demo, "Trend", "formula")
        panel = demo.get_by_test_id("tuning")
        typed = panel.get_by_label("Formula", exact=True)
        # What says nothing before it is typed opens its field.
        expect(typed).to_be_focused()
        drawn(demo)
        typed.fill("top / (1 + exp(-k * (x - mid))")
        typed.press("Enter")
        expect(panel).to_contain_text("')' is expected instead of the end (at character 31)")
        typed.fill("top / (1 + exp(-k * (x - mid)))")
        typed.press("Enter")
        drawn(demo)
        assert "top / (1 + exp(-k * (x - mid))) for each coating" in statement(demo)
        panel.get_by_label("Name to keep this formula under").fill("rise")
        panel.get_by_role("button", name="Keep it").click()
        expect(panel.get_by_role("button", name="rise", exact=True)).to_be_visible()
        pick(panel, "Start from", "dose and effect")
        drawn(demo)
        assert document(demo)["trends"][0]["settings"]["known"] == "half > 0, slope > 0"
        pick(panel, "Start from", "rise")
        drawn(demo)
        assert document(demo)["trends"][0]["settings"]["known"] == ""
        demo.keyboard.press("Escape")
        card = demo.get_by_role("article", name="Readings of silica")
        expect(card.get_by_role("list", name="Coefficients")).to_contain_text("top = ")
        card.get_by_text("Intervals and assumptions").click()
        expect(card).to_contain_text("r of top and k")
        # Two groups, where the same is read off both.
        expect(demo.get_by_role("region", name="Between groups")).to_contain_text("times as much")

    def test_several_quantiles_at_once(self, demo: Page) -> None:
        choose(demo, "Fitted to", "all rows")
        choose(demo, "Trend", "quantile line")
        drawn(demo)
        tune_trend(demo)
        demo.get_by_role("button", name="10, 50 and 90 %").click()
        drawn(demo)
        assert [t["settings"]["quantile"] for t in document(demo)["trends"]] == [0.1, 0.5, 0.9]
        assert "90 % quantile line for all rows" in statement(demo)
        demo.get_by_role("button", name="Undo").click()
        assert len(document(demo)["trends"]) == 1

    def test_intervals_allow_for_scatter_that_fans_out(self, demo: Page) -> None:
        choose(demo, "Colour", "no colour")
        tune_trend(demo)
        panel = demo.get_by_test_id("tuning")
        before = canvas(demo).screenshot()
        panel.get_by_role("button", name="unequal variance").click()
        drawn(demo)
        pick(panel, "Band 1 type", "simultaneous (whole line)")
        drawn(demo)
        assert "with a 95 % simultaneous band" in statement(demo)
        assert canvas(demo).screenshot() != before
        demo.keyboard.press("Escape")
        card = demo.get_by_role("article", name="Readings of").first
        card.get_by_text("Intervals and assumptions").click()
        expect(card).to_contain_text("robust standard errors (HC3)")

    def test_a_slider_moves_the_line_while_it_is_dragged(self, demo: Page) -> None:
        open_cistern(demo)
        tune_trend(demo, "trend 2")
        before = canvas(demo).screenshot()
        slider = demo.get_by_role("slider", name="Window")
        slider.focus()
        slider.press("PageUp")
        drawn(demo)
        expect(demo.get_by_label("Window, typed")).to_have_value("41 rows")
        assert document(demo)["trends"][1]["settings"]["window"] > 21
        assert canvas(demo).screenshot() != before

    def test_a_fit_that_cannot_be_made_says_why(self, demo: Page) -> None:
        choose(demo, "x variable", "cloud")
        choose(demo, "Trend", "power law")
        card = demo.get_by_role("article", name="Readings of Corrie")
        expect(card).to_contain_text("have x at or below 0, which has no logarithm")
        expect(demo.get_by_test_id("counts")).to_contain_text("marks drawn")

    def test_several_trends_each_with_its_own_line(self, demo: Page) -> None:
        open_cistern(demo)
        tune_trend(demo, "trend 1")
        unfold(demo, "Line and band")
        demo.get_by_role("button", name="dashed").click()
        colour = demo.get_by_role("group", name="Colour of the line")
        colour.get_by_role("button", name="rust", exact=True).click()
        first = document(demo)["trends"][0]
        assert (first["dash"], first["colour"]) == ("dashed", "#af2d18")


class TestReadOff:
    def test_a_level_is_typed_named_and_kept(self, demo: Page) -> None:
        open_trial(demo)
        tune_trend(demo)
        unfold(demo, "Read off")
        demo.get_by_label("Read off at", exact=True).fill("soon")
        demo.get_by_label("Read off at", exact=True).press("Enter")
        expect(demo.get_by_role("alert")).to_contain_text("“soon” is not a number")
        demo.get_by_label("Read off at", exact=True).fill("4")
        demo.get_by_label("Read off at", exact=True).press("Enter")
        demo.get_by_label("Name of Dose 4").fill("usual dose")
        demo.get_by_label("Name of Dose 4").press("Enter")
        assert document(demo)["trends"][0]["read_off"][1] == {
            "at": 4,
            "level": None,
            "name": "usual dose",
            "group": None,
        }
        demo.keyboard.press("Escape")
        card = demo.get_by_role("article", name="Readings of silica")
        expect(card).to_contain_text("usual dose: at x = 4, y = ")
        expect(card).to_contain_text("half run-off: y = 50 at x = 4.688")

    def test_a_number_is_dragged_along_the_line(self, demo: Page) -> None:
        open_cistern(demo)
        box = canvas(demo).bounding_box()
        assert box is not None
        # Where it is carried on the line stands clear of the marks: it is met on the way down.
        x = box["x"] + box["width"] * 0.92
        demo.mouse.move(x, box["y"] + 40)
        found = False
        for share in range(30, 120):
            y = box["y"] + box["height"] * share / 200
            demo.mouse.move(x, y)
            if demo.locator(".hover").filter(has_text="123.4").count():
                found = True
                break
        assert found
        demo.mouse.down()
        demo.mouse.move(x - 40, y + 5, steps=4)
        expect(demo.get_by_role("status").filter(has_text="straight line")).to_be_visible()
        demo.mouse.up()
        drawn(demo)
        (one,) = document(demo)["trends"][0]["read_off"]
        assert one["at"] == round(one["at"])
        expect(demo.get_by_role("list", name="Read off")).to_contain_text("at x = 203")


class TestLookingCloser:
    def test_forms_are_compared_and_one_is_adopted(self, demo: Page) -> None:
        open_trial(demo)
        demo.get_by_role("button", name="compare trends").click()
        panel = demo.get_by_test_id("compare")
        expect(panel.get_by_role("button", name="Use the logistic S-curve")).to_be_visible()
        expect(panel).to_contain_text("predicts left-out rows best")
        pick(panel, "On the rows of", "silica")
        # Where each would lie is seen faintly on the figure, the one that is pointed at clearly.
        candidates = demo.get_by_test_id("candidates").locator("path.candidate")
        expect(candidates.nth(3)).to_be_attached()
        panel.get_by_role("button", name="Use the quadratic").hover()
        expect(demo.locator(".candidate--lit")).to_have_count(1)
        panel.get_by_role("button", name="Use the cubic").click()
        trend = document(demo)["trends"][0]
        assert (trend["family"], trend["settings"]["degree"]) == ("polynomial", 3)
        assert "trend: polynomial" in statement(demo)
        demo.keyboard.press("Escape")
        expect(demo.get_by_test_id("candidates")).to_have_count(0)

    def test_residuals_stand_below_and_share_the_selection(self, demo: Page) -> None:
        demo.get_by_role("button", name="Residuals", exact=True).click()
        panel = demo.get_by_test_id("residuals")
        picture = panel.get_by_role("img")
        expect(picture).to_be_visible()
        panel.get_by_role("button", name="against normal quantiles").click()
        expect(picture).to_have_attribute("aria-label", "Residuals against normal quantiles")
        box = demo.get_by_role("button", name="Box", exact=True)
        box.click()
        area = canvas(demo).bounding_box()
        assert area is not None
        demo.mouse.move(area["x"] + area["width"] * 0.5, area["y"] + area["height"] * 0.3)
        demo.mouse.down()
        demo.mouse.move(area["x"] + area["width"] * 0.7, area["y"] + area["height"] * 0.6, steps=4)
        demo.mouse.up()
        expect(demo.get_by_test_id("selection")).to_be_visible()
        expect(panel.locator("svg path.rings")).to_have_attribute(
            "d", re.compile(r"^(M[^M]+){11,}$")
        )
        panel.get_by_role("button", name="Close").click()
        expect(panel).to_have_count(0)

    def test_influence_sizes_the_marks(self, demo: Page) -> None:
        tune_trend(demo)
        demo.get_by_role("button", name="Show influence on marks").click()
        drawn(demo)
        assert "sized by influence" in statement(demo)
        assert document(demo)["size"]["influence"] is True

    def test_r_stands_on_the_figure_where_no_trend_does(self, demo: Page) -> None:
        choose(demo, "Trend", "no trend")
        card = demo.get_by_role("article", name="Readings of the two variables")
        expect(card).to_contain_text("r = ")
        before = canvas(demo).screenshot()
        card.get_by_role("button", name="Correlation r on the figure").click()
        drawn(demo)
        assert document(demo)["readings"]["association"] == ["r"]
        assert canvas(demo).screenshot() != before


class TestTakenElsewhere:
    @pytest.mark.parametrize("kind", ["CSV", "JSON"])
    def test_readings_are_saved(self, demo: Page, tmp_path: Path, kind: str) -> None:
        with demo.expect_download() as started:
            demo.get_by_role("button", name=f"save as {kind}").click()
        file = tmp_path / started.value.suggested_filename
        started.value.save_as(file)
        if kind == "JSON":
            first, *_ = json.loads(file.read_text())["fits"]
            assert first["group"] == "Argill"
        else:
            frame = pl.read_csv(file)
            assert frame.columns == ["trend", "group", "family", "reading", "value", "low", "high"]
            assert "equation" in frame["reading"].to_list()

    def test_what_is_carried_on_is_saved(self, demo: Page, tmp_path: Path) -> None:
        open_cistern(demo)
        with demo.expect_download() as started:
            demo.get_by_role("button", name="Save extrapolated values").click()
        file = tmp_path / "carried.csv"
        started.value.save_as(file)
        frame = pl.read_csv(file)
        assert frame.columns == ["group", "x", "y", "low", "high"]
        assert frame["x"][-1].startswith("2031-07")
