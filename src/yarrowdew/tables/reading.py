"""Reading a file of delimited text, with every guess open to correction."""

from __future__ import annotations

import codecs
import csv
import io
from collections import Counter
from dataclasses import dataclass
from pathlib import Path

import polars as pl
from pydantic import BaseModel, ConfigDict, Field

from yarrowdew.tables.errors import TableError
from yarrowdew.tables.kinds import NumberMarks, Typed, as_kind, guess_kind
from yarrowdew.tables.naming import distinct_names, label_of, split_header
from yarrowdew.tables.table import Kind, Table, Variable

DELIMITERS = (",", ";", "\t", "|")
MISSING_CODES = ("", "NA", "N/A", "n/a", "na", "NaN", "nan", "-", ".", "null", "NULL", "None")
MOST_VARIABLES = 2_000
_HEAD = 256 * 1024

_SIGNATURES = (
    (b"\x89PNG", "a PNG picture"),
    (b"\xff\xd8\xff", "a JPEG picture"),
    (b"GIF8", "a GIF picture"),
    (b"%PDF", "a PDF document"),
    (b"PK\x03\x04", "a zip archive or workbook"),
    (b"\xd0\xcf\x11\xe0", "an old-style workbook"),
    (b"PAR1", "a Parquet file"),
    (b"ARROW1", "an Arrow file"),
    (b"SQLite format 3", "a database"),
)


class ReadOptions(BaseModel):
    """How a file is to be read. What is None is guessed from the file."""

    model_config = ConfigDict(extra="forbid")

    encoding: str | None = Field(default=None, description="utf-8, utf-16 or windows-1252")
    delimiter: str | None = Field(default=None, min_length=1, max_length=1)
    decimal: str | None = Field(default=None, pattern=r"^[.,]$")
    header: int | None = Field(
        default=None, ge=0, le=100, description="Line of the headers, from 1; 0 for none"
    )
    missing: list[str] = Field(default_factory=lambda: list(MISSING_CODES), max_length=50)
    kinds: dict[str, Kind] = Field(
        default_factory=dict, description="Kinds chosen by hand, by variable name"
    )


@dataclass(frozen=True, slots=True)
class Unread:
    """Values of a variable that could not be read as its kind."""

    variable: str
    count: int
    first_row: int
    first_value: str


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
    """

    table: Table
    options: ReadOptions
    unread: tuple[Unread, ...]


def read_file(
    path: Path, options: ReadOptions | None = None, name: str | None = None
) -> ReadResult:
    """Read a file of delimited text.

    Parameters
    ----------
    path : Path
    options : ReadOptions, optional
        What is known of the file; the rest is guessed.
    name : str, optional
        The file's own name, where `path` is not it.

    Raises
    ------
    TableError
        If it cannot be read, saying where.
    """
    name = name or path.name
    try:
        content = path.read_bytes()
    except OSError as error:
        raise TableError(
            f"{name} cannot be opened: {(error.strerror or 'no access').lower()}."
        ) from error
    return read_bytes(content, name, options)


def read_bytes(content: bytes, name: str, options: ReadOptions | None = None) -> ReadResult:
    """Read delimited text from memory; see `read_file`."""
    options = options or ReadOptions()
    _refuse_what_is_no_text(content, name)
    encoding = options.encoding or _guess_encoding(content)
    text, encoding = _as_utf8(content, encoding, name)
    if not text.strip():
        raise TableError(f"{name} is empty.", "Choose a file with a header row and rows of values.")
    head = text[:_HEAD].decode("utf-8", errors="ignore")
    delimiter = options.delimiter or _guess_delimiter(head)
    header, width = _guess_header(head, delimiter)
    if options.header is not None:
        header = options.header
    headers, columns = _columns(text, name, delimiter, header, width)
    columns = _without_missing(columns, options.missing)
    decimal = options.decimal or _guess_decimal(columns, delimiter)
    resolved = options.model_copy(
        update={"encoding": encoding, "delimiter": delimiter, "decimal": decimal, "header": header}
    )
    return _typed(name, headers, columns, resolved)


def _typed(
    name: str, headers: list[str], columns: pl.DataFrame, options: ReadOptions
) -> ReadResult:
    split = [split_header(h) for h in headers]
    names = distinct_names([n for n, _ in split])
    marks = NumberMarks(options.decimal or ".")
    variables, series, unread = [], [], []
    for variable_name, (_, unit), text in zip(names, split, columns, strict=True):
        chosen = options.kinds.get(variable_name)
        typed = as_kind(text, chosen, marks) if chosen else guess_kind(text, marks)
        series.append(typed.values.alias(variable_name))
        variables.append(Variable(variable_name, typed.kind, label_of(variable_name), unit))
        if typed.unread:
            unread.append(_first_unread(variable_name, text, typed))
    table = Table(Path(name).stem or name, tuple(variables), pl.DataFrame(series))
    return ReadResult(table, options, tuple(unread))


def _first_unread(variable: str, text: pl.Series, typed: Typed) -> Unread:
    row = (text.is_not_null() & typed.values.is_null()).arg_max() or 0
    return Unread(variable, typed.unread, row + 1, str(text[row])[:80])


def _refuse_what_is_no_text(content: bytes, name: str) -> None:
    for signature, what in _SIGNATURES:
        if content.startswith(signature):
            raise TableError(
                f"{name} is {what}, not a table of delimited text.",
                "Export the table as CSV and choose that file.",
            )
    head = content[:_HEAD]
    if not head.startswith((codecs.BOM_UTF16_LE, codecs.BOM_UTF16_BE)) and b"\0" in head:
        place = content[: head.index(b"\0")].count(b"\n") + 1
        raise TableError(
            f"{name} is not a text file: line {place} holds bytes that are no letters.",
            "Export the table as CSV and choose that file.",
            row=place,
        )


def _guess_encoding(content: bytes) -> str:
    if content.startswith((codecs.BOM_UTF16_LE, codecs.BOM_UTF16_BE)):
        return "utf-16"
    try:
        codecs.utf_8_decode(content, "strict", True)
    except UnicodeDecodeError:
        return "windows-1252"
    return "utf-8"


def _as_utf8(content: bytes, encoding: str, name: str) -> tuple[bytes, str]:
    """Return the text in UTF-8 without a byte order mark, and the encoding's plain name."""
    try:
        known = codecs.lookup(encoding).name
    except LookupError as error:
        raise TableError(
            f"There is no encoding '{encoding}'.", "Choose utf-8, utf-16 or windows-1252."
        ) from error
    if known == "utf-8":
        return content.removeprefix(codecs.BOM_UTF8), known
    try:
        return content.decode(known).encode("utf-8"), encoding
    except UnicodeDecodeError as error:
        line = content[: error.start].count(b"\n") + 1
        raise TableError(
            f"{name} is not {encoding}: line {line} cannot be read.",
            "Choose another encoding.",
            row=line,
        ) from error


