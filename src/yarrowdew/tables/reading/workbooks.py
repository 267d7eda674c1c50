"""Workbooks (.xlsx, .ods): a sheet is read as rows of text, like any other file."""

from __future__ import annotations

import datetime as dt
import io

import polars as pl
from python_calamine import CalamineError, CalamineSheet, CalamineWorkbook

from yarrowdew.tables.errors import TableError
from yarrowdew.tables.reading.options import RawTable, ReadOptions
from yarrowdew.tables.reading.rows import guess_header, split_headers, without_missing

_HEAD_ROWS = 200


def read_workbook(content: bytes, name: str, options: ReadOptions) -> RawTable:
    """Read a sheet: the one asked for, or the first that holds a table.

    Raises
    ------
    TableError
        If the workbook cannot be opened, holds no table, or has no such sheet.
    """
    try:
        book = CalamineWorkbook.from_filelike(io.BytesIO(content))
        sheets = {name: _cells(book.get_sheet_by_name(name)) for name in book.sheet_names}
    except CalamineError as error:
        reason = str(error).splitlines()[0][:120].rstrip(".")
        raise TableError(
            f"{name} cannot be opened as a workbook ({reason}).",
            "Save it again without a password, or export the sheet as CSV.",
        ) from error
    tables = [sheet for sheet, cells in sheets.items() if cells.height > 1 and cells.width > 0]
    if options.sheet is not None and options.sheet not in sheets:
        known = ", ".join(sheets)
        raise TableError(f"{name} has no sheet '{options.sheet}'.", f"It has: {known}.")
    if not tables:
        raise TableError(f"No sheet of {name} holds a table.", "Choose another file.")
    sheet = options.sheet or tables[0]
    cells = sheets[sheet]
    if cells.height == 0:
        raise TableError(
            f"Sheet '{sheet}' of {name} is empty.", f"Choose one of: {', '.join(tables)}."
        )
    rows = [["" if cell is None else cell for cell in row] for row in cells.head(_HEAD_ROWS).rows()]
    header = options.header if options.header is not None else guess_header(rows)[0]
    headers, columns = split_headers(cells, name, header, max(header - 1, 0))
    resolved = options.model_copy(update={"sheet": sheet, "header": header, "decimal": "."})
    # A table alone in its workbook goes by the workbook's name.
    table_name = sheet if len(tables) > 1 else name
    return RawTable(
        table_name,
        headers,
        without_missing(columns, options.missing),
        resolved,
        sheets=tuple(tables),
    )


def _cells(sheet: CalamineSheet) -> pl.DataFrame:
    """Return a sheet's cells as text; columns without a single value are left out."""
    rows = sheet.to_python(skip_empty_area=True)
    columns = [
        pl.Series(str(place), [_text(cell) for cell in column], dtype=pl.String)
        for place, column in enumerate(zip(*rows, strict=True))
    ]
    return pl.DataFrame([c for c in columns if c.null_count() < len(c)])


def _text(cell: object) -> str | None:
    """Write a cell so that it can be read again: numbers with all their digits, dates as ISO."""
    if cell is None or cell == "":
        return None
    if isinstance(cell, float):
        return str(int(cell)) if cell.is_integer() and abs(cell) < 2**53 else repr(cell)
    if isinstance(cell, dt.datetime):
        return cell.isoformat(sep=" ", timespec="seconds")
    if isinstance(cell, dt.timedelta):
        return str(cell.total_seconds())
    return str(cell)
