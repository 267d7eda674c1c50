"""Opening a dataset: which files it is made of, and what variables they hold."""

from __future__ import annotations

import glob
from collections.abc import Callable, Mapping
from pathlib import Path

import polars as pl

from yarrowdew.tables.columns import select_named
from yarrowdew.tables.dataset_paths import PATTERN, rows_in
from yarrowdew.tables.datasets import HEAD_ROWS, Dataset, DatasetFile
from yarrowdew.tables.engines.chunk_columns import unreadable
from yarrowdew.tables.errors import TableError
from yarrowdew.tables.naming import LONGEST_NAME, distinct_names, split_header
from yarrowdew.tables.reading.files import read_frame
from yarrowdew.tables.reading.options import ReadOptions
from yarrowdew.tables.table import Kind

MOST_FILES = 100_000


def open_dataset(path: Path, may_open: Callable[[str], bool] = lambda _: True) -> Dataset:
    """Open a Parquet file, a folder of them, or a pattern; no row is read but the first ones.

    Parameters
    ----------
    path : Path
    may_open : callable
        Says of a file whether it may be read, wherever links lead to it.

    Raises
    ------
    TableError
        If there is none, they do not have the same columns, or one may not be read.
    """
    found = _paths(path)
    outside = next((one for one in found if not may_open(one)), None)
    if outside is not None:
        raise TableError(
            f"{Path(outside).name} is a link to a file that this server may not open.",
            "Start the server with --datasets and the folder that holds the file.",
        )
    files: list[DatasetFile] = []
    schema: dict[str, pl.DataType] | None = None
    for one in found:
        try:
            own = dict(pl.scan_parquet(one, glob=False).collect_schema())
            stat = Path(one).stat()
            files.append(DatasetFile(one, stat.st_size, stat.st_mtime_ns, rows_in(one)))
        except (pl.exceptions.PolarsError, OSError) as error:
            raise unreadable(one, error) from error
        schema = own if schema is None else schema
        _check_schema(schema, own, one, found[0])
    assert schema is not None  # noqa: S101 (there is a file)
    if not any(file.rows for file in files):
        raise TableError(f"{path.name} holds no rows.", "Choose a folder with values.")
    name = (path.stem if path.suffix else path.name)[:LONGEST_NAME]
    if PATTERN & set(name):
        name = path.parent.name
    return _described(name or "dataset", schema, tuple(files))


def _paths(path: Path) -> list[str]:
    if path.is_file():
        return [str(path)]
    if path.is_dir():
        found = sorted(str(p) for p in path.rglob("*.parquet") if p.is_file())
        lacking = f"{path} holds no Parquet file."
    else:
        found = sorted(p for p in glob.glob(str(path), recursive=True) if Path(p).is_file())
        lacking = f"No file is called {path}."
    if not found:
        raise TableError(lacking, "A dataset is one Parquet file, a folder or a pattern of them.")
    if len(found) > MOST_FILES:
        raise TableError(
            f"{path} holds {len(found):,} files; at most {MOST_FILES:,} are one dataset.",
            "Write fewer, larger ones.",
        )
    return found


def _check_schema(
    schema: Mapping[str, pl.DataType], own: Mapping[str, pl.DataType], path: str, first: str
) -> None:
    lacking = [name for name in schema if name not in own]
    if lacking:
        raise TableError(
            f"{Path(path).name} has no column '{lacking[0]}', which {Path(first).name} has.",
            "Files of one dataset have the same columns.",
            column=lacking[0],
        )
    for name, dtype in schema.items():
        if own[name] != dtype and not (own[name].is_numeric() and dtype.is_numeric()):
            raise TableError(
                f"'{name}' is {own[name]} in {Path(path).name} and {dtype} in {Path(first).name}.",
                "Write both as one type.",
                column=name,
            )


def _described(
    name: str, schema: Mapping[str, pl.DataType], files: tuple[DatasetFile, ...]
) -> Dataset:
    """Find kinds, labels and units from headers and the first rows."""
    first = next(file for file in files if file.rows)
    try:
        head = pl.scan_parquet(first.path, glob=False).head(HEAD_ROWS).collect()
    except (pl.exceptions.PolarsError, OSError) as error:
        raise unreadable(first.path, error) from error
    head = select_named(head, schema)
    names = distinct_names([split_header(column)[0] for column in schema])
    # What is written as words in a typed file is words: no part is read otherwise than another.
    words = {
        own: Kind.CATEGORY
        for own, column in zip(names, head.get_columns(), strict=True)
        if column.dtype == pl.String or isinstance(column.dtype, pl.Categorical | pl.Enum)
    }
    read = read_frame(head, f"{name}.parquet", ReadOptions(kinds=words)).table
    columns = dict(zip((v.name for v in read.variables), schema, strict=True))
    return Dataset(name, read.variables, columns, files)
