"""The rows of a table on the page: looked through, changed, shaped, read in again."""

from __future__ import annotations

import re
from pathlib import Path

import pytest
from playwright.sync_api import Locator, Page, expect

from tests.scope import only_long
from tests.web.acting import choose, document, pick
from tests.web.running import drawn


def rows_of(page: Page) -> Locator:
    page.get_by_role("button", name="Rows", exact=True).click()
    return page.get_by_role("grid", name="Rows")


def cell(page: Page, row: int, column: int) -> Locator:
    return page.locator(f'[data-cell="{row} {column}"]')


def paste(page: Page, text: str) -> None:
    page.evaluate(
        """text => {
            const data = new DataTransfer()
            data.setData('text/plain', text)
            document.activeElement.dispatchEvent(
                new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true })
            )
        }""",
        text,
    )


class TestLooking:
    def test_sorted_and_found(self, demo: Page) -> None:
        grid = rows_of(demo)
        grid.get_by_role("button", name="Yield").click()
        expect(cell(demo, 0, 9)).to_have_text("17")
        grid.get_by_role("button", name="Yield").click()
        expect(cell(demo, 0, 9)).to_have_text("498")
        header = grid.get_by_role("columnheader", name="Yield")
        expect(header).to_have_attribute("aria-sort", "descending")
        demo.get_by_role("searchbox", name="Find in the rows").fill("bracken")
        expect(demo.get_by_text("160 rows of 640")).to_be_visible()
        expect(cell(demo, 0, 2)).to_have_text("Bracken")

    def test_keys_move_through_every_row(self, demo: Page) -> None:
        rows_of(demo)
        cell(demo, 0, 0).click()
        demo.keyboard.press("Control+End")
        expect(cell(demo, 639, 9)).to_be_focused()
        demo.keyboard.press("PageUp")
        demo.keyboard.press("Home")
        expect(cell(demo, 639, 0)).not_to_be_focused()
        demo.keyboard.press("Control+Home")
        expect(cell(demo, 0, 0)).to_be_focused()
        expect(cell(demo, 0, 0)).to_have_text("2031-04-11")


class TestChanging:
    def test_a_value_is_typed_and_the_figure_follows(self, demo: Page) -> None:
        rows_of(demo)
        cell(demo, 0, 9).click()
        demo.keyboard.type("900")
        demo.keyboard.press("Enter")
        expect(cell(demo, 0, 9)).to_have_text("900")
        expect(cell(demo, 1, 9)).to_be_focused()
        expect(demo.get_by_role("button", name="Yield, mL/m²")).to_be_visible()
        demo.keyboard.press("Delete")
        expect(demo.get_by_test_id("counts")).to_contain_text("7 rows lack yield")
        demo.get_by_role("button", name="Undo").click()
        expect(demo.get_by_test_id("counts")).to_contain_text("6 rows lack yield")
        demo.get_by_role("button", name="Undo").click()
        expect(cell(demo, 0, 9)).to_have_text("135")
        demo.get_by_role("button", name="Redo").click()
        expect(cell(demo, 0, 9)).to_have_text("900")

    @pytest.mark.complains
    def test_what_cannot_be_read_stays_in_its_field(self, demo: Page) -> None:
        rows_of(demo)
        cell(demo, 2, 9).dblclick()
        field = demo.get_by_role("textbox", name="Yield, row 3")
        field.fill("much")
        field.press("Enter")
        alert = demo.get_by_role("alert").filter(has_text="“much” is not a number")
        expect(alert).to_be_visible()
        expect(field).to_have_value("much")
        field.press("Escape")
        expect(alert).to_have_count(0)
        expect(cell(demo, 2, 9)).not_to_have_text("much")

    def test_rows_are_added_and_deleted(self, demo: Page) -> None:
        rows_of(demo)
        demo.get_by_role("button", name="+ row", exact=True).click()
        expect(cell(demo, 640, 0)).to_be_focused()
        demo.keyboard.press("Control+Home")
        demo.keyboard.press("Shift+ArrowDown")
        demo.get_by_role("button", name="Delete 2 rows").click()
        expect(demo.get_by_role("button", name="About the table nights")).to_have_text("639 rows")
        expect(cell(demo, 0, 0)).to_have_text("2031-04-23")
        # Rows keep their numbers, so that what is set aside stays set aside.
        expect(demo.get_by_role("grid").get_by_role("rowheader").first).to_have_text("3")

    def test_undo_reaches_back_across_a_reload(self, demo: Page) -> None:
        choose(demo, "x variable", "wind")
        rows_of(demo)
        cell(demo, 0, 9).click()
        demo.keyboard.type("900")
        demo.keyboard.press("Enter")
        expect(cell(demo, 0, 9)).to_have_text("900")
        expect(demo.get_by_text("Saving …")).to_have_count(0)
        demo.reload()
        drawn(demo)
        rows_of(demo)
        expect(cell(demo, 0, 9)).to_have_text("900")
        demo.get_by_role("button", name="Undo").click()
        expect(cell(demo, 0, 9)).to_have_text("135")
        demo.get_by_role("button", name="Undo").click()
        expect(demo.get_by_test_id("statement")).to_contain_text("against humidity")
        assert document(demo)["x"] == "humidity"


