"""The command that draws a figure of a file."""

from __future__ import annotations

import sys
from pathlib import Path
from typing import Annotated, Any

import typer

from yarrowdew.cli.data import DataOption
from yarrowdew.cli.looks import STANDARD, look_named, saved_figure
from yarrowdew.cli.options import EngineOption, FileArgument, SheetOption
from yarrowdew.core.trends import FAMILIES
from yarrowdew.drawing.images import USUAL_DPI
from yarrowdew.script.figures import ENDINGS, Figure, figure, format_of
from yarrowdew.tables.errors import TableError
from yarrowdew.tables.reading import ReadOptions, read_file
from yarrowdew.tables.reading.progress import Progress, unheard
from yarrowdew.tables.telling import is_dataset

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
        typer.Option(
            help="A look kept in a study, or in the data package; or a saved figure (.json)."
        ),
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
    data: DataOption = None,
) -> None:
    """Draw a figure of a file as SVG, PNG, JPEG, PDF, HTML or JSON."""
    to_standard = out == STANDARD
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
        "look": None if look is None else look_named(look, file, data),
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
        made = figure(source, document=saved_figure(document), where=where, engine=engine)
    if to_standard:
        sys.stdout.buffer.write(made.content(written_as, dpi=dpi))
        sys.stdout.buffer.flush()
    else:
        made.save(out, format=written_as, dpi=dpi)


def _parted(text: str | None) -> tuple[str, ...]:
    return tuple(part.strip() for part in text.split(",") if part.strip()) if text else ()


def _progress(file: Path) -> Progress:
    """Say on standard error how far a large file is read."""
    if not sys.stderr.isatty() or not file.exists() or file.stat().st_size < _LARGE:
        return unheard

    def tell(share: float) -> None:
        end = "\n" if share >= 1 else ""
        sys.stderr.write(f"\rReading {file.name} … {100 * share:.0f} %{end}")
        sys.stderr.flush()

    return tell
