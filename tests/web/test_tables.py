"""Tables: variables looked at and changed, rows chosen, formats in and out."""

from __future__ import annotations

from pathlib import Path

import pytest
from playwright.sync_api import Page, expect

from tests.scope import only_long
from tests.tables.test_formats import ods, xlsx
from tests.web.acting import canvas, choose, document, pick, statement
from tests.web.running import drawn


class TestVariables:
    def test_a_summary_is_shown_on_asking(self, demo: Page) -> None:
        demo.get_by_role("button", name="Yield, mL/m²").click()
        panel = demo.get_by_test_id("variable")
        for words in ("Mean", "SD", "Lower quartile", "498 mL/m²", "Missing"):
            expect(panel).to_contain_text(words)
        demo.get_by_role("button", name="Valley, category").click()
        categories = panel.get_by_role("group", name="Categories of Valley")
        expect(categories.get_by_role("textbox", name="Name of Argill")).to_have_value("Argill")
        expect(categories.get_by_role("listitem").first).to_contain_text("160")
        demo.keyboard.press("Escape")
        expect(panel).to_have_count(0)

    def test_label_and_unit_appear_on_the_figure(self, demo: Page) -> None:
        before = canvas(demo).screenshot()
        demo.get_by_role("button", name="Humidity, %").click()
        panel = demo.get_by_test_id("variable")
        panel.get_by_label("Label").fill("Relative humidity")
        panel.get_by_label("Label").press("Enter")
        expect(demo.get_by_test_id("statement")).to_contain_text("against relative humidity")
        panel.get_by_label("Unit").fill("percent")
        panel.get_by_label("Unit").press("Enter")
        expect(demo.get_by_role("button", name="Relative humidity, percent")).to_be_visible()
        drawn(demo)
        assert canvas(demo).screenshot() != before

    def test_another_kind_loses_no_value(self, demo: Page) -> None:
        demo.get_by_role("button", name="Station, text").click()
        panel = demo.get_by_test_id("variable")
        pick(panel, "Kind", "number")
        alert = panel.get_by_role("alert")
        expect(alert).to_contain_text("640 values cannot be read as a number")
        expect(alert).to_contain_text("Row 1: “A1”")
        pick(panel, "Kind", "category")
        expect(alert).to_have_count(0)
        expect(panel.get_by_role("textbox", name="Name of A1", exact=True)).to_be_visible()


class TestRows:
    def test_rows_are_chosen_while_the_count_follows(self, demo: Page) -> None:
        demo.get_by_role("button", name="Rows: all").click()
        chooser = demo.get_by_role("dialog", name="Which rows")
        expect(chooser).to_contain_text("640 of 640 rows")
        pick(chooser, "Filter by", "Valley")
        chooser.get_by_role("button", name="Corrie").click()
        expect(chooser).to_contain_text("480 of 640 rows")
        pick(chooser, "Another condition on", "Wind")
        chooser.get_by_label("From").fill("3,5")
        chooser.get_by_label("From").press("Tab")
        expect(chooser).not_to_contain_text("480 of 640 rows")
        chooser.get_by_label("To", exact=True).fill("strong")
        chooser.get_by_label("To", exact=True).press("Tab")
        expect(chooser.get_by_role("alert")).to_contain_text("“strong” is not a number")
        demo.keyboard.press("Escape")
        assert "rows: valley is Argill, Bracken or Dunlin and wind ≥ 3.5" in statement(demo)
        expect(demo.get_by_role("article", name="Readings of Corrie")).to_have_count(0)
        assert document(demo)["rows"]["conditions"][1]["low"] == 3.5
        # One step each: condition, valley, condition, end.
        for _ in range(4):
            demo.keyboard.press("Control+z")
        expect(demo.get_by_role("button", name="Rows: all")).to_be_visible()

    def test_a_filter_that_leaves_nothing_says_so(self, demo: Page) -> None:
        demo.get_by_role("button", name="Rows: all").click()
        chooser = demo.get_by_role("dialog", name="Which rows")
        pick(chooser, "Filter by", "Valley")
        for valley in ("Argill", "Bracken", "Corrie", "Dunlin"):
            chooser.get_by_role("button", name=valley).click()
        expect(chooser).to_contain_text("0 of 640 rows")
        chooser.get_by_role("button", name="All rows").click()
        expect(chooser).to_contain_text("640 of 640 rows")


