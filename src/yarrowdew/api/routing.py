"""Routes whose models are built when they are first asked for, or described.

There are some seventy, and building what checks their requests and answers takes a tenth of a
second, which whoever starts the server would wait for; an answer needs one of them.
"""

from __future__ import annotations

import sys
import warnings
from collections.abc import Callable, Iterable
from threading import RLock
from typing import Any

from fastapi import APIRouter
from fastapi.routing import APIRoute
from pydantic.warnings import UnsupportedFieldAttributeWarning
from starlette.routing import BaseRoute, compile_path

from yarrowdew.api.problems import RESPONSES

# FastAPI would load all of it (40 ms) to see that no model here is one of the first Pydantic's.
sys.modules.setdefault("pydantic.v1", None)  # type: ignore[arg-type] # not to be had
# FastAPI knows of it, and says nothing where it builds a model itself.
warnings.filterwarnings("ignore", category=UnsupportedFieldAttributeWarning)


class LaterRoute(APIRoute):
    """A route that knows what it is asked by, and the rest when it is."""

    def __init__(self, path: str, endpoint: Callable[..., Any], **how: Any) -> None:
        self._building = RLock()
        self._how: dict[str, Any] | None = how
        self.path, self.endpoint = path, endpoint
        self.path_regex, self.path_format, self.param_convertors = compile_path(path)
        self.methods = set(how["methods"])

    def __getattr__(self, name: str) -> Any:
        """Build the route where something is asked that only a built one knows."""
        how = self.__dict__.get("_how")
        if how is None or name.startswith("__"):
            raise AttributeError(f"A route has no {name!r}.")
        with self._building:
            if self._how is not None:
                super().__init__(self.path, self.endpoint, **how)
                self._how = None
        return getattr(self, name)


def build(routes: Iterable[BaseRoute]) -> None:
    """Build routes that were not asked for yet, and what checks and writes what they are asked."""
    for route in routes:
        if isinstance(route, LaterRoute):
            for field in (route.body_field, route.response_field, *route.response_fields.values()):
                if field is not None:
                    field.validate(None, {}, loc=())


def api_router(tag: str, path: str = "") -> APIRouter:
    """Make a router of the API.

    Parameters
    ----------
    tag : str
        What its routes are about, as the description of the API groups them.
    path : str
        What the paths of all of them begin with, below that of the API.
    """
    return APIRouter(prefix=f"/api{path}", tags=[tag], responses=RESPONSES, route_class=LaterRoute)
