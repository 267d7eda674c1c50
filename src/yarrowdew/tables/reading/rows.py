"""From rows of text to headers and columns: what delimited files and workbooks share."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence

import polars as pl

from yarrowdew.tables.errors import TableError

_MOST_TITLE_LINES = 20


def guess_header(rows: Sequence[Sequence[str]]) -> tuple[int, int]:
    """Return the line of the headers, 0 for none, and how many columns the table has.

    Titles above the headers are shorter than the table is wide, or hold one filled field only.
    """
    widths = Counter(len(row) for row in rows if any(cell.strip() for cell in row))
    if not widths:
        return 1, max((len(row) for row in rows), default=0)
    width = max(widths.items(), key=lambda item: (item[1], item[0]))[0]
    for place, row in enumerate(rows[:_MOST_TITLE_LINES]):
        filled = [cell.strip() for cell in row if cell.strip()]
        if len(row) != width or (width > 1 and len(filled) < 2):
            continue
        return (0 if any(_is_value(cell) for cell in filled) else place + 1), width
    return 1, width


def split_headers(
    frame: pl.DataFrame, name: str, header: int, header_row: int
) -> tuple[list[str], pl.DataFrame]:
    """Take the headers off columns of text.

    Parameters
    ----------
    frame : polars.DataFrame
        Columns of text.
    name : str
        The file's name, for messages.
    header : int
        Line of the headers in the file; 0 for none.
    header_row : int
        Place of that line in `frame`.
    """
    if header == 0:
        return [""] * frame.width, frame
    if header_row >= frame.height:
        raise TableError(
            f"{name} has no line {header}, where the headers are said to be.",
            "Choose the line that holds them, or 0 for none.",
        )
    headers = [str(cell).strip() if cell is not None else "" for cell in frame.row(header_row)]
    below = frame.slice(header_row + 1)
    if below.height == 0:
        raise TableError(
            f"{name} has headers in line {header} but no rows below them.",
            "Choose a file with values, or say that there is no header row.",
            row=header,
        )
    return headers, below


def without_missing(
    columns: pl.DataFrame, missing: Sequence[str], *, codes_out: bool = False
) -> pl.DataFrame:
    """Turn the codes for a missing value into nulls, and drop rows that hold nothing at all.

    Columns that are not text keep their values but for those that a code spells.

    Parameters
    ----------
    columns : polars.DataFrame
    missing : sequence of str
    codes_out : bool
        Whether codes without space around them are nulls already.
    """
    codes = pl.Series("codes", [*missing, ""], dtype=pl.String)
    called = columns.columns
    columns = columns.rename(dict(zip(called, map(str, range(len(called))), strict=True)))
    texts = [c for c in columns.columns if columns[c].dtype == pl.String]
    # All columns at once, so that they share the cores.
    bare = columns.select(pl.col(texts).str.strip_chars())
    if texts and codes_out:
        spaced = columns.select((pl.lit(bare[c]) != pl.col(c)).any().alias(c) for c in texts).row(0)
        texts = [c for c, has_space in zip(texts, spaced, strict=True) if has_space]
    columns = columns.with_columns(
        bare.select(
            pl.when(pl.col(c).is_in(codes.implode())).then(None).otherwise(pl.col(c)).alias(c)
            for c in texts
        )
    )
    numbers = [c for c in columns.columns if columns[c].dtype.is_numeric()]
    amounts = codes.cast(pl.Float64, strict=False).drop_nulls().drop_nans()
    if numbers and len(amounts):
        coded = pl.col(numbers).cast(pl.Float64).is_in(amounts.implode())
        columns = columns.with_columns(
            pl.when(coded).then(None).otherwise(pl.col(numbers)).name.keep()
        )
    if columns.width > 1 and all(column.null_count() for column in columns):
        columns = columns.filter(~pl.all_horizontal(pl.all().is_null()))
    return columns.rename(dict(zip(columns.columns, called, strict=True)))


def _is_value(cell: str) -> bool:
    """Whether a cell of the first row reads as a number or a date and so is no header."""
    cell = cell.strip().rstrip("%")
    try:
        float(cell.replace(",", "."))
    except ValueError:
        return len(cell) >= 8 and cell[:4].isdigit() and cell[4] in "-/"
    return True
