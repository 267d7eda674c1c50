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
from yarrowdew.tables.dataset_paths import is_dataset
from yarrowdew.tables.errors import TableError
from yarrowdew.tables.reading import ReadOptions, read_file
from yarrowdew.tables.reading.progress import Progress, unheard

_LARGE = 20_000_000
"""Of a file with more bytes it is said how far the reading is."""


def draw(
    *,
    file: FileArgument,
    x: Annotated[str | None, typer.Option(help="x variable.")] = None,
    y: Annotated[list[str] | None, typer.Option(help="y variable; may be repeated.")] = None,
    z: Annotated[str | None, typer.Option(help="z variable, of a 3-D scatterplot.")] = None,
    matrix: Annotated[
        str | None, typer.Option(help="Variables of a scatterplot matrix, separated by commas.")
    ] = None,
    colour: Annotated[str | None, typer.Option(help="Variable shown by colour.")] = None,
    size: Annotated[str | None, typer.Option(help="Variable shown by size.")] = None,
    names: Annotated[str | None, typer.Option(help="Variable that labels the marks.")] = None,
    trend: Annotated[
        list[str] | None,
        typer.Option(help=f"Trend type; may be repeated: {', '.join(FAMILIES)}."),
    ] = None,
    by: Annotated[
        str | None, typer.Option(help="Fit a line to each category of this variable.")
    ] = None,
    level: Annotated[
        list[float] | None,
        typer.Option(help="Confidence level of a band, such as 0.95; may be repeated."),
    ] = None,
    on_figure: Annotated[
        str | None, typer.Option(help="Readings printed on the figure: equation,r_squared,n …")
    ] = None,
    where: Annotated[
        str | None, typer.Option(help='Filter: keep the rows for which this is true: "wind > 3".')
    ] = None,
    title: Annotated[str | None, typer.Option(help="Title of the figure.")] = None,
    venue: Annotated[
        str | None,
        typer.Option(help="Where the figure will be seen: screen, slide, report column …"),
    ] = None,
    width: Annotated[float | None, typer.Option(help="Page width, in millimetres.")] = None,
    height: Annotated[float | None, typer.Option(help="Page height, in millimetres.")] = None,
    look: Annotated[
        str | None,
        typer.Option(
            help="A look saved in a study or in the data package; or a saved figure (.json)."
        ),
    ] = None,
    document: Annotated[
        str | None,
        typer.Option(
            help="A saved figure (.json) to draw with the data of this file; - reads it from standard input."
        ),
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
        raise TableError("Standard output has no ending.", "Choose the format with --format.")
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
