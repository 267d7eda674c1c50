"""Where the built front end is, and what of it is read here."""

from __future__ import annotations

import re
from functools import cache
from pathlib import Path

from yarrowdew.core.errors import UserFacingError

BUILT = Path(__file__).parents[1] / "web"
_DIGEST = re.compile(r"-[\w-]{8}(?=\.woff2?$)")


class DrawingError(UserFacingError):
    """A picture that cannot be made."""


class NotBuiltError(DrawingError):
    """The front end is not there."""

    def __init__(self) -> None:
        super().__init__("The front end is not built yet.", "Run make setup.")


def built(path: str) -> Path:
    """Find a file of the front end.

    Raises
    ------
    NotBuiltError
        If the front end is not built.
    """
    found = BUILT / path
    if not found.exists():
        raise NotBuiltError
    return found


@cache
def font_files() -> dict[str, Path]:
    """The files of the fonts by their own names, which in the build carry a digest."""
    return {_DIGEST.sub("", found.name): found for found in sorted(built("assets").glob("*.woff*"))}
