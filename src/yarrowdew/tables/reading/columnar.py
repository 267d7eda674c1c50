"""Parquet and Arrow files: columns that know their types."""

from __future__ import annotations

import io
from collections.abc import Callable

import polars as pl

from yarrowdew.tables.errors import TableError
from yarrowdew.tables.limits import MEGABYTE, Limits
from yarrowdew.tables.reading.options import MOST_VARIABLES, RawTable, ReadOptions
from yarrowdew.tables.reading.rows import without_missing

_READERS: dict[str, Callable[[io.BytesIO], pl.DataFrame]] = {
    "a Parquet file": pl.read_parquet,
    "an Arrow file": pl.read_ipc,
    "an Arrow stream": pl.read_ipc_stream,
}


def read_columnar(what: str) -> Callable[[bytes, str, ReadOptions, Limits], RawTable]:
    """Make the reader of one of these formats."""

    def read(content: bytes, name: str, options: ReadOptions, limits: Limits) -> RawTable:
        try:
            if what == "a Parquet file":
                _check_size(content, name, limits)
            frame = _READERS[what](io.BytesIO(content))
            check_swollen(frame, len(content), name, limits)
        except TableError:
            raise
        except (pl.exceptions.PolarsError, OSError, ValueError) as error:
            reason = (str(error).splitlines() or [""])[0][:120].rstrip(".")
            raise TableError(
                f"{name} cannot be read as {what} ({reason}).",
                "Save it again, and choose that file.",
            ) from error
        return raw_table(frame, name, options)

    return read


def _check_size(content: bytes, name: str, limits: Limits) -> None:
    """Look at rows and columns as the file's own end describes them."""
    described = pl.scan_parquet(io.BytesIO(content))
    columns = len(described.collect_schema())
    rows = int(described.select(pl.len()).collect().item())
    if columns > MOST_VARIABLES or rows * columns > limits.cells:
        raise TableError(
            f"{name} holds {rows:,} rows of {columns:,} columns; at most {MOST_VARIABLES:,} columns "
            f"and {limits.cells:,} values can be read.",
            "Take out variables or rows that are not needed.",
        )


def check_swollen(frame: pl.DataFrame, packed: int, name: str, limits: Limits) -> None:
    """Refuse a table that is far larger than its file.

    Raises
    ------
    TableError
        Saying how large it is.
    """
    size = frame.estimated_size()
    plain = all(dtype.is_numeric() or dtype.is_temporal() for dtype in frame.dtypes)
    times = limits.times_numbers if plain else limits.times
    free = limits.free_numbers_mb if plain else limits.free_mb
    if size > free * MEGABYTE and size > times * packed:
        raise TableError(
            f"{name} is too large: its {packed / MEGABYTE:,.1f} MB hold a table of "
            f"{size / MEGABYTE:,.0f} MB.",
            "Take out variables or rows that are not needed, or shorten very long texts.",
        )


def raw_table(frame: pl.DataFrame, name: str, options: ReadOptions) -> RawTable:
    """Hand a frame on whose columns know their types; columns of lists and the like as text."""
    if frame.height == 0 or frame.width == 0:
        raise TableError(f"{name} holds no rows.", "Choose a file with values.")
    headers = frame.columns
    columns = [plain_column(column).alias(str(i)) for i, column in enumerate(frame.get_columns())]
    return RawTable(name, headers, without_missing(pl.DataFrame(columns), options.missing), options)


def plain_column(column: pl.Series) -> pl.Series:
    """A column as it is; of lists and the like as text."""
    dtype = column.dtype
    if dtype.is_nested() or dtype in (pl.Binary, pl.Object, pl.Null):
        texts = [None if v is None else str(v) for v in column.to_list()]
        return pl.Series(column.name, texts, dtype=pl.String)
    return column
