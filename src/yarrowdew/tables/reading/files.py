"""Which format a file is in, and from there to a typed table."""

from __future__ import annotations

import codecs
import re
from concurrent.futures import ThreadPoolExecutor
from dataclasses import replace
from pathlib import Path

import polars as pl

from yarrowdew.tables.errors import TableError
from yarrowdew.tables.kinds import Marks, Typed, as_kind, as_text, guess_kind, texts_of
from yarrowdew.tables.limits import FORMATS, Limits
from yarrowdew.tables.naming import (
    LONGEST_NAME,
    distinct_names,
    label_of,
    split_header,
    trailing_unit,
)
from yarrowdew.tables.reading.apart import read_apart
from yarrowdew.tables.reading.archives import check_sizes, opened
from yarrowdew.tables.reading.columnar import raw_table
from yarrowdew.tables.reading.options import (
    FIRST_ROWS,
    MOST_VARIABLES,
    RawTable,
    ReadOptions,
    ReadResult,
    Unread,
)
from yarrowdew.tables.reading.package import DESCRIPTION
from yarrowdew.tables.reading.progress import Progress, part_of, unheard
from yarrowdew.tables.reading.readers import HERE, answering_for, read_typed
from yarrowdew.tables.table import Kind, Table, Variable

_HEAD = 256 * 1024
_JSON = re.compile(rb'\s*(?:\{\s*["}]|\[\s*[\[\]{"\-0-9tfn])')
"""How JSON begins; a header in braces does not."""
_READABLE = (
    (b"PAR1", "a Parquet file"),
    (b"ARROW1", "an Arrow file"),
    (b"\xff\xff\xff\xff", "an Arrow stream"),
)
_NOT_READABLE = (
    (b"\x89PNG", "a PNG picture"),
    (b"\xff\xd8\xff", "a JPEG picture"),
    (b"GIF8", "a GIF picture"),
    (b"%PDF", "a PDF document"),
    (b"\xd0\xcf\x11\xe0", "an old-style or locked workbook"),
    (b"SQLite format 3", "a database"),
    (b"\x1f\x8b", "a compressed file"),
)


def read_file(
    path: Path,
    options: ReadOptions | None = None,
    name: str | None = None,
    progress: Progress = unheard,
    limits: Limits = Limits(),
) -> ReadResult:
    """Read a file of any format in `FORMATS`; which one is told by its contents.

    Parameters
    ----------
    path : Path
    options : ReadOptions, optional
        What is known of the file; the rest is guessed.
    name : str, optional
        The file's own name, where `path` is not it.
    progress : callable
        Is told the share that is read; the read ends where it raises.
    limits : Limits
        How much is read at most.

    Raises
    ------
    TableError
        If it cannot be read, saying where.
    """
    name = name or path.name
    try:
        content = path.read_bytes()
    except OSError as error:
        reason = (error.strerror or "no access").lower()
        raise TableError(f"{name} cannot be opened: {reason}.") from error
    return read_bytes(content, name, options, progress, limits)


def read_bytes(
    content: bytes,
    name: str,
    options: ReadOptions | None = None,
    progress: Progress = unheard,
    limits: Limits = Limits(),
) -> ReadResult:
    """Read a file from memory; see `read_file`."""
    progress(0.0)
    options = options or ReadOptions()
    reader = _reader(content, name, limits)
    if reader in HERE:
        raw = read_typed(reader, content, name, options, limits)
    else:
        raw = read_apart(reader, content, name, options, limits=limits, progress=progress)
    if raw.columns.width > MOST_VARIABLES:
        raise TableError(
            f"{name} has {raw.columns.width:,} columns; at most {MOST_VARIABLES:,} can be read.",
            "Check the delimiter, or leave columns out.",
        )
    with answering_for(name, reader):
        return _typed(raw, part_of(progress, 0.5, 1.0))


def read_frame(frame: pl.DataFrame, name: str, options: ReadOptions | None = None) -> ReadResult:
    """Take over columns that know their types; see `read_file`."""
    return _typed(raw_table(frame, name, options or ReadOptions()), unheard)


