"""Saved figures and kept looks, as a command names them."""

from __future__ import annotations

import json
import sys
from pathlib import Path
from typing import Any

from yarrowdew.cli.data import data_place
from yarrowdew.tables.errors import TableError

STANDARD = "-"
"""Standard input, or output."""


def saved_figure(where: str) -> dict[str, Any]:
    """Read a document."""
    try:
        content = sys.stdin.read() if where == STANDARD else Path(where).read_text("utf-8")
    except (OSError, UnicodeDecodeError) as error:
        raise TableError(f"{where} cannot be read.", "Give a figure saved as JSON.") from error
    try:
        found = json.loads(content)
    except ValueError as error:
        raise TableError(f"{where} is not JSON.", "Give a figure saved as JSON.") from error
    if not isinstance(found, dict):
        raise TableError(f"{where} holds no figure.", "Give a figure saved as JSON.")
    return found


def look_named(name: str, file: Path, data: Path | None) -> dict[str, Any]:
    """Find a look: a saved figure, or one kept in the data package that is drawn or in a study.

    Parameters
    ----------
    name : str
    file : Path
        What is drawn.
    data : Path, optional
        The folder that holds the studies.

    Raises
    ------
    TableError
        If there is none of that name, or several that differ.
    """
    if name.endswith(".json"):
        return saved_figure(name)
    kept = _packed(file) or _in_studies(data)
    found = {json.dumps(look, sort_keys=True): look for _, own, look in kept if own == name}
    if len(found) == 1:
        return next(iter(found.values()))
    if found:
        homes = ", ".join(dict.fromkeys(f"'{study}'" for study, own, _ in kept if own == name))
        raise TableError(
            f"Several looks are called '{name}', in {homes}.",
            "Give one of them another name, or save its figure as JSON and name that.",
        )
    known = ", ".join(dict.fromkeys(own for _, own, _ in kept))
    raise TableError(
        f"No look is saved as '{name}'.",
        f"There are: {known}." if known else "Name a figure saved as JSON.",
    )


_Kept = list[tuple[str, str, dict[str, Any]]]
"""Looks, each after its study and its name."""


def _packed(file: Path) -> _Kept:
    if file.suffix != ".zip" or not file.is_file():
        return []
    from yarrowdew.store.packages import packed_study  # noqa: PLC0415 (records are seldom needed)

    packed = packed_study(file.read_bytes(), file.name)
    looks = packed.looks if packed else []
    return [(file.name, look.name, look.model_dump(mode="json")) for look in looks]


def _in_studies(data: Path | None) -> _Kept:
    place = data_place(data)
    if not place.is_dir():
        return []
    from yarrowdew.store import Store  # noqa: PLC0415 (records are seldom needed)

    store = Store(place)
    try:
        return [
            (study.name, look.name, look.model_dump(mode="json"))
            for study in store.studies.all()
            for look in study.looks
        ]
    finally:
        store.close()
