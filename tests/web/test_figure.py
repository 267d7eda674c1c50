"""The figure: what it shows, and how it is explored and changed."""

from __future__ import annotations

import re
from pathlib import Path

import pytest
from playwright.sync_api import Page, expect

from tests.scope import only_long
from tests.web.acting import asking, canvas, choose, document, pick, set_odd_row_aside, statement
from tests.web.running import Server, drawn


def take_in(page: Page, file: Path) -> None:
    page.set_input_files("input[type=file]", file)
    page.get_by_role("button", name="Import", exact=True).click()
    page.get_by_role("button", name="Import", exact=True).wait_for(state="detached")
    drawn(page)


def colours(page: Page) -> dict[str, int]:
    """How often each colour stands on the figure."""
    return page.evaluate(
        """() => {
          const c = document.querySelector('canvas.canvas')
          const d = c.getContext('2d').getImageData(0, 0, c.width, c.height).data
          const found = {}
          for (let i = 0; i < d.length; i += 4) {
            const key = [d[i], d[i + 1], d[i + 2]].join()
            found[key] = (found[key] ?? 0) + 1
          }
          return found
        }"""
    )


def hovered(page: Page) -> str:
    return page.locator(".hover").inner_text().replace("\u00a0", " ")


def ring(page: Page) -> tuple[float, float]:
    """Where the mark that is pointed at lies on the screen."""
    box = page.locator(".ring").bounding_box()
    assert box is not None
    return box["x"] + box["width"] / 2, box["y"] + box["height"] / 2


class TestDemo:
    def test_the_figure_is_there_with_its_lines_and_readings(self, demo: Page) -> None:
        assert statement(demo).startswith(
            "Yield against humidity, coloured by valley · trend: straight line for each valley "
            "with a 95 % band"
        )
        expect(demo.get_by_test_id("counts")).to_contain_text(
            "631 marks drawn · 6 rows lack yield · 3 rows lack humidity"
        )
        for valley in ("Argill", "Bracken", "Corrie", "Dunlin"):
            card = demo.get_by_role("article", name=f"Readings of {valley}")
            expect(card).to_contain_text("R²")
            expect(card).to_contain_text(re.compile(r"y = [−\d.]+ [+−] [\d.]+ x"))
            expect(card).to_contain_text("95 % interval")
        # The lines of the four valleys in their own colours: fern, rust, yarrow, dusk.
        found = colours(demo)
        for colour in ("0,106,100", "175,45,24", "175,131,11", "55,55,90"):
            assert found.get(colour, 0) > 200

    def test_the_figure_is_named_for_those_who_cannot_see_it(self, demo: Page) -> None:
        name = canvas(demo).get_attribute("aria-label")
        assert name is not None
        assert name.startswith("Yield against humidity, coloured by valley")

    def test_every_figure_of_the_study_opens(self, demo: Page) -> None:
        for name, words in (
            ("Mean yield against altitude", "sized by households served, coloured by valley"),
            ("Droplets shed against dose", "S-curve for each coating with a 95 % band"),
            ("Level against day", "95 % band and 95 % prediction band"),
        ):
            demo.get_by_role("button", name=name, exact=True).click()
            expect(canvas(demo)).to_have_attribute("aria-label", re.compile(f"^{name}"))
            drawn(demo)
            assert words in statement(demo)


