"""Which values of a file were read as something other than what it writes."""

from __future__ import annotations

import re

import polars as pl

from yarrowdew.tables.kinds import Kind

_NUMBER = re.compile(r"[+-]?(\d+\.?\d*|\.\d+)([eE][+-]?\d+)?")
_BETWEEN_DAY_AND_TIME = re.compile(r"(?<=\d)T(?=\d)")
_EMPTY_END = re.compile(r"(\.0+|:00(\.0+)?)$")


def altered(written: pl.Series, read: pl.Series, kind: Kind) -> list[str | None]:
    """What a file writes wherever a reader who knows only the result would not expect it.

    Parameters
    ----------
    written : polars.Series
        As text, of the same rows as `read`; null where the file marks a value as missing.
    read : polars.Series
        What came of it, as text.
    kind : Kind
        As which it was read.

    Returns
    -------
    list of str or None
        For each row the text of the file; None where it stands as it was. 12.50 read as 12.5 is as
        it was, and so is 2031-04-01T06:00 read as a moment; 1.204 read as 1204 is not, nor is a
        text that became a missing value.
    """
    return [
        None if text is None or _same(text.strip(), value, kind) else text
        for text, value in zip(written.to_list(), read.to_list(), strict=True)
    ]


def _same(text: str, value: str | None, kind: Kind) -> bool:
    if value is None or text == value.strip():
        return text == (value or "").strip()
    if kind is Kind.NUMBER:
        return bool(_NUMBER.fullmatch(text)) and float(text) == float(value)
    return kind is Kind.DATE and _bare(text) == _bare(value)


def _bare(moment: str) -> str:
    """An ISO date without what says nothing: a T between day and time, seconds of zero."""
    bare = _BETWEEN_DAY_AND_TIME.sub(" ", moment)
    while (shorter := _EMPTY_END.sub("", bare)) != bare:
        bare = shorter
    return bare.removesuffix(" 00")
