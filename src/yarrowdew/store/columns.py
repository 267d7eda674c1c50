"""A column as it is stored: one Arrow blob."""

from __future__ import annotations

import io

import polars as pl


def pack(column: pl.Series) -> bytes:
    """Turn a column into an Arrow IPC file.

    Text and categories are compressed; numbers and dates gain little by it and are kept plain, so
    that they are stored and read several times as fast.
    """
    buffer = io.BytesIO()
    words = column.dtype == pl.String or isinstance(column.dtype, pl.Enum)
    column.rename("values").to_frame().write_ipc(
        buffer, compression="zstd" if words else "uncompressed"
    )
    return buffer.getvalue()


def unpack(blob: bytes) -> pl.Series:
    """Turn a stored blob back into a column."""
    return pl.read_ipc(io.BytesIO(blob)).to_series()
