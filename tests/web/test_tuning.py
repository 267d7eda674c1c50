"""The scatterplot and the bubble chart tuned on the spot, by mouse and keyboard."""

from __future__ import annotations

import pytest
from playwright.sync_api import Page, expect

from tests.scope import only_long
from tests.web.acting import asking, canvas, choose, document, pick, statement
from tests.web.running import drawn


def stations(page: Page) -> None:
    page.get_by_role("button", name="Mean yield against altitude").click()
    expect(page.get_by_role("button", name="Labels: station")).to_be_visible()
    drawn(page)


def tune(page: Page, part: str) -> None:
    page.keyboard.press("Escape")
    page.get_by_role("button", name=part, exact=True).click()


def unfold(page: Page, heading: str) -> None:
    page.get_by_role("button", name=heading, exact=True).click()


class TestStatement:
    def test_size_names_and_error_bars(self, demo: Page) -> None:
        choose(demo, "Add a size", "wind")
        choose(demo, "Add labels", "station")
        assert "sized by wind, coloured by valley, labelled by station" in statement(demo)
        saved = document(demo)
        assert saved["size"]["variable"] == "wind"
        # Of many bubbles only the largest are named.
        assert saved["names"]["show"] == "largest"
        demo.get_by_role("button", name="Add error bars").click()
        # No variable is called an error: nothing is drawn before its source is chosen.
        assert document(demo)["error_bars"]["y"] is None
        choices = demo.get_by_test_id("tuning").get_by_role("group", name="y error bars")
        choices.get_by_role("button").nth(-1).click()
        assert document(demo)["error_bars"]["y"] is not None
        choose(demo, "Size", "all of one size")
        assert document(demo)["size"] is None

    def test_several_variables_go_up(self, demo: Page) -> None:
        choose(demo, "Add another variable", "dew-point")
        assert statement(demo).startswith("Yield and dew-point gap against humidity")
        expect(demo.get_by_role("article", name="Readings of Dew-point gap")).to_be_visible()
        assert document(demo)["y"] == ["yield", "dew-point gap"]
        choose(demo, "y variable 2", "remove it")
        assert document(demo)["y"] == ["yield"]


class TestAxes:
    @only_long
    def test_scale_ticks_grid_and_frame_without_asking_the_server(self, demo: Page) -> None:
        asked = asking(demo)
        tune(demo, "y axis")
        panel = demo.get_by_test_id("tuning")
        before = canvas(demo).screenshot()
        unfold(demo, "Ticks and their labels")
        unfold(demo, "Axis lines and crossing point")
        for group, words in (
            ("Scale", "logarithmic"),
            ("Base", "2"),
            ("Direction", "reversed"),
            ("Ticks", "in"),
            ("Gridlines", "major and minor ticks"),
            ("Axis line extent", "box"),
        ):
            panel.get_by_role("group", name=group, exact=True).get_by_role(
                "button", name=words, exact=True
            ).click()
        panel.get_by_label("Suffix").fill(" mL")
        panel.get_by_label("Suffix").press("Enter")
        saved = document(demo)["axes"]
        assert saved["frame"] == "box"
        assert [
            saved["y"][k] for k in ("scale", "base", "reversed", "ticks", "grid", "suffix")
        ] == [
            "log",
            2,
            True,
            "in",
            "all",
            " mL",
        ]
        assert canvas(demo).screenshot() != before
        assert asked == []

    def test_what_a_scale_has_no_place_for_is_counted(self, demo: Page) -> None:
        choose(demo, "x variable", "cloud")
        tune(demo, "x axis")
        demo.get_by_role("button", name="logarithmic").click()
        expect(demo.get_by_test_id("counts")).to_contain_text("cannot be shown on this scale")

    def test_reference_lines(self, demo: Page) -> None:
        tune(demo, "y axis")
        demo.get_by_role("button", name="+ reference line").click()
        pick(demo, "Where", "a shaded range")
        demo.get_by_label("To", exact=True).fill("5")
        demo.get_by_label("To", exact=True).press("Enter")
        expect(demo.get_by_role("alert")).to_contain_text(
            "The end of a range must be above its start"
        )
        pick(demo, "Where", "at a value")
        demo.get_by_label("Label", exact=True).fill("enough for a home")
        demo.get_by_label("Label", exact=True).press("Enter")
        (line,) = document(demo)["references"]
        assert (line["axis"], line["at"], line["label"]) == ("y", "value", "enough for a home")


