"""Delimited text: commas, semicolons, tabs, bars, or any other mark."""

from __future__ import annotations

import codecs
import csv
import io
import re
from collections import Counter
from collections.abc import Collection, Mapping
from dataclasses import dataclass, replace

import polars as pl

from yarrowdew.tables.errors import TableError
from yarrowdew.tables.kinds import LONG_CODE, SAMPLE
from yarrowdew.tables.limits import Limits
from yarrowdew.tables.naming import distinct_names, split_header
from yarrowdew.tables.reading.options import MOST_VARIABLES, RawTable, ReadOptions
from yarrowdew.tables.reading.rows import guess_header, split_headers, without_missing
from yarrowdew.tables.table import Kind

# The heads of files are looked at whole, however long one of their fields is.
csv.field_size_limit(2**31 - 1)
DELIMITERS = (",", ";", "\t", "|")
_HEAD = 256 * 1024
_HEAD_LINES = 200
_LOOKED_THROUGH = 32 * 1024 * 1024
"""How much is looked through for the line that is wrong."""
_PLAIN_NUMBER = r"^[+-]?(?:0|[1-9]\d*)(?:\.\d*)?(?:[eE][+-]?\d+)?$|^[+-]?\.\d+(?:[eE][+-]?\d+)?$"
_THOUSANDS = (",", ".", "'", " ", "\u00a0", "\u202f")


def read_delimited(
    content: bytes, name: str, options: ReadOptions, limits: Limits = Limits()
) -> RawTable:
    """Split a text into headers and columns of text, guessing what the options leave open.

    Raises
    ------
    TableError
        If it is empty, not in the encoding, or a row is wider than the table, saying where.
    """
    encoding = options.encoding or _guess_encoding(content)
    text, encoding = _as_utf8(content, encoding, name)
    if not text[:_HEAD].strip() and not text.strip():
        raise TableError(f"{name} is empty.", "Choose a file with a header row and rows of values.")
    if b"\n" not in text:
        text = text.replace(b"\r", b"\n")
    head = _lines(text[:_HEAD].decode("utf-8", errors="ignore"))
    if len(text) > _HEAD and len(head) > 1:
        head.pop()
    head = head[:_HEAD_LINES]
    delimiter = _checked(options.delimiter) if options.delimiter else _guess_delimiter(head)
    rows = list(csv.reader(head, delimiter=delimiter))
    header, width = guess_header(rows)
    if width == 0 or not any(cell.strip() for row in rows for cell in row):
        raise TableError(
            f"{name} holds no values in its first {len(head):,} lines.",
            "Choose a file with a header row and rows of values.",
        )
    if width > MOST_VARIABLES:
        raise TableError(
            f"{name} has {width:,} columns; at most {MOST_VARIABLES:,} can be read.",
            "Check the delimiter, or leave columns out.",
        )
    if options.header is not None:
        header = options.header
    parted = _Parting(name, delimiter, max(header - 1, 0), width, tuple(options.missing))
    sample = parted.split(text, rows=SAMPLE + 1)
    headers, sampled = split_headers(sample, name, header, 0)
    sampled = without_missing(sampled, options.missing, codes_out=True)
    decimal = options.decimal or _guess_decimal(sampled, delimiter)
    columns = _columns(
        text,
        parted,
        headers,
        sampled if decimal == "." else sampled.clear(),
        options.kinds,
        has_header=header > 0,
    )
    resolved = options.model_copy(
        update={
            "encoding": encoding,
            "delimiter": delimiter,
            "decimal": decimal,
            "thousands": _guess_thousands(sampled, decimal)
            if options.thousands is None
            else options.thousands,
            "header": header,
        }
    )
    return RawTable(name, headers, columns, resolved)


def _guess_encoding(content: bytes) -> str:
    if content.startswith((codecs.BOM_UTF16_LE, codecs.BOM_UTF16_BE)):
        return "utf-16"
    if content.isascii():
        return "utf-8"
    try:
        codecs.utf_8_decode(content, "strict", True)
    except UnicodeDecodeError:
        return "windows-1252"
    return "utf-8"


def _as_utf8(content: bytes, encoding: str, name: str) -> tuple[bytes, str]:
    """Return the text in UTF-8 without a byte order mark, and the encoding's plain name."""
    try:
        known = codecs.lookup(encoding).name
        "".encode(known)
    except (LookupError, ValueError) as error:
        raise TableError(
            f"There is no encoding '{encoding}' of text.", "Choose utf-8, utf-16 or windows-1252."
        ) from error
    if known == "utf-8":
        return content.removeprefix(codecs.BOM_UTF8), known
    try:
        return content.decode(known).encode("utf-8"), encoding
    except (UnicodeError, ValueError) as error:
        start = error.start if isinstance(error, UnicodeDecodeError) else 0
        line = content[:start].count(b"\n") + 1
        raise TableError(
            f"{name} is not {encoding}: line {line} cannot be read.",
            "Choose another encoding.",
            row=line,
        ) from error


def _lines(text: str) -> list[str]:
    """Part a text at ends of lines only; other breaks may stand inside a value."""
    return re.split(r"\r\n|\n|\r", text)


def _checked(delimiter: str) -> str:
    if delimiter.isascii() and delimiter not in '"\r\n\0':
        return delimiter
    raise TableError(
        f"Values cannot be separated by '{delimiter}'.",
        "Choose a comma, a semicolon, a tab, a bar, or another mark of plain ASCII text.",
    )