class TestStatement:
    def test_what_goes_up_and_across(self, demo: Page) -> None:
        choose(demo, "x variable", "wind")
        choose(demo, "y variable", "cloud")
        assert statement(demo).startswith("Cloud against wind")
        expect(demo.get_by_test_id("counts")).to_contain_text("636 marks drawn · 4 rows lack wind")
        saved = document(demo)
        assert (saved["x"], saved["y"]) == ("wind", ["cloud"])

    def test_only_what_has_a_place_on_an_axis_is_offered(self, demo: Page) -> None:
        demo.get_by_role("button", name="x variable").click()
        offered = demo.get_by_role("option").all_inner_texts()
        assert any("Night" in o for o in offered)
        assert not any("Valley" in o or "Station" in o for o in offered)

    def test_by_keyboard_alone(self, demo: Page) -> None:
        word = demo.get_by_role("button", name=re.compile("^y variable"))
        word.focus()
        word.press("Enter")
        field = demo.get_by_role("combobox", name="y variable")
        expect(field).to_be_focused()
        field.press("ArrowUp")
        field.press("Enter")
        expect(word).to_be_focused()
        expect(word).to_have_text("Cloud")
        word.press("Enter")
        field.press("Escape")
        expect(word).to_be_focused()
        assert document(demo)["y"] == ["cloud"]

    def test_a_number_colours_as_an_amount_or_as_a_category(self, demo: Page) -> None:
        choose(demo, "Colour", "cloud")
        assert "coloured by cloud as an amount" in statement(demo)
        # Lines were for each valley; a number tells such groups apart too.
        choose(demo, "Colour read as", "category")
        colour = document(demo)["colour"]
        assert (colour["variable"], colour["scale"]) == ("cloud", "category")

    def test_colour_can_be_taken_off_and_added(self, demo: Page) -> None:
        choose(demo, "Colour", "no colour")
        assert "coloured" not in statement(demo)
        choose(demo, "Add a colour", "mesh")
        assert "coloured by mesh" in statement(demo)

    def test_the_line_for_the_whole_at_a_level_of_ones_own(self, demo: Page) -> None:
        choose(demo, "Fitted to", "all rows")
        choose(demo, "Band", "97.5")
        assert "for all rows with a 97.5 % band" in statement(demo)
        card = demo.get_by_role("article", name="Readings of All rows")
        expect(card).to_contain_text("97.5 % interval")
        expect(demo.get_by_text("One line for all rows hides this.")).to_be_visible()
        demo.get_by_role("button", name="Fit each").first.click()
        expect(demo.get_by_role("article", name="Readings of Dunlin")).to_be_visible()

    def test_the_line_without_a_band_and_off(self, demo: Page) -> None:
        choose(demo, "Band", "no band")
        assert document(demo)["trends"][0]["bands"] == []
        choose(demo, "Trend", "no trend")
        expect(demo.get_by_text("No trend is fitted.")).to_be_visible()
        choose(demo, "Add a trend", "straight line")
        expect(demo.get_by_role("article", name="Readings of Argill")).to_be_visible()

    def test_two_lines_at_once(self, demo: Page) -> None:
        choose(demo, "Add a trend", "straight line")
        expect(demo.get_by_role("article", name="Readings of Argill")).to_be_visible()
        expect(demo.get_by_role("article", name="Readings of All rows")).to_be_visible()


class TestExploring:
    def test_a_mark_is_read_by_pointer_and_by_key(self, demo: Page) -> None:
        canvas(demo).focus()
        canvas(demo).press("ArrowDown")
        canvas(demo).press("ArrowUp")
        first = hovered(demo)
        x, y = ring(demo)
        canvas(demo).blur()
        expect(demo.locator(".hover")).to_have_count(0)
        demo.mouse.move(x, y)
        expect(demo.locator(".hover")).to_contain_text("Row ")
        assert hovered(demo).split("\n")[0] == first.split("\n")[0]
        # The row's other values follow.
        expect(demo.locator(".hover")).to_contain_text("Air temperature")
        expect(demo.locator(".hover")).to_contain_text("mL/m²")

    def test_a_line_is_read_by_its_equation(self, demo: Page, trial: Path) -> None:
        take_in(demo, trial)
        demo.get_by_role("button", name="Fit a straight line").click()
        drawn(demo)
        canvas(demo).focus()
        places = []
        for _ in range(3):
            canvas(demo).press("ArrowRight")
            places.append(ring(demo))
        # The marks lie by turns below and above the line, so it runs between two of them.
        canvas(demo).blur()
        (x0, y0), (x1, y1) = places[1], places[2]
        demo.mouse.move((x0 + x1) / 2, (y0 + y1) / 2)
        expect(demo.locator(".hover")).to_contain_text("All rows · straight line")
        expect(demo.locator(".hover")).to_contain_text(re.compile(r"y = [\d.]+ \+ 9\.\d+ x"))

    def test_zooming_moving_and_coming_back(self, demo: Page) -> None:
        before = canvas(demo).screenshot()
        box = canvas(demo).bounding_box()
        assert box is not None
        x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
        fit = demo.get_by_role("button", name="Show all")
        expect(fit).to_be_disabled()
        demo.mouse.move(x, y)
        demo.mouse.wheel(0, -300)
        expect(fit).to_be_enabled()
        zoomed = canvas(demo).screenshot()
        demo.get_by_role("button", name="Pan", exact=True).click()
        demo.mouse.move(x, y)
        demo.mouse.down()
        demo.mouse.move(x + 120, y + 40, steps=4)
        demo.mouse.up()
        assert canvas(demo).screenshot() != zoomed
        fit.click()
        expect(fit).to_be_disabled()
        demo.mouse.move(2, 2)
        assert canvas(demo).screenshot() == before
        # Looking is not changing: nothing is there to undo.
        expect(demo.get_by_role("button", name="Undo")).to_be_disabled()

    def test_zooming_and_moving_by_key(self, demo: Page) -> None:
        fit = demo.get_by_role("button", name="Show all")
        for keys in (["+"], ["-"], ["Shift+ArrowLeft"]):
            canvas(demo).focus()
            for key in keys:
                canvas(demo).press(key)
            expect(fit).to_be_enabled()
            canvas(demo).press("0")
            expect(fit).to_be_disabled()

    def test_rows_that_could_not_be_drawn_are_shown(self, demo: Page) -> None:
        demo.get_by_role("button", name="6 rows lack yield").click()
        drawer = demo.get_by_role("grid", name="Rows", exact=True)
        blank = drawer.locator(".cell--missing")
        expect(blank).to_have_count(6)
        expect(blank).to_have_text([""] * 6)
        demo.keyboard.press("Escape")
        expect(drawer).to_have_count(0)


