"""A limit on what a request may send besides files, which have their own."""

from __future__ import annotations

from starlette.datastructures import Headers
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from yarrowdew.api.problems import Problem, respond
from yarrowdew.tables.limits import MEGABYTE

_FILES = "/api/uploads"


class BodyLimitMiddleware:
    """Refuses bodies that are larger than any document is."""

    def __init__(self, app: ASGIApp, max_bytes: int) -> None:
        self._app = app
        self._most = max_bytes

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Count what arrives, and stop at the limit."""
        is_file = scope["type"] == "http" and scope["path"] == _FILES
        if scope["type"] != "http" or is_file:
            await self._app(scope, receive, send)
            return
        declared = Headers(scope=scope).get("content-length", "0")
        if declared.isascii() and declared.isdigit() and int(declared[:20]) > self._most:
            await self._refuse(scope, receive, send)
            return
        read, over, begun = 0, False, False

        async def counted() -> Message:
            nonlocal read, over
            message = await receive()
            read += len(message.get("body", b""))
            if read > self._most:
                over = True
                # To the application it is as if the one who asks had gone.
                return {"type": "http.disconnect"}
            return message

        async def sent(message: Message) -> None:
            nonlocal begun
            if not over:
                begun = True
                await send(message)

        try:
            await self._app(scope, counted, sent)
        finally:
            if over and not begun:
                await self._refuse(scope, receive, send)

    async def _refuse(self, scope: Scope, receive: Receive, send: Send) -> None:
        problem = Problem(
            title=f"The request is too large; at most {self._most // MEGABYTE:,} MB can be sent.",
            status=413,
            detail="Send large tables as files.",
        )
        await respond(problem)(scope, receive, send)
