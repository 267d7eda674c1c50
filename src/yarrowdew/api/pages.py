"""The built front end, served beside the API."""

from __future__ import annotations

from pathlib import Path

from fastapi import FastAPI, Response
from fastapi.responses import FileResponse, HTMLResponse
from starlette.exceptions import HTTPException

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
_A_YEAR = "public, max-age=31536000, immutable"


def _file_at(path: str) -> Path | None:
    """Find a file of the front end; None for every other path, however odd."""
    try:
        file = (BUILT / path).resolve()
        return file if path and file.is_relative_to(BUILT) and file.is_file() else None
    except (OSError, ValueError):
        return None


def add_pages(app: FastAPI) -> None:
    """Serve the front end's files; every other address shows the app, which knows its own."""

    @app.api_route("/shared/{share_id}", methods=["GET", "HEAD"], include_in_schema=False)
    def shared_page(share_id: str) -> HTMLResponse:
        # The page itself holds nothing; its script asks for what stands at its address.
        return HTMLResponse(
            _VIEWER, headers={"Cache-Control": "no-cache", "X-Robots-Tag": "noindex"}
        )

    @app.api_route("/{path:path}", methods=["GET", "HEAD"], include_in_schema=False)
    def page(path: str) -> Response:
        if path == "api" or path.startswith("api/"):
            raise HTTPException(404)
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
