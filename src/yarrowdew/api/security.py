"""What keeps other pages and other machines out of a server on this one."""

from __future__ import annotations

from ipaddress import ip_address
from urllib.parse import urlsplit

from starlette.datastructures import Headers, MutableHeaders
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from yarrowdew.api.problems import Problem, respond

CONTENT_POLICY = (
    "default-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data: blob:; "
    "font-src 'self' data:; object-src 'none'; base-uri 'none'; frame-ancestors 'none'"
)
_HEADERS = {
    "Content-Security-Policy": CONTENT_POLICY,
    "X-Content-Type-Options": "nosniff",
    "Referrer-Policy": "no-referrer",
    "Cross-Origin-Opener-Policy": "same-origin",
    "Cross-Origin-Resource-Policy": "same-origin",
}
_FOR_OTHERS = ("/shared/", "/viewer/", "/api/shared/")
"""Where shared pages are: all that other machines may ask for."""
_LOCAL_NAMES = frozenset({"localhost", "127.0.0.1", "::1"})


class SecurityMiddleware:
    """Refuses requests that name another host or come from another origin; sets headers.

    A page elsewhere can make a browser send requests here. It cannot forge `Host` and `Origin`:
    a foreign host name means a rebound name, a foreign origin a foreign page. Where the server can
    be reached from other machines, these get shared pages and nothing else.
    """

    def __init__(self, app: ASGIApp, host: str = "127.0.0.1") -> None:
        self._app = app
        self._hosts = _LOCAL_NAMES | {host}

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Check a request and pass it on."""
        if scope["type"] != "http":
            await self._app(scope, receive, send)
            return
        headers = Headers(scope=scope)
        host = headers.get("host", "")
        if "\0" in scope["path"] or _name_of(f"//{host}") is None:
            problem = Problem(title="The request cannot be read.", status=400)
            await respond(problem)(scope, receive, send)
            return
        for_others = scope["method"] in ("GET", "HEAD") and scope["path"].startswith(_FOR_OTHERS)
        if not for_others and not _is_here(scope):
            problem = Problem(
                title="Only shared pages can be opened from other machines.", status=403
            )
            await respond(problem)(scope, receive, send)
            return
        if not for_others and _name_of(f"//{host}") not in self._hosts:
            problem = Problem(title=f"This server does not answer for '{host}'.", status=421)
            await respond(problem)(scope, receive, send)
            return
        origin = headers.get("origin")
        if origin is not None and _place_of(origin) != host:
            problem = Problem(title="Requests from other pages are refused.", status=403)
            await respond(problem)(scope, receive, send)
            return

        async def send_with_headers(message: Message) -> None:
            if message["type"] == "http.response.start":
                out = MutableHeaders(scope=message)
                for name, value in _HEADERS.items():
                    out.setdefault(name, value)
            await send(message)

        await self._app(scope, receive, send_with_headers)


def _name_of(address: str) -> str | None:
    """Name of the host in an address; None where it is none."""
    try:
        return urlsplit(address).hostname or ""
    except ValueError:
        return None


def _place_of(address: str) -> str | None:
    try:
        return urlsplit(address).netloc
    except ValueError:
        return None


def _is_here(scope: Scope) -> bool:
    """Whether a request comes from this machine."""
    client = scope.get("client")
    try:
        return client is not None and ip_address(client[0]).is_loopback
    except ValueError:
        return False
