"""What stands behind a number, declared beside the code that finds it, for docs/statistics.md."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any, Literal, TypeVar

Chapter = Literal["groups of lines", "distributions", "pairs", "cautions"]
Found = TypeVar("Found", bound=Callable[..., Any])


@dataclass(frozen=True, slots=True)
class Method:
    """How a number, a test or a caution is found.

    Attributes
    ----------
    of : str
        What it is called.
    by : str
        How it is found, with its sources by author and year.
    exactness : str
        When it is exact, or how far it is approximate; of a caution how often it stands beside
        data without what it speaks of.
    """

    of: str
    by: str
    exactness: str = ""


METHODS: dict[Chapter, dict[tuple[str, int, int], Method]] = {}
"""By chapter and by where in the code they are declared: module, line, and place among several."""


def documented(chapter: Chapter, of: str, by: str, exactness: str = "") -> Callable[[Found], Found]:
    """Declare what a function finds, and leave the function as it is."""

    def declare(function: Found) -> Found:
        held = METHODS.setdefault(chapter, {})
        # Of several declarations the one nearest to the function comes first.
        line = function.__code__.co_firstlineno
        held[function.__module__, line, -len(held)] = Method(of, by, exactness)
        return function

    return declare


def methods_of(chapter: Chapter) -> list[Method]:
    """Return what was declared, in the order in which it stands in the code."""
    held = METHODS.get(chapter, {})
    return [held[place] for place in sorted(held)]
