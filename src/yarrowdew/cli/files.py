"""Commands that say what is in a file, or write one."""

from __future__ import annotations

from pathlib import Path
from typing import Annotated

import polars as pl
import typer

from yarrowdew.cli.options import EngineOption, FileArgument, JsonOption, SheetOption, print_json
from yarrowdew.core.errors import FitError
from yarrowdew.core.pairs import METHODS, Pair, pairs
from yarrowdew.demo.tables import DRIFT_ROWS, MOST_IN_ONE, demo_tables, write_parts
from yarrowdew.demo.tables import drift as make_drift
from yarrowdew.figures.datasets.view import view_of_dataset
from yarrowdew.figures.text.words import count_of, p_text
from yarrowdew.tables.dataset_paths import is_dataset
from yarrowdew.tables.errors import TableError
from yarrowdew.tables.reading import ReadOptions, read_file
from yarrowdew.tables.summary import VariableSummary, summarise
from yarrowdew.tables.table import Kind, axis_values
from yarrowdew.tables.writing import write_table


def print_pairs(
    *,
    file: FileArgument,
    method: Annotated[str, typer.Option(help=f"One of: {', '.join(METHODS)}.")] = "pearson",
    sheet: SheetOption = None,
    engine: EngineOption = None,
    as_json: JsonOption = False,
) -> None:
    """Correlate every pair of number variables of a file, strongest first."""
    if method not in METHODS:
        raise FitError(f"There is no method '{method}'.", f"Choose one of: {', '.join(METHODS)}.")
    found = _pairs_of(file, method, sheet, engine)
    if as_json:
        print_json(
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


def _pairs_of(file: Path, method: str, sheet: str | None, engine: str | None) -> list[Pair]:
    if is_dataset(file):
        if method != "pearson":
            raise FitError(
                f"{method.capitalize()} needs all rows in memory, and a dataset is read in chunks.",
                "Leave --method out for Pearson's r.",
            )
        found = view_of_dataset(file, engine).pairs()
        if not found:
            raise TableError(f"{file.name} has fewer than two number variables.")
        return found
    table = read_file(file, ReadOptions(sheet=sheet)).table
    numbers = [v for v in table.variables if v.kind is Kind.NUMBER]
    if len(numbers) < 2:
        raise TableError(f"{table.name} has fewer than two number variables.")
    return pairs({v.name: axis_values(table.frame[v.name]) for v in numbers}, method)


def describe(
    file: FileArgument,
    sheet: SheetOption = None,
    engine: EngineOption = None,
    as_json: JsonOption = False,
) -> None:
    """Describe a file: type, unit and numbers of each variable."""
    if is_dataset(file):
        view = view_of_dataset(file, engine)
        name, summary = view.dataset.name, view.summary()
    else:
        table = read_file(file, ReadOptions(sheet=sheet)).table
        name, summary = table.name, summarise(table)
    if as_json:
        print_json(summary.model_dump(mode="json"))
        return
    typer.echo(f"{name}: {count_of(summary.rows, 'row')}")
    width = max(len(v.name) for v in summary.variables)
    for v in summary.variables:
        typer.echo(f"  {v.name:<{width}}  {v.kind:<8}  {_variable_text(v)}")


def sample(
    folder: Annotated[Path, typer.Argument(help="Folder to write to; made where there is none.")],
) -> None:
    """Write the demo tables as CSV files, on which every example of the guide runs."""
    written = {
        folder / f"{table.name.replace(' ', '-')}.csv": write_table(table, "csv")
        for table in demo_tables()
    }
    try:
        folder.mkdir(parents=True, exist_ok=True)
        for file, content in written.items():
            if file.exists() and file.read_bytes() != content:
                raise TableError(
                    f"{file} is another file.", "Name a folder that has none of its name."
                )
        for file, content in written.items():
            file.write_bytes(content)
    except OSError as error:
        raise TableError(
            f"{folder} cannot be written to.", "Name a folder that may be written to."
        ) from error
    typer.echo(f"Written to {folder}: {', '.join(file.name for file in written)}.")


def drift(
    file: Annotated[
        Path, typer.Argument(help="CSV or Parquet file to write; a folder with --parquet.")
    ],
    rows: Annotated[int, typer.Option(min=1, max=10_000_000_000)] = DRIFT_ROWS,
    parquet: Annotated[
        bool, typer.Option("--parquet", help="Write a folder of Parquet files, part by part.")
    ] = False,
) -> None:
    """Write a large simulated table, for trying out scale."""
    if rows > MOST_IN_ONE and not parquet:
        raise TableError(
            f"{count_of(rows, 'row')} are too many for one file.", "Write a folder, with --parquet."
        )
    try:
        if parquet:
            write_parts(file, rows)
        else:
            frame = make_drift(rows).frame.with_columns(pl.col("valley").cast(pl.String))
            if file.suffix == ".parquet":
                frame.write_parquet(file)
            else:
                frame.write_csv(file)
    except OSError as error:
        raise TableError(
            f"{file} cannot be written.", "Check that its folder exists and may be written to."
        ) from error
    typer.echo(f"{count_of(rows, 'row')} written to {file}.")


def _variable_text(v: VariableSummary) -> str:
    unit = f" {v.unit}" if v.unit else ""
    parts = [f"{v.missing:,} missing"]
    if v.mean is not None:
        sd = "" if v.sd is None else f", SD {v.sd:.4g}"
        parts.append(f"{v.min:g} to {v.max:g}{unit}, mean {v.mean:.4g}{sd}")
    elif v.min is not None:
        parts.append(f"{v.min} to {v.max}")
    else:
        parts.append("very many different" if v.distinct is None else f"{v.distinct:,} different")
    return ", ".join(parts)
