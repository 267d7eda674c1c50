"""Bringing data in: seen and corrected before it counts."""

from __future__ import annotations

import base64
from pathlib import Path

import pytest
from playwright.sync_api import Page, expect

from tests.web.acting import choose, pick, statement
from tests.web.running import drawn


def drop(page: Page, name: str, content: bytes) -> None:
    """Drop a file on the page, as a hand would."""
    transfer = page.evaluate_handle(
        """([name, content]) => {
          const bytes = Uint8Array.from(atob(content), (c) => c.charCodeAt(0))
          const transfer = new DataTransfer()
          transfer.items.add(new File([bytes], name))
          return transfer
        }""",
        [name, base64.b64encode(content).decode()],
    )
    page.dispatch_event(".study", "dragenter", {"dataTransfer": transfer})
    expect(page.get_by_text("Drop the file to import it")).to_be_visible()
    page.dispatch_event(".drop", "drop", {"dataTransfer": transfer})


def header(page: Page, name: str) -> str:
    return page.get_by_role("columnheader", name=name).inner_text()


def test_a_file_that_is_dropped_is_seen_then_taken_in(demo: Page, trial: Path) -> None:
    drop(demo, trial.name, trial.read_bytes())
    expect(demo.get_by_text("10 rows, 3 variables.")).to_be_visible()
    assert "g/m²" in header(demo, "dose")
    for name, kind in (("dose", "number"), ("shed", "number"), ("coating", "category")):
        expect(demo.get_by_label(f"Kind of {name}")).to_have_value(kind)
    expect(demo.get_by_role("row")).to_have_count(11)
    demo.get_by_role("button", name="Import", exact=True).click()
    expect(demo.get_by_test_id("statement")).to_contain_text("Shed against dose")
    drawn(demo)
    expect(demo.get_by_test_id("counts")).to_contain_text("10 marks drawn")
    expect(demo.get_by_label("Table", exact=True)).to_have_value("run-off trial")


def test_a_file_that_is_picked_can_be_corrected(demo: Page, trial: Path) -> None:
    demo.set_input_files("input[type=file]", trial)
    pick(demo, "Kind of dose", "category")
    expect(demo.get_by_label("Kind of dose")).to_have_value("category")
    pick(demo, "Header row", "no line")
    expect(demo.get_by_text("11 rows, 3 variables.")).to_be_visible()
    expect(demo.get_by_label("Kind of column 1")).to_be_visible()
    pick(demo, "Header row", "line 1")
    pick(demo, "Kind of dose", "number")
    demo.get_by_label("Name of the table").fill("Trial")
    demo.get_by_role("button", name="Import", exact=True).click()
    expect(demo.get_by_label("Table", exact=True)).to_have_value("Trial")
    assert statement(demo).startswith("Shed against dose")


def test_own_codes_for_missing_values(demo: Page) -> None:
    drop(demo, "codes.csv", b"a,b\n1,2\n-999,3\n4,5\n")
    demo.get_by_label("Missing-value codes").fill("-999")
    demo.get_by_label("Missing-value codes").press("Enter")
    expect(demo.get_by_text("1 missing")).to_be_visible()


def test_a_file_that_is_left_leaves_nothing(demo: Page, trial: Path) -> None:
    demo.set_input_files("input[type=file]", trial)
    demo.get_by_text("10 rows, 3 variables.").wait_for()
    demo.get_by_role("button", name="Cancel").click()
    drawn(demo)
    assert statement(demo).startswith("Yield against humidity")
    expect(demo.locator("[aria-label=Figures] .figure")).to_have_count(8)


def test_a_study_begins_with_a_file(page: Page, server: object, trial: Path) -> None:
    page.goto(server.address)  # type: ignore[attr-defined]
    page.get_by_role("button", name="New study").click()
    expect(page.get_by_role("heading", name="Bring data in")).to_be_visible()
    page.get_by_label("Name of the study").fill("Run-off")
    page.get_by_label("Name of the study").press("Enter")
    page.set_input_files("input[type=file]", trial)
    page.get_by_role("button", name="Import", exact=True).click()
    drawn(page)
    page.get_by_role("link", name="Yarrowdew").click()
    expect(page.get_by_role("link", name="Run-off")).to_be_visible()


@pytest.mark.complains
@pytest.mark.parametrize(
    ("name", "content", "says"),
    [
        ("empty.csv", b"", "empty.csv is empty."),
        ("photo.csv", b"\x89PNG\r\n\x1a\n\x00", "photo.csv is a PNG picture"),
        ("ragged.csv", b"a,b\n1,2\n3,4,5\n", "Line 3 of ragged.csv has 3 values"),
        ("big.csv", b"a,b\n" + b"1,2\n" * 400_000, "big.csv is too large: 2 MB"),
    ],
)
def test_a_file_that_cannot_be_read_says_why(
    demo: Page, name: str, content: bytes, says: str
) -> None:
    drop(demo, name, content)
    expect(demo.get_by_role("alert")).to_contain_text(says)
    expect(demo.get_by_role("button", name="Import", exact=True)).to_be_disabled()
    demo.get_by_role("button", name="Cancel").or_(demo.get_by_role("button", name="Stop")).click()
    drawn(demo)


def test_too_large_is_said_without_sending_it(demo: Page) -> None:
    sent: list[str] = []
    demo.on("request", lambda r: sent.append(r.url) if "uploads" in r.url else None)
    drop(demo, "big.csv", b"1,2\n" * 400_000)
    expect(demo.get_by_role("alert")).to_contain_text("at most 1 MB can be read")
    assert sent == []


def test_no_number_variable_is_said_and_the_table_kept(demo: Page) -> None:
    drop(demo, "words.csv", b"a,b\nx,y\nu,v\nx,z\n")
    expect(demo.get_by_text("words has no variable of numbers")).to_be_visible()
    demo.get_by_role("button", name="Import", exact=True).click()
    expect(demo.get_by_label("Table", exact=True)).to_have_value("words")


def test_too_few_rows_and_one_distinct_x_are_said_beside_the_figure(demo: Page) -> None:
    for name, content, says in (
        ("two.csv", b"a,b\n1,2\n3,4\n", "at least three rows"),
        ("same.csv", b"a,b,c\n1,2,7\n1,4,5\n1,9,4\n", "Every row has the same x (1)"),
    ):
        drop(demo, name, content)
        demo.get_by_role("button", name="Import", exact=True).click()
        if name == "same.csv":
            choose(demo, "x variable", "a")
        demo.get_by_role("button", name="Fit a straight line").click()
        expect(demo.get_by_role("article", name="Readings of All rows")).to_contain_text(says)
        drawn(demo)
