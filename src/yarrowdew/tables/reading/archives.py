"""Zip archives, whose sizes are known before anything of them is unpacked."""

from __future__ import annotations

import io
import zipfile
import zlib
from collections.abc import Iterator
from contextlib import contextmanager
from typing import BinaryIO

from yarrowdew.tables.errors import TableError
from yarrowdew.tables.limits import MEGABYTE, Limits

_DAMAGES = (
    zipfile.BadZipFile,
    zlib.error,
    EOFError,
    OSError,
    ValueError,
    IndexError,
    KeyError,
    NotImplementedError,
    RuntimeError,
)
"""What Python's reader raises of archives that are damaged, locked, or packed in an odd way."""


@contextmanager
def opened(content: bytes | BinaryIO, name: str) -> Iterator[zipfile.ZipFile]:
    """Open an archive; whatever is wrong with it comes out as a TableError."""
    try:
        file = io.BytesIO(content) if isinstance(content, bytes) else content
        with zipfile.ZipFile(file) as archive:
            yield archive
    except TableError:
        raise
    except RuntimeError as error:
        raise TableError(
            f"{name} cannot be unpacked: it is locked, or packed in a way that is not known.",
            "Make it again without a password.",
        ) from error
    except _DAMAGES as error:
        raise TableError(
            f"{name} is damaged: it cannot be unpacked.", "Fetch it or make it again."
        ) from error


def check_sizes(archive: zipfile.ZipFile, packed: int, name: str, limits: Limits) -> None:
    """Refuse an archive that holds far more than it seems to.

    Raises
    ------
    TableError
        Saying how much it holds.
    """
    unpacked = sum(info.file_size for info in archive.infolist())
    most = limits.unpacked_mb * MEGABYTE
    swollen = unpacked > limits.free_mb * MEGABYTE and unpacked > limits.times * packed
    if unpacked > most or swollen:
        raise TableError(
            f"{name} is too large: it holds {unpacked / MEGABYTE:,.0f} MB unpacked.",
            "Take out sheets, variables or rows that are not needed.",
        )


def member(archive: zipfile.ZipFile, path: str, name: str, limits: Limits) -> bytes:
    """Unpack one file of an archive."""
    try:
        info = archive.getinfo(path)
    except KeyError as error:
        raise TableError(
            f"{name} names '{path[:80]}' but does not hold it.", "Make it again."
        ) from error
    if info.file_size > limits.unpacked_mb * MEGABYTE:
        raise TableError(
            f"'{path[:80]}' in {name} is too large: {info.file_size / MEGABYTE:,.0f} MB unpacked.",
            "Take out variables or rows that are not needed.",
        )
    return archive.read(info)