class TestMarks:
    @only_long
    def test_jitter_outline_and_connecting_lines(self, demo: Page) -> None:
        asked = asking(demo)
        tune(demo, "marks")
        unfold(demo, "Overlapping marks")
        unfold(demo, "Connecting line")
        slider = demo.get_by_role("slider", name="Jitter x")
        slider.focus()
        for _ in range(5):
            slider.press("ArrowRight")
        demo.get_by_role("button", name="hollow").click()
        document(demo)
        assert asked == []
        # A line may be in the order of a variable, so what connects points is asked for.
        demo.get_by_role("button", name="in steps").click()
        saved = document(demo)
        assert saved["jitter"] == {"x": 0.05, "y": 0}
        assert saved["marks"]["hollow"] is True
        assert saved["connect"]["line"] == "steps"

    def test_letters_stand_in_the_place_of_markers(self, demo: Page) -> None:
        stations(demo)
        tune(demo, "marks")
        before = canvas(demo).screenshot()
        pick(demo, "Text as marker", "Valley")
        drawn(demo)
        assert document(demo)["marks"]["text"] == "valley"
        assert canvas(demo).screenshot() != before

    def test_a_category_has_its_own_look_and_place_on_one_figure(self, demo: Page) -> None:
        before = canvas(demo).screenshot()
        tune(demo, "legend")
        unfold(demo, "Marks of Corrie")
        marker = demo.get_by_role("group", name="Marker of Corrie")
        marker.get_by_role("button", name="star").click()
        demo.get_by_role("slider", name="Size of Corrie").press("ArrowRight")
        demo.get_by_role("button", name="Draw in front").click()
        demo.get_by_role("button", name="Move Corrie up in the legend").click()
        saved = document(demo)
        assert saved["marks"]["each"] == {"Corrie": {"colour": None, "shape": "star", "size": 1.05}}
        assert saved["marks"]["front"] == ["Corrie"]
        assert saved["legend"]["order"][:2] == ["Argill", "Corrie"]
        assert canvas(demo).screenshot() != before
        demo.get_by_role("button", name="Reset look").click()
        assert document(demo)["marks"]["each"] == {}

    def test_amounts_and_their_ramp(self, demo: Page) -> None:
        choose(demo, "Colour", "air temperature")
        tune(demo, "marks")
        demo.get_by_role("button", name="tide").click()
        demo.get_by_label("Middle").fill("10")
        demo.get_by_label("Middle").press("Enter")
        steps = demo.get_by_role("group", name="Steps")
        steps.get_by_role("button", name="5").click()
        colour = document(demo)["colour"]
        assert (colour["ramp"], colour["middle"], colour["steps"]) == ("tide", 10, 5)

    def test_bubbles_that_crowd_are_offered_room(self, demo: Page) -> None:
        stations(demo)
        tune(demo, "marks")
        slider = demo.get_by_role("slider", name="Largest bubble")
        slider.focus()
        slider.press("End")
        offer = demo.get_by_role("button", name="pt instead")
        largest = float(offer.inner_text().split()[1])
        offer.click()
        assert document(demo)["size"]["largest"] == largest
        expect(offer).to_have_count(0)


class TestWords:
    def test_each_part_has_its_own_lettering(self, demo: Page) -> None:
        asked = asking(demo)
        tune(demo, "y axis")
        before = canvas(demo).screenshot()
        unfold(demo, "Text of tick labels")
        demo.get_by_role("button", name="serif", exact=True).first.click()
        demo.get_by_role("slider", name="Size of tick labels").press("ArrowRight")
        assert document(demo)["type"]["parts"] == {
            "tick_labels": {"size": 1.05, "face": "serif", "weight": None, "colour": None}
        }
        assert canvas(demo).screenshot() != before
        assert asked == []

    def test_a_name_is_moved_by_keyboard(self, demo: Page) -> None:
        stations(demo)
        canvas(demo).focus()
        canvas(demo).press("ArrowRight")
        canvas(demo).press("Enter")
        demo.get_by_role("button", name="Move its label").click()
        demo.get_by_role("slider", name="Name, to the right").press("ArrowRight")
        assert list(document(demo)["names"]["moved"].values()) == [[9, -20]]


