"""The list of texts holds what stands on the screen, in errors, on the command line and in the guide."""

from __future__ import annotations

import pytest
from tools.texts import listed


@pytest.fixture(scope="module")
def texts() -> dict[str, list[str]]:
    return {place: [one.words for one in found] for place, found in listed().items()}


@pytest.mark.parametrize(
    ("place", "words"),
    [
        ("The page", "Choose a file"),
        ("The page", "Trend type"),
        ("The page", "unequal variance (HC3)"),
        ("The command line", "Fit a line to each category of this variable."),
        ("The server", "There is no trend family '{…}'."),
        ("The documentation", "# Two minutes"),
    ],
)
def test_a_text_that_everyone_meets_is_listed(
    texts: dict[str, list[str]], place: str, words: str
) -> None:
    assert words in texts[place]


def test_no_docstring_is_taken_for_a_text(texts: dict[str, list[str]]) -> None:
    assert not any("Parameters ----------" in words for words in texts["The server"])


def test_no_text_of_the_page_speaks_of_a_library(texts: dict[str, list[str]]) -> None:
    """What a library says of wrong input is said in our own words."""
    spoken = [*texts["The page"], *texts["The command line"], *texts["The server"]]
    for words in ("Pydantic", "pydantic", "SQLAlchemy", "Traceback", "undefined", "[object"):
        assert not [text for text in spoken if words in text]
