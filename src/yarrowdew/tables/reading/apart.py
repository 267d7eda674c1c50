"""Reading in a process of its own, which may be ended without harm to anything else.

A workbook of a few kilobytes may ask for more memory than there is, and a damaged columnar file may
end the process that reads it. So such files are read by a child with limits on memory and time; if
it ends, that is an error for a person and no more. A child that has read a file waits for the next,
so that its start is waited for only once.

Both sides speak in messages: a line of JSON, whose `size` says how many bytes follow it. The child is
sent the reader, the file's name, the options and the limits, then the file; it answers with what is
known of the table, then its columns as an Arrow file.
"""

from __future__ import annotations

import atexit
import io
import logging
import subprocess
import sys
import time
from concurrent.futures import Future, ThreadPoolExecutor
from concurrent.futures import TimeoutError as NotYetError
from dataclasses import asdict
from pathlib import Path
from threading import Lock
from typing import Any, BinaryIO

import orjson
import polars as pl

from yarrowdew.tables.errors import TableError
from yarrowdew.tables.limits import MEGABYTE, Limits
from yarrowdew.tables.reading.options import RawTable, ReadOptions
from yarrowdew.tables.reading.progress import Progress
from yarrowdew.tables.table import Kind, Variable

try:
    import resource
except ImportError:  # Not on every system.
    resource = None  # type: ignore[assignment]

log = logging.getLogger(__name__)

_ASKED_EVERY = 0.25
"""Seconds after which the one who waits is told, and may stop the work."""
_MOST_IDLE = 2
_MOST_FILES = 200
"""After so many files a child is let go, so that what its libraries keep does not add up."""
_LARGE_FILE = 20 * MEGABYTE
"""After a larger file a child is let go, too: it would keep the memory, and the next may have
less."""


class _Child:
    """A process that reads files, one after the other."""

    def __init__(self) -> None:
        self._process = subprocess.Popen(  # noqa: S603 (this very module, and nothing else)
            [sys.executable, "-m", __name__],
            stdin=subprocess.PIPE,
            stdout=subprocess.PIPE,
            stderr=subprocess.DEVNULL,
        )
        self._files = 0
        self._largest = 0

    @property
    def is_fit(self) -> bool:
        """Whether it can be sent another file."""
        is_small = self._largest <= _LARGE_FILE
        return self._process.poll() is None and self._files < _MOST_FILES and is_small

    def read(self, asked: dict[str, Any], content: bytes) -> tuple[dict[str, Any], bytes]:
        """Send a file and wait for what comes of it; EOFError where the process ends instead."""
        self._files += 1
        self._largest = max(self._largest, len(content))
        assert self._process.stdin is not None  # noqa: S101 (it is a pipe)
        assert self._process.stdout is not None  # noqa: S101
        try:
            _send(self._process.stdin, asked, content)
        except OSError as error:
            raise EOFError from error
        return _take(self._process.stdout)

    def end(self) -> int | None:
        """End the process, and say with what it ended."""
        if self._process.poll() is None:
            self._process.kill()
        self._process.wait()
        for pipe in (self._process.stdin, self._process.stdout):
            try:
                if pipe is not None:
                    pipe.close()
            except OSError:
                pass
        return self._process.returncode


class _Children:
    """Children that wait for a file."""

    def __init__(self) -> None:
        self._lock = Lock()
        self._idle: list[_Child] = []
        self.threads = ThreadPoolExecutor(thread_name_prefix="reading")
        atexit.register(self.end)

    def take(self) -> _Child:
        """Take one that waits, or start one."""
        with self._lock:
            while self._idle:
                child = self._idle.pop()
                if child.is_fit:
                    return child
                child.end()
        return _Child()

    def give_back(self, child: _Child) -> None:
        """Let one that has read its file wait for the next."""
        with self._lock:
            if child.is_fit and len(self._idle) < _MOST_IDLE:
                self._idle.append(child)
                return
        child.end()

    def end(self) -> None:
        """End all that wait."""
        with self._lock:
            while self._idle:
                self._idle.pop().end()


_children = _Children()


def warm() -> None:
    """Start a child, so that the first file need not wait for its start."""
    _children.give_back(_children.take())