class TestChanging:
    def test_a_row_set_aside_moves_the_line_and_comes_back(self, demo: Page) -> None:
        card = demo.get_by_role("article", name="Readings of Bracken")
        before = card.inner_text()
        set_odd_row_aside(demo)
        readings = demo.get_by_role("button", name="Readings", exact=True)
        readings.click()
        aside = demo.get_by_role("button", name="1 set aside")
        expect(aside).to_be_visible()
        expect(demo.get_by_role("article").filter(has_text="influence on Bracken")).to_have_count(0)
        assert card.inner_text() != before
        aside.click()
        demo.get_by_role("button", name="206", exact=True).click()
        demo.get_by_role("button", name="Bring back").click()
        expect(aside).to_have_count(0)
        readings.click()
        expect(card).to_be_visible()
        assert card.inner_text() == before

    def test_undo_and_redo(self, demo: Page) -> None:
        choose(demo, "x variable", "wind")
        choose(demo, "Band", "99 %")
        demo.keyboard.press("Control+z")
        assert "against wind" in statement(demo)
        assert "95 % band" in statement(demo)
        demo.keyboard.press("Control+z")
        assert "against humidity" in statement(demo)
        expect(demo.get_by_role("button", name="Undo")).to_be_disabled()
        demo.keyboard.press("Control+Shift+z")
        demo.keyboard.press("Control+Shift+z")
        assert "99 % band" in statement(demo)
        drawn(demo)
        assert document(demo)["x"] == "wind"

    def test_readings_are_put_on_the_figure(self, demo: Page) -> None:
        before = canvas(demo).screenshot()
        for name in ("Equation on the figure", "R², R squared on the figure"):
            demo.get_by_role("button", name=name, exact=True).click()
            expect(demo.get_by_role("button", name=name, exact=True)).to_have_attribute(
                "aria-pressed", "true"
            )
        assert document(demo)["trends"][0]["on_figure"] == ["equation", "r_squared"]
        assert canvas(demo).screenshot() != before

    def test_an_axis_is_tuned_where_it_is_clicked(self, demo: Page) -> None:
        box = canvas(demo).bounding_box()
        assert box is not None
        demo.mouse.click(box["x"] + box["width"] / 2, box["y"] + box["height"] - 50)
        tuning = demo.get_by_test_id("tuning")
        expect(tuning).to_contain_text("x axis")
        tuning.get_by_label("Starts at").fill("0")
        tuning.get_by_label("Starts at").press("Enter")
        tuning.get_by_label("Title", exact=True).fill("Humidity of the air (%)")
        saved = document(demo)["axes"]["x"]
        assert (saved["title"], saved["low"], saved["high"]) == (
            "Humidity of the air (%)",
            0,
            None,
        )
        tuning.get_by_label("Ends at").fill("-5")
        tuning.get_by_label("Ends at").press("Enter")
        expect(tuning.get_by_role("alert")).to_contain_text("must end above where it starts")
        tuning.get_by_label("Ends at").fill("high")
        tuning.get_by_label("Ends at").press("Enter")
        expect(tuning.get_by_role("alert")).to_contain_text("“high” is not a number")
        assert document(demo)["axes"]["x"]["high"] is None
        demo.keyboard.press("Escape")
        expect(tuning).to_have_count(0)

    def test_looks_are_tuned_without_asking_the_server_for_numbers(self, demo: Page) -> None:
        asked = asking(demo)
        demo.get_by_role("button", name="marks", exact=True).click()
        demo.get_by_role("button", name="diamond").click()
        size = demo.get_by_role("slider", name="Size", exact=True)
        size.focus()
        for _ in range(4):
            size.press("ArrowRight")
        opacity = demo.get_by_role("slider", name="Opacity")
        opacity.focus()
        opacity.press("Home")
        saved = document(demo)["marks"]
        assert (saved["shape"], saved["size"], saved["opacity"]) == ("diamond", 8, 0.02)
        assert asked == []
        # Steps of one slider in quick succession are one step of undo.
        for _ in range(3):
            demo.keyboard.press("Escape")
            demo.keyboard.press("Control+z")
        expect(demo.get_by_role("button", name="Undo")).to_be_disabled()

    @only_long
    def test_a_title_and_the_legend(self, demo: Page) -> None:
        demo.get_by_role("button", name="titles", exact=True).click()
        demo.get_by_test_id("tuning").get_by_label("Title", exact=True).fill("Dew at night")
        demo.keyboard.press("Escape")
        demo.get_by_role("button", name="legend", exact=True).click()
        pick(demo.get_by_test_id("tuning"), "Position", "right of the plot")
        saved = document(demo)
        assert (saved["title"], saved["legend"]["place"]) == ("Dew at night", "right")

    def test_a_figure_is_added_and_deleted(self, demo: Page) -> None:
        demo.get_by_role("button", name="Add a figure").click()
        figures = demo.locator("[aria-label=Figures] .figure")
        expect(figures).to_have_count(9)
        demo.get_by_role("button", name="Delete the open figure").click()
        expect(figures).to_have_count(8)
        drawn(demo)