def _guess_delimiter(lines: list[str]) -> str:
    """Choose the mark that splits most lines into the same number of fields, more than one."""
    best, best_score = ",", 0.0
    for mark in DELIMITERS:
        widths = Counter(len(fields) for fields in csv.reader(lines, delimiter=mark) if fields)
        if not widths:
            continue
        width, count = max(widths.items(), key=lambda item: (item[1] * (item[0] > 1), item[0]))
        score = count / sum(widths.values()) * (width > 1) * (1 + width / 1000)
        if score > best_score:
            best, best_score = mark, score
    return best


@dataclass(frozen=True, slots=True)
class _Parting:
    """How lines are parted into columns."""

    name: str
    delimiter: str
    lines_before: int
    width: int
    missing: tuple[str, ...]

    def split(
        self,
        text: bytes,
        *,
        rows: int | None = None,
        past: int = 0,
        numbers: Collection[int] = (),
    ) -> pl.DataFrame:
        """Split into columns; raise with the line where a row is wider than the table.

        Parameters
        ----------
        text : bytes
        rows : int, optional
            Only so many.
        past : int
            How many lines more to pass over.
        numbers : collection of int
            Columns that are read as numbers and not as text.
        """
        try:
            return pl.read_csv(
                io.BytesIO(text),
                has_header=False,
                skip_lines=self.lines_before + past,
                separator=self.delimiter,
                schema={
                    str(i): pl.Float64 if i in numbers else pl.String for i in range(self.width)
                },
                null_values=[code for code in self.missing if code],
                n_rows=rows,
                raise_if_empty=False,
            )
        except (pl.exceptions.PolarsError, UnicodeDecodeError) as error:
            if numbers:
                raise
            raise _widest_row(text, self.name, self.delimiter, self.lines_before, error) from error


def _columns(
    text: bytes,
    parted: _Parting,
    headers: list[str],
    sampled: pl.DataFrame,
    kinds: Mapping[str, Kind],
    *,
    has_header: bool,
) -> pl.DataFrame:
    """Read every row: columns whose first rows all are plain numbers as numbers, others as text.

    Where a later row turns out to hold something else, everything is read as text.
    """
    names = distinct_names([split_header(header)[0] for header in headers])
    alike = _plain_numbers(sampled)
    numbers = {
        place
        for place, (is_plain, name) in enumerate(zip(alike, names, strict=True))
        if kinds.get(name, Kind.NUMBER) is Kind.NUMBER and is_plain
    }
    if numbers and not any("\n" in header for header in headers):
        # Looking for codes in every field takes as long as reading it: at first without them.
        for plain in (replace(parted, missing=()), parted):
            try:
                columns = plain.split(text, past=int(has_header), numbers=numbers)
            except pl.exceptions.PolarsError:
                continue
            return without_missing(columns, parted.missing, codes_out=plain is parted)
    frame = parted.split(text)
    frame = frame.slice(1) if has_header else frame
    return without_missing(frame, parted.missing, codes_out=True)


def _plain_numbers(columns: pl.DataFrame) -> tuple[bool, ...]:
    """Whether every value of a column is a number as any program writes it, without padding
    zeros.
    """
    if not columns.height:
        return (False,) * columns.width
    every = pl.all()
    plain = every.str.contains(_PLAIN_NUMBER).all() & every.is_not_null().any()
    return columns.select(plain & ~every.str.contains(LONG_CODE).any()).row(0)


def _widest_row(
    text: bytes, name: str, delimiter: str, lines_before: int, error: Exception
) -> TableError:
    head = text[:_LOOKED_THROUGH].decode("utf-8", errors="replace")
    reader = csv.reader(io.StringIO(head, newline=""), delimiter=delimiter)
    width = None
    try:
        for place, row in enumerate(reader, 1):
            if place <= lines_before or not row:
                continue
            width = width or len(row)
            if len(row) > width:
                return TableError(
                    f"Line {reader.line_num} of {name} has {len(row)} values; the lines above it have {width}.",
                    "Check the delimiter, or put quotation marks round values that contain it.",
                    row=reader.line_num,
                )
    except csv.Error:
        pass
    reason = (str(error).splitlines() or [""])[0][:120].rstrip(".")
    return TableError(
        f"{name} cannot be read as delimited text ({reason}).", "Check the delimiter."
    )


def _guess_decimal(columns: pl.DataFrame, delimiter: str) -> str:
    """A comma where it is no delimiter and some values read as numbers only with it."""
    if delimiter == ",":
        return "."
    commas = columns.head(1000).select(pl.all().str.contains(r"^[+\-−]?\d+,\d+\s*%?$").sum()).row(0)
    points = (
        columns.head(1000).select(pl.all().str.contains(r"^[+\-−]?\d+\.\d+\s*%?$").sum()).row(0)
    )
    return "," if sum(c or 0 for c in commas) > sum(p or 0 for p in points) else "."


def _guess_thousands(columns: pl.DataFrame, decimal: str) -> str:
    """Return the mark that parts groups of three digits in a column that else holds plain
    numbers.
    """
    head = columns.head(1000)
    for mark in _THOUSANDS:
        if mark == decimal:
            continue
        marked = head.select(pl.all().str.contains(mark, literal=True).any())
        candidates = [name for name in head.columns if marked[name][0]]
        grouped = rf"^[+\-−]?\d{{1,3}}(?:{re.escape(mark)}\d{{3}})+(?:{re.escape(decimal)}\d+)?$"
        plain = rf"^[+\-−]?\d+(?:{re.escape(decimal)}\d+)?$"
        for text in (head[name].drop_nulls() for name in candidates):
            groups = text.str.contains(grouped)
            if groups.any() and (groups | text.str.contains(plain)).all():
                return mark
    return ""
