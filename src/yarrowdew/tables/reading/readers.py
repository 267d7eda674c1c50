"""Every reader there is, by name, and the one gate through which they are called."""

from __future__ import annotations

import logging
from collections.abc import Callable, Iterator
from contextlib import contextmanager

from yarrowdew.tables.errors import TableError
from yarrowdew.tables.limits import MEGABYTE, Limits
from yarrowdew.tables.reading.columnar import check_swollen, read_columnar
from yarrowdew.tables.reading.delimited import read_delimited
from yarrowdew.tables.reading.objects import read_json
from yarrowdew.tables.reading.options import RawTable, ReadOptions
from yarrowdew.tables.reading.package import read_package
from yarrowdew.tables.reading.progress import StoppedError
from yarrowdew.tables.reading.workbooks import read_workbook

log = logging.getLogger(__name__)

Reader = Callable[[bytes, str, ReadOptions, Limits], RawTable]

READERS: dict[str, Reader] = {
    "delimited text": read_delimited,
    "a workbook": read_workbook,
    "a Parquet file": read_columnar("a Parquet file"),
    "an Arrow file": read_columnar("an Arrow file"),
    "an Arrow stream": read_columnar("an Arrow stream"),
    "JSON": read_json,
    "a data package": read_package,
}
HERE = frozenset({"delimited text"})
"""Readers that nothing in a file can end; the others read in a process of their own."""


def read_typed(
    reader: str, content: bytes, name: str, options: ReadOptions, limits: Limits
) -> RawTable:
    """Read by a reader; whatever goes wrong comes out as a TableError."""
    try:
        with answering_for(name, reader):
            raw = READERS[reader](content, name, options, limits)
            if reader not in HERE:
                check_swollen(raw.columns, len(content), name, limits)
            return raw
    except MemoryError as error:
        raise TableError(
            f"{name} needs more than {limits.memory_for(len(content)) // MEGABYTE:,} MB of memory.",
            "Take out sheets, variables or rows that are not needed.",
        ) from error


@contextmanager
def answering_for(name: str, reader: str) -> Iterator[None]:
    """Turn whatever goes wrong inside into a TableError.

    The libraries that unpack formats raise errors of many types on damaged files, and some panic
    with what is no `Exception`.
    """
    try:
        yield
    except (TableError, StoppedError, MemoryError, KeyboardInterrupt, SystemExit):
        raise
    except BaseException as error:
        log.warning("A reader gave up on a file: %r", error)
        lines = str(error).splitlines()
        reason = f" ({lines[0][:120].rstrip('.')})" if lines else ""
        raise TableError(
            f"{name} cannot be read as {reader}{reason}.", "Save it again, and choose that file."
        ) from error
