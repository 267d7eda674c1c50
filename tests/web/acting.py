"""What a person does on the page, and what the page then holds."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from playwright.sync_api import Locator, Page, expect

from tests.web.running import drawn


def statement(page: Page) -> str:
    """The statement as it reads."""
    return " ".join(page.get_by_test_id("statement").inner_text().split()).replace("\u00a0", " ")


def ask_for(page: Page, part: str, words: str) -> None:
    """Open a part of the statement, type, and take what is found; its answer is not waited for."""
    page.get_by_role("button", name=part).first.click()
    field = page.get_by_role("combobox", name=part, exact=True)
    expect(field).to_be_focused()
    field.fill(words)
    field.press("Enter")
    expect(field).to_have_count(0)


def choose(page: Page, part: str, words: str) -> None:
    """Open a part of the statement, type, take what is found, and see it drawn."""
    ask_for(page, part, words)
    drawn(page)


def pick(scope: Page | Locator, label: str, option: str, nth: int = 0) -> None:
    """Open a list of choices and take one."""
    page = scope if isinstance(scope, Page) else scope.page
    field = scope.get_by_role("combobox", name=label, exact=True).nth(nth)
    field.locator("xpath=ancestor::div[contains(@class, 'v-field')][1]").click()
    page.get_by_role("option", name=option, exact=True).click()
    expect(page.get_by_role("option", name=option, exact=True)).to_have_count(0)


def set_odd_row_aside(page: Page) -> None:
    """Set row 206 of the demo aside, from the caution that names it."""
    caution = page.get_by_role("article").filter(has_text="high influence on Bracken")
    caution.get_by_role("button", name="Show in table").click()
    page.get_by_role("button", name="206", exact=True).click()
    page.get_by_role("button", name="Set aside").click()
    expect(page.get_by_role("button", name="Bring back")).to_be_visible()


def canvas(page: Page) -> Locator:
    """The figure."""
    return page.locator("canvas.canvas")


def asking(page: Page) -> list[str]:
    """What is asked of the server from now on for figures; small pictures have come by then."""
    expect(page.locator("[aria-label=Figures] .thumb:not([data-seen])")).to_have_count(0)
    asked: list[str] = []
    page.on("request", lambda sent: asked.append(sent.url) if "answers" in sent.url else None)
    return asked


def document(page: Page) -> dict[str, Any]:
    """The open figure's document as it is saved."""
    expect(page.get_by_text("Saving …")).to_have_count(0)
    return figure(page)["document"]


def figure(page: Page) -> dict[str, Any]:
    """The open figure as it is saved."""
    study = page.url.split("/studies/")[1].split("/")[0]
    contents = page.request.get(f"{origin(page)}/api/studies/{study}").json()
    wanted = page.url.split("/studies/")[1].split("/")[1:]
    figures = contents["figures"]
    return next((f for f in figures if f["id"] in wanted), figures[0])


def origin(page: Page) -> str:
    """The server's address."""
    return "/".join(page.url.split("/")[:3])


def fingers(page: Page) -> Callable[..., None]:
    """Fingers on the screen: what they do, and where each of them is."""
    session = page.context.new_cdp_session(page)

    def do(kind: str, *places: tuple[float, float]) -> None:
        points = [{"x": x, "y": y, "id": i} for i, (x, y) in enumerate(places)]
        session.send("Input.dispatchTouchEvent", {"type": kind, "touchPoints": points})

    return do
