"""Telling a dataset from a file, before anything of either is loaded."""

from __future__ import annotations

from pathlib import Path

import polars as pl

MANY_ROWS = 5_000_000
"""A file of more rows than this is a dataset, and not read whole."""
PATTERN = frozenset("*?[")
"""What makes a pattern of a path."""


def is_dataset(path: Path) -> bool:
    """Whether a path names a dataset: a folder, a pattern, or a Parquet file of very many rows."""
    if path.is_dir() or (not path.exists() and PATTERN & set(str(path))):
        return True
    if path.suffix != ".parquet" or not path.exists():
        return False
    try:
        return rows_in(str(path)) > MANY_ROWS
    except pl.exceptions.PolarsError:
        # What is wrong with it is said by whoever reads it.
        return False


def rows_in(path: str) -> int:
    """Count the rows of a Parquet file: its end says it, and nothing else is read."""
    return int(pl.scan_parquet(path, glob=False).select(pl.len()).collect().item())
