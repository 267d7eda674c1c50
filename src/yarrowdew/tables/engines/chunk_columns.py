"""Columns of a part of a dataset as sums and counts take them: numbers, and words told apart."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path
from typing import Any

import numpy as np
import numpy.typing as npt
import polars as pl

from yarrowdew.core.aggregates.aggregation import Labels
from yarrowdew.core.lru_cache import SizedLRUCache
from yarrowdew.core.sample import Array
from yarrowdew.tables.errors import TableError
from yarrowdew.tables.expressions import derive
from yarrowdew.tables.filters import RowFilter, kept_rows
from yarrowdew.tables.kinds import as_text, axis_kind
from yarrowdew.tables.reading.columnar import plain_column
from yarrowdew.tables.reading.options import MISSING_CODES
from yarrowdew.tables.table import Kind, Table, Variable

_codes: SizedLRUCache[tuple[npt.NDArray[Any], Sequence[str]]] = SizedLRUCache(
    128 * 1024 * 1024, stays=60
)
"""Words as small numbers, of the parts of a dataset that were read."""


def kept_labels(key: str) -> Labels | None:
    """What is kept of the words of a part: to read and sort them takes longer than all else."""
    found = _codes.get(key)
    return None if found is None else Labels(found[0].astype(np.intp), found[1])


def keep_labels(key: str, labels: Labels) -> None:
    """Keep the words of a part, where they are not too many."""
    if len(labels.names) < np.iinfo(np.int16).max:
        few = len(labels.names) < np.iinfo(np.int8).max
        codes = labels.codes.astype(np.int8 if few else np.int16)
        _codes.put(key, (codes, labels.names), codes.nbytes + 100 * len(labels.names))


def held_as(variable: Variable, column: pl.Series) -> pl.Series:
    """A column as a table of that variable holds it; words stay words, whatever their number."""
    if not variable.on_axis:
        words = plain_column(column)
        if words.dtype == pl.String:
            # As in a table that is read.
            words = words.str.strip_chars()
            missing = words.is_in(pl.Series(MISSING_CODES).implode())
            words = words.set(missing.fill_null(value=False), None)
        return as_text(words).alias(variable.name)
    kind = axis_kind(variable.kind)
    if not kind.holds(column):
        return pl.Series(variable.name, [None] * len(column), dtype=pl.Float64)
    return kind.native(column).values.alias(variable.name)


def rows_where(table: Table, where: str | RowFilter) -> pl.Series:
    """Find the rows for which an expression or conditions are true."""
    if isinstance(where, RowFilter):
        return kept_rows(table, where)
    return (derive(table, where).values.cast(pl.String) == "yes").fill_null(value=False)


def numbers_of(variable: Variable, column: pl.Series, origin: float) -> Array:
    """Values as they stand on an axis; NaN or infinite where there is none."""
    kind = axis_kind(variable.kind)
    # Numbers are taken as they are: to go through a table would take as long as to read them.
    plain = column.dtype.is_numeric() and variable.kind is Kind.NUMBER
    values = kind.places(column if plain else held_as(variable, column))
    return values - origin if origin else values


def labels_of(column: pl.Series) -> Labels:
    """Tell words apart, as in a table that is read.

    Space about them is none of them, and what spells that a value is missing is none.
    """
    words = plain_column(column)
    text = as_text(words)
    names = text.drop_nulls().unique().sort().to_list()
    codes = text.cast(pl.Enum(names)).to_physical().cast(pl.Int64).fill_null(-1).to_numpy()
    bare = [name.strip() for name in names]
    if words.dtype == pl.String and (bare != names or not set(bare).isdisjoint(MISSING_CODES)):
        kept = sorted({*bare} - {*MISSING_CODES})
        place = {name: at for at, name in enumerate(kept)}
        # The last place is that of rows without a word.
        codes = np.array([*(place.get(name, -1) for name in bare), -1])[codes]
        names = kept
    return Labels(codes, names)


def unreadable(path: str, error: Exception) -> TableError:
    """Say that a file cannot be read."""
    reason = (str(error).splitlines() or [""])[0][:120].rstrip(".")
    return TableError(
        f"{Path(path).name} cannot be read as a Parquet file ({reason}).",
        "Save it again, or leave it out.",
    )
