"""Columns as an Arrow IPC stream, which the page reads without copying."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any, BinaryIO, cast

import numpy.typing as npt
import polars as pl


def arrow_stream(columns: Mapping[str, npt.NDArray[Any] | pl.Series] | pl.DataFrame) -> bytes:
    """Write columns of one length as an Arrow IPC stream, uncompressed."""
    pieces = _Pieces()
    pl.DataFrame(columns).write_ipc_stream(
        cast("BinaryIO", pieces), compression="uncompressed", compat_level=pl.CompatLevel.oldest()
    )
    return b"".join(pieces.held)


class _Pieces:
    """What is written, piece by piece: to let one buffer grow would copy all of it twice."""

    def __init__(self) -> None:
        self.held: list[bytes] = []

    def write(self, piece: bytes) -> int:
        """Take a piece; what is given may be used again by who gives it."""
        self.held.append(bytes(piece))
        return len(piece)

    def flush(self) -> None:
        """There is nothing behind it."""
