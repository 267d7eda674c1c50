"""What the page says of a row, a number or a save is so, in whatever order things are done."""

from __future__ import annotations

import json
import re
from typing import Any

import pytest
from playwright.sync_api import Page, Route, expect

from tests.scope import only_long
from tests.web.acting import ask_for, canvas, choose, document, figure, origin, pick
from tests.web.running import Server, drawn
from tests.web.test_matrix import open_matrix
from tests.web.test_rows import cell, rows_of
from tests.web.test_trends import tune_trend
from tests.web.test_tuning import stations, tune
from tests.web.turning import go_to
from tests.web.walking import drawn_anew, picture_now, picture_of, walk


def let_go(page: Page, what: str | re.Pattern[str], held: list[Route]) -> None:
    """Let requests go on that were held back."""
    for route in held:
        route.continue_()
    page.unroute(what)


def rows_by_number(page: Page, table: str) -> dict[int, dict[str, Any]]:
    found = page.request.get(f"{origin(page)}/api/tables/{table}/rows?count=1000").json()
    return {row["row"]: row["values"] for row in found["rows"]}


def hover_lines(page: Page) -> tuple[int, dict[str, str]]:
    """Which row the page says is under the pointer, and what it says of it."""
    # Read at once: more lines are added when the pointer rests.
    title, terms, values = page.locator(".hover").evaluate(
        """(box) => {
            const texts = (of) => [...box.querySelectorAll(of)].map((one) => one.innerText)
            return [texts('.hover__title')[0], texts('dt'), texts('dd')]
        }"""
    )
    number = re.match(r"Row (\d+)", title)
    assert number is not None
    return int(number[1]) - 1, dict(zip(terms, values, strict=True))


def check_every_mark(page: Page, rows: dict[int, dict[str, Any]], steps: int) -> set[int]:
    """Walk from mark to mark; what is said of each is what the table holds under its number."""
    canvas(page).focus()
    page.keyboard.press("0")
    seen = set()
    for _ in range(steps):
        page.keyboard.press("ArrowRight")
        row, said = hover_lines(page)
        values = rows[row]
        assert said["Altitude"] == f"{values['altitude']:g}\u00a0m"
        yields = float(re.sub(r"[^\d.]", "", said["Mean yield"].split("\u00a0")[0]))
        assert yields == pytest.approx(values["mean yield"], rel=1e-3)
        assert said["Valley"] == values["valley"]
        seen.add(row)
    return seen


class TestUnderThePointer:
    @only_long
    def test_over_bubbles_it_is_the_row_whose_values_stand_there(self, demo: Page) -> None:
        stations(demo)
        rows = rows_by_number(demo, document(demo)["table"])
        assert len(check_every_mark(demo, rows, 32)) == 32
        # Categories in front, one row singled out, another aside: the order of drawing is another.
        tune(demo, "legend")
        demo.get_by_role("button", name="Marks of Corrie", exact=True).click()
        demo.get_by_role("button", name="Draw in front").click()
        canvas(demo).focus()
        for _ in range(3):
            demo.keyboard.press("ArrowRight")
        demo.keyboard.press("Enter")
        demo.get_by_role("button", name="Set aside").click()
        drawn(demo)
        assert len(check_every_mark(demo, rows, 32)) == 32

    def test_a_rows_panel_shows_that_row_though_an_earlier_answer_comes_late(
        self, demo: Page
    ) -> None:
        stations(demo)
        rows = rows_by_number(demo, document(demo)["table"])
        held: list[Route] = []
        asked = re.compile(r"/rows\?row=")
        demo.route(asked, lambda route: held.append(route) if not held else route.continue_())
        canvas(demo).focus()
        demo.keyboard.press("ArrowRight")
        first, _ = hover_lines(demo)
        demo.keyboard.press("Enter")
        # The first row's values are on their way when the second row is chosen.
        demo.wait_for_function("true")
        canvas(demo).focus()
        demo.keyboard.press("ArrowRight")
        demo.keyboard.press("ArrowRight")
        second, _ = hover_lines(demo)
        assert second != first
        demo.keyboard.press("Enter")
        name = demo.locator("dl.values dd").filter(has_text=rows[second]["station"])
        expect(name).to_have_count(1)
        let_go(demo, asked, held)
        expect(demo.locator("dl.values dd").filter(has_text=rows[first]["station"])).to_have_count(
            0
        )


