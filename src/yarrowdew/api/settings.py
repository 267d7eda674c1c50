"""What the server is told when it is started."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path

DEFAULT_UPLOAD_MB = 150
MEGABYTE = 1_000_000


@dataclass(frozen=True, slots=True)
class Settings:
    """Settings of one server.

    Attributes
    ----------
    data : Path
        The folder that holds the studies.
    max_upload_mb : int
        Largest file that is read in, in millions of bytes.
    """

    data: Path
    max_upload_mb: int = DEFAULT_UPLOAD_MB

    @property
    def max_upload_bytes(self) -> int:
        """Largest file that is read in, in bytes."""
        return self.max_upload_mb * MEGABYTE
