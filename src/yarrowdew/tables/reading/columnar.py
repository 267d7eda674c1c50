"""Parquet and Arrow files: columns that know their types."""

from __future__ import annotations

import io
from collections.abc import Callable

import polars as pl

from yarrowdew.tables.errors import TableError
from yarrowdew.tables.reading.options import RawTable, ReadOptions
from yarrowdew.tables.reading.rows import without_missing

_READERS: dict[str, Callable[[io.BytesIO], pl.DataFrame]] = {
    "a Parquet file": pl.read_parquet,
    "an Arrow file": pl.read_ipc,
    "an Arrow stream": pl.read_ipc_stream,
}


def read_columnar(what: str) -> Callable[[bytes, str, ReadOptions], RawTable]:
    """Make the reader of one of these formats."""

    def read(content: bytes, name: str, options: ReadOptions) -> RawTable:
        try:
            frame = _READERS[what](io.BytesIO(content))
        except (pl.exceptions.PolarsError, OSError, ValueError) as error:
            reason = str(error).splitlines()[0][:120].rstrip(".")
            raise TableError(
                f"{name} cannot be read as {what} ({reason}).",
                "Write it again and choose that file.",
            ) from error
        return raw_table(frame, name, options)

    return read


def raw_table(frame: pl.DataFrame, name: str, options: ReadOptions) -> RawTable:
    """Hand a frame on whose columns know their types; columns of lists and the like as text."""
    if frame.height == 0 or frame.width == 0:
        raise TableError(f"{name} holds no rows.", "Choose a file with values.")
    nested = [c for c in frame.columns if frame[c].dtype.is_nested() or frame[c].dtype == pl.Binary]
    if nested:
        as_text = [
            pl.Series(
                c, [None if v is None else str(v) for v in frame[c].to_list()], dtype=pl.String
            )
            for c in nested
        ]
        frame = frame.with_columns(as_text)
    return RawTable(name, frame.columns, without_missing(frame, options.missing), options)
