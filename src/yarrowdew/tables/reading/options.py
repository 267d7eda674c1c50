"""What is known of a file, what was guessed, and what came of it."""

from __future__ import annotations

from dataclasses import dataclass, field

import polars as pl
from pydantic import ConfigDict, Field

from yarrowdew.tables.documented import Documented
from yarrowdew.tables.table import Kind, Table, Variable

MISSING_CODES = ("", "NA", "N/A", "n/a", "na", "NaN", "nan", "-", ".", "null", "NULL", "None")
MOST_VARIABLES = 2_000


class ReadOptions(Documented):
    """How to read a file. Options left out are guessed from the file."""

    model_config = ConfigDict(extra="forbid")

    sheet: str | None = Field(default=None, max_length=200)
    """Sheet of a workbook, or resource of a data package; the first that holds a table."""
    encoding: str | None = Field(default=None, max_length=40)
    """utf-8, utf-16 or windows-1252."""
    delimiter: str | None = Field(default=None, min_length=1, max_length=1)
    decimal: str | None = Field(default=None, pattern=r"^[.,]$")
    thousands: str | None = Field(default=None, max_length=1)
    """The mark between thousands; empty for none."""
    header: int | None = Field(default=None, ge=0, le=100)
    """Line of the headers, from 1; 0 for none."""
    day_first: bool | None = None
    """Whether 03/04/2031 is the third of April; guessed where the values tell."""
    missing: list[str] = Field(default_factory=lambda: list(MISSING_CODES), max_length=50)
    kinds: dict[str, Kind] = Field(default_factory=dict)
    """Kinds chosen by hand, by variable name."""


@dataclass(frozen=True, slots=True)
class Unread:
    """Values of a variable that could not be read as its kind."""

    variable: str
    count: int
    first_row: int
    first_value: str


@dataclass(frozen=True, slots=True)
class RawTable:
    """A table before its kinds are found.

    Attributes
    ----------
    name : str
    headers : list of str
        As they stand in the file; empty where there are none.
    columns : polars.DataFrame
        One column for each header; text where the file has nothing but text, else its own types.
    options : ReadOptions
        With what was guessed of the file filled in.
    described : tuple of Variable, optional
        Variables as the file itself describes them, where it does.
    sheets : tuple of str
        Tables that the file offers, where it offers several.
    """

    name: str
    headers: list[str]
    columns: pl.DataFrame
    options: ReadOptions
    described: tuple[Variable, ...] = ()
    sheets: tuple[str, ...] = ()


FIRST_ROWS = 200
"""How many rows are shown of a file before it is taken in."""


@dataclass(frozen=True, slots=True)
class ReadResult:
    """A table as read, and how.

    Attributes
    ----------
    table : Table
    options : ReadOptions
        With every guess filled in.
    unread : tuple of Unread
        What was in the file but is missing in the table.
    sheets : tuple of str
        Tables that the file offers, where it offers several.
    ambiguous : tuple of str
        Variables of dates whose day and month could be either way round.
    sources : dict of str to polars.Series
        As text, the variables of which some values could not be read.
    first_rows : polars.DataFrame
        As text, what the file itself says in its first `FIRST_ROWS`, variables in their order.
    """

    table: Table
    options: ReadOptions
    unread: tuple[Unread, ...]
    sheets: tuple[str, ...] = ()
    ambiguous: tuple[str, ...] = ()
    sources: dict[str, pl.Series] = field(default_factory=dict)
    first_rows: pl.DataFrame = field(default_factory=pl.DataFrame)