def test_another_study_begins_without_the_rows_of_the_one_before(demo: Page) -> None:
    rows_of(demo)
    canvas(demo).focus()
    demo.keyboard.press("ArrowRight")
    demo.keyboard.press("Enter")
    expect(demo.get_by_role("button", name="Set aside").first).to_be_visible()
    made = demo.request.post(f"{origin(demo)}/api/studies/demo").json()
    go_to(demo, f"{origin(demo)}/")
    expect(canvas(demo)).to_have_count(0)
    go_to(demo, f"{origin(demo)}/studies/{made['id']}")
    drawn(demo)
    expect(demo.get_by_role("grid", name="Rows")).to_have_count(0)
    expect(demo.get_by_role("article", name="Readings of Corrie")).to_be_visible()
    expect(demo.locator("dl.values")).to_have_count(0)


class TestLateAnswers:
    def test_a_change_taken_back_before_its_answer_came_is_taken_back(self, demo: Page) -> None:
        before = canvas(demo).screenshot()
        held: list[Route] = []
        demo.route("**/api/answers", lambda route: held.append(route))
        ask_for(demo, "y variable", "wind")
        expect(demo.get_by_text("Working it out …")).to_be_visible()
        demo.get_by_role("button", name="Undo").click()
        expect(demo.get_by_text("Working it out …")).to_have_count(0)
        # Nobody waits for it: an answer that came all the same would count for nothing.
        let_go(demo, "**/api/answers", held)
        demo.wait_for_load_state("networkidle")
        assert canvas(demo).screenshot() == before

    @only_long
    def test_resampling_says_how_far_it_is_and_can_be_stopped(self, demo: Page) -> None:
        choose(demo, "Trend", "local regression")
        tune_trend(demo)
        panel = demo.get_by_test_id("tuning")
        waiting = demo.get_by_role("status").filter(has_text="Working it out …")
        panel.get_by_role("button", name="bootstrap").click()
        expect(waiting).to_contain_text(re.compile(r"[1-9][0-9]?\s%"))
        waiting.get_by_role("button", name="Stop").click()
        expect(demo.get_by_text("Stopped before it was worked out.")).to_be_visible()
        demo.get_by_role("button", name="Undo").click()
        panel.get_by_role("button", name="bootstrap").click()
        expect(waiting).to_be_visible()
        expect(waiting).to_have_count(0, timeout=30_000)
        demo.keyboard.press("Escape")
        card = demo.get_by_role("article", name="Readings of Corrie")
        expect(card).to_contain_text("fits to resampled rows")

    def test_what_takes_long_is_stopped_and_begun_again(self, demo: Page) -> None:
        held: list[Route] = []
        demo.route("**/api/answers", lambda route: held.append(route))
        ask_for(demo, "y variable", "wind")
        with demo.expect_event("requestfailed", lambda one: "/api/answers" in one.url):
            demo.get_by_role("status").get_by_role("button", name="Stop").click()
        said = demo.get_by_role("alert").filter(has_text="Stopped before it was worked out.")
        expect(said).to_be_visible()
        # A reader of the screen is told what is drawn, not what was wished for.
        expect(canvas(demo)).to_have_attribute("aria-label", re.compile("^Yield against humidity"))
        demo.unroute("**/api/answers")
        said.get_by_role("button", name="Try again").click()
        expect(said).to_have_count(0)
        drawn(demo)
        expect(canvas(demo)).to_have_attribute("aria-label", re.compile("^Wind against humidity"))


class TestSingledOut:
    @only_long
    def test_other_categories_are_not_faded_for_it(self, demo: Page) -> None:
        before = picture_of(demo)
        canvas(demo).click(position={"x": 677, "y": 512})  # Corrie in the legend
        demo.mouse.move(10, 10)
        singled = picture_now(demo)
        assert singled != before
        choose(demo, "Colour", "mesh")
        # The place among the valleys says nothing of the meshes.
        now = picture_now(demo)
        assert now == drawn_anew(demo)
        demo.get_by_role("button", name="Undo").click()
        drawn(demo)
        assert picture_of(demo) == before

    def test_escape_lets_go_of_it(self, demo: Page) -> None:
        before = picture_of(demo)
        canvas(demo).click(position={"x": 677, "y": 512})
        demo.mouse.move(10, 10)
        assert picture_now(demo) != before
        demo.keyboard.press("Escape")
        assert picture_now(demo) == before


