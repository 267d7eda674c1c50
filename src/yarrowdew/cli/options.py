"""What several commands take."""

from __future__ import annotations

from pathlib import Path
from typing import Annotated

import orjson
import typer

from yarrowdew.tables.limits import FORMATS

JsonOption = Annotated[bool, typer.Option("--json", help="Print JSON.")]
FileArgument = Annotated[
    Path,
    typer.Argument(
        help=f"A file: {FORMATS}. A dataset: a folder of Parquet files, or a pattern of them.",
        show_default=False,
    ),
]
SheetOption = Annotated[
    str | None, typer.Option(help="Sheet of a workbook, or table of a data package.")
]
EngineOption = Annotated[
    str | None,
    typer.Option(
        help="Where a dataset is computed: threads, or a Dask scheduler as tcp://host:port."
    ),
]


def print_json(content: object) -> None:
    """Print something as JSON."""
    typer.echo(orjson.dumps(content, option=orjson.OPT_INDENT_2).decode())
