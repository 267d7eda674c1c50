"""The scatterplot matrix and its pairs, by mouse and keyboard."""

from __future__ import annotations

from playwright.sync_api import Page, expect

from tests.scope import only_long
from tests.web.acting import canvas, choose, document, pick, statement
from tests.web.running import drawn

NAME = "Yield, humidity, dew-point gap, wind and cloud against each other"


def open_matrix(page: Page) -> None:
    page.get_by_role("button", name=NAME).click()
    expect(canvas(page)).to_have_attribute(
        "aria-label",
        f"{NAME}, coloured by mesh · below: "
        "points with a straight line · above: r · diagonal: histogram and density",
    )
    drawn(page)


def centre_of(page: Page, across: float, down: float) -> tuple[float, float]:
    box = canvas(page).bounding_box()
    assert box is not None
    return box["x"] + box["width"] * across, box["y"] + box["height"] * down


class TestMatrix:
    @only_long
    def test_regions_are_chosen_in_the_statement(self, demo: Page) -> None:
        open_matrix(demo)
        before = canvas(demo).screenshot()
        choose(demo, "Below the diagonal", "contours")
        choose(demo, "Above the diagonal", "nothing")
        choose(demo, "On the diagonal", "names only")
        assert "below: density contours · above: nothing · diagonal: names only" in statement(demo)
        saved = document(demo)["matrix"]
        assert (saved["below"], saved["above"], saved["diagonal"]) == (
            "contours",
            "nothing",
            "nothing",
        )
        assert canvas(demo).screenshot() != before

    def test_any_figure_becomes_a_matrix_and_a_pair_opens_and_goes_back(self, demo: Page) -> None:
        demo.get_by_role("button", name="Every pair against each other").click()
        expect(canvas(demo)).to_have_attribute("aria-roledescription", "figure")
        expect(demo.get_by_role("heading", name="Strongest of these pairs")).to_be_visible()
        canvas(demo).focus()
        canvas(demo).press("ArrowDown")
        expect(
            demo.locator(".said").filter(has_text="Humidity against yield: r = 0.49")
        ).to_be_visible()
        canvas(demo).press("Enter")
        expect(demo.get_by_test_id("statement")).to_contain_text("Humidity against")
        saved = document(demo)
        assert (saved["kind"], saved["x"], saved["y"]) == ("scatterplot", "yield", ["humidity"])
        demo.keyboard.press("m")
        expect(demo.get_by_test_id("statement")).to_contain_text("against each other")
        assert document(demo)["kind"] == "scatterplot matrix"

    def test_a_pointer_is_told_the_pair_and_its_corner_opens_it(self, demo: Page) -> None:
        open_matrix(demo)
        demo.mouse.move(*centre_of(demo, 0.12, 0.4))
        expect(demo.locator(".said").filter(has_text="Humidity against yield")).to_be_visible()
        demo.get_by_role("button", name="Open Humidity against yield").click()
        expect(demo.get_by_test_id("statement")).to_contain_text(
            "trend: straight line for each mesh"
        )

    def test_a_selection_in_one_cell_shows_in_all(self, demo: Page) -> None:
        open_matrix(demo)
        x, y = centre_of(demo, 0.09, 0.33)
        demo.mouse.move(x, y)
        demo.mouse.down()
        demo.mouse.move(x + 50, y + 60, steps=4)
        demo.mouse.up()
        expect(demo.get_by_test_id("selection")).to_be_visible()
        demo.locator("canvas.over[data-brushed]").wait_for(state="attached")
        marked = demo.evaluate(
            """() => {
              const over = document.querySelector('canvas.over')
              const { data, width } = over.getContext('2d').getImageData(0, 0, over.width, over.height)
              const columns = new Set()
              for (let i = 3; i < data.length; i += 4)
                if (data[i]) columns.add(Math.floor((6 * ((i >> 2) % width)) / width))
              return columns.size
            }"""
        )
        assert marked >= 4
        demo.get_by_role("button", name="Set aside").click()
        expect(demo.get_by_test_id("counts")).to_contain_text("set aside")

    def test_names_are_dragged_along_the_diagonal(self, demo: Page) -> None:
        open_matrix(demo)
        demo.mouse.move(*centre_of(demo, 0.12, 0.12))
        demo.mouse.down()
        demo.mouse.move(*centre_of(demo, 0.3, 0.36), steps=5)
        demo.mouse.up()
        assert document(demo)["matrix"]["variables"][:2] == ["humidity", "yield"]

    def test_it_is_tuned_like_any_figure(self, demo: Page) -> None:
        open_matrix(demo)
        demo.get_by_role("button", name="matrix", exact=True).click()
        panel = demo.get_by_test_id("tuning")
        for group, words in (
            ("r is drawn as", "an ellipse"),
            ("Order", "as they go together"),
            ("Rows shown", "complete rows only"),
            ("Axes", "none"),
        ):
            panel.get_by_role("group", name=group, exact=True).get_by_role(
                "button", name=words, exact=True
            ).click()
        saved = document(demo)["matrix"]
        assert (saved["r_as"], saved["order"], saved["missing"], saved["axes"]) == (
            "ellipse",
            "together",
            "complete",
            "none",
        )
        demo.keyboard.press("Escape")
        expect(demo.get_by_text("rows that have every variable are shown")).to_be_visible()

    def test_it_is_handed_on_as_an_image(self, demo: Page) -> None:
        open_matrix(demo)
        demo.get_by_role("button", name="Export").click()
        with demo.expect_download() as started:
            demo.get_by_role("button", name="Save SVG").click()
        text = started.value.path().read_text()
        assert "Dew-point gap" in text
        assert text.count("<clipPath") >= 15


class TestPairs:
    def test_strongest_first_filtered_and_opened(self, demo: Page) -> None:
        open_matrix(demo)
        demo.get_by_role("button", name="strongest pairs").click()
        panel = demo.get_by_test_id("pairs")
        expect(panel).to_contain_text("15 pairs were looked at")
        expect(panel.get_by_role("listitem").first).to_contain_text("r = −0.98")
        pick(panel, "Only pairs with", "Yield")
        expect(panel.get_by_role("listitem")).to_have_count(5)
        pick(panel, "How pairs are measured", "τ (order)")
        expect(panel.get_by_role("listitem").first).to_contain_text("τ = ")
        panel.get_by_role("listitem").first.get_by_role("button").click()
        drawn(demo)
        assert document(demo)["kind"] == "scatterplot"
        assert "yield" in (document(demo)["x"], *document(demo)["y"])
