"""What the server is told when it is started."""

from __future__ import annotations

from dataclasses import dataclass, field
from pathlib import Path

from yarrowdew.tables.limits import MEGABYTE, Limits

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
    datasets : tuple of Path
        Folders whose Parquet files may be opened from the page; no others may.
    engine : str or None
        Who looks at the parts of datasets: threads, or the address of a Dask scheduler.
    """

    data: Path
    max_upload_mb: int = DEFAULT_UPLOAD_MB
    limits: Limits = field(default_factory=Limits)
    max_body_mb: int = 64
    datasets: tuple[Path, ...] = ()
    engine: str | None = None

    @property
    def max_upload_bytes(self) -> int:
        """Largest file that is read in, in bytes."""
        return self.max_upload_mb * MEGABYTE

    def may_open(self, path: str) -> bool:
        """Whether a dataset may be opened from a path, wherever links in it lead."""
        try:
            found = Path(path).resolve()
        except (ValueError, OSError, RuntimeError):
            # No file can be called so: it holds a NUL, is too long, or is a circle of links.
            return False
        return any(found.is_relative_to(root.resolve()) for root in self.datasets)
