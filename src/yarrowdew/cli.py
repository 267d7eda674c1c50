"""The command line: for scripts, for people without a browser, and to start the server."""

from __future__ import annotations

import logging
import socket
import sys
from pathlib import Path
from typing import Annotated

import orjson
import platformdirs
import polars as pl
import typer
import uvicorn
from fastapi import FastAPI

from yarrowdew.api import Settings, create_app
from yarrowdew.api.settings import DEFAULT_UPLOAD_MB
from yarrowdew.core.errors import FitError, SaidError
from yarrowdew.core.intervals import check_level
from yarrowdew.core.pairs import METHODS, pairs
from yarrowdew.core.trends import FAMILIES, TrendSettings
from yarrowdew.demo.tables import DRIFT_ROWS
from yarrowdew.demo.tables import drift as make_drift
from yarrowdew.figures.format import figure_format
from yarrowdew.figures.report import Axis, FitAsked, FitReport, Groups, ReadOffs, fit_groups
from yarrowdew.figures.words import GAP, MINUS, count_of, p_text
from yarrowdew.store import Store
from yarrowdew.store.seeding import add_demo_study
from yarrowdew.tables import TableError
from yarrowdew.tables.reading import FORMATS, ReadOptions, read_file
from yarrowdew.tables.summary import VariableSummary, summarise
from yarrowdew.tables.table import Kind, axis_values

HOST = "127.0.0.1"
ANYWHERE = "0.0.0.0"  # noqa: S104 # other machines get shared pages only: api/security.py
PORT = 8420
_PORTS_TRIED = 50

app = typer.Typer(
    help="Scatterplots, and trend lines that hold up in front of others.",
    add_completion=False,
    rich_markup_mode=None,
    pretty_exceptions_enable=False,
)

DataOption = Annotated[
    Path | None,
    typer.Option("--data", help="Folder that holds the studies.", envvar="YARROWDEW_DATA"),
]
PortOption = Annotated[
    int | None, typer.Option(help=f"Port; {PORT} or the next free one by default.")
]
UploadOption = Annotated[
    int,
    typer.Option(
        "--max-upload",
        min=1,
        help="Largest file that is read in, in MB.",
        envvar="YARROWDEW_MAX_UPLOAD",
    ),
]
OthersOption = Annotated[
    bool,
    typer.Option("--open-shared", help="Let other machines open shared pages, and nothing else."),
]
JsonOption = Annotated[bool, typer.Option("--json", help="Print JSON.")]
FileArgument = Annotated[Path, typer.Argument(help=f"A file: {FORMATS}.", show_default=False)]
SheetOption = Annotated[
    str | None, typer.Option(help="Sheet of a workbook, or table of a data package.")
]


def main() -> None:
    """Run the command line; bad input ends with status 2 and one line on standard error."""
    try:
        status = app(sys.argv[1:] or ["--help"], standalone_mode=False)
    except SaidError as error:
        status = _complain(str(error))
    except typer.TyperException as error:
        # Typer's own messages name the option only when asked to format themselves.
        formatted = getattr(error, "format_message", error.__str__)
        status = _complain(formatted())
    except (typer.Abort, KeyboardInterrupt):
        status = 130
    except BrokenPipeError:
        # The reader of our output has gone; there is no one left to tell.
        status = 0
    sys.exit(status if isinstance(status, int) else 0)


def _complain(message: str) -> int:
    sys.stderr.write(f"yarrowdew: {' '.join(message.split())}\n")
    return 2


@app.command()
def serve(
    *,
    data: DataOption = None,
    port: PortOption = None,
    max_upload: UploadOption = DEFAULT_UPLOAD_MB,
    open_shared: OthersOption = False,
) -> None:
    """Serve the studies on this machine, and print the address."""
    _serve(_data_folder(data), _listen(port, ANYWHERE if open_shared else HOST), max_upload)


