"""From a checked tree to columns: the only place where anything is worked out."""

from __future__ import annotations

from collections.abc import Callable

import polars as pl

from yarrowdew.core.expressions.tree import (
    Arithmetic,
    Call,
    Comparison,
    Constant,
    ExpressionError,
    Joined,
    Name,
    Negated,
    Sign,
    Type,
)
from yarrowdew.tables.columns import column_named
from yarrowdew.tables.expressions.functions import FUNCTIONS
from yarrowdew.tables.expressions.typed import Checked
from yarrowdew.tables.kinds import of_kind
from yarrowdew.tables.table import Table, Variable

_ARITHMETIC: dict[str, Callable[[pl.Expr, pl.Expr], pl.Expr]] = {
    "+": lambda a, b: a + b,
    "-": lambda a, b: a - b,
    "*": lambda a, b: a * b,
    "/": lambda a, b: a / b,
    "//": lambda a, b: (a / b).floor(),
    "%": lambda a, b: a - b * (a / b).floor(),
    "**": lambda a, b: a.pow(b),
}
_COMPARISONS: dict[str, Callable[[pl.Expr, pl.Expr], pl.Expr]] = {
    "<": lambda a, b: a < b,
    "<=": lambda a, b: a <= b,
    ">": lambda a, b: a > b,
    ">=": lambda a, b: a >= b,
    "==": lambda a, b: a == b,
    "!=": lambda a, b: a != b,
}


def worked_out(whole: Checked, table: Table) -> pl.Series:
    """Work a checked expression out over a table: a value for each row."""
    return _values(_compiled(whole, table), table)


def _values(expression: pl.Expr, table: Table) -> pl.Series:
    """Evaluate over the columns; what the arithmetic of columns refuses is said."""
    try:
        values = table.frame.select(expression.alias("derived")).to_series()
    except pl.exceptions.PolarsError as error:
        reason = (str(error).splitlines() or [""])[0][:120].rstrip(".")
        raise ExpressionError(f"This cannot be worked out: {reason}", 0) from error
    # What is the same for every row comes once.
    return values.new_from_index(0, table.rows) if len(values) == 1 != table.rows else values


def _compiled(part: Checked, table: Table) -> pl.Expr:  # noqa: PLR0911 (one for each kind of node)
    columns = [_compiled(one, table) for one in part.parts]
    match part.node:
        case Constant():
            return pl.lit(part.constant)
        case Name():
            assert part.variable is not None  # noqa: S101 (a name that was checked has one)
            return _column(part.variable)
        case Sign(mark=mark):
            return -columns[0] if mark == "-" else columns[0]
        case Arithmetic(mark=mark):
            joined = _ARITHMETIC[mark](*columns)
            days = part.parts[0].type is Type.DATE
            return joined.dt.total_seconds() / 86_400 if days else joined
        case Comparison(mark=mark):
            if part.parts[0].type is Type.TEXT:
                # Classes have an order of their own, which a word to compare with does not know.
                columns = [column.cast(pl.String) for column in columns]
            return _COMPARISONS[mark](*columns)
        case Joined(word=word):
            return columns[0] | columns[1] if word == "or" else columns[0] & columns[1]
        case Negated():
            return ~columns[0]
        case Call(name=name):
            return FUNCTIONS[name].compile(part, columns, lambda one: _values(one, table))


def _column(variable: Variable) -> pl.Expr:
    return of_kind(variable.kind).in_expression(column_named(variable.name))
