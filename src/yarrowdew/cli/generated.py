"""Commands that print what the front end and the docs are made from."""

from __future__ import annotations

from pathlib import Path

import typer

from yarrowdew.api.app import create_app
from yarrowdew.api.settings import Settings
from yarrowdew.cli.options import print_json
from yarrowdew.figures.schema.format_page import figure_format
from yarrowdew.figures.schema.register_page import with_tables
from yarrowdew.figures.schema.vocabulary import vocabulary


def openapi() -> None:
    """Print the API's OpenAPI document, from which the front end's types are made."""
    print_json(create_app(Settings(Path())).openapi())


def write_figure_format() -> None:
    """Print the page that describes the figure format (docs/figure-format.md)."""
    typer.echo(figure_format(), nl=False)


def write_python_reference() -> None:
    """Print the page that describes the Python package (docs/python.md)."""
    from yarrowdew.script.reference import python_reference  # noqa: PLC0415 (asked for seldom)

    typer.echo(python_reference(), nl=False)


def write_statistics(page: Path) -> None:
    """Print docs/statistics.md with its tables written anew."""
    typer.echo(with_tables(page.read_text(encoding="utf-8")), nl=False)


def write_vocabulary() -> None:
    """Print what the front end is told of families, kinds and defaults, as JSON."""
    print_json(vocabulary().model_dump(mode="json"))