@app.command()
def demo(
    *,
    data: DataOption = None,
    port: PortOption = None,
    max_upload: UploadOption = DEFAULT_UPLOAD_MB,
    open_shared: OthersOption = False,
) -> None:
    """Serve as `serve` does, with the demo study among the studies."""
    folder = _data_folder(data)
    store = Store(folder)
    study = add_demo_study(store)
    store.close()
    listening = _listen(port, ANYWHERE if open_shared else HOST)
    _serve(folder, listening, max_upload, f"/studies/{study}")


@app.command()
def fit(
    *,
    file: FileArgument,
    x: Annotated[str, typer.Option(help="What goes across.", show_default=False)],
    y: Annotated[str, typer.Option(help="What goes up.", show_default=False)],
    family: Annotated[str, typer.Option(help=f"Form: {', '.join(FAMILIES)}.")] = "straight",
    degree: Annotated[int, typer.Option(help="Degree of a polynomial.")] = 2,
    by: Annotated[str | None, typer.Option(help="Fit each value of this variable.")] = None,
    weights: Annotated[str | None, typer.Option(help="Variable of weights.")] = None,
    level: Annotated[float, typer.Option(help="Level of every interval.")] = 0.95,
    at: Annotated[list[str] | None, typer.Option(help="Read y off here; may be repeated.")] = None,
    solve: Annotated[
        list[str] | None, typer.Option(help="Find x where y is this; may be repeated.")
    ] = None,
    sheet: SheetOption = None,
    as_json: JsonOption = False,
) -> None:
    """Fit a trend line to two variables of a file."""
    check_level(level)
    if family not in FAMILIES:
        raise FitError(
            f"There is no trend family '{family}'.", f"Choose one of: {', '.join(FAMILIES)}."
        )
    table = read_file(file, ReadOptions(sheet=sheet)).table
    across, up = (
        Axis.of(table, table.called(name).name, place) for name, place in ((x, "across"), (y, "up"))
    )
    weight_values = None
    if weights is not None:
        weighing = table.axis_variable(table.called(weights).name, "as weights")
        weight_values = axis_values(table.frame[weighing.name])
    asked = FitAsked(
        family=family,
        settings=TrendSettings(degree=degree),
        level=level,
        read_off=lambda _: ReadOffs(
            at=[(across.asked(text), None) for text in at or ()],
            levels=[(up.asked(text), None) for text in solve or ()],
        ),
        style="plain",
    )
    reports = [
        fitted.report
        for fitted in fit_groups(
            asked,
            across,
            up,
            groups=None if by is None else Groups.of(table, table.called(by).name),
            weights=weight_values,
        )
    ]
    if all(report.problem for report in reports):
        first = reports[0]
        raise FitError(first.problem or f"'{by}' has no value in any row.")
    if as_json:
        _print_json({"fits": [report.model_dump(mode="json") for report in reports]})
        return
    for report in reports:
        typer.echo(_fit_text(report, across, up))


@app.command("pairs")
def print_pairs(
    *,
    file: FileArgument,
    method: Annotated[str, typer.Option(help=f"One of: {', '.join(METHODS)}.")] = "pearson",
    sheet: SheetOption = None,
    as_json: JsonOption = False,
) -> None:
    """Say how every pair of number variables of a file goes together, strongest first."""
    if method not in METHODS:
        raise FitError(f"There is no method '{method}'.", f"Choose one of: {', '.join(METHODS)}.")
    table = read_file(file, ReadOptions(sheet=sheet)).table
    numbers = [v for v in table.variables if v.kind is Kind.NUMBER]
    if len(numbers) < 2:
        raise TableError(f"{table.name} has fewer than two number variables.")
    found = pairs({v.name: axis_values(table.frame[v.name]) for v in numbers}, method)
    if as_json:
        _print_json(
            {
                "pairs": [
                    {
                        "x": p.x,
                        "y": p.y,
                        "n": p.correlation.n,
                        "r": p.correlation.r,
                        "low": p.correlation.low,
                        "high": p.correlation.high,
                        "p_value": p.correlation.p_value,
                        "p_adjusted": p.p_adjusted,
                    }
                    for p in found
                ]
            }
        )
        return
    letter = {"pearson": "r", "spearman": "rho", "kendall": "tau", "distance": "distance r"}[method]
    width = max(len(f"{p.x} and {p.y}") for p in found)
    for p in found:
        c = p.correlation
        said = "does not vary" if c.r is None else f"{letter} = {c.r:+.3f}"
        tested = "" if c.p_value is None else f", {p_text(c.p_value)}"
        adjusted = "" if p.p_adjusted is None else f" (adjusted {p_text(p.p_adjusted)})"
        typer.echo(f"{f'{p.x} and {p.y}':<{width}}  {said}, n = {c.n:,}{tested}{adjusted}")
    typer.echo(
        f"{count_of(len(found), 'pair')} looked at: adjusted p values (Holm) allow for that."
    )