class TestZoomed:
    def test_ends_that_are_typed_are_seen_at_once(self, demo: Page) -> None:
        tune(demo, "x axis")
        demo.get_by_role("button", name="Zoom in").click()
        before = canvas(demo).screenshot()
        field = demo.get_by_label("Starts at")
        field.fill("60")
        field.press("Enter")
        assert document(demo)["axes"]["x"]["low"] == 60
        assert canvas(demo).screenshot() != before

    def test_a_log_scale_after_a_zoom_below_zero_is_not_blank(self, demo: Page) -> None:
        for _ in range(6):
            demo.get_by_role("button", name="Zoom out").click()
        tune(demo, "y axis")
        demo.get_by_role("button", name="logarithmic").click()
        drawn(demo)
        canvas(demo).focus()
        # There are marks to be reached, and they stand inside the figure.
        demo.keyboard.press("ArrowRight")
        expect(demo.locator(".hover__title")).to_contain_text("Row")
        ring = demo.locator(".ring").bounding_box()
        page = canvas(demo).bounding_box()
        assert ring is not None
        assert page is not None
        assert page["y"] < ring["y"] < page["y"] + page["height"]


class TestTyping:
    def test_words_stay_while_answers_arrive_and_escape_takes_them_back(self, demo: Page) -> None:
        name = demo.get_by_label("Name of the study")
        demo.route("**/api/answers", lambda route: route.continue_())
        tune(demo, "y axis")
        title = demo.get_by_label("Title", exact=True)
        name.fill("Half a na")
        # An answer arrives and redraws everything about the field.
        study = demo.url.split("/studies/")[1].split("/")[0]
        table = document(demo)["table"]
        demo.evaluate(
            """async ([table]) => {
                await fetch(`/api/tables/${table}/rows`)
            }""",
            [table],
        )
        demo.locator("body").evaluate("document.dispatchEvent(new Event('visibilitychange'))")
        expect(name).to_have_value("Half a na")
        name.press("Escape")
        expect(name).to_have_value("Dew survey")
        # The panel is still there: Escape meant the words alone.
        expect(title).to_be_visible()
        title.fill("")
        assert document(demo)["axes"]["y"]["title"] == ""
        expect(title).to_have_value("")
        contents = demo.request.get(f"{origin(demo)}/api/studies/{study}").json()
        assert contents["name"] == "Dew survey"

    def test_a_field_is_not_emptied_by_an_answer_on_its_way(self, demo: Page) -> None:
        held: list[Route] = []
        demo.route("**/api/answers", lambda route: held.append(route))
        demo.get_by_role("button", name="x variable").first.click()
        field = demo.get_by_role("combobox", name="x variable")
        field.fill("wind")
        with demo.expect_request("**/api/answers"):
            field.press("Enter")
        name = demo.get_by_label("Name of the study")
        name.fill("Being typed")
        let_go(demo, "**/api/answers", held)
        drawn(demo)
        expect(name).to_have_value("Being typed")
        name.press("Enter")
        expect(demo.get_by_text("Saving …")).to_have_count(0)
        demo.goto(f"{origin(demo)}/")
        demo.get_by_role("link", name="Being typed").first.click()
        drawn(demo)
        expect(demo.get_by_label("Name of the study")).to_have_value("Being typed")