class TestSaving:
    @only_long
    def test_everything_is_there_after_the_server_was_killed(
        self, browser: object, tmp_path: Path
    ) -> None:
        server = Server(tmp_path, command="demo")
        context = browser.new_context()  # type: ignore[attr-defined]
        page = context.new_page()
        page.goto(server.address)
        page.get_by_role("link", name="Dew survey").click()
        drawn(page)
        choose(page, "x variable", "wind")
        document(page)
        address = page.url
        context.close()
        server.kill()
        again = Server(tmp_path)
        page = browser.new_page()  # type: ignore[attr-defined]
        page.goto(address.replace(server.address, again.address))
        drawn(page)
        assert statement(page).startswith("Yield against wind, coloured by valley")
        page.close()
        again.kill()

    @pytest.mark.complains
    def test_a_save_that_fails_is_said_and_made_good(self, demo: Page) -> None:
        demo.route("**/api/figures/*", lambda route: route.abort())
        choose(demo, "x variable", "wind")
        expect(demo.get_by_text("Not saved yet; trying again")).to_be_visible()
        demo.unroute("**/api/figures/*")
        expect(demo.get_by_text("Not saved yet; trying again")).to_have_count(0, timeout=10_000)
        assert document(demo)["x"] == "wind"

    @pytest.mark.complains
    @pytest.mark.parametrize("ours", [pytest.param(True, marks=only_long), False])
    def test_someone_else_saved_first(self, demo: Page, ours: bool) -> None:
        other = demo.context.new_page()
        other.goto(demo.url)
        drawn(other)
        choose(other, "x variable", "wind")
        document(other)
        other.close()
        choose(demo, "y variable", "cloud")
        expect(demo.get_by_text("This figure was changed in another tab")).to_be_visible()
        name = "Keep this version" if ours else "Use the other version"
        demo.get_by_role("button", name=name).click()
        expect(demo.get_by_text("This figure was changed in another tab")).to_have_count(0)
        drawn(demo)
        saved = document(demo)
        expected = ("humidity", ["cloud"]) if ours else ("wind", ["yield"])
        assert (saved["x"], saved["y"]) == expected


class TestPuttingVariables:
    def test_one_is_dragged_onto_the_figure(self, demo: Page) -> None:
        wind = demo.get_by_role("button", name="Wind, m/s, number")
        box = demo.locator("canvas.canvas").bounding_box()
        assert box is not None
        wind.hover()
        demo.mouse.down()
        demo.mouse.move(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2, steps=4)
        places = demo.get_by_test_id("drop")
        expect(places).to_contain_text("x axis")
        across = places.get_by_text("x axis", exact=True).bounding_box()
        assert across is not None
        demo.mouse.move(
            across["x"] + across["width"] / 2, across["y"] + across["height"] / 2, steps=4
        )
        demo.mouse.up()
        expect(places).to_have_count(0)
        drawn(demo)
        assert document(demo)["x"] == "wind"

    def test_one_is_put_there_from_its_panel(self, demo: Page) -> None:
        demo.get_by_role("button", name="Wind, m/s, number").click()
        roles = demo.get_by_role("group", name="Put it on the open figure")
        roles.get_by_role("button", name="size").click()
        drawn(demo)
        expect(roles.get_by_role("button", name="size")).to_have_attribute("aria-pressed", "true")
        assert document(demo)["size"]["variable"] == "wind"