class TestTyping:
    def test_a_small_table_is_typed_from_nothing(self, demo: Page) -> None:
        demo.get_by_role("button", name="+ Type a table").click()
        expect(demo.get_by_role("button", name="About the table typed rows")).to_be_visible()
        cell(demo, 0, 0).click()
        for row in ("1", "2", "3"):
            demo.keyboard.type(row)
            demo.keyboard.press("Tab")
            demo.keyboard.type(str(2 * int(row)))
            demo.keyboard.press("Enter")
            demo.keyboard.press("ArrowLeft")
        expect(demo.get_by_test_id("counts")).to_contain_text("3 marks drawn")

    def test_a_block_is_pasted_at_the_cursor(self, demo: Page) -> None:
        demo.get_by_role("button", name="+ Type a table").click()
        cell(demo, 0, 0).click()
        lines = ["dose (g/m²)\tshed (%)\tcoating"]
        lines += [f"{d},5\t{3 * d}\twax" for d in range(8)]
        paste(demo, "\r\n".join(lines) + "\r\n")
        expect(cell(demo, 7, 0)).to_have_text("7.5")
        expect(cell(demo, 7, 2)).to_have_text("wax")
        expect(demo.get_by_role("button", name="Dose, g/m², number")).to_be_visible()
        demo.keyboard.press("Control+z")
        expect(demo.get_by_role("button", name="X, number, 5 missing")).to_be_visible()


class TestShaping:
    def test_columns_are_stacked_and_rows_joined(self, demo: Page) -> None:
        demo.get_by_role("button", name="About the table nights").click()
        demo.get_by_role("button", name="Wide to long").click()
        group = demo.get_by_role("group", name="Columns to stack")
        group.get_by_role("button", name="Air temperature").click()
        group.get_by_role("button", name="Dew-point gap").click()
        demo.get_by_role("button", name="Make the table").click()
        about = demo.get_by_role("button", name="About the table nights, stacked")
        expect(about).to_have_text("1\u202f280 rows")
        pick(demo, "Table", "nights")
        demo.get_by_role("button", name=re.compile("about the table nights$")).click()
        demo.get_by_role("button", name="Join a table").click()
        pick(demo, "Table to join", "stations")
        pick(demo, "Shared here as", "Station")
        pick(demo, "and there as", "Station")
        demo.get_by_role("button", name="Make the table").click()
        expect(demo.get_by_role("button", name="Altitude, m, number")).to_be_visible()

    @pytest.mark.complains
    @only_long
    def test_what_cannot_be_shaped_says_why(self, demo: Page) -> None:
        demo.get_by_role("button", name="About the table nights").click()
        demo.get_by_role("button", name="Long to wide").click()
        pick(demo, "A column for each", "Valley")
        pick(demo, "holding", "Station")
        demo.get_by_role("button", name="Make the table").click()
        expect(demo.get_by_role("button", name="About the table nights, spread")).to_be_visible()
        demo.get_by_role("button", name="About the table nights, spread").click()
        demo.get_by_role("button", name="Join a table").click()
        pick(demo, "Table to join", "cistern")
        pick(demo, "Shared here as", "Mesh")
        demo.get_by_role("button", name="Make the table").click()
        expect(demo.get_by_role("alert")).to_contain_text("no value in common")


