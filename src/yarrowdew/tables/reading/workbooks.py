"""Workbooks (.xlsx, .ods): a sheet is read as rows of text, like any other file."""

from __future__ import annotations

import datetime as dt
import io
import re
import zipfile

import polars as pl
from python_calamine import CalamineError, CalamineSheet, CalamineWorkbook

from yarrowdew.tables.errors import TableError
from yarrowdew.tables.limits import Limits
from yarrowdew.tables.reading.archives import check_sizes, opened
from yarrowdew.tables.reading.options import RawTable, ReadOptions
from yarrowdew.tables.reading.rows import guess_header, split_headers, without_missing

_HEAD_ROWS = 200
_FILLED_CELL = re.compile(rb'<(?:\w+:)?c\s(?:[^>]*?\s)?r="([A-Z]{1,3})(\d{1,7})"[^>]*?(?<!/)>')
_PIECE, _OVERLAP = 1 << 22, 1 << 12


def read_workbook(content: bytes, name: str, options: ReadOptions, limits: Limits) -> RawTable:
    """Read a sheet: the one asked for, or the first that holds a table.

    Raises
    ------
    TableError
        If the workbook cannot be opened, holds no table, has no such sheet, or one of its sheets
        reaches too far.
    """
    with opened(content, name) as archive:
        check_sizes(archive, len(content), name, limits)
        for info in archive.infolist():
            _check_reach(archive, info, name, limits)
    try:
        book = CalamineWorkbook.from_filelike(io.BytesIO(content))
        sheets = {name: _cells(book.get_sheet_by_name(name)) for name in book.sheet_names}
    except CalamineError as error:
        reason = (str(error).splitlines() or [""])[0][:120].rstrip(".")
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


def _check_reach(
    archive: zipfile.ZipFile, info: zipfile.ZipInfo, name: str, limits: Limits
) -> None:
    """Find how far the cells of a sheet reach, before room is made for all that lie between."""
    if "worksheets/" not in info.filename:
        return
    rows = columns = 1
    for piece in _pieces(archive, info):
        for letters, row in _FILLED_CELL.findall(piece):
            rows, columns = max(rows, int(row)), max(columns, _column(letters))
    if rows * columns > limits.cells:
        raise TableError(
            f"A sheet of {name} reaches to row {rows:,} and column {columns:,}, "
            f"which is {rows * columns:,} cells; at most {limits.cells:,} can be read.",
            "Delete cells far away from the table, and save it again.",
        )


def _pieces(archive: zipfile.ZipFile, info: zipfile.ZipInfo) -> list[bytes]:
    """Unpack a part of a workbook in pieces that overlap, so that no tag is cut."""
    content = archive.read(info)
    return [content[at : at + _PIECE + _OVERLAP] for at in range(0, len(content), _PIECE)]


def _column(letters: bytes) -> int:
    number = 0
    for letter in letters:
        number = number * 26 + letter - 64
    return number


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
        return cell.isoformat(sep=" ")
    if isinstance(cell, dt.timedelta):
        return str(cell.total_seconds())
    return str(cell)
