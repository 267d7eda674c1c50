"""The calls that make a figure: as a command, and as Python."""

from __future__ import annotations

import json
import shlex
from typing import Any, Literal

from yarrowdew.core.errors import UserFacingError
from yarrowdew.drawing.engine import plain
from yarrowdew.drawing.making import WANTED, FigureRequest, document_of, several, wanted
from yarrowdew.figures.figure import FigureDocument
from yarrowdew.figures.kinds.space.planes import FAMILY as PLANE
from yarrowdew.tables.table import Table

_END = "END"


def request_of(document: FigureDocument, table: Table) -> FigureRequest | None:
    """The plain arguments that make a figure; None where it takes more than these."""
    matrix = getattr(document, "matrix", None) if document.of_kind.part_name == "matrix" else None
    space = getattr(document, "space", None) if document.of_kind.part_name == "space" else None
    trends = [matrix.trend] if matrix and matrix.below == "trend" else document.trends
    first: Any = trends[0] if trends else None
    families = [trend.family for trend in trends]
    if space is not None:
        first, families = space.plane, [PLANE] if space.plane else []
    bands = [band.level for band in first.bands] if first and space is None else []
    asked = wanted(
        {
            "x": document.x,
            "y": document.y,
            "z": space.variable if space else None,
            "matrix": matrix.variables if matrix else [],
            "colour": document.colour.variable if document.colour else None,
            "size": document.size.variable if document.size else None,
            "names": document.names.variable if document.names else None,
            "trends": families,
            "by": first.by if first else None,
            "level": [] if bands == [0.95] else bands,
            "on_figure": first.on_figure if first else [],
            "title": document.title,
            "venue": None if document.page.venue in ("own", "screen") else document.page.venue,
        }
    )
    try:
        made = document_of(table, asked)
    except UserFacingError:
        return None
    same = {"table": "", "name": None}
    return asked if plain(made) | same == plain(document.counting()) | same else None


def command_of(document: FigureDocument, table: Table, file: str) -> str:
    """The command that draws a figure from a file."""
    asked = request_of(document, table)
    if asked is None:
        given = json.dumps(_given(document), ensure_ascii=False)
        return (
            f"yarrowdew draw {shlex.quote(file)} --document - -o figure.svg <<'{_END}'\n"
            f"{given}\n{_END}"
        )
    words = ["yarrowdew", "draw", file]
    if "matrix" in asked:
        words += ["--matrix", ",".join(asked["matrix"])]
    else:
        words += ["--x", document.x]
        for name in document.y:
            words += ["--y", name]
    options: tuple[Literal["z", "colour", "size", "names", "by", "title", "venue"], ...]
    options = ("z", "colour", "size", "names", "by", "title", "venue")
    for option in options:
        if option in asked:
            words += [f"--{option}", str(asked[option])]
    for family in several(asked.get("trends", ())):
        words += ["--trend", str(family)]
    for level in several(asked.get("level", ())):
        words += ["--level", f"{level:g}"]
    if "on_figure" in asked:
        words += ["--on-figure", ",".join(several(asked["on_figure"]))]
    return " ".join(map(shlex.quote, [*words, "-o", "figure.svg"]))


def python_of(document: FigureDocument, table: Table, file: str) -> str:
    """The lines of Python that draw a figure from a file."""
    asked = request_of(document, table)
    lines = ["import yarrowdew as yd", ""]
    if asked is None:
        lines.append(f"figure = yd.figure({file!r}, document={_given(document)!r})")
    else:
        given: list[str] = [repr(file)]
        for name in WANTED:
            if name not in asked or ("matrix" in asked and name in ("x", "y")):
                continue
            value = asked[name]  # type: ignore[literal-required]
            if name == "y" and len(value) == 1:
                value = value[0]
            given.append(f"{name}={value!r}")
        lines.append(f"figure = yd.figure({', '.join(given)})")
    return "\n".join([*lines, 'figure.save("figure.svg")'])


def _given(document: FigureDocument) -> dict[str, Any]:
    """What is set about a figure; what is as it begins is left out."""
    whole = document.counting()
    given: dict[str, Any] = _with_families(
        whole.model_dump(mode="json", exclude_defaults=True), plain(whole)
    )
    given.pop("table", None)
    return given


def _with_families(given: Any, whole: Any) -> Any:
    """Put back which family each part is of: of its own model that is what it begins as."""
    if isinstance(given, list):
        return [_with_families(one, all_of) for one, all_of in zip(given, whole, strict=True)]
    if not isinstance(given, dict):
        return given
    made = {name: _with_families(part, whole[name]) for name, part in given.items()}
    return {"family": whole["family"], **made} if "family" in whole else made
