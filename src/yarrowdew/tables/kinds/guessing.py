"""The guess of what a column holds."""

from __future__ import annotations

import numpy as np
import polars as pl

from yarrowdew.tables.kinds.base import Kind, Marks, Typed, as_text
from yarrowdew.tables.kinds.category import MOST_CATEGORIES, MOST_LETTERS, ordered_words
from yarrowdew.tables.kinds.registry import as_kind, native_kind

MOST_CATEGORIES_FROM_NUMBERS = 12
LEAST_SHARE_READ = 0.9
SAMPLE = 2_000

LONG_CODE = r"^[+-]?\d{17,}$"
"""A whole number with more digits than an amount can keep."""
_LEADING_ZERO = r"^[+-]?0\d"


def guess_kind(column: pl.Series, marks: Marks) -> Typed:
    """Read a column as the kind that it seems to hold.

    Values that know their type keep it. Text is numbers or dates where nine values in ten read as
    such, unless the first digit of a number is a padding zero, which marks a code, or there are
    whole numbers with more digits than an amount can keep, which are identifiers; categories where
    few distinct values repeat; else text.
    """
    native = native_kind(column)
    if native is not None and native is not Kind.TEXT and not _loses_digits(column):
        return as_kind(column, native, marks)
    text = as_text(column)
    present = len(text) - text.null_count()
    if present == 0:
        return as_kind(text, Kind.TEXT, marks)
    allowed = int(present * (1 - LEAST_SHARE_READ))
    padded = bool(text.head(10_000).str.contains(_LEADING_ZERO).any())
    sample = text.head(SAMPLE)
    plain = not padded or "." in "".join(text.drop_nulls().head(50))
    # Most columns of words are told by their first rows, without trying every one.
    for kind in (Kind.NUMBER, Kind.DATE):
        first = as_kind(sample, kind, marks)
        # A padding zero is part of a time of day, and not the mark of a code.
        is_tried = plain or kind is Kind.DATE or first.unit
        if not is_tried or not _mostly_read(first):
            continue
        if kind is Kind.NUMBER and text.str.contains(LONG_CODE).any():
            continue
        read = as_kind(text, kind, marks)
        if read.unread <= allowed:
            return read
    return _words(text, sample, present, marks)


def _words(text: pl.Series, sample: pl.Series, present: int, marks: Marks) -> Typed:
    """Read words as categories where few distinct ones repeat, else as text."""
    most = min(MOST_CATEGORIES, max(2, present // 2))
    longest = text.str.len_chars().max()
    is_long = isinstance(longest, int) and longest > MOST_LETTERS
    if is_long or sample.n_unique() > most + 1:
        return as_kind(text, Kind.TEXT, marks)
    # A column of few words mostly shows them all in its first rows.
    words = text.cast(pl.Enum(ordered_words(sample, marks)), strict=False)
    if words.null_count() == text.null_count():
        return Typed(words, Kind.CATEGORY, 0)
    few = text.drop_nulls().n_unique() <= most
    return as_kind(text, Kind.CATEGORY if few else Kind.TEXT, marks)


def _loses_digits(column: pl.Series) -> bool:
    """Whether whole numbers are so large that different ones would become the same amount."""
    return column.dtype.is_integer() and bool((column.cast(pl.Float64).abs() > 2**53).any())


def _mostly_read(typed: Typed) -> bool:
    """Whether at least half of what is there could be read."""
    read = len(typed.values) - typed.values.null_count()
    return typed.unread <= read


def could_be_category(values: pl.Series) -> bool:
    """Whether a column of numbers holds few whole values, and so may be codes of groups."""
    present = values.to_numpy()
    present = present[~np.isnan(present)]
    most = min(MOST_CATEGORIES_FROM_NUMBERS, max(2, len(values) // 4))
    # Most columns of amounts are told by their first values.
    if len(np.unique(present[:SAMPLE])) > most:
        return False
    distinct = np.unique(present)
    return 0 < len(distinct) <= most and bool((distinct == np.round(distinct)).all())