@app.command()
def describe(file: FileArgument, sheet: SheetOption = None, as_json: JsonOption = False) -> None:
    """Say what a file holds: each variable's kind, unit and numbers."""
    result = read_file(file, ReadOptions(sheet=sheet))
    summary = summarise(result.table)
    if as_json:
        _print_json(summary.model_dump(mode="json"))
        return
    typer.echo(f"{result.table.name}: {count_of(summary.rows, 'row')}")
    width = max(len(v.name) for v in summary.variables)
    for v in summary.variables:
        typer.echo(f"  {v.name:<{width}}  {v.kind:<8}  {_variable_text(v)}")


@app.command()
def drift(
    file: Annotated[Path, typer.Argument(help="CSV or Parquet file to write.")],
    rows: Annotated[int, typer.Option(min=1, max=50_000_000)] = DRIFT_ROWS,
) -> None:
    """Write a large made-up table, for trying out scale."""
    frame = make_drift(rows).frame.with_columns(pl.col("valley").cast(pl.String))
    try:
        if file.suffix == ".parquet":
            frame.write_parquet(file)
        else:
            frame.write_csv(file)
    except OSError as error:
        raise TableError(
            f"{file} cannot be written.", "Check that its folder exists and may be written to."
        ) from error
    typer.echo(f"{count_of(rows, 'row')} written to {file}.")


@app.command(hidden=True)
def openapi() -> None:
    """Print the API's OpenAPI document, from which the front end's types are made."""
    _print_json(create_app(Settings(Path())).openapi())


@app.command("figure-format", hidden=True)
def write_figure_format() -> None:
    """Print the page that describes the figure format (docs/figure-format.md)."""
    typer.echo(figure_format(), nl=False)


def development_app() -> FastAPI:
    """Make the application for a server that reloads (`make dev`)."""
    folder = _data_folder(None)
    store = Store(folder)
    add_demo_study(store)
    store.close()
    return create_app(Settings(folder))


def _data_folder(given: Path | None) -> Path:
    folder = given or Path(platformdirs.user_data_dir("yarrowdew", appauthor=False))
    try:
        folder.mkdir(parents=True, exist_ok=True)
    except OSError as error:
        reason = (error.strerror or "no access").lower()
        raise TableError(f"The data folder {folder} cannot be made: {reason}.") from error
    return folder


def _serve(folder: Path, listening: socket.socket, max_upload: int, path: str = "/") -> None:
    logging.basicConfig(format="%(message)s")
    address = f"http://{HOST}:{listening.getsockname()[1]}{path}"
    typer.echo(f"Yarrowdew is at {address}\nStudies are kept in {folder}\nStop it with Ctrl+C.")
    sys.stdout.flush()
    config = uvicorn.Config(
        create_app(Settings(folder, max_upload)),
        log_level="warning",
        lifespan="on",
        # Nobody speaks for another machine here.
        proxy_headers=False,
        # Whoever still waits for an answer when the server is stopped waits so long at most.
        timeout_graceful_shutdown=5,
    )
    uvicorn.Server(config).run(sockets=[listening])


