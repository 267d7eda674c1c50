"""Datasets on the command line: which one is meant, and who looks at its parts."""

from __future__ import annotations

from pathlib import Path

from yarrowdew.figures.by_parts import DatasetView
from yarrowdew.tables.datasets import open_dataset
from yarrowdew.tables.engine import engine_named


def view_of_dataset(path: Path, engine: str | None, where: str | None = None) -> DatasetView:
    """Open a dataset.

    Raises
    ------
    TableError
        If there is none, or no such engine.
    """
    return DatasetView(open_dataset(path).kept_where(where), engine_named(engine))
