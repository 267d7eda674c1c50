"""Files that were sent and are not yet part of a study, kept beside the database for a day."""

from __future__ import annotations

import re
import shutil
import time
import uuid
from collections.abc import AsyncIterator
from dataclasses import dataclass
from pathlib import Path, PurePosixPath, PureWindowsPath

from yarrowdew.api.problems import ProblemError
from yarrowdew.tables.limits import MEGABYTE

KEPT_SECONDS = 24 * 3600
ARRIVING_SECONDS = 60
"""A file of which nothing has arrived for so long was broken off, as where the server was ended."""
_ID = re.compile(r"[0-9a-f]{32}")


@dataclass(frozen=True, slots=True)
class Upload:
    """A file that was sent."""

    id: str
    name: str
    size: int
    path: Path


class Uploads:
    """The folder of files that were sent.

    Parameters
    ----------
    folder : Path
        Emptied of what is older than a day.
    max_bytes : int
        Largest file taken.
    """

    def __init__(self, folder: Path, max_bytes: int) -> None:
        self._folder = folder
        self._max_bytes = max_bytes
        folder.mkdir(parents=True, exist_ok=True)
        self.tidy()

    def tidy(self) -> None:
        """Delete files that were sent more than a day ago, and what arrives no more."""
        for entry in self._folder.iterdir():
            content = entry / "content"
            is_whole = (entry / "name").is_file()
            try:
                since = time.time() - (content if content.is_file() else entry).stat().st_mtime
            except OSError:
                continue
            if since > (KEPT_SECONDS if is_whole else ARRIVING_SECONDS):
                shutil.rmtree(entry, ignore_errors=True)

    def check_size(self, declared: str | None, name: str) -> None:
        """Refuse a file whose declared length is too large, before any of it is read."""
        if declared is not None and declared.isdigit() and int(declared) > self._max_bytes:
            raise self._too_large(name, int(declared))

    async def receive(self, name: str, chunks: AsyncIterator[bytes]) -> Upload:
        """Write a file as it arrives; nothing is left of one that is stopped or too large."""
        name = _bare(name)
        folder = self._folder / uuid.uuid4().hex
        folder.mkdir()
        path = folder / "content"
        size = 0
        try:
            # Unbuffered, so that a slow file is seen to arrive.
            with path.open("wb", buffering=0) as file:
                async for chunk in chunks:
                    size += len(chunk)
                    if size > self._max_bytes:
                        raise self._too_large(name, size)
                    file.write(chunk)
            (folder / "name").write_text(name, encoding="utf-8")
        except BaseException:
            shutil.rmtree(folder, ignore_errors=True)
            raise
        return Upload(folder.name, name, size, path)

    def find(self, upload_id: str) -> Upload:
        """Find a file that was sent."""
        folder = self._folder / upload_id
        if not _ID.fullmatch(upload_id) or not (folder / "name").is_file():
            raise ProblemError(
                404, "The file is no longer here.", "Choose it again; files wait for a day."
            )
        path = folder / "content"
        name = (folder / "name").read_text(encoding="utf-8")
        return Upload(upload_id, name, path.stat().st_size, path)

    def discard(self, upload_id: str) -> None:
        """Delete a file that was sent, if it is still there."""
        if _ID.fullmatch(upload_id):
            shutil.rmtree(self._folder / upload_id, ignore_errors=True)

    def _too_large(self, name: str, size: int) -> ProblemError:
        return ProblemError(
            413,
            f"{_bare(name)} is too large: {size / MEGABYTE:,.0f} MB, "
            f"and at most {self._max_bytes // MEGABYTE:,} MB can be read.",
            "Take out variables or rows that are not needed, "
            "or start the server with a larger --max-upload.",
        )


def _bare(name: str) -> str:
    """Return a file's name without any folder, whichever system it comes from."""
    bare = PureWindowsPath(PurePosixPath(name.replace("\0", "")).name).name
    return bare[:200] or "table.csv"
