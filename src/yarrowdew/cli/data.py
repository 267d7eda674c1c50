"""The folder that holds the studies."""

from __future__ import annotations

from pathlib import Path
from typing import Annotated

import platformdirs
import typer

from yarrowdew.tables.errors import TableError

DataOption = Annotated[
    Path | None,
    typer.Option("--data", help="Folder that holds the studies.", envvar="YARROWDEW_DATA"),
]


def data_place(given: Path | None) -> Path:
    """Where the folder is, or would be."""
    return given or Path(platformdirs.user_data_dir("yarrowdew", appauthor=False))


def data_folder(given: Path | None) -> Path:
    """The folder that holds the studies, made where it does not exist."""
    folder = data_place(given)
    try:
        folder.mkdir(parents=True, exist_ok=True)
    except OSError as error:
        reason = (error.strerror or "no access").lower()
        raise TableError(f"The data folder {folder} cannot be made: {reason}.") from error
    return folder
