"""Columns as Arrow writes them, which others read without copying."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any, BinaryIO, Literal, cast

import numpy.typing as npt
import polars as pl

Compression = Literal["uncompressed", "lz4"]


def arrow_stream(columns: Mapping[str, npt.NDArray[Any] | pl.Series] | pl.DataFrame) -> bytes:
    """Write columns of one length as an Arrow IPC stream, uncompressed."""
    pieces = _Pieces()
    pl.DataFrame(columns).write_ipc_stream(
        pieces.file, compression="uncompressed", compat_level=pl.CompatLevel.oldest()
    )
    return pieces.whole()


def arrow_file(frame: pl.DataFrame, compression: Compression) -> bytes:
    """Write columns as an Arrow IPC file."""
    pieces = _Pieces()
    frame.write_ipc(pieces.file, compression=compression)
    return pieces.whole()


class _Pieces:
    """What is written, piece by piece: to let one buffer grow would copy all of it twice."""

    def __init__(self) -> None:
        self._held: list[bytes] = []

    @property
    def file(self) -> BinaryIO:
        """The same, as what asks for a file sees it: all that it does is to write."""
        return cast("BinaryIO", self)

    def whole(self) -> bytes:
        """Put together what was written."""
        return b"".join(self._held)

    def write(self, piece: bytes) -> int:
        """Take a piece; what may be changed by who gives it is copied."""
        self._held.append(bytes(piece))
        return len(piece)

    def flush(self) -> None:
        """There is nothing behind it."""