class TestByHand:
    def test_a_box_selects_and_the_selection_is_set_aside(self, demo: Page) -> None:
        demo.get_by_role("button", name="Box", exact=True).click()
        box = canvas(demo).bounding_box()
        assert box is not None
        x, y = box["x"], box["y"]
        demo.mouse.move(x + box["width"] * 0.5, y + box["height"] * 0.1)
        demo.mouse.down()
        demo.mouse.move(x + box["width"] * 0.8, y + box["height"] * 0.3, steps=5)
        demo.mouse.up()
        panel = demo.get_by_test_id("selection")
        count = int(panel.get_by_role("heading").inner_text().split()[0])
        assert count > 10
        panel.get_by_role("button", name="Set aside").click()
        expect(demo.get_by_test_id("counts")).to_contain_text(f"{count} set aside")
        assert len(document(demo)["set_aside"]) == count
        panel.get_by_role("button", name="Show their rows").click()
        expect(demo.get_by_role("grid", name="Rows")).to_be_visible()
        # The same rows are selected in another figure of their table.
        demo.get_by_role("button", name="Yield against cloud").click()
        expect(demo.get_by_role("button", name="x variable: cloud")).to_be_visible()
        drawn(demo)
        expect(panel.get_by_role("heading")).to_contain_text(str(count))
        demo.keyboard.press("Escape")
        expect(panel).to_have_count(0)

    def test_a_rope_selects_and_shift_adds(self, demo: Page) -> None:
        demo.get_by_role("button", name="Free-form", exact=True).click()
        box = canvas(demo).bounding_box()
        assert box is not None

        heading = demo.get_by_test_id("selection").get_by_role("heading")

        def rope(left: float, right: float, before: str = "") -> str:
            corners = ((left, 0.2), (right, 0.2), (right, 0.9), (left, 0.9))
            for i, (cx, cy) in enumerate(corners):
                demo.mouse.move(
                    box["x"] + box["width"] * cx, box["y"] + box["height"] * cy, steps=4
                )
                if i == 0:
                    demo.mouse.down()
            demo.mouse.up()
            # What opens beside the figure is a task of its own.
            expect(heading).not_to_have_text(before)
            return heading.inner_text()

        first = rope(0.5, 0.6)
        demo.keyboard.down("Shift")
        both = rope(0.7, 0.8, before=first)
        demo.keyboard.up("Shift")
        assert 0 < int(first.split()[0]) < int(both.split()[0])

    def test_the_legend_and_a_note_are_dragged(self, demo: Page) -> None:
        demo.get_by_role("button", name="+ note").click()
        # A note that says nothing is none.
        demo.keyboard.press("Enter")
        assert document(demo)["notes"] == []
        demo.get_by_role("button", name="+ note").click()
        demo.keyboard.type("the other way")
        demo.keyboard.press("Enter")
        box = canvas(demo).bounding_box()
        assert box is not None
        fx, fy = box["x"] + box["width"] * 0.46, box["y"] + box["height"] * 0.13
        demo.mouse.move(fx + 4, fy)
        demo.mouse.down()
        demo.mouse.move(fx + 104, fy + 60, steps=6)
        demo.mouse.up()
        (note,) = document(demo)["notes"]
        assert note["text"] == "the other way"
        assert note["x"] == pytest.approx(0.45 + 100 / box["width"], abs=0.02)
        assert note["y"] == pytest.approx(0.12 + 60 / box["height"], abs=0.02)

    def test_a_note_and_the_legend_are_put_by_keyboard(self, demo: Page) -> None:
        demo.get_by_role("button", name="+ note").click()
        demo.keyboard.type("here")
        demo.keyboard.press("Enter")
        panel = demo.get_by_test_id("tuning")
        slider = panel.get_by_role("slider", name="x position")
        slider.focus()
        slider.press("ArrowRight")
        panel.get_by_role("button", name="Add a pointer").click()
        panel.get_by_label("and y").fill("400")
        panel.get_by_label("and y").press("Enter")
        (note,) = document(demo)["notes"]
        assert note["x"] == pytest.approx(0.46)
        assert note["points_to"][1] == 400
        tune(demo, "legend")
        pick(panel, "Position", "where it was dragged")
        slider = panel.get_by_role("slider", name="y position")
        slider.focus()
        slider.press("End")
        assert document(demo)["legend"]["y"] == 1

    def test_a_point_is_named_and_singled_out(self, demo: Page) -> None:
        stations(demo)
        canvas(demo).focus()
        demo.keyboard.press("ArrowRight")
        demo.keyboard.press("Enter")
        panel = demo.get_by_test_id("tuning")
        panel.get_by_role("button", name="Highlight").click()
        panel.get_by_label("In the legend as").fill("the lowest")
        panel.get_by_label("In the legend as").press("Enter")
        panel.get_by_role("button", name="Label it").click()
        saved = document(demo)
        # Beside those that are labelled already.
        assert saved["names"]["show"] == "outermost"
        assert saved["singled_out"][0]["rows"] == saved["names"]["rows"]
        assert saved["singled_out"][0]["name"] == "the lowest"

    def test_words_and_page(self, demo: Page) -> None:
        tune(demo, "titles")
        panel = demo.get_by_test_id("tuning")
        panel.get_by_label("Subtitle", exact=True).fill("Four valleys")
        panel.get_by_label("Caption", exact=True).fill("Lines with 95 % bands.")
        slider = panel.get_by_role("slider", name="Text size")
        slider.focus()
        slider.press("ArrowRight")
        saved = document(demo)
        assert (saved["subtitle"], saved["caption"]) == ("Four valleys", "Lines with 95 % bands.")
        assert saved["type"]["scale"] == 1.05


