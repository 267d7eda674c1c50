"""The application that every command belongs to: what commands there are, loaded when one is asked for.

Whoever asks what there is should not wait for what only a fit or a server needs.
"""

from __future__ import annotations

from importlib import import_module
from typing import Any, NamedTuple

import typer
from typer.core import TyperGroup
from typer.main import get_command

from yarrowdew.loading import loading


class _Command(NamedTuple):
    module: str
    function: str
    says: str
    hidden: bool = False
    draws: bool = False


COMMANDS = {
    "fit": _Command("fitting", "fit", "Fit a trend line to two variables of a file."),
    "draw": _Command(
        "drawing",
        "draw",
        "Draw a figure of a file as SVG, PNG, JPEG, PDF, HTML or JSON.",
        draws=True,
    ),
    "pairs": _Command(
        "files",
        "print_pairs",
        "Correlate every pair of number variables of a file, strongest first.",
    ),
    "describe": _Command(
        "files", "describe", "Describe a file: type, unit and numbers of each variable."
    ),
    "sample": _Command(
        "files",
        "sample",
        "Write the demo tables as CSV files, on which every example of the guide runs.",
    ),
    "drift": _Command("files", "drift", "Write a large simulated table, for trying out scale."),
    "link": _Command(
        "datasets", "link", "Add a dataset to a study; its files stay where they are."
    ),
    "serve": _Command(
        "serving", "serve", "Serve the studies on this machine, and print the address."
    ),
    "demo": _Command(
        "serving", "demo", "Serve as `serve` does, with the demo study among the studies."
    ),
    "openapi": _Command(
        "generated",
        "openapi",
        "Print the API's OpenAPI document, from which the front end's types are made.",
        hidden=True,
    ),
    "python-reference": _Command(
        "generated",
        "write_python_reference",
        "Print the page that describes the Python package (docs/python.md).",
        hidden=True,
    ),
    "figure-format": _Command(
        "generated",
        "write_figure_format",
        "Print the page that describes the figure format (docs/figure-format.md).",
        hidden=True,
    ),
    "statistics": _Command(
        "generated",
        "write_statistics",
        "Print docs/statistics.md with its tables written anew.",
        hidden=True,
    ),
    "vocabulary": _Command(
        "generated",
        "write_vocabulary",
        "Print what the front end is told of families, kinds and defaults, as JSON.",
        hidden=True,
    ),
}


class _Commands(TyperGroup):
    """The commands, each imported when it is run or its own help is asked for."""

    def list_commands(self, ctx: Any) -> list[str]:
        return list(COMMANDS)

    def get_command(self, ctx: Any, cmd_name: str) -> Any:
        found = COMMANDS.get(cmd_name)
        if found is None:
            return None
        one = typer.Typer(add_completion=False, rich_markup_mode=None)
        with loading():
            if found.draws:
                import_module("yarrowdew.drawing.engine").started()
            module = import_module(f"yarrowdew.cli.{found.module}")
        one.command(cmd_name, help=found.says)(getattr(module, found.function))
        return get_command(one)

    def format_commands(self, ctx: Any, formatter: Any) -> None:
        with formatter.section("Commands"):
            formatter.write_dl(
                [(name, found.says) for name, found in COMMANDS.items() if not found.hidden]
            )


app = typer.Typer(
    cls=_Commands, add_completion=False, rich_markup_mode=None, pretty_exceptions_enable=False
)


@app.callback(help="Scatterplots, and trend lines that hold up in front of others.")
def _all() -> None:
    """Hold the commands."""
