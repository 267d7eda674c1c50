"""One page in which study after study is opened, as a person would: loading it takes far longer."""

from __future__ import annotations

from playwright.sync_api import BrowserContext, Page, Request

from tests.web.running import SIZE, Server, drawn, open_demo

# As a link of the page does.
_GO = """(address) => {
  history.pushState(null, '', address)
  dispatchEvent(new PopStateEvent('popstate', { state: null }))
}"""


def go_to(page: Page, address: str) -> None:
    """Go to another place of the app, without loading it anew."""
    page.evaluate(_GO, address)


# What the page remembers beside studies: a page that does so is no fresh page any more.
_REMEMBERED = """() => Object.keys(localStorage).filter(
  (key) => !['yarrowdew hints that are gone', 'yarrowdew small pictures'].includes(key))"""


_QUIET = 4
_STUDIES = "**/api/studies?*"


class TurnedPage:
    """A page that is kept from test to test, as long as nothing is left on it."""

    def __init__(self) -> None:
        self._page: Page | None = None
        self._on_the_way: set[Request] = set()

    def open(self, context: BrowserContext, server: Server) -> Page:
        """Open a demo study of its own, on the page that is there."""
        if self._page is not None:
            self._page.unroute(_STUDIES)
            made = self._page.request.post(f"{server.address}/api/studies/demo").json()
            go_to(self._page, f"{server.address}/studies/{made['id']}")
            drawn(self._page)
            return self._page
        self._page = page = context.new_page()
        on_the_way = self._on_the_way = set()
        page.on("request", lambda sent: on_the_way.add(sent))
        page.on("requestfinished", lambda sent: on_the_way.discard(sent))
        page.on("requestfailed", lambda sent: on_the_way.discard(sent))
        open_demo(page, server.address)
        return page

    def close_others(self, context: BrowserContext) -> None:
        """Close every other page."""
        for page in context.pages:
            if page is not self._page:
                page.close()

    def leave(self, server: Server, *, is_sound: bool) -> None:
        """Leave the study; close the page where something of it would be left."""
        page = self._page
        if page is None or not (is_sound and self._left(page, server)):
            if page is not None and not page.is_closed():
                page.close()
            self._page = None

    def _left(self, page: Page, server: Server) -> bool:
        app = (f"{server.address}/studies", f"{server.address}/?")
        if page.is_closed() or not f"{page.url}?".startswith(app):
            return False
        page.unroute_all(behavior="ignoreErrors")
        if page.viewport_size != SIZE:
            page.set_viewport_size(SIZE)
        page.mouse.move(0, 0)
        # The studies that are listed are just going: their small pictures would be asked for too late.
        page.route(_STUDIES, lambda route: route.fulfill(json=[]))
        go_to(page, f"{server.address}/")
        page.locator("canvas.canvas").wait_for(state="detached")
        quiet = 0
        for _ in range(300):
            # Small pictures are asked for one after the other.
            quiet = 0 if self._on_the_way else quiet + 1
            if quiet == _QUIET:
                break
            page.evaluate("() => new Promise((then) => setTimeout(then, 10))")
        else:
            return False
        return page.evaluate(_REMEMBERED) == []