class TestWordsWhereTheyStand:
    def test_words_are_edited_where_they_stand(self, demo: Page) -> None:
        canvas(demo).focus()
        demo.keyboard.press("F2")
        field = demo.get_by_role("textbox", name="Title", exact=True)
        expect(field).to_be_focused()
        field.fill("Dew in four valleys")
        field.press("Enter")
        assert document(demo)["title"] == "Dew in four valleys"
        box = canvas(demo).bounding_box()
        assert box is not None
        demo.mouse.dblclick(box["x"] + box["width"] / 2, box["y"] + box["height"] - 40)
        axis = demo.get_by_role("textbox", name="Title of the x axis")
        axis.fill("Humidity")
        axis.press("Escape")
        assert document(demo)["axes"]["x"]["title"] is None
        demo.mouse.dblclick(box["x"] + box["width"] / 2, box["y"] + box["height"] - 40)
        axis.fill("Humidity at dawn")
        axis.press("Enter")
        assert document(demo)["axes"]["x"]["title"] == "Humidity at dawn"

    def test_a_look_is_saved_and_given_to_another_figure(self, demo: Page) -> None:
        tune(demo, "marks")
        demo.get_by_role("button", name="diamond").click()
        tune(demo, "titles")
        demo.get_by_label("Name to save this look under").fill("stones")
        demo.get_by_role("button", name="Save this look").click()
        expect(demo.get_by_role("button", name="stones", exact=True)).to_be_visible()
        demo.keyboard.press("Escape")
        demo.get_by_role("button", name="Level against day", exact=True).click()
        expect(demo.get_by_role("button", name="y variable: Level")).to_be_visible()
        tune(demo, "titles")
        demo.get_by_role("button", name="stones", exact=True).click()
        assert document(demo)["marks"]["shape"] == "diamond"
        assert document(demo)["axes"]["x"]["title"] is None


def test_the_ends_of_an_axis_are_dragged_on_the_axis(demo: Page) -> None:
    box = canvas(demo).bounding_box()
    assert box is not None
    y = box["y"] + box["height"] - 60
    demo.mouse.move(box["x"] + box["width"] * 0.9, y)
    demo.mouse.down()
    demo.mouse.move(box["x"] + box["width"] * 0.8, y, steps=3)
    # A slow hand, or a slow machine: it is one step of undo all the same.
    demo.evaluate("window.trueNow = Date.now; Date.now = () => window.trueNow() + 5000")
    demo.mouse.move(box["x"] + box["width"] * 0.7, y, steps=3)
    demo.mouse.up()
    axis = document(demo)["axes"]["x"]
    demo.evaluate("Date.now = window.trueNow")
    assert axis["low"] is None
    # What was under the hand moved to the left, and so the axis now ends later.
    assert axis["high"] > 100
    demo.keyboard.press("Control+z")
    assert document(demo)["axes"]["x"]["high"] is None
