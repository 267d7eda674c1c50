"""Routers of the API, all with the same prefix and problems."""

from __future__ import annotations

import warnings

from fastapi import APIRouter
from pydantic.warnings import UnsupportedFieldAttributeWarning

from yarrowdew.api.problems import RESPONSES

# FastAPI silences this warning where it builds a model itself; ours are built when first needed.
warnings.filterwarnings("ignore", category=UnsupportedFieldAttributeWarning)


def api_router(tag: str, path: str = "") -> APIRouter:
    """Make a router of the API.

    Parameters
    ----------
    tag : str
        What its routes are about, as the description of the API groups them.
    path : str
        What the paths of all of them begin with, below that of the API.
    """
    return APIRouter(prefix=f"/api{path}", tags=[tag], responses=RESPONSES)
