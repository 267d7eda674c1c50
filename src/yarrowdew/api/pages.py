"""The built front end, served beside the API."""

from __future__ import annotations

from pathlib import Path

from fastapi import FastAPI, Response
from fastapi.responses import FileResponse, HTMLResponse
from starlette.exceptions import HTTPException

BUILT = Path(__file__).parents[1] / "web"
_A_YEAR = "public, max-age=31536000, immutable"


def add_pages(app: FastAPI) -> None:
    """Serve the front end's files; every other address shows the app, which knows its own."""

    @app.get("/{path:path}", include_in_schema=False)
    def page(path: str) -> Response:
        if path == "api" or path.startswith("api/"):
            raise HTTPException(404)
        file = (BUILT / path).resolve()
        if path and file.is_relative_to(BUILT) and file.is_file():
            # Names of assets carry a digest of their contents, so they never change.
            cache = _A_YEAR if path.startswith("assets/") else "no-cache"
            return FileResponse(file, headers={"Cache-Control": cache})
        index = BUILT / "index.html"
        if not index.is_file():
            return HTMLResponse(
                "<p>The front end is not built yet. Run <code>make setup</code>.</p>", 503
            )
        return FileResponse(index, headers={"Cache-Control": "no-cache"})
