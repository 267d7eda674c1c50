"""A random walk of real actions on the page, and all of it taken back."""

from __future__ import annotations

import random
from collections import Counter
from collections.abc import Callable
from typing import Any

from playwright.sync_api import Page, expect

from tests.web.acting import canvas, document, origin
from tests.web.running import drawn

Draw = random.Random


def _contents(page: Page, study: str | None = None) -> dict[str, Any]:
    """Every figure's document and every table's rows, as they are saved; of the open study."""
    expect(page.get_by_text("Saving …")).to_have_count(0)
    study = study or page.url.split("/studies/")[1].split("/")[0]
    found = page.request.get(f"{origin(page)}/api/studies/{study}").json()
    rows = {
        table["name"]: page.request.get(
            f"{origin(page)}/api/tables/{table['id']}/rows?count=1000"
        ).json()
        for table in found["tables"]
    }
    return {
        "figures": [figure["document"] for figure in found["figures"]],
        "rows": rows,
        "variables": [table["summary"]["variables"] for table in found["tables"]],
    }


def picture_of(page: Page) -> str:
    """The figure as it is drawn at rest, to the last pixel."""
    page.keyboard.press("Escape")
    canvas(page).focus()
    # A category that was singled out is let go of, and the view goes home.
    page.keyboard.press("Escape")
    page.keyboard.press("0")
    canvas(page).evaluate("canvas => canvas.blur()")
    return picture_now(page)


def picture_now(page: Page) -> str:
    """The figure as it stands."""
    drawn(page)
    return str(canvas(page).evaluate("canvas => canvas.toDataURL()"))


def _choose(part: str, words: list[str]) -> Callable[[Page, Draw], None]:
    def act(page: Page, draw: Draw) -> None:
        page.keyboard.press("Escape")
        page.get_by_role("button", name=part).first.click()
        field = page.get_by_role("combobox", name=part)
        field.fill(draw.choice(words))
        # Another table may have no variable of that name.
        field.press("Enter" if page.get_by_role("option").count() else "Escape")
        expect(field).to_have_count(0)

    return act


def _tuned(part: str, act: Callable[[Page, Draw], None]) -> Callable[[Page, Draw], None]:
    def tuned(page: Page, draw: Draw) -> None:
        page.keyboard.press("Escape")
        page.get_by_role("button", name=part, exact=True).click()
        act(page, draw)

    return tuned


def _slide(page: Page, draw: Draw) -> None:
    slider = page.get_by_test_id("tuning").get_by_role("slider").first
    for _ in range(draw.randrange(1, 4)):
        slider.press(draw.choice(["ArrowRight", "ArrowLeft"]))


def _toggle(*names: str) -> Callable[[Page, Draw], None]:
    def act(page: Page, draw: Draw) -> None:
        page.get_by_test_id("tuning").get_by_role(
            "button", name=draw.choice(names), exact=True
        ).first.click()

    return act  # fmt: skip


def _type_end(page: Page, draw: Draw) -> None:
    field = page.get_by_label(draw.choice(["Starts at", "Ends at"]))
    field.fill(draw.choice(["", "0", "50", "1e3", "x", "-3"]))
    field.press("Enter")


def _look_around(page: Page, draw: Draw) -> None:
    canvas(page).focus()
    for _ in range(draw.randrange(1, 6)):
        page.keyboard.press(
            draw.choice(["ArrowRight", "ArrowUp", "+", "-", "0", "Shift+ArrowLeft", "ArrowLeft"])
        )


def _click_somewhere(page: Page, draw: Draw) -> None:
    box = canvas(page).bounding_box()
    assert box is not None
    page.mouse.click(
        box["x"] + draw.uniform(0.1, 0.9) * box["width"],
        box["y"] + draw.uniform(0.1, 0.9) * box["height"],
    )


