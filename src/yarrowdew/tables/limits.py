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
    times_numbers, free_numbers_mb : int
        As `times` and `free_mb`, for a table without text: numbers that repeat are packed tighter.
    memory_mb : int
        What reading the largest workbook, columnar file, JSON or package may take; a small file
        may take less, as `memory_for` says.
    seconds : float
        How long that may go on for the largest file; a small one has less, as `seconds_for` says.
    """

    unpacked_mb: int = 1_000
    times: int = 100
    free_mb: int = 50
    cells: int = 200_000_000
    times_numbers: int = 1_000
    free_numbers_mb: int = 200
    memory_mb: int = 6_000
    seconds: float = 300.0

    def seconds_for(self, size: int) -> float:
        """How long a file of so many bytes may take: it is long done, or something is wrong."""
        return min(self.seconds, _AT_LEAST_SECONDS + size / MEGABYTE * _SECONDS_A_MEGABYTE)

    def memory_for(self, size: int) -> int:
        """How many bytes of memory reading a file of so many bytes may take."""
        megabytes = _AT_LEAST_MB + size / MEGABYTE * _TIMES_MEMORY
        return int(min(self.memory_mb, megabytes) * MEGABYTE)


_AT_LEAST_SECONDS = 8.0
_SECONDS_A_MEGABYTE = 3.0
_AT_LEAST_MB = 800
_TIMES_MEMORY = 100