def _reader(content: bytes, name: str, limits: Limits) -> str:
    """Name the reader that a file needs, by how it begins."""
    for signature, reader in _READABLE:
        if content.startswith(signature):
            return reader
    for signature, what in _NOT_READABLE:
        if content.startswith(signature):
            raise TableError(f"{name} is {what}, not a table.", f"What can be read: {FORMATS}.")
    if content.startswith(b"PK\x03\x04"):
        return _zip_reader(content, name, limits)
    head = content[:_HEAD]
    if not head.startswith((codecs.BOM_UTF16_LE, codecs.BOM_UTF16_BE)) and b"\0" in head:
        place = content[: head.index(b"\0")].count(b"\n") + 1
        raise TableError(
            f"{name} is not a text file: line {place} holds bytes that are no letters.",
            f"What can be read: {FORMATS}.",
            row=place,
        )
    return "JSON" if _JSON.match(head) else "delimited text"


def _zip_reader(content: bytes, name: str, limits: Limits) -> str:
    with opened(content, name) as archive:
        check_sizes(archive, len(content), name, limits)
        names = set(archive.namelist())
    if DESCRIPTION in names:
        return "a data package"
    if "xl/workbook.xml" in names or "content.xml" in names:
        return "a workbook"
    raise TableError(
        f"{name} is a zip archive without a {DESCRIPTION}.",
        "Unpack it and choose the table inside.",
    )


def _typed(raw: RawTable, progress: Progress) -> ReadResult:
    split = [split_header(h) for h in raw.headers]
    if raw.described:
        names = distinct_names([v.name for v in raw.described])
        described = tuple(
            replace(v, name=name, label=v.label or label_of(name))
            for name, v in zip(names, raw.described, strict=True)
        )
    else:
        described = tuple(
            Variable(name, Kind.TEXT, label_of(header) or label_of(name), unit)
            for name, (header, unit) in zip(
                distinct_names([n for n, _ in split]), split, strict=True
            )
        )
    options = raw.options
    marks = Marks(options.decimal or ".", options.thousands or "", options.day_first)
    columns = raw.columns.get_columns()

    def read(variable: Variable, column: pl.Series) -> Typed:
        chosen = options.kinds.get(variable.name, variable.kind if raw.described else None)
        return as_kind(column, chosen, marks) if chosen else guess_kind(column, marks)

    variables, series, unread, ambiguous = [], [], [], []
    sources = {}
    with ThreadPoolExecutor() as pool:
        for place, typed in enumerate(pool.map(read, described, columns)):
            progress((place + 1) / len(columns))
            variable, column = described[place], columns[place]
            series.append(typed.values.alias(variable.name))
            unit = typed.unit or variable.unit
            # The name stays as the file has it; the label is without the unit at its end.
            trailing = trailing_unit(variable.name)
            if trailing and not unit and typed.kind is Kind.NUMBER and not raw.described:
                variable = replace(variable, label=label_of(trailing[0]))
                unit = trailing[1]
            variables.append(replace(variable, kind=typed.kind, unit=unit))
            if typed.unread:
                unread.append(_first_unread(variable.name, column, typed))
                sources[variable.name] = as_text(column)
            if typed.ambiguous:
                ambiguous.append(variable.name)
    table = Table(
        (Path(raw.name).stem or raw.name)[:LONGEST_NAME], tuple(variables), pl.DataFrame(series)
    )
    head = raw.columns.head(FIRST_ROWS)
    first_rows = texts_of(head)
    first_rows.columns = [v.name for v in variables]
    return ReadResult(
        table, options, tuple(unread), raw.sheets, tuple(ambiguous), sources, first_rows
    )


def _first_unread(variable: str, column: pl.Series, typed: Typed) -> Unread:
    row = (column.is_not_null() & typed.values.is_null()).arg_max() or 0
    text = as_text(column.slice(row, 1))[0]
    # A date of a typed file may be beyond every way of writing it.
    return Unread(variable, typed.unread, row + 1, (text or "a date beyond the calendar")[:80])
