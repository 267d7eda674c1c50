"""The server while its application is still being loaded."""

from __future__ import annotations

import asyncio
from collections.abc import Callable

from starlette.applications import Starlette
from starlette.requests import Request
from starlette.types import Receive, Scope, Send

from yarrowdew.api.pages import METHODS, is_of_api, page
from yarrowdew.api.problems import Problem, respond
from yarrowdew.api.security import SecurityMiddleware
from yarrowdew.loading import loading


class Opening:
    """Answers pages at once; whatever else is asked waits until the application is there.

    Whoever opens the address has a page to load before it asks for anything: the one is done while
    the other is.

    Parameters
    ----------
    load : callable
        Makes the application; run in a thread of its own.
    failed : callable
        Called where it cannot be made: there is nothing to serve then.

    Attributes
    ----------
    error : Exception or None
        Why it could not be made.
    """

    def __init__(self, load: Callable[[], Starlette], failed: Callable[[], None]) -> None:
        self._load = load
        self._failed = failed
        self._app: Starlette | None = None
        self._made = asyncio.Event()
        self._page = SecurityMiddleware(_page)
        self.error: Exception | None = None

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Answer one request, or live for as long as the server does."""
        if scope["type"] == "lifespan":
            await self._live(receive, send)
            return
        is_page = scope["type"] == "http" and scope["method"] in METHODS and not is_of_api(scope)
        if self._app is None and is_page:
            await self._page(scope, receive, send)
            return
        await self._made.wait()
        if self._app is not None:
            await self._app(scope, receive, send)
        elif scope["type"] == "http":
            problem = Problem(
                title="The server could not be started.",
                status=503,
                detail="What it printed says why.",
            )
            await respond(problem)(scope, receive, send)

    async def _live(self, receive: Receive, send: Send) -> None:
        await receive()
        await send({"type": "lifespan.startup.complete"})
        ending = asyncio.Event()
        opened = asyncio.create_task(self._open(ending))
        await receive()
        ending.set()
        await opened
        await send({"type": "lifespan.shutdown.complete"})

    async def _open(self, ending: asyncio.Event) -> None:
        try:
            app = await asyncio.to_thread(self._loaded)
            async with app.router.lifespan_context(app):
                self._app = app
                self._made.set()
                await ending.wait()
        except Exception as error:
            self.error = error
            self._made.set()
            self._failed()

    def _loaded(self) -> Starlette:
        with loading():
            return self._load()


async def _page(scope: Scope, receive: Receive, send: Send) -> None:
    response = await page(Request(scope, receive))
    await response(scope, receive, send)
