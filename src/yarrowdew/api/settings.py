"""What the server is told when it is started."""

from __future__ import annotations

from dataclasses import dataclass, field
from pathlib import Path

from yarrowdew.tables.reading.limits import MEGABYTE, Limits

DEFAULT_UPLOAD_MB = 150


@dataclass(frozen=True, slots=True)
class Settings:
    """Settings of one server.

    Attributes
    ----------
    data : Path
        The folder that holds the studies.
    max_upload_mb : int
        Largest file that is read in, in millions of bytes.
    limits : Limits
        How much of a file is read.
    max_body_mb : int
        Largest body of a request that is not a file, in millions of bytes.
    """

    data: Path
    max_upload_mb: int = DEFAULT_UPLOAD_MB
    limits: Limits = field(default_factory=Limits)
    max_body_mb: int = 64

    @property
    def max_upload_bytes(self) -> int:
        """Largest file that is read in, in bytes."""
        return self.max_upload_mb * MEGABYTE