def _set_aside(page: Page, draw: Draw) -> None:
    canvas(page).focus()
    page.keyboard.press("0")
    for _ in range(draw.randrange(1, 5)):
        page.keyboard.press("ArrowRight")
    page.keyboard.press("Enter")
    page.get_by_role("button", name="Set aside").or_(
        page.get_by_role("button", name="Bring back")
    ).first.click()


def _edit_cell(page: Page, draw: Draw) -> None:
    page.keyboard.press("Escape")
    page.get_by_role("button", name="Rows", exact=True).click()
    page.locator(f'[data-cell="{draw.randrange(4)} 9"]').click()
    page.keyboard.type(str(draw.randrange(100, 400)))
    page.keyboard.press(draw.choice(["Enter", "Tab", "Escape"]))
    page.keyboard.press("Escape")


def _edit_in_another_order(page: Page, draw: Draw) -> None:
    """Type into the rows as they are sorted or found, which are other rows in every place."""
    page.keyboard.press("Escape")
    page.get_by_role("button", name="Rows", exact=True).click()
    if draw.random() < 0.5:
        page.get_by_role("columnheader").nth(draw.randrange(1, 4)).get_by_role(
            "button"
        ).first.click()
    else:
        page.get_by_role("searchbox", name="Find in the rows").fill(
            draw.choice(["bracken", "20", ""])
        )
    page.locator(f'[data-cell="{draw.randrange(4)} 9"]').click()
    page.keyboard.type(str(draw.randrange(100, 400)))
    page.keyboard.press(draw.choice(["Enter", "Tab"]))
    page.keyboard.press("Escape")


def _open_another(page: Page, draw: Draw) -> None:
    """Another figure, a matrix, a box or a plate among them."""
    page.keyboard.press("Escape")
    where = draw.choice(["Figures", "Figures", "Figures", "Plates"])
    found = page.locator(f"[aria-label={where}] .figure")
    found.nth(draw.randrange(found.count())).click()


def _delete_the_figure(page: Page, draw: Draw) -> None:
    page.keyboard.press("Escape")
    if draw.random() < 0.4:
        page.get_by_role("button", name="Delete the open figure").click()


def _derive(page: Page, draw: Draw) -> None:
    page.keyboard.press("Escape")
    page.get_by_role("button", name="+ Derive a variable").click()
    panel = page.get_by_test_id("derive")
    panel.get_by_label("Name", exact=True).fill(f"made {draw.randrange(1000)}")
    panel.get_by_label("Expression").fill(draw.choice(["wind * 2", "sqrt(humidity)"]))
    panel.get_by_role("button", name="Add it").click()
    page.keyboard.press("Escape")


def _touch(page: Page, draw: Draw) -> None:
    """A finger on the figure, by the events that a screen sends."""
    box = canvas(page).bounding_box()
    assert box is not None
    at = {
        "clientX": box["x"] + draw.uniform(0.1, 0.9) * box["width"],
        "clientY": box["y"] + draw.uniform(0.1, 0.9) * box["height"],
        "pointerId": 7,
        "pointerType": "touch",
        "isPrimary": True,
        "bubbles": True,
    }
    last = draw.choice(["pointerup", "pointercancel"])
    for event in ("pointerdown", "pointermove", last):
        canvas(page).dispatch_event(event, at)


def _work_in_another_study(page: Page, draw: Draw) -> None:
    """Open another study without loading the page, change a figure of it, undo by chance, come back."""
    page.keyboard.press("Escape")
    here = page.url
    page.get_by_role("link", name="Yarrowdew").click()
    page.get_by_role("link", name=f"Open {OTHER}").click()
    page.wait_for_url(lambda url: "/studies/" in url and url != here)
    drawn(page)
    draw.choice([CHOOSE_X, _set_aside, _derive, _look_around])(page, draw)
    for _ in range(draw.randrange(3)):
        page.keyboard.press("Control+z")
    page.keyboard.press("Escape")
    page.get_by_role("link", name="Yarrowdew").click()
    page.get_by_role("link", name="Open Dew survey", exact=True).click()
    drawn(page)


