"""Tables from whatever a script has."""

from __future__ import annotations

from collections.abc import Mapping
from os import PathLike
from pathlib import Path
from typing import Any, Protocol

import polars as pl

from yarrowdew.tables.errors import TableError
from yarrowdew.tables.reading import ReadOptions, read_file, read_frame
from yarrowdew.tables.table import Table


class ArrowStream(Protocol):
    """Anything that hands its columns on by the Arrow PyCapsule interface."""

    def __arrow_c_stream__(self, requested_schema: object = None) -> object:
        """Give a capsule with an Arrow stream."""


Data = Table | str | PathLike[str] | Mapping[str, Any] | ArrowStream
"""What a figure can be made of: a path, columns by name, or a table of any library (Arrow)."""


def table_of(data: Data, name: str = "data") -> Table:
    """Make a table of data.

    Parameters
    ----------
    data : Table, path, mapping, or object with `__arrow_c_stream__`
    name : str
        What it is called, where it has no name of its own.

    Raises
    ------
    TableError
        If it holds no table.
    """
    if isinstance(data, Table):
        return data
    if isinstance(data, str | PathLike):
        return read_file(Path(data), ReadOptions()).table
    try:
        if hasattr(data, "__arrow_c_stream__"):
            frame = pl.DataFrame(data)
        elif isinstance(data, Mapping):
            frame = pl.DataFrame(dict(data))
        else:
            raise TypeError(type(data).__name__)
    except (TypeError, ValueError, pl.exceptions.PolarsError) as error:
        said = str(error).splitlines()[0][:160].rstrip(".")
        raise TableError(
            f"This is no table ({said}).",
            "Give a path, a mapping of columns of the same length, or a table of Polars, pandas, "
            "Arrow or the like.",
        ) from None
    return read_frame(frame, name).table