def _guess_delimiter(head: str) -> str:
    """Choose the mark that splits most lines into the same number of fields, more than one."""
    lines = head.splitlines()[:200]
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


def _guess_header(head: str, delimiter: str) -> tuple[int, int]:
    """Return the line of the headers, 0 for none, and how many columns the table has.

    Titles above the headers are shorter than the table is wide, or hold one filled field only.
    """
    lines = head.splitlines()[:200]
    rows = list(csv.reader(lines, delimiter=delimiter))
    widths = Counter(len(row) for row in rows if any(cell.strip() for cell in row))
    width = max(widths.items(), key=lambda item: (item[1], item[0]))[0]
    for place, row in enumerate(rows[:20]):
        filled = [cell.strip() for cell in row if cell.strip()]
        if len(row) != width or (width > 1 and len(filled) < 2):
            continue
        return (0 if any(_is_value(cell) for cell in filled) else place + 1), width
    return 1, width


def _is_value(cell: str) -> bool:
    """Whether a cell of the first row reads as a number or a date and so is no header."""
    cell = cell.strip().rstrip("%")
    try:
        float(cell.replace(",", "."))
    except ValueError:
        return len(cell) >= 8 and cell[:4].isdigit() and cell[4] in "-/"
    return True


def _columns(
    text: bytes, name: str, delimiter: str, header: int, width: int
) -> tuple[list[str], pl.DataFrame]:
    """Split into columns of text; raise with the line where a row is wider than the table."""
    lines_before = max(header - 1, 0)
    try:
        frame = pl.read_csv(
            io.BytesIO(text),
            has_header=False,
            skip_lines=lines_before,
            separator=delimiter,
            infer_schema=False,
            new_columns=[str(i) for i in range(width)],
            raise_if_empty=False,
        )
    except (pl.exceptions.PolarsError, UnicodeDecodeError) as error:
        raise _widest_row(text, name, delimiter, lines_before, error) from error
    if frame.width > MOST_VARIABLES:
        raise TableError(
            f"{name} has {frame.width:,} columns; at most {MOST_VARIABLES:,} can be read.",
            "Check the delimiter, or leave columns out.",
        )
    if header == 0:
        return [""] * frame.width, frame
    headers = [str(cell).strip() if cell is not None else "" for cell in frame.row(0)]
    frame = frame.slice(1)
    if frame.height == 0:
        raise TableError(
            f"{name} has headers in line {header} but no rows below them.",
            "Choose a file with values, or say that there is no header row.",
            row=header,
        )
    return headers, frame


def _widest_row(
    text: bytes, name: str, delimiter: str, lines_before: int, error: Exception
) -> TableError:
    reader = csv.reader(io.StringIO(text.decode("utf-8", errors="replace")), delimiter=delimiter)
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
    reason = str(error).splitlines()[0][:120].rstrip(".")
    return TableError(
        f"{name} cannot be read as delimited text ({reason}).", "Check the delimiter."
    )


def _without_missing(columns: pl.DataFrame, missing: list[str]) -> pl.DataFrame:
    """Turn the codes for a missing value into nulls, and drop rows that hold nothing at all."""
    codes = pl.Series("codes", [*missing, ""], dtype=pl.String)
    stripped = pl.all().str.strip_chars()
    columns = columns.select(
        pl.when(stripped.is_in(codes.implode())).then(None).otherwise(stripped).name.keep()
    )
    if columns.width > 1:
        columns = columns.filter(~pl.all_horizontal(pl.all().is_null()))
    return columns


def _guess_decimal(columns: pl.DataFrame, delimiter: str) -> str:
    """A comma where it is no delimiter and some values read as numbers only with it."""
    if delimiter == ",":
        return "."
    commas = columns.head(1000).select(pl.all().str.contains(r"^[+\-−]?\d+,\d+\s*%?$").sum()).row(0)
    points = (
        columns.head(1000).select(pl.all().str.contains(r"^[+\-−]?\d+\.\d+\s*%?$").sum()).row(0)
    )
    return "," if sum(c or 0 for c in commas) > sum(p or 0 for p in points) else "."
