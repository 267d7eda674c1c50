"""What comes of reading a file: a table, an error for a person, or a fault."""

from __future__ import annotations

import contextlib
import random
import time
from collections import Counter
from collections.abc import Iterator

from pydantic import ValidationError

from tests.adversary.files import OPTIONS, bombs, mutated, seeds
from yarrowdew.figures.analyses.suggestion import suggest_figure
from yarrowdew.tables.errors import TableError
from yarrowdew.tables.reading import ReadOptions, read_bytes
from yarrowdew.tables.summary import summarise

SLOW_SECONDS = 10


def outcome(name: str, content: bytes, options: dict[str, object]) -> str:
    """Read a file as the server does, and say what came of it."""
    begun = time.monotonic()
    try:
        try:
            asked = ReadOptions.model_validate(options)
        except ValidationError:
            return "refused"
        table = read_bytes(content, name, asked).table
        summarise(table)
        with contextlib.suppress(TableError):
            suggest_figure(table, "t")
        came = "table"
    except TableError as error:
        came = "sentence" if error.message else "untyped: no sentence"
    except BaseException as error:
        if isinstance(error, KeyboardInterrupt):
            raise
        came = f"untyped: {type(error).__name__}"
    if time.monotonic() - begun > SLOW_SECONDS:
        return f"slow: {came}"
    return came


def tried(count: int, seed: int) -> Iterator[tuple[str, str, bytes]]:
    """Give the outcome for so many mutated files, with the file."""
    draw = random.Random(seed)
    good = list(seeds().items())
    for place in range(count):
        name, content = good[place % len(good)]
        odd = mutated(content, draw)
        yield outcome(name, odd, draw.choice(OPTIONS)), name, odd


def tallied(count: int, seed: int = 1, *, bombed: bool = True) -> Counter[str]:
    """Count outcomes of mutated files and of bombs."""
    found = Counter(came for came, _, _ in tried(count, seed))
    if bombed:
        found.update(outcome(name, content, {}) for name, content in bombs().items())
    return found