def _undo_or_redo(page: Page, draw: Draw) -> None:
    page.keyboard.press(draw.choice(["Control+z", "Control+z", "Control+Shift+z"]))


CHOOSE_X = _choose("x variable", ["humidity", "wind", "cloud", "dew-point"])

ACTIONS: list[Callable[[Page, Draw], None]] = [
    CHOOSE_X,
    _choose("y variable", ["yield", "air temp"]),
    _tuned("marks", _slide),
    _tuned("marks", _toggle("hollow", "solid")),
    _tuned("y axis", _toggle("linear", "logarithmic", "square root")),
    _tuned("y axis", _toggle("normal", "reversed")),
    _tuned("x axis", _type_end),
    _tuned("y axis", _type_end),
    _look_around,
    _click_somewhere,
    _set_aside,
    _edit_cell,
    _edit_in_another_order,
    _open_another,
    _delete_the_figure,
    _derive,
    _touch,
    _work_in_another_study,
    _undo_or_redo,
]

OTHER = "Dew survey (copy)"


# Answers come late by chance, and come even where nobody waits for them any more.
_LATE = """(seed) => {
    const fetched = window.fetch
    let turn = seed
    window.fetch = async (request, options) => {
        const answer = await fetched(request, options)
        turn = (turn * 48271) % 2147483647
        if (String(request.url ?? request).includes('/api/answers'))
            await new Promise((resolve) => setTimeout(resolve, turn % 400))
        return answer
    }
}"""


def drawn_anew(page: Page) -> str:
    """The same figure as a page draws it that knows nothing of how it came to be."""
    other = page.context.new_page()
    try:
        other.goto(page.url)
        drawn(other)
        return picture_of(other)
    finally:
        other.close()


def _go_home(page: Page, home: str) -> None:
    """Open the figure at which the walk began, where another is open: to look is no step."""
    if page.url != home:
        page.goto(home)
    drawn(page)


def walk(page: Page, steps: int, seed: int) -> list[str]:
    """Take so many actions, take all of them back, and name what is not as it was."""
    home = page.url
    study = home.split("/studies/")[1].split("/")[0]
    other = page.request.post(f"{origin(page)}/api/studies/{study}/copies").json()["id"]
    of_other = _contents(page, other)
    before, picture = _contents(page), picture_of(page)
    draw = Draw(seed)
    done: Counter[int] = Counter()
    page.evaluate(_LATE, seed)
    page.set_default_timeout(5_000)
    for _ in range(steps):
        which = draw.randrange(len(ACTIONS))
        act = ACTIONS[which]
        try:
            act(page, draw)
            done[which] += 1
            if act is _work_in_another_study:
                of_other = _contents(page, other)
        except Exception as error:
            # What is not offered just now is not done.
            if "Timeout" not in type(error).__name__:
                raise
            if f"/studies/{study}" not in page.url:
                of_other = _contents(page, other)
                page.goto(home)
    page.set_default_timeout(30_000)
    page.keyboard.press("Escape")
    page.keyboard.press("Escape")
    expect(page.get_by_text("Saving …")).to_have_count(0)
    _go_home(page, home)
    wrong = [] if picture_of(page) == drawn_anew(page) else ["picture before it is taken back"]
    undo = page.get_by_role("button", name="Undo")
    for _ in range(steps * 3):
        expect(page.get_by_text("Saving …")).to_have_count(0)
        if undo.is_disabled():
            break
        undo.click()
    _go_home(page, home)
    document(page)
    after = _contents(page)
    wrong += [part for part in before if before[part] != after[part]]
    if picture_of(page) != picture:
        wrong.append("picture")
    if _contents(page, other) != of_other:
        wrong.append("the other study")
    if steps >= 200 and len(done) < len(ACTIONS):
        # An act whose words have changed would else be left out without a word.
        wrong.append(f"acts never done: {sorted(set(range(len(ACTIONS))) - set(done))}")
    return wrong
