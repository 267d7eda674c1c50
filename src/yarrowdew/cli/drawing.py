"""The command that draws a figure of a file."""

from __future__ import annotations

import json
import sys
from pathlib import Path
from typing import Annotated, Any

import typer

from yarrowdew.cli.options import EngineOption, FileArgument, SheetOption
from yarrowdew.core.trends import FAMILIES
from yarrowdew.drawing.images import USUAL_DPI
from yarrowdew.script.figures import ENDINGS, Figure, figure, format_of
from yarrowdew.tables import TableError
from yarrowdew.tables.reading import ReadOptions, read_file
from yarrowdew.tables.reading.progress import Progress, unheard
from yarrowdew.tables.telling import is_dataset

_STANDARD = "-"
_LARGE = 20_000_000
"""Of a file with more bytes it is said how far the reading is."""


def draw(
    *,
    file: FileArgument,
    x: Annotated[str | None, typer.Option(help="What goes across.")] = None,
    y: Annotated[list[str] | None, typer.Option(help="What goes up; may be repeated.")] = None,
    z: Annotated[str | None, typer.Option(help="What goes into the depth.")] = None,
    matrix: Annotated[
        str | None, typer.Option(help="Variables of a matrix, with commas between.")
    ] = None,
    colour: Annotated[str | None, typer.Option(help="Variable of colours.")] = None,
    size: Annotated[str | None, typer.Option(help="Variable of sizes.")] = None,
    names: Annotated[str | None, typer.Option(help="Variable of names.")] = None,
    trend: Annotated[
        list[str] | None,
        typer.Option(help=f"Form of a trend line, may be repeated: {', '.join(FAMILIES)}."),
    ] = None,
    by: Annotated[str | None, typer.Option(help="A line for each value of this variable.")] = None,
    level: Annotated[
        list[float] | None, typer.Option(help="Level of a band; may be repeated.")
    ] = None,
    on_figure: Annotated[
        str | None, typer.Option(help="Readings on the figure: equation,r_squared,n …")
    ] = None,
    where: Annotated[
        str | None, typer.Option(help='Keep the rows where this is true: "wind > 3".')
    ] = None,
    title: Annotated[str | None, typer.Option(help="Title of the figure.")] = None,
    venue: Annotated[
        str | None, typer.Option(help="Where it will be seen: screen, slide, report column …")
    ] = None,
    width: Annotated[float | None, typer.Option(help="Of the page, in millimetres.")] = None,
    height: Annotated[float | None, typer.Option(help="Of the page, in millimetres.")] = None,
    look: Annotated[
        str | None,
        typer.Option(help="A look that the data package holds, or a saved figure (.json)."),
    ] = None,
    document: Annotated[
        str | None, typer.Option(help="A saved figure (.json) to draw on this file; - to read it.")
    ] = None,
    out: Annotated[str, typer.Option("--out", "-o", help="File to write; - for standard output.")],
    format: Annotated[
        str | None,
        typer.Option(help=f"One of: {', '.join(dict.fromkeys(ENDINGS.values()))}."),
    ] = None,
    dpi: Annotated[float, typer.Option(help="Dots per inch of PNG and JPEG.")] = USUAL_DPI,
    sheet: SheetOption = None,
    engine: EngineOption = None,
) -> None:
    """Draw a figure of a file as SVG, PNG, JPEG, PDF, HTML or JSON."""
    to_standard = out == _STANDARD
    if to_standard and format is None:
        raise TableError("Standard output has no ending.", "Say what is written with --format.")
    written_as = format or format_of(Path(out))
    source = (
        file
        if is_dataset(file)
        else read_file(file, ReadOptions(sheet=sheet), progress=_progress(file)).table
    )
    given: dict[str, Any] = {
        "z": z,
        "matrix": _parted(matrix),
        "colour": colour,
        "size": size,
        "names": names,
        "trends": trend or (),
        "by": by,
        "level": level or (),
        "on_figure": _parted(on_figure),
        "title": title,
        "venue": venue,
        "width": width,
        "height": height,
        "look": None if look is None else _look(look, file),
    }
    made: Figure
    if document is None:
        made = figure(source, x, y or (), where=where, engine=engine, **given)
    else:
        beside = [name for name, value in given.items() if value not in (None, (), [])]
        if beside or x or y:
            raise TableError(
                "A saved figure says everything that is drawn.",
                f"Leave --{(['x'] if x else ['y'] if y else beside)[0].replace('_', '-')} out.",
            )
        made = figure(source, document=_saved(document), where=where, engine=engine)
    if to_standard:
        sys.stdout.buffer.write(made.content(written_as, dpi=dpi))
        sys.stdout.buffer.flush()
    else:
        made.save(out, format=written_as, dpi=dpi)


def _parted(text: str | None) -> tuple[str, ...]:
    return tuple(part.strip() for part in text.split(",") if part.strip()) if text else ()


def _saved(where: str) -> dict[str, Any]:
    """Read a document."""
    try:
        content = sys.stdin.read() if where == _STANDARD else Path(where).read_text("utf-8")
    except (OSError, UnicodeDecodeError) as error:
        raise TableError(f"{where} cannot be read.", "Give a figure saved as JSON.") from error
    try:
        found = json.loads(content)
    except ValueError as error:
        raise TableError(f"{where} is not JSON.", "Give a figure saved as JSON.") from error
    if not isinstance(found, dict):
        raise TableError(f"{where} holds no figure.", "Give a figure saved as JSON.")
    return found


def _look(name: str, file: Path) -> dict[str, Any]:
    """Find a look: in a saved figure, or kept under a name in the data package that is drawn."""
    if name.endswith(".json"):
        return _saved(name)
    from yarrowdew.store.packing import packed_study  # noqa: PLC0415 (records are seldom needed)

    packed = packed_study(file.read_bytes(), file.name) if file.suffix == ".zip" else None
    looks = packed.looks if packed else []
    for look in looks:
        if look.name == name:
            return look.model_dump(mode="json")
    known = ", ".join(look.name for look in looks)
    raise TableError(
        f"{file.name} holds no look '{name}'.",
        f"It has: {known}." if known else "Name a figure saved as JSON.",
    )


def _progress(file: Path) -> Progress:
    """Say on standard error how far a large file is read."""
    if not sys.stderr.isatty() or not file.exists() or file.stat().st_size < _LARGE:
        return unheard

    def tell(share: float) -> None:
        end = "\n" if share >= 1 else ""
        sys.stderr.write(f"\rReading {file.name} … {100 * share:.0f} %{end}")
        sys.stderr.flush()

    return tell