class TestReadingAgain:
    # The small picture of a figure whose variable has gone is refused, where it is asked for.
    @pytest.mark.complains
    def test_figures_stay_and_changes_are_said(self, demo: Page, tmp_path: Path) -> None:
        newer = tmp_path / "nights.csv"
        lines = ["humidity (%),valley,yield,rain"]
        lines += [f"{50 + i},Argill,{100 + 3 * i},{i % 4}" for i in range(30)]
        newer.write_text("\n".join(lines))
        demo.get_by_role("button", name="About the table nights").click()
        demo.get_by_label("File to import again").set_input_files(newer)
        expect(demo.get_by_text("They take the place of the rows of nights.")).to_be_visible()
        expect(demo.get_by_text("New in the file: “rain”.")).to_be_visible()
        expect(demo.get_by_text("No longer in the file:")).to_contain_text("“wind”")
        demo.get_by_role("button", name="Replace rows").click()
        expect(demo.get_by_test_id("counts")).to_contain_text("30 marks drawn")
        expect(demo.get_by_text("nights was imported again: 30 rows.")).to_contain_text(
            "New: “rain”"
        )
        # The unit that the table had stays, though the file gives none.
        expect(demo.get_by_role("button", name="Yield, mL/m², number")).to_be_visible()
        demo.get_by_role("button", name="Undo").click()
        expect(demo.get_by_test_id("counts")).to_contain_text("631 marks drawn")


class TestCategories:
    def test_order_names_and_colours_hold_for_the_study(self, demo: Page) -> None:
        demo.get_by_role("button", name="Valley, category").click()
        panel = demo.get_by_role("group", name="Categories of Valley")
        name = panel.get_by_role("textbox", name="Name of Dunlin")
        name.fill("Dunlin slope")
        name.press("Enter")
        expect(demo.get_by_role("button", name="Colour of Dunlin slope")).to_be_visible()
        panel.get_by_role("button", name="Move Dunlin slope up").click()
        expect(panel.get_by_role("listitem").nth(2)).to_contain_text("160")
        panel.get_by_role("button", name="Colour of Argill").click()
        panel.get_by_role("button", name="heron").click()
        demo.keyboard.press("Escape")
        readings = demo.get_by_role("article", name="Readings of")
        expect(readings.nth(2)).to_contain_text("Dunlin slope")
        study = demo.url.split("/studies/")[1].split("/")[0]
        origin = "/".join(demo.url.split("/")[:3])
        # The colour is saved by a request of its own.
        demo.wait_for_function(
            """async (study) => {
                const found = await (await fetch(`/api/studies/${study}`)).json()
                return found.categories.valley[0].colour !== null
            }""",
            arg=study,
        )
        looks = demo.request.get(f"{origin}/api/studies/{study}").json()["categories"]["valley"]
        assert [look["value"] for look in looks] == ["Argill", "Bracken", "Dunlin", "Corrie"]
        assert looks[0]["colour"] == "#5e71ae"
        assert [look["turn"] for look in looks] == [0, 1, 3, 2]
        demo.get_by_role("button", name="Undo").click()
        demo.get_by_role("button", name="Undo").click()
        expect(readings.nth(3)).to_contain_text("Dunlin slope")


def test_a_filter_is_saved_under_a_name(demo: Page) -> None:
    demo.get_by_role("button", name="Rows: all").click()
    chooser = demo.get_by_role("dialog", name="Which rows")
    pick(chooser, "Filter by", "Valley")
    chooser.get_by_role("button", name="Corrie").click()
    chooser.get_by_label("Name to save this filter under").fill("without Corrie")
    chooser.get_by_role("button", name="Save this filter").click()
    saved = chooser.get_by_role("group", name="Saved filters")
    expect(saved.get_by_role("button", name="without Corrie").first).to_be_visible()
    chooser.get_by_role("button", name="All rows").click()
    expect(chooser).to_contain_text("640 of 640 rows")
    saved.get_by_role("button", name="without Corrie", exact=True).click()
    expect(chooser).to_contain_text("480 of 640 rows")
    saved.get_by_role("button", name="Forget without Corrie").click()
    expect(saved).to_have_count(0)


def test_own_limits_cut_a_number_into_classes(demo: Page) -> None:
    demo.get_by_role("button", name="Wind, m/s").click()
    demo.get_by_label("Bin at these limits").fill("2, 4")
    demo.get_by_role("button", name="Bin into categories").click()
    expect(demo.get_by_test_id("variable")).to_contain_text("classes_at({wind}, 2, 4)")
    expect(demo.get_by_role("textbox", name="Name of below 2")).to_be_visible()
