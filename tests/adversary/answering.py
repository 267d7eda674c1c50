"""What comes of a document: an answer whose every number exists, a sentence, or a fault."""

from __future__ import annotations

import contextlib
import io
import math
import random
import traceback
from collections.abc import Iterator
from typing import Any

import polars as pl
from pydantic import BaseModel

from tests.adversary.documents import document
from tests.adversary.tables import table
from yarrowdew.core.errors import FitError
from yarrowdew.figures.analyses.comparison import ComparisonRequest, compare
from yarrowdew.figures.analyses.residuals import ResidualsRequest, residual_table, residuals
from yarrowdew.figures.answer import answer, readings
from yarrowdew.figures.figure import FigureDocument
from yarrowdew.tables.errors import TableError
from yarrowdew.tables.table import Table
from yarrowdew.tables.writing import write_table


def is_finite(value: object) -> bool:
    """Whether every number in what is answered exists."""
    if isinstance(value, BaseModel):
        return all(is_finite(getattr(value, name)) for name in type(value).model_fields)
    if isinstance(value, dict):
        return all(map(is_finite, value.values()))
    if isinstance(value, list | tuple):
        return all(map(is_finite, value))
    return not isinstance(value, float) or math.isfinite(value)


def asked_for(made: FigureDocument, over: Table, draw: random.Random) -> str:
    """Ask for everything that can be asked of a document."""
    answered = answer(made, over)
    if not is_finite(answered.answer):
        return "untyped: not finite"
    marks = pl.read_ipc_stream(io.BytesIO(answered.marks))
    if any(c.is_infinite().any() for c in marks if c.dtype == pl.Float64):
        return "untyped: infinite marks"
    readings(made, over)
    if made.trends and made.kind == "scatterplot":
        try:
            table_of = residual_table(made, over, 0)
        except TableError:
            return "answer"
        write_table(table_of, "csv")
        against = draw.choice(["fitted", "x", "order", "quantile"])
        with contextlib.suppress(TableError):
            residuals(ResidualsRequest(document=made, against=against), over)  # type: ignore[arg-type]
        if draw.random() < 0.1:
            with contextlib.suppress(TableError):
                compare(ComparisonRequest(document=made), over, lambda _: None)
    return "answer"


def outcome(made: dict[str, Any], over: Table, draw: random.Random) -> str:
    """Ask for a document's answer, and say what came of it."""
    try:
        return asked_for(FigureDocument.model_validate(made), over, draw)
    except (TableError, FitError) as error:
        return "sentence" if str(error) else "untyped: no sentence"
    except Exception as error:
        last = traceback.extract_tb(error.__traceback__)[-1]
        own = [f for f in traceback.extract_tb(error.__traceback__) if "yarrowdew" in f.filename]
        where = own[-1] if own else last
        return f"untyped: {type(error).__name__} at {where.filename.split('/')[-1]}:{where.lineno}"


def tried(count: int, seed: int) -> Iterator[tuple[str, dict[str, Any], Table]]:
    """Give the outcome for so many random documents over awkward tables."""
    draw = random.Random(seed)
    for _ in range(count):
        over = table(draw)
        made = document(draw, over)
        if made is not None:
            yield outcome(made, over, draw), made, over
