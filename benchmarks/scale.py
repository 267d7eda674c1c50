"""Datasets read by parts, beside Polars' own streaming sums of the same columns."""

from __future__ import annotations

import subprocess
import sys
import tempfile
from collections.abc import Iterator
from pathlib import Path

import polars as pl

from benchmarks.measuring import Ratio, compare
from yarrowdew.core.aggregates.aggregation import CountsAggregation
from yarrowdew.core.aggregates.cell_counts import Grid
from yarrowdew.demo.tables import write_parts
from yarrowdew.figures.datasets.view import DatasetView
from yarrowdew.figures.pipeline.fitting import FitRequest
from yarrowdew.figures.pipeline.readings import reading_of
from yarrowdew.tables.dataset_files import open_dataset

ROWS = 20_000_000
MOST_MEMORY_MB = 1_000
_ACROSS, _UP = Grid(30.0, 100.0, 640), Grid(-40.0, 120.0, 500)
_ALONE = """
import resource, sys
from pathlib import Path
from benchmarks.scale import counts_of, line_of
line_of(Path(sys.argv[1])), counts_of(Path(sys.argv[1]))
print(resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024)
"""


def line_of(folder: Path) -> object:
    """A line with its intervals and readings."""
    view = DatasetView(open_dataset(folder))
    x, y = view.axis("humidity", "across"), view.axis("uptake", "up")
    return reading_of(view.fit(FitRequest(), x, y)[0]).report


def counts_of(folder: Path) -> object:
    """Rows in 640 x 500 cells."""
    return DatasetView(open_dataset(folder)).total(
        CountsAggregation("humidity", _ACROSS, "uptake", _UP)
    )


def _sums_of(folder: Path) -> object:
    x, y = pl.col("humidity"), pl.col("uptake")
    sums = [x.sum(), y.sum(), (x * x).sum().alias("xx"), (x * y).sum().alias("xy")]
    read = pl.scan_parquet(folder / "*.parquet").select(*sums, (y * y).sum().alias("yy"))
    return read.collect(engine="streaming")


def all_ratios() -> Iterator[Ratio]:
    """A line and counts of 20,000,000 rows, and the memory that both take."""
    with tempfile.TemporaryDirectory() as held:
        folder = Path(held) / "drift"
        write_parts(folder, ROWS)
        yield compare(
            f"a line of {ROWS:,} rows (streaming sums)",
            lambda: line_of(folder),
            lambda: _sums_of(folder),
            at_most=2.0,
            runs=5,
        )
        yield compare(
            f"640 x 500 counts of {ROWS:,} rows (streaming sums)",
            lambda: counts_of(folder),
            lambda: _sums_of(folder),
            at_most=5.0,
            runs=5,
        )
        alone = subprocess.run(
            [sys.executable, "-c", _ALONE, str(folder)], check=True, capture_output=True, text=True
        )
        yield Ratio(
            f"memory of both, in MB ({MOST_MEMORY_MB:,} MB)",
            float(alone.stdout),
            MOST_MEMORY_MB,
            at_most=1.0,
        )