class TestUndo:
    def test_with_the_focus_on_a_slider_and_during_a_write(self, demo: Page) -> None:
        tune(demo, "marks")
        before = document(demo)["marks"]["size"]
        slider = demo.get_by_role("slider", name="Size", exact=True)
        slider.press("ArrowRight")
        assert document(demo)["marks"]["size"] != before
        slider.focus()
        demo.keyboard.press("Control+z")
        assert document(demo)["marks"]["size"] == before
        # A cell is on its way when undo is asked for: it is that step which is taken back.
        rows_of(demo)
        cell(demo, 0, 9).click()
        held: list[Route] = []
        patch = re.compile(r"/rows$")
        demo.route(patch, lambda route: held.append(route))
        demo.keyboard.type("901")
        demo.keyboard.press("Enter")
        expect(demo.get_by_text("Saving …")).to_be_visible()
        demo.keyboard.press("Control+z")
        let_go(demo, patch, held)
        expect(cell(demo, 0, 9)).to_have_text("135")
        assert document(demo)["marks"]["size"] == before

    @pytest.mark.complains
    def test_one_failed_step_does_not_end_those_after_it(self, demo: Page) -> None:
        choose(demo, "x variable", "wind")
        rows_of(demo)
        cell(demo, 0, 9).click()
        demo.keyboard.type("901")
        demo.keyboard.press("Enter")
        expect(cell(demo, 0, 9)).to_have_text("901")
        expect(demo.get_by_text("Saving …")).to_have_count(0)
        demo.route("**/version", lambda route: route.fulfill(status=500, body="{}"))
        demo.get_by_role("button", name="Undo").click()
        expect(demo.get_by_text("The server answered 500.")).to_be_visible()
        demo.unroute("**/version")
        demo.get_by_role("button", name="Undo").click()
        expect(cell(demo, 0, 9)).to_have_text("135")
        demo.get_by_role("button", name="Undo").click()
        drawn(demo)
        assert document(demo)["x"] == "humidity"

    @pytest.mark.complains
    def test_what_another_client_changed_is_not_thrown_away(self, demo: Page) -> None:
        rows_of(demo)
        cell(demo, 0, 9).click()
        demo.keyboard.type("901")
        demo.keyboard.press("Enter")
        expect(cell(demo, 0, 9)).to_have_text("901")
        expect(demo.get_by_text("Saving …")).to_have_count(0)
        table = document(demo)["table"]
        theirs = {"cells": [{"row": 1, "variable": "yield", "text": "777"}]}
        demo.request.patch(f"{origin(demo)}/api/tables/{table}/rows", data=theirs)
        demo.get_by_role("button", name="Undo").click()
        expect(demo.get_by_text("cannot be taken back any more")).to_be_visible()
        rows = rows_by_number(demo, table)
        assert (rows[0]["yield"], rows[1]["yield"]) == (901, 777)
        expect(cell(demo, 1, 9)).to_have_text("777")


class TestSaving:
    @pytest.mark.complains
    def test_an_edit_that_could_not_be_saved_is_kept_when_another_figure_is_opened(
        self, demo: Page
    ) -> None:
        first = figure(demo)["id"]
        saves = re.compile(rf"/api/figures/{first}$")
        demo.route(saves, lambda route: route.abort())
        tune(demo, "marks")
        demo.get_by_role("button", name="hollow").click()
        expect(demo.get_by_text("Not saved yet; trying again")).to_be_visible()
        stations(demo)
        # The page goes on saying so, and saves it when it can.
        expect(demo.get_by_text("Not saved yet; trying again")).to_be_visible()
        demo.unroute(saves)
        expect(demo.get_by_text("Not saved yet; trying again")).to_have_count(0)
        saved = demo.request.get(f"{origin(demo)}/api/figures/{first}").json()
        assert saved["document"]["marks"]["hollow"] is True

    @pytest.mark.complains
    def test_what_is_refused_is_said_and_not_sent_for_ever(self, demo: Page) -> None:
        sent: list[str] = []

        def refuse(route: Route) -> None:
            sent.append(route.request.method)
            problem = {"title": "The request is not valid.", "status": 422}
            route.fulfill(
                status=422, body=json.dumps(problem), content_type="application/problem+json"
            )

        saves = re.compile(r"/api/figures/")
        demo.route(saves, refuse)
        tune(demo, "marks")
        demo.get_by_role("button", name="hollow").click()
        expect(demo.get_by_text("Not saved: The request is not valid.")).to_be_visible()
        demo.unroute(saves)
        # Changed again, it is taken.
        demo.get_by_role("button", name="solid").click()
        demo.get_by_role("button", name="hollow").click()
        assert document(demo)["marks"]["hollow"] is True
        assert len(sent) == 1

    @only_long
    def test_a_long_document_is_not_lost_with_the_page(self, demo: Page) -> None:
        """More than a browser sends of a page that goes away."""
        before, first = document(demo), figure(demo)["id"]
        numbers = [*range(2, 640)]
        aside = numbers + [10_000 + n for n in range(20_000)]
        put = {**before, "set_aside": aside}
        demo.request.put(f"{origin(demo)}/api/figures/{first}", data=put, headers={"If-Match": "*"})
        demo.reload()
        drawn(demo)
        address = demo.url
        tune(demo, "marks")
        demo.get_by_role("button", name="hollow").click()
        # By itself, as a link would: what a browser is told to open may stand before this page has left.
        with demo.expect_navigation(url="**/api/studies"):
            demo.evaluate("() => void location.assign('/api/studies')")
        demo.goto(address)
        drawn(demo)
        assert document(demo)["marks"]["hollow"] is True


