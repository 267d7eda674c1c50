"""Awkward tables: names, kinds, sizes, blanks, repeats, extremes, one level, thousands of levels."""

from __future__ import annotations

import datetime as dt
import random
from collections.abc import Callable

import numpy as np
import polars as pl

from yarrowdew.tables.table import Kind, Table, Variable

NAMES = [
    "row", "group", "fitted", "residual", "order", "x", "y", "aa", "AA", "a {b}", 'a "b"', "a'b",
    "*", "^.*$", "a (m)", "a/b", "count", "size", "colour", "text", "aside", "y_low", "leverage",
    "cook", "studentised", "normal quantile", "Cook's distance", "a, b", "=a", "день", "a\u200bb",
    "column 1", "name", "value", "derived", "n" * 200, "%", "<b>", "{R²}", "^{2}",
]  # fmt: skip
"""Names that something else is called by, or that have a meaning somewhere."""

EDGES = [
    0.0, -0.0, 1.0, -1.0, 1e-300, -1e-300, 1e300, -1e300, 1.797e308, 5e-324, 1e15, 1e15 + 1,
    1e-12, 1e155, 1e-155, 2018.0, 2**53, 0.1, 1 / 3,
]  # fmt: skip

Draw = random.Random


def numbers(draw: Draw, rows: int) -> list[float]:
    """Numbers of one kind of awkwardness."""
    scale = draw.choice([1, 1, 1, 1e-300, 1e-200, 1e-12, 1e12, 1e155, 1e200, 1e300])
    offset = draw.choice([0, 0, 0, 2018, 1e6, 1e15, -1e15])
    makers: list[Callable[[], list[float]]] = [
        lambda: [draw.gauss(0, 1) * scale + offset for _ in range(rows)],
        lambda: [float(i) + offset for i in range(rows)],
        lambda: [offset or 7.0] * rows,
        lambda: [draw.choice(EDGES) for _ in range(rows)],
        lambda: [draw.choice([1.0, 2.0]) * scale for _ in range(rows)],
        lambda: [float(draw.randrange(9)) for _ in range(rows)],
        lambda: [draw.choice([-1, 1]) * 1.7e308 for _ in range(rows)],
        lambda: [np.exp(draw.gauss(0, 2)) * scale for _ in range(rows)],
        lambda: [10.0 ** draw.uniform(-300, 300) for _ in range(rows)],
        lambda: [0.0] * (rows - 1) + [1.0],
        lambda: [offset + i * 2.0**-20 for i in range(rows)],
        lambda: [abs(draw.gauss(0, 1)) * scale + 1e-300 for _ in range(rows)],
        lambda: [draw.gauss(0, 1) + 2 * i for i in range(rows)],
    ]
    return draw.choice(makers)()


def categories(draw: Draw, rows: int) -> list[str]:
    """Words, few or many, some of them odd."""
    many = draw.choice([1, 2, 3, 8, max(1, rows)])
    words = [
        draw.choice(["Argill", "Bracken", "", " ", "=1", "yes", "no", "row", "{x}", "\u202e", "'"])
        + (str(i) if i else "")
        for i in range(many)
    ]
    return [draw.choice(words) for _ in range(rows)]


def dates(draw: Draw, rows: int) -> list[dt.date | dt.datetime]:
    """Dates from the first year to the last, or moments with fractions of seconds."""
    if draw.random() < 0.4:
        start = dt.datetime(2031, 4, 1, 12, 30)
        return [start + dt.timedelta(microseconds=draw.randrange(10**12)) for _ in range(rows)]
    if draw.random() < 0.3:
        ends = [dt.date(1, 1, 1), dt.date(9999, 12, 31), dt.date(1970, 1, 1), dt.date(2031, 4, 1)]
        return [draw.choice(ends) for _ in range(rows)]
    return [dt.date(2031, 1, 1) + dt.timedelta(days=draw.randrange(400)) for _ in range(rows)]


def series(draw: Draw, name: str, kind: Kind, rows: int) -> pl.Series:
    """A column of a kind, as tables hold it, with blanks."""
    if kind is Kind.NUMBER:
        values = [v if abs(v) < np.inf else 1.0 for v in numbers(draw, rows)]
        column = pl.Series(name, values, dtype=pl.Float64)
    elif kind is Kind.DATE:
        column = pl.Series(name, dates(draw, rows))
    elif kind is Kind.CATEGORY:
        words = categories(draw, rows)
        column = pl.Series(name, words, dtype=pl.Enum(sorted(set(words)) or ["none"]))
    else:
        column = pl.Series(name, categories(draw, rows), dtype=pl.String)
    blank = draw.choice([0, 0, 0.1, 0.5, 1])
    missing = pl.Series([draw.random() < blank for _ in range(rows)], dtype=pl.Boolean)
    return column.set(missing, None) if rows else column


def table(draw: Draw, *, rows: int | None = None) -> Table:
    """A table that nobody would make, and somebody will have."""
    if rows is None:
        rows = draw.choice([1, 2, 3, 4, 5, 8, 12, 30, 60])
    names = draw.sample(NAMES, draw.randrange(2, 7))
    kinds = [Kind.NUMBER, Kind.NUMBER]
    kinds += [draw.choice(list(Kind)) for _ in names[2:]]
    draw.shuffle(kinds)
    columns = [series(draw, n, k, rows) for n, k in zip(names, kinds, strict=True)]
    if draw.random() < 0.3 and rows > 2:
        # A row without any value.
        gone = pl.Series([i == rows // 2 for i in range(rows)])
        columns = [c.set(gone, None) for c in columns]
    ids = None
    if draw.random() < 0.3:
        ids = np.array(draw.sample(range(3 * rows + 5), rows), dtype=np.uint32)
    label = draw.choice([lambda n: n, lambda n: "Alike", lambda n: n.title()])
    variables = tuple(
        Variable(n, k, label(n) or n, draw.choice(["", "m", "mL/m²", "{u}"]))
        for n, k in zip(names, kinds, strict=True)
    )
    return Table(
        draw.choice(["dew", "день", "a" * 200, "=x"]), variables, pl.DataFrame(columns), ids
    )
