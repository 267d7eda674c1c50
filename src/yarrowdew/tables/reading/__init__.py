"""Reading files: from bytes to a typed table, with every guess open to correction."""

from yarrowdew.tables.reading.altered import altered
from yarrowdew.tables.reading.files import read_bytes, read_file, read_frame
from yarrowdew.tables.reading.options import MISSING_CODES, ReadOptions, ReadResult, Unread

__all__ = [
    "MISSING_CODES",
    "ReadOptions",
    "ReadResult",
    "Unread",
    "altered",
    "read_bytes",
    "read_file",
    "read_frame",
]