class TestRows:
    def test_keys_on_a_header_are_its_own(self, demo: Page) -> None:
        grid = rows_of(demo)
        before = cell(demo, 0, 9).inner_text()
        grid.get_by_role("button", name="Wind").focus()
        demo.keyboard.press("Delete")
        demo.keyboard.press("x")
        expect(demo.get_by_role("textbox", name=re.compile("row 1"))).to_have_count(0)
        expect(cell(demo, 0, 9)).to_have_text(before)
        assert document(demo)["kind"] == "scatterplot"

    def test_all_rows_that_are_marked_are_deleted(self, demo: Page) -> None:
        rows_of(demo)
        cell(demo, 0, 0).click()
        for _ in range(9):
            demo.keyboard.press("ArrowDown")
        demo.keyboard.press("Control+Shift+End")
        button = demo.get_by_role("button", name="Delete 631 rows")
        button.click()
        expect(demo.get_by_role("button", name="About the table nights")).to_have_text("9 rows")

    @pytest.mark.complains
    def test_a_refused_cell_does_not_interrupt_what_is_typed_elsewhere(self, demo: Page) -> None:
        rows_of(demo)
        cell(demo, 2, 9).click()
        held: list[Route] = []
        patch = re.compile(r"/rows$")
        demo.route(patch, lambda route: held.append(route))
        demo.keyboard.type("much")
        demo.keyboard.press("Enter")
        # The page's own key for the matrix is a letter here.
        demo.keyboard.type("4m")
        field = demo.get_by_role("textbox", name="Yield, row 4")
        expect(field).to_have_value("4m")
        let_go(demo, patch, held)
        expect(demo.get_by_role("alert").filter(has_text="“much” is not a number")).to_be_visible()
        expect(field).to_have_value("4m")
        expect(field).to_be_focused()
        expect(cell(demo, 2, 9)).to_have_attribute("aria-invalid", "true")
        field.press("Escape")
        cell(demo, 2, 9).dblclick()
        mended = demo.get_by_role("textbox", name="Yield, row 3")
        expect(mended).to_have_value("much")
        mended.fill("120")
        mended.press("Enter")
        expect(cell(demo, 2, 9)).to_have_text("120")
        assert document(demo)["kind"] == "scatterplot"


def test_numbers_stand_under_the_sign_of_the_way_they_were_found(demo: Page) -> None:
    open_matrix(demo)
    demo.get_by_role("button", name="strongest pairs").click()
    panel = demo.get_by_test_id("pairs")
    expect(panel.get_by_role("listitem").first).to_contain_text("r = ")
    held: list[Route] = []
    demo.route("**/api/pairs", lambda route: held.append(route))
    pick(panel, "How pairs are measured", "ρ (ranks)")
    expect(panel.get_by_role("button", name="Stop")).to_be_visible()
    # What is still shown is still Pearson's, and says so.
    expect(panel.get_by_role("listitem").first).to_contain_text("r = ")
    let_go(demo, "**/api/pairs", held)
    expect(panel.get_by_role("listitem").first).to_contain_text("ρ = ")


@only_long
def test_a_random_walk_is_taken_back_to_where_it_began(demo: Page, server: Server) -> None:
    """Twenty actions here; `make crucible` takes two hundred at a time."""
    assert walk(demo, steps=20, seed=5) == []
