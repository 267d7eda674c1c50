"""Everyone gets in: names, keys, contrast."""

from __future__ import annotations

import pytest
from playwright.sync_api import Browser, Page, expect

from tests.web.acting import choose
from tests.web.running import Server, drawn, open_demo

# Contrast of every text that can be seen, by the formula of WCAG 2.2.
CONTRAST = """() => {
  const parse = (c) => {
    const m = c.match(/[\\d.]+/g).map(Number)
    const unit = c.startsWith('color(') ? 255 : 1
    return { rgb: m.slice(0, 3).map((v) => v * unit), a: m[3] ?? 1 }
  }
  const lum = (rgb) => {
    const [r, g, b] = rgb.map((v) => {
      const s = v / 255
      return s <= 0.04045 ? s / 12.92 : ((s + 0.055) / 1.055) ** 2.4
    })
    return 0.2126 * r + 0.7152 * g + 0.0722 * b
  }
  const ground = (el) => {
    for (let e = el; e; e = e.parentElement) {
      const { rgb, a } = parse(getComputedStyle(e).backgroundColor)
      if (a > 0.95) return rgb
    }
    return [255, 255, 255]
  }
  const poor = []
  for (const el of document.querySelectorAll('body *')) {
    const own = [...el.childNodes].some((n) => n.nodeType === 3 && n.textContent.trim())
    if (!own || !el.checkVisibility({ opacityProperty: true, visibilityProperty: true })) continue
    if (el.closest(':disabled, [aria-hidden=true], .out-of-sight, .drop')) continue
    const style = getComputedStyle(el)
    const [a, b] = [lum(parse(style.color).rgb), lum(ground(el))]
    const ratio = (Math.max(a, b) + 0.05) / (Math.min(a, b) + 0.05)
    if (ratio < 4.5) poor.push(`${el.textContent.trim().slice(0, 40)}: ${ratio.toFixed(2)}`)
  }
  return poor
}"""

NAMELESS = """() =>
  [...document.querySelectorAll('button, input, select, textarea, a[href], canvas[tabindex]')]
    .filter((el) => el.checkVisibility())
    .filter((el) => !(
      el.getAttribute('aria-label') || el.textContent.trim() || el.title ||
      el.labels?.length || el.closest('label')
    ))
    .map((el) => el.outerHTML.slice(0, 120))"""


def views(page: Page) -> list[str]:
    """Each main view, opened in turn."""
    page.get_by_role("button", name="Intervals and assumptions").first.click()
    yield "readings"
    page.get_by_role("button", name="marks", exact=True).click()
    yield "tuning"
    page.keyboard.press("Escape")
    page.get_by_role("button", name="6 without yield").click()
    yield "rows"
    page.get_by_role("button", name="Hand on").click()
    yield "hand on"
    page.get_by_role("button", name="What goes across").click()
    page.get_by_role("combobox", name="What goes across").wait_for()
    yield "statement"
    page.keyboard.press("Escape")
    page.set_input_files(
        "input[type=file]", {"name": "a.csv", "mimeType": "text/csv", "buffer": b"a,b\n1,\n3,4\n"}
    )
    page.get_by_role("button", name="Take it in").wait_for()
    page.get_by_text("2 rows").wait_for()
    yield "reading in"


@pytest.mark.parametrize("scheme", ["light", "dark"])
def test_every_text_can_be_read_and_every_control_has_a_name(
    browser: Browser, server: Server, scheme: str
) -> None:
    context = browser.new_context(color_scheme=scheme, viewport={"width": 1280, "height": 800})
    page = context.new_page()
    open_demo(page, server.address)
    for view in views(page):
        # Colours of buttons fade over a moment; what counts is where they end.
        page.evaluate(
            "() => Promise.all(document.getAnimations().map((a) => a.finished.catch(() => 0)))"
        )
        assert page.evaluate(CONTRAST) == [], view
        assert page.evaluate(NAMELESS) == [], view
    context.close()


def test_the_tab_key_reaches_every_part(demo: Page) -> None:
    demo.locator("body").press("Tab")
    reached = []
    for _ in range(80):
        name = demo.evaluate(
            "() => document.activeElement.getAttribute('aria-label') "
            "|| document.activeElement.textContent.trim()"
        )
        reached.append(name)
        demo.keyboard.press("Tab")
    text = "\n".join(reached)
    for part in ("What goes up", "Band", "Yield against humidity", "Hand on", "Move", "Set aside"):
        assert part in text
    expect(demo.get_by_test_id("statement")).to_be_visible()


def test_nothing_is_wider_or_higher_than_the_screen(demo: Page) -> None:
    for width, height in ((1280, 800), (1024, 700), (1920, 1080)):
        demo.set_viewport_size({"width": width, "height": height})
        drawn(demo)
        size = demo.evaluate(
            "() => [document.documentElement.scrollWidth, document.documentElement.scrollHeight]"
        )
        assert size == [width, height]
        box = demo.locator("canvas.canvas").bounding_box()
        assert box is not None
        # Beside the readings, or where these come as a drawer, in all of the window.
        assert box["x"] + box["width"] <= (width if width < 1100 else width - 304)
        assert box["y"] + box["height"] <= height


def test_the_focus_goes_into_what_opens_and_comes_back(demo: Page) -> None:
    for name, panel in (("marks", "Tuning of Marks"), ("Humidity, %, number", "Variable Humidity")):
        opener = demo.get_by_role("button", name=name, exact=name == "marks").first
        opener.press("Enter")
        heading = demo.get_by_role("region", name=panel).get_by_role("heading").first
        expect(heading).to_be_focused()
        demo.keyboard.press("Tab")
        demo.keyboard.press("Enter")
        expect(heading).to_have_count(0)
        expect(opener).to_be_focused()


def test_what_a_figure_shows_now_is_announced_once(demo: Page) -> None:
    choose(demo, "Colour", "no colour")
    said = demo.get_by_test_id("announced")
    expect(said).to_contain_text("Yield against humidity · trend: straight line for the whole")
    expect(said).to_contain_text("Each 1")
