"""What a file itself can tell of a row filter: which of its rows need not be read.

Parquet files keep the ends of every group of rows; what a reader is asked to look for alone it
passes over where these ends say that it is not there. What is asked here keeps at least every row
that the filter keeps: the filter itself is held against what was read.
"""

from __future__ import annotations

import datetime as dt
from collections.abc import Mapping, Sequence
from functools import reduce
from operator import and_, or_

import polars as pl

from yarrowdew.tables.columns import column_named
from yarrowdew.tables.engines.chunk_columns import unreadable
from yarrowdew.tables.filters import Condition, RowFilter
from yarrowdew.tables.kinds import axis_kind
from yarrowdew.tables.table import Kind, Variable

_ROOM = dt.timedelta(days=2)
"""A day is a moment at its beginning, and wherever one is."""


def worth_of_file(
    path: str,
    filters: Sequence[RowFilter],
    variables: Sequence[Variable],
    columns: Mapping[str, str],
) -> pl.Expr | None:
    """Say which rows of a file may be kept by all of some filters; None where that is any row.

    Raises
    ------
    TableError
        If the file cannot be read.
    """
    try:
        schema = pl.Schema(pl.read_parquet_schema(path))
    except (pl.exceptions.PolarsError, OSError) as error:
        raise unreadable(path, error) from error
    named = {v.name: v for v in variables}
    found = [worth_reading(one, named, columns, schema) for one in filters]
    told = [one for one in found if one is not None]
    return reduce(and_, told) if told else None


def worth_reading(
    row_filter: RowFilter,
    variables: Mapping[str, Variable],
    columns: Mapping[str, str],
    schema: pl.Schema,
) -> pl.Expr | None:
    """Say which rows may be kept, in what a file itself understands; None where that is any row.

    Parameters
    ----------
    row_filter : RowFilter
    variables : mapping of str to Variable
    columns : mapping of str to str
        By variable, what its column is called in the file.
    schema : polars.Schema
        Of the file.
    """
    found = [
        _worth(
            one,
            variables[one.variable],
            column_named(columns[one.variable]),
            schema[columns[one.variable]],
        )
        if one.variable in columns and one.variable in variables
        else None
        for one in row_filter.conditions
    ]
    told = [one for one in found if one is not None]
    if row_filter.join == "or":
        return reduce(or_, told) if told and len(told) == len(found) else None
    return reduce(and_, told) if told else None


def _worth(
    condition: Condition, variable: Variable, column: pl.Expr, held: pl.DataType
) -> pl.Expr | None:
    if condition.test == "present":
        return column.is_not_null()
    # Words are compared without the space about them, of which a file knows nothing.
    if condition.test != "between":
        return None
    if variable.kind is Kind.NUMBER and held.is_numeric() and not held.is_decimal():
        room: dt.timedelta | float = 0.0
    elif (
        variable.kind is Kind.DATE
        and held in (pl.Date, pl.Datetime)
        and not getattr(held, "time_zone", None)
    ):
        room = _ROOM
    else:
        return None
    asked = []
    for end, is_low in ((condition.low, True), (condition.high, False)):
        if end is None or end == "":
            continue
        try:
            at = axis_kind(variable.kind).end(end)
            asked.append(column >= at - room if is_low else column <= at + room)  # type: ignore[operator]
        except (ValueError, OverflowError):
            # What is wrong with it is said when the filter is held against the rows.
            return None
    return reduce(and_, asked) if asked else None
