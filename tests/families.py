"""Families as tests set them."""

from __future__ import annotations

from typing import Any

from yarrowdew.core.trends import family_of


def settings_of(family: str, /, **options: Any) -> Any:
    """Settings of a family, of which it takes those that are its own."""
    own = family_of(family).declared()
    return family_of(family).settings(**{k: v for k, v in options.items() if k in own})
