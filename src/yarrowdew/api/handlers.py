"""Every error of the layers below, and of the framework, answered as a problem."""

from __future__ import annotations

import logging
from collections.abc import Iterator
from typing import Any

from fastapi import FastAPI, Request, Response
from fastapi.exceptions import RequestValidationError
from starlette.exceptions import HTTPException

from yarrowdew.api.problems import Problem, ProblemError, etag, respond, respond_to_status
from yarrowdew.core.errors import UserFacingError
from yarrowdew.drawing.built import NotBuiltError
from yarrowdew.store import NotFoundError, OutdatedError, StoreBusyError, StoreError
from yarrowdew.tables.errors import TableError
from yarrowdew.tables.expressions import ExpressionError
from yarrowdew.tables.reading.progress import StoppedError

log = logging.getLogger(__name__)


def add_problem_handlers(app: FastAPI) -> None:
    """Answer every error of the layers below, and of the framework, as a problem."""

    async def _known(_: Request, error: Exception) -> Response:
        headers = error.headers if isinstance(error, ProblemError) else None
        if isinstance(error, StoreBusyError):
            headers = {"Retry-After": RETRY_SECONDS}
        if isinstance(error, OutdatedError):
            headers = {"ETag": etag(error.revision)}
        return respond(problem_of(error), headers)

    for known in (ProblemError, UserFacingError, NotFoundError, OutdatedError):
        app.add_exception_handler(known, _known)

    @app.exception_handler(StoppedError)
    async def _stopped(_: Request, _error: StoppedError) -> Response:
        # Nobody waits for it any more.
        return Response(status_code=499)

    @app.exception_handler(RequestValidationError)
    async def _invalid(_: Request, error: RequestValidationError) -> Response:
        return respond(Problem(title=_first_of(error), status=422))

    @app.exception_handler(HTTPException)
    async def _http(_: Request, error: HTTPException) -> Response:
        headers = dict(error.headers) if error.headers else None
        return respond_to_status(error.status_code, str(error.detail), headers)

    @app.exception_handler(Exception)
    async def _unforeseen(request: Request, error: Exception) -> Response:
        problem = problem_of(error)
        if problem.status >= UNFORESEEN:
            log.error("Unforeseen error at %s", request.url.path, exc_info=error)
        # The server closes the connection after an unforeseen error, and has to say so.
        return respond(problem, {"Connection": "close"})


UNFORESEEN = 500
RETRY_SECONDS = "2"


def problem_of(error: BaseException) -> Problem:
    """Say what an error of any layer is to the one who asked."""
    if isinstance(error, ProblemError):
        return error.problem
    if isinstance(error, UserFacingError):
        return _of_user_facing(error)
    if isinstance(error, NotFoundError):
        return Problem(title=str(error), status=404)
    if isinstance(error, OutdatedError):
        return Problem(
            title=str(error), status=412, detail="Load it again, then repeat the change."
        )
    if isinstance(error, UnicodeEncodeError):
        return Problem(
            title="The request holds half a character (a surrogate without its pair).",
            status=422,
            detail="Send text as Unicode.",
        )
    return Problem(
        title="Something went wrong on the server; nothing was changed.",
        status=UNFORESEEN,
        detail="The server's log says more. Try again, or restart the server.",
    )


def _of_user_facing(error: UserFacingError) -> Problem:
    own = {StoreBusyError: 503, StoreError: 507, NotBuiltError: 503}
    return Problem(
        title=error.message,
        status=next((code for kind, code in own.items() if isinstance(error, kind)), 422),
        detail=error.remedy or None,
        row=error.row if isinstance(error, TableError) else None,
        column=error.column if isinstance(error, TableError) else None,
        position=error.position if isinstance(error, ExpressionError) else None,
    )


def _first_of(error: RequestValidationError) -> str:
    first = error.errors()[0]
    place = ".".join(_asked([part for part in first["loc"] if part != "body"], error.body))
    message = str(first["msg"]).removeprefix("Value error, ").rstrip(".")
    return f"The request is not valid: {place + ': ' if place else ''}{message}."


def _asked(path: list[Any], body: Any) -> Iterator[str]:
    """The place as it stands in the request, without the alternatives that models were tried as."""
    for i, part in enumerate(path):
        if isinstance(body, dict) and part not in body and i < len(path) - 1:
            continue
        yield str(part)
        try:
            body = body[part]
        except (KeyError, IndexError, TypeError):
            body = None