class TestFormats:
    @only_long
    def test_every_sheet_of_a_workbook_is_taken_in_at_once(self, demo: Page) -> None:
        demo.set_input_files(
            "input[type=file]", {"name": "trial.xlsx", "mimeType": "", "buffer": xlsx()}
        )
        pick(demo, "Sheet", "Again")
        expect(demo.get_by_label("Name of the table")).to_have_value("Again")
        demo.get_by_role("button", name="Import all 2 tables").click()
        demo.get_by_role("combobox", name="Table", exact=True).click(force=True)
        expect(demo.get_by_role("option")).to_have_count(6)
        demo.keyboard.press("Escape")
        drawn(demo)
        assert statement(demo).startswith("Droplets shed against day")

    def test_an_open_document_sheet(self, demo: Page) -> None:
        demo.set_input_files(
            "input[type=file]", {"name": "trial.ods", "mimeType": "", "buffer": ods()}
        )
        expect(demo.get_by_label("Kind of day")).to_have_value("date")
        demo.get_by_role("button", name="Import", exact=True).click()
        expect(demo.get_by_test_id("statement")).to_contain_text("Droplets shed against day")
        drawn(demo)

    def test_rows_are_pasted_onto_the_page(self, demo: Page) -> None:
        demo.evaluate(
            """() => {
              const clipboardData = new DataTransfer()
              clipboardData.setData('text/plain', 'dose\\tshed\\n1\\t2\\n2\\t3\\n3\\t5\\n')
              document.body.dispatchEvent(
                new ClipboardEvent('paste', { clipboardData, bubbles: true })
              )
            }"""
        )
        expect(demo.get_by_text("3 rows, 2 variables.")).to_be_visible()
        expect(demo.get_by_label("Separator")).to_have_value("tab")

    def test_day_or_month_is_asked_where_it_cannot_be_told(self, demo: Page) -> None:
        content = b"day,level\n03/04/2031,5\n05/04/2031,6\n06/04/2031,8\n"
        demo.set_input_files(
            "input[type=file]", {"name": "days.csv", "mimeType": "", "buffer": content}
        )
        expect(demo.get_by_text("read both ways round")).to_be_visible()
        expect(demo.get_by_role("cell", name="3 Apr 2031 in the file: 03/04/2031")).to_be_visible()
        pick(demo, "In 03/04/2031", "3 is the month")
        expect(demo.get_by_role("cell", name="4 Mar 2031 in the file: 03/04/2031")).to_be_visible()
        expect(demo.get_by_text("read both ways round")).to_have_count(0)

    @pytest.mark.parametrize(
        ("name", "ending"), [("CSV", "csv"), ("Parquet", "parquet"), ("data package", "zip")]
    )
    def test_a_table_is_exported(self, demo: Page, tmp_path: Path, name: str, ending: str) -> None:
        demo.get_by_role("button", name="About the table nights").click()
        with demo.expect_download() as download:
            demo.get_by_role("link", name=name, exact=True).click()
        assert download.value.suggested_filename == f"nights.{ending}"
        target = tmp_path / download.value.suggested_filename
        download.value.save_as(target)
        demo.set_input_files("input[type=file]", target)
        expect(demo.get_by_text("640 rows, 10 variables.")).to_be_visible()


@pytest.mark.complains
def test_a_figure_keeps_working_when_its_variable_becomes_words(demo: Page) -> None:
    demo.get_by_role("button", name="Humidity, %").click()
    pick(demo.get_by_test_id("variable"), "Kind", "text")
    expect(demo.get_by_role("alert").first).to_contain_text("must hold numbers or dates")
    demo.keyboard.press("Escape")
    choose(demo, "x variable", "wind")
    expect(demo.get_by_test_id("counts")).to_contain_text("lack wind")


class TestDerived:
    @pytest.mark.complains
    def test_an_expression_is_tried_while_it_is_typed(self, demo: Page) -> None:
        demo.get_by_role("button", name="+ Derive a variable").click()
        panel = demo.get_by_test_id("derive")
        panel.get_by_label("Name", exact=True).fill("warm yield")
        panel.get_by_label("Expression").fill("yield / {air temp}")
        expect(panel.get_by_role("alert")).to_contain_text("no variable 'air temp'")
        expect(panel.get_by_role("button", name="Add it")).to_be_disabled()
        panel.get_by_label("Expression").fill("yield * ")
        panel.get_by_role("button", name="air temperature").click()
        expect(panel.get_by_role("status")).to_contain_text("Gives a number:")
        panel.get_by_role("button", name="Add it").click()
        expect(demo.get_by_test_id("variable")).to_contain_text("yield * {air temperature}")
        demo.keyboard.press("Escape")
        choose(demo, "x variable", "warm yield")
        assert statement(demo).startswith("Yield against warm yield")

    def test_classes_without_typing_colour_a_figure(self, demo: Page) -> None:
        demo.get_by_role("button", name="Wind, m/s").click()
        demo.get_by_role("button", name="quartiles").click()
        panel = demo.get_by_test_id("variable")
        expect(panel).to_contain_text("classes_of_count({wind}, 4)")
        demo.keyboard.press("Escape")
        choose(demo, "Colour", "quartiles of wind")
        expect(demo.get_by_test_id("statement")).to_contain_text("for each quartiles of wind")

    def test_a_derived_variable_is_changed_and_deleted(self, demo: Page) -> None:
        demo.get_by_role("button", name="Wind, m/s").click()
        demo.get_by_role("button", name="square root").click()
        panel = demo.get_by_test_id("variable")
        panel.get_by_role("button", name="Change").click()
        form = demo.get_by_test_id("derive")
        form.get_by_label("Expression").fill("sqrt(wind) * 10")
        form.get_by_role("button", name="Change it").click()
        expect(panel).to_contain_text("sqrt(wind) * 10")
        panel.get_by_role("button", name="Delete").click()
        expect(demo.get_by_role("button", name="Square root wind")).to_have_count(0)
