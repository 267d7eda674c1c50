"""The built front end, served beside the API."""

from __future__ import annotations

import re
from pathlib import Path

from starlette.requests import Request
from starlette.responses import FileResponse, HTMLResponse, Response
from starlette.types import Scope

from yarrowdew.api.problems import respond_to_status
from yarrowdew.drawing.built import BUILT

_VIEWER = """<!doctype html>
<html lang="en">
<head>
<meta charset="utf-8">
<meta name="viewport" content="width=device-width, initial-scale=1">
<title>Yarrowdew</title>
<link rel="icon" href="data:,">
<link rel="stylesheet" href="/viewer/viewer.css">
</head>
<body>
<div id="viewer"></div>
<script src="/viewer/viewer.js"></script>
</body>
</html>
"""
_SHARED = re.compile(r"shared/[^/]+")
_A_YEAR = "public, max-age=31536000, immutable"


def _file_at(path: str) -> Path | None:
    """Find a file of the front end; None for every other path, however odd."""
    try:
        file = (BUILT / path).resolve()
        return file if path and file.is_relative_to(BUILT) and file.is_file() else None
    except (OSError, ValueError):
        return None


async def page(request: Request) -> Response:
    """Answer with a file of the front end; every other address shows the app, which knows its
    own.
    """
    path = request.scope["path"].removeprefix("/")
    if _SHARED.fullmatch(path):
        # The page itself holds nothing; its script asks for what stands at its address.
        return HTMLResponse(
            _VIEWER, headers={"Cache-Control": "no-cache", "X-Robots-Tag": "noindex"}
        )
    if is_of_api(request.scope):
        return respond_to_status(404)
    file = _file_at(path)
    if file is not None:
        # Names of assets carry a digest of their contents, so they never change.
        cache = _A_YEAR if path.startswith("assets/") else "no-cache"
        return FileResponse(file, headers={"Cache-Control": cache})
    index = BUILT / "index.html"
    if not index.is_file():
        return HTMLResponse(
            "<p>The front end is not built yet. Run <code>make setup</code>.</p>", 503
        )
    return FileResponse(index, headers={"Cache-Control": "no-cache"})


def is_of_api(scope: Scope) -> bool:
    """Whether a request is for the API, and not for a page."""
    path: str = scope["path"]
    return path == "/api" or path.startswith("/api/")


METHODS = ("GET", "HEAD")
"""By which pages are asked for."""
