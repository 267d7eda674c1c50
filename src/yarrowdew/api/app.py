"""Putting the application together."""

from __future__ import annotations

import asyncio
import logging
from collections.abc import AsyncIterator
from contextlib import asynccontextmanager
from itertools import count
from typing import Any

from fastapi import FastAPI
from fastapi.responses import HTMLResponse, JSONResponse

from yarrowdew import __version__
from yarrowdew.api.bodies import BodyLimitMiddleware
from yarrowdew.api.handlers import add_problem_handlers
from yarrowdew.api.jobs import Jobs
from yarrowdew.api.pages import METHODS, page
from yarrowdew.api.reference import reference_page
from yarrowdew.api.routers import (
    datasets,
    figures,
    images,
    jobs,
    plates,
    rows,
    shares,
    studies,
    tables,
    uploads,
    vocabulary,
)
from yarrowdew.api.security import SecurityMiddleware
from yarrowdew.api.settings import Settings
from yarrowdew.api.uploads import Uploads
from yarrowdew.core import load_all
from yarrowdew.core.errors import UserFacingError
from yarrowdew.figures.answer import Answer
from yarrowdew.store import Store
from yarrowdew.tables.limits import MEGABYTE
from yarrowdew.tables.reading.apart import warm

log = logging.getLogger(__name__)


def create_app(settings: Settings, host: str = "127.0.0.1") -> FastAPI:
    """Make the application that serves one data folder.

    Parameters
    ----------
    settings : Settings
    host : str
        The name under which it may be asked, besides this machine's own.
    """

    @asynccontextmanager
    async def lifespan(app: FastAPI) -> AsyncIterator[None]:
        app.state.settings = settings
        app.state.uploads = Uploads(settings.data / "uploads", settings.max_upload_bytes)
        app.state.store = Store(settings.data)
        app.state.jobs = Jobs()
        kept = asyncio.create_task(_housekeeping(app))
        yield
        kept.cancel()
        app.state.jobs.close()
        app.state.store.close()

    app = FastAPI(
        title="Yarrowdew",
        version=__version__,
        lifespan=lifespan,
        docs_url=None,
        redoc_url=None,
        openapi_url=None,
    )
    add_problem_handlers(app)
    app.add_middleware(BodyLimitMiddleware, max_bytes=settings.max_body_mb * MEGABYTE)
    app.add_middleware(SecurityMiddleware, host=host)
    for router in (
        studies.router,
        uploads.router,
        jobs.router,
        tables.router,
        datasets.router,
        rows.router,
        figures.router,
        images.router,
        plates.router,
        shares.router,
        vocabulary.router,
    ):
        app.include_router(router)

    # Made in a thread of its own: for seconds nothing else would be answered.
    @app.get("/api/openapi.json", include_in_schema=False)
    def described() -> JSONResponse:
        return JSONResponse(app.openapi())

    @app.get("/api/docs", include_in_schema=False)
    def docs() -> HTMLResponse:
        return HTMLResponse(reference_page(app.openapi()))

    app.add_route("/{path:path}", page, list(METHODS), include_in_schema=False)
    _describe_answer(app)
    return app


async def _housekeeping(app: FastAPI) -> None:
    """Delete what has expired: results of jobs and files every minute, records every hour."""
    # Whoever has just started it waits for the first page.
    await asyncio.sleep(_FIRST_PAGE)
    # So that nobody waits for what is loaded with a first fit, question or workbook.
    await asyncio.to_thread(load_all)
    await asyncio.to_thread(warm)
    for minute in count():
        app.state.jobs.sweep()
        await asyncio.to_thread(app.state.uploads.tidy)
        if minute % _MINUTES_AN_HOUR == 0:
            try:
                await asyncio.to_thread(app.state.store.studies.tidy)
            except UserFacingError as error:
                log.warning("%s", error)
        await asyncio.sleep(_A_MINUTE)


_FIRST_PAGE = 0.7
_A_MINUTE = 60.0
_MINUTES_AN_HOUR = 60


def _describe_answer(app: FastAPI) -> None:
    """Add the answer's models to the OpenAPI document: they come in a part of a body."""
    plain = app.openapi

    def openapi() -> dict[str, Any]:
        schema = plain()
        models = Answer.model_json_schema(
            mode="serialization", ref_template="#/components/schemas/{model}"
        )
        parts = models.pop("$defs")
        schema["components"]["schemas"] |= parts | {"Answer": models}
        return schema

    app.openapi = openapi  # type: ignore[method-assign] # FastAPI's own way to extend it