def read_apart(
    reader: str,
    content: bytes,
    name: str,
    options: ReadOptions,
    *,
    limits: Limits,
    progress: Progress,
) -> RawTable:
    """Read a file in a process of its own.

    Parameters
    ----------
    reader : str
        Which reader, by its name in `yarrowdew.tables.reading.readers`.
    content : bytes
    name : str
        The file's own name.
    options : ReadOptions
    limits : Limits
    progress : callable
        Is asked now and then; the child is ended where it raises.

    Raises
    ------
    TableError
        If the file cannot be read, needs too much memory or time, or ends the process.
    """
    asked = {
        "reader": reader,
        "name": name,
        "options": options.model_dump(mode="json"),
        "limits": asdict(limits),
    }
    child = _children.take()
    reading = _children.threads.submit(child.read, asked, content)
    try:
        head, columns = _awaited(reading, name, limits.seconds_for(len(content)), progress)
    except EOFError as error:
        log.warning("A process that read a file ended with %s", child.end())
        raise TableError(
            f"{name} cannot be read: it is damaged, or needs more than "
            f"{limits.memory_for(len(content)) // MEGABYTE:,} MB of memory.",
            "Save only what is needed, or save it as CSV.",
        ) from error
    except BaseException:
        child.end()
        raise
    _children.give_back(child)
    return _received(head, columns)


def _awaited(
    reading: Future[tuple[dict[str, Any], bytes]], name: str, seconds: float, progress: Progress
) -> tuple[dict[str, Any], bytes]:
    begun = time.monotonic()
    while True:
        try:
            return reading.result(timeout=_ASKED_EVERY)
        except NotYetError:
            progress(0.0)
        if time.monotonic() - begun > seconds:
            raise TableError(
                f"{name} takes longer than {seconds:,.0f} seconds to read: it is damaged, or too large.",
                "Take out sheets, variables or rows that are not needed, or save it as CSV.",
            )


def _send(pipe: BinaryIO | Any, head: dict[str, Any], content: bytes) -> None:
    pipe.write(orjson.dumps({**head, "size": len(content)}) + b"\n")
    pipe.write(content)
    pipe.flush()


def _take(pipe: BinaryIO | Any) -> tuple[dict[str, Any], bytes]:
    line = pipe.readline()
    if not line.endswith(b"\n"):
        raise EOFError
    head = orjson.loads(line)
    content = pipe.read(head["size"])
    if len(content) < head["size"]:
        raise EOFError
    return head, content


def _received(head: dict[str, Any], columns: bytes) -> RawTable:
    if "error" in head:
        raise TableError(**head["error"])
    return RawTable(
        head["name"],
        head["headers"],
        pl.read_ipc(io.BytesIO(columns)),
        ReadOptions.model_validate(head["options"]),
        described=tuple(
            Variable(v["name"], Kind(v["kind"]), v["label"], v["unit"]) for v in head["described"]
        ),
        sheets=tuple(head["sheets"]),
    )


def _answered(asked: dict[str, Any], content: bytes) -> tuple[dict[str, Any], bytes]:
    """Read in the child."""
    from yarrowdew.tables.reading.readers import read_typed  # noqa: PLC0415 (it imports this)

    limits = Limits(**asked["limits"])
    try:
        options = ReadOptions.model_validate(asked["options"])
        raw = read_typed(asked["reader"], content, asked["name"], options, limits)
    except TableError as error:
        told = {
            "message": error.message,
            "remedy": error.remedy,
            "row": error.row,
            "column": error.column,
        }
        return {"error": told}, b""
    head = {
        "name": raw.name,
        "headers": raw.headers,
        "options": raw.options.model_dump(mode="json"),
        "described": [
            {"name": v.name, "kind": v.kind.value, "label": v.label, "unit": v.unit}
            for v in raw.described
        ],
        "sheets": list(raw.sheets),
    }
    columns = io.BytesIO()
    raw.columns.write_ipc(columns, compression="uncompressed")
    return head, columns.getvalue()


def _limited(memory: int) -> None:
    """Let this process take so many bytes more; where the system has no limits, it goes without."""
    if resource is None:
        return
    # What libraries reserve and do not use is not counted.
    resource.setrlimit(resource.RLIMIT_DATA, (_data_bytes() + memory, resource.RLIM_INFINITY))
    resource.setrlimit(resource.RLIMIT_CORE, (0, 0))


def _data_bytes() -> int:
    """Bytes that this process has for its data."""
    try:
        status = Path("/proc/self/status").read_text(encoding="ascii")
        line = next(line for line in status.splitlines() if line.startswith("VmData:"))
        return int(line.split()[1]) * 1024
    except (OSError, ValueError, IndexError, StopIteration):
        return _USUAL_DATA


_USUAL_DATA = 1_000 * MEGABYTE


def main() -> None:
    """Read files from standard input until it is closed."""
    from yarrowdew.tables.reading import readers  # noqa: F401, PLC0415 (so that it is there in time)

    # What the readers print is not for the one who waits at the other end.
    out, sys.stdout = sys.stdout.buffer, sys.stderr
    while True:
        try:
            asked, content = _take(sys.stdin.buffer)
        except EOFError:
            return
        _limited(Limits(**asked["limits"]).memory_for(len(content)))
        _send(out, *_answered(asked, content))


if __name__ == "__main__":
    main()
