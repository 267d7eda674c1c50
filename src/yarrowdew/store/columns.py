"""A column as it is stored: one compressed Arrow blob."""

from __future__ import annotations

import io

import polars as pl


def pack(column: pl.Series) -> bytes:
    """Turn a column into an Arrow IPC file, compressed."""
    buffer = io.BytesIO()
    column.rename("values").to_frame().write_ipc(buffer, compression="lz4")
    return buffer.getvalue()


def unpack(blob: bytes, name: str) -> pl.Series:
    """Turn a stored blob back into a column of this name."""
    return pl.read_ipc(io.BytesIO(blob)).to_series().rename(name)
