"""JSON: a list of records, an object of columns, or a record on each line."""

from __future__ import annotations

from typing import Any

import orjson
import polars as pl

from yarrowdew.tables.errors import TableError
from yarrowdew.tables.limits import Limits
from yarrowdew.tables.reading.columnar import raw_table
from yarrowdew.tables.reading.options import MOST_VARIABLES, RawTable, ReadOptions

_SHAPES = "a list of records, an object of columns, or a record on each line"


def read_json(content: bytes, name: str, options: ReadOptions, limits: Limits) -> RawTable:
    """Read records or columns.

    Raises
    ------
    TableError
        If it is not JSON of a shape that makes a table, saying the line where it is not JSON.
    """
    try:
        found = orjson.loads(content)
    except orjson.JSONDecodeError:
        found = _lines(content, name)
    if isinstance(found, dict) and found and all(isinstance(v, list) for v in found.values()):
        lengths = {len(v) for v in found.values()}
        if len(lengths) > 1:
            raise TableError(
                f"The columns of {name} differ in length ({min(lengths)} to {max(lengths)} values).",
                "Give every column as many values, null where one is missing.",
            )
        columns = found
    elif isinstance(found, list) and found and all(isinstance(v, dict) for v in found):
        names = list(dict.fromkeys(key for record in found for key in record))
        columns = {key: [record.get(key) for record in found] for key in names}
    else:
        raise TableError(f"{name} is JSON but no table.", f"A table is {_SHAPES}.")
    rows = max(map(len, columns.values()), default=0)
    if len(columns) > MOST_VARIABLES or rows * len(columns) > limits.cells:
        raise TableError(
            f"{name} holds {rows:,} rows of {len(columns):,} variables; at most "
            f"{MOST_VARIABLES:,} variables and {limits.cells:,} values can be read.",
            "Take out variables or rows that are not needed.",
        )
    try:
        frame = pl.DataFrame([_series(key, values) for key, values in columns.items()])
    except (orjson.JSONEncodeError, RecursionError) as error:
        raise TableError(
            f"Values of {name} are nested too deep to be written as text.",
            "Give plain values, or leave that variable out.",
        ) from error
    return raw_table(frame, name, options)


def _lines(content: bytes, name: str) -> list[Any]:
    records = []
    for place, line in enumerate(content.splitlines(), 1):
        if not line.strip():
            continue
        try:
            records.append(orjson.loads(line))
        except orjson.JSONDecodeError as error:
            raise TableError(
                f"Line {place} of {name} is not JSON.", f"Give {_SHAPES}.", row=place
            ) from error
    return records


def _series(name: str, values: list[Any]) -> pl.Series:
    present = [v for v in values if v is not None]
    if present and all(isinstance(v, int | float) and not isinstance(v, bool) for v in present):
        return pl.Series(name, values, dtype=pl.Float64, strict=False)
    texts = [
        None if v is None else v if isinstance(v, str) else orjson.dumps(v).decode() for v in values
    ]
    return pl.Series(name, texts, dtype=pl.String)