def _listen(port: int | None, host: str) -> socket.socket:
    """Take the port asked for, or the first free one from the usual one on."""
    for number in [port] if port is not None else range(PORT, PORT + _PORTS_TRIED):
        listening = socket.socket(socket.AF_INET, socket.SOCK_STREAM)
        listening.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            listening.bind((host, number))
            # From here on connections wait, so that the address is good once it is printed.
            listening.listen()
        except OSError:
            listening.close()
            continue
        return listening
    taken = (
        f"Port {port} is" if port is not None else f"Ports {PORT} to {PORT + _PORTS_TRIED - 1} are"
    )
    raise TableError(f"{taken} taken.", "Choose another with --port.")


def _print_json(content: object) -> None:
    typer.echo(orjson.dumps(content, option=orjson.OPT_INDENT_2).decode())


def _fit_text(report: FitReport, x: Axis, y: Axis) -> str:
    title = f"{y.variable.label} against {x.variable.label.lower()}"
    lines = [f"{title}, {report.group}" if report.group is not None else title]
    if report.problem:
        return "\n".join([*lines, f"  {report.problem}", ""])
    if report.equation is not None:
        lines.append(f"  {report.equation}")
    if report.equation_note:
        lines.append(f"  ({report.equation_note})")
    parts = [f"n = {report.n:,}"]
    if report.r_squared is not None:
        parts.append(f"R² = {report.r_squared:.4g}")
    if report.r is not None:
        parts.append(f"r = {report.r:.4g}")
    if report.p_value is not None:
        parts.append(p_text(report.p_value))
    if report.residual_sd is not None:
        parts.append(f"residual SD = {report.residual_sd:.4g}")
    lines.append("  " + ", ".join(parts))
    percent = f"{100 * report.level:g} %"
    for c in report.coefficients:
        interval = (
            "no interval"
            if c.low is None
            else f"{percent} interval {_shown(c.low)} to {_shown(c.high)}"
        )
        lines.append(f"  {c.name} = {c.value:.6g} ({interval})")
    for r in report.readings:
        carried = ", outside the data" if r.carried_on else ""
        lines.append(
            f"  at x = {_shown(r.x)}: y = {_shown(r.y)}"
            + (
                f" (mean {_shown(r.mean_low)} to {_shown(r.mean_high)}"
                if r.mean_low is not None
                else ""
            )
            + (
                f", a new row {_shown(r.new_low)} to {_shown(r.new_high)}"
                if r.new_low is not None
                else ""
            )
            + (f"{carried})" if r.mean_low is not None else carried)
        )
    for s in report.solutions:
        carried = ", outside the data" if s.carried_on else ""
        where = (
            "is never reached"
            if s.x is None
            else f"at x = {_shown(s.x)} ({_shown(s.low)} to {_shown(s.high)}{carried})"
        )
        lines.append(f"  y = {_shown(s.y)}: {where}. {s.note}".rstrip())
    dropped = [
        f"{count:,} {reason.replace('_', ' ')}" for reason, count in report.dropped.items() if count
    ]
    if dropped:
        lines.append(f"  Rows left out: {', '.join(dropped)}")
    lines.append(f"  {report.sentence.replace(GAP, ' ').replace(MINUS, '-')}")
    return "\n".join(lines) + "\n"


def _shown(value: float | str | None) -> str:
    if value is None:
        return "open"
    return value if isinstance(value, str) else f"{value:.6g}"


def _variable_text(v: VariableSummary) -> str:
    unit = f" {v.unit}" if v.unit else ""
    parts = [f"{v.missing:,} missing"]
    if v.mean is not None:
        sd = "" if v.sd is None else f", SD {v.sd:.4g}"
        parts.append(f"{v.min:g} to {v.max:g}{unit}, mean {v.mean:.4g}{sd}")
    elif v.min is not None:
        parts.append(f"{v.min} to {v.max}")
    else:
        parts.append(f"{v.distinct:,} different")
    return ", ".join(parts)


if __name__ == "__main__":
    main()
