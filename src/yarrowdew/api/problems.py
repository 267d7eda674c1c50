"""Problem details (RFC 9457), each with a title that a person can act on."""

from __future__ import annotations

from typing import Any

import orjson
from pydantic import BaseModel, Field
from starlette.responses import Response

MEDIA_TYPE = "application/problem+json"


class Problem(BaseModel):
    """What went wrong."""

    type: str = "about:blank"
    title: str = Field(description="What is wrong, in one sentence")
    status: int
    detail: str | None = Field(default=None, description="What would help")
    row: int | None = Field(default=None, description="Line of the file, from 1")
    column: str | None = Field(default=None, description="Name of the variable")
    position: int | None = Field(default=None, description="Character of the expression, from 0")


class ProblemError(Exception):
    """Raised by a router to answer with a problem."""

    def __init__(self, status: int, title: str, detail: str | None = None, **headers: str) -> None:
        super().__init__(title)
        self.problem = Problem(title=title, status=status, detail=detail)
        self.headers = headers


RESPONSES: dict[int | str, dict[str, Any]] = {
    "default": {
        "description": "A problem",
        "content": {MEDIA_TYPE: {"schema": Problem.model_json_schema()}},
    }
}


def respond(problem: Problem, headers: dict[str, str] | None = None) -> Response:
    """Make the response that carries a problem."""
    plain = {
        # What is refused may hold halves of characters, which cannot be written.
        name: value.encode("utf-8", "replace").decode() if isinstance(value, str) else value
        for name, value in problem.model_dump(exclude_none=True).items()
    }
    return Response(
        orjson.dumps(plain),
        status_code=problem.status,
        media_type=MEDIA_TYPE,
        headers=headers,
    )


def respond_to_status(
    status: int, said: str = "", headers: dict[str, str] | None = None
) -> Response:
    """Make the response to what no router has said anything about."""
    return respond(Problem(title=_TITLES.get(status, said), status=status), headers)


_TITLES = {
    400: "The request cannot be read.",
    404: "There is nothing at this address.",
    405: "This address does not take that method.",
}


def etag(revision: int) -> str:
    """Write a revision as an entity tag."""
    return f'"{revision}"'
