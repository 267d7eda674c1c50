"""Which files are read, and how much of one, so that no file can end the server."""

from __future__ import annotations

from dataclasses import dataclass

FORMATS = (
    "delimited text (CSV, TSV), workbooks (.xlsx, .ods), Parquet, Arrow, JSON, and data packages"
)
MEGABYTE = 1_000_000


@dataclass(frozen=True, slots=True)
class Limits:
    """The most that is read of one file; sizes are known before anything is unpacked.

    Attributes
    ----------
    unpacked_mb : int
        Of what a compressed file holds, in millions of bytes.
    times : int
        How many times as large as the file that may be, where it is more than `free_mb`.
    free_mb : int
        What any file may hold, in millions of bytes.
    cells : int
        Rows times columns of a sheet or of a columnar file.
    memory_mb : int
        What reading a workbook, a columnar file, JSON or a package may take.
    seconds : float
        How long that may go on for the largest file; a small one has less, as `seconds_for` says.
    """

    unpacked_mb: int = 1_000
    times: int = 100
    free_mb: int = 50
    cells: int = 200_000_000
    memory_mb: int = 6_000
    seconds: float = 300.0

    def seconds_for(self, size: int) -> float:
        """How long a file of so many bytes may take: it is long done, or something is wrong."""
        return min(self.seconds, _AT_LEAST_SECONDS + size / MEGABYTE * _SECONDS_A_MEGABYTE)


_AT_LEAST_SECONDS = 8.0
_SECONDS_A_MEGABYTE = 3.0
