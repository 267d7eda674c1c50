"""Derived variables: arithmetic over variable names, parsed, then checked, then worked out."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import suppress
from dataclasses import dataclass

import polars as pl

from yarrowdew.core.errors import UserFacingError
from yarrowdew.core.expressions.parsing import parsed
from yarrowdew.core.expressions.tree import Call, ExpressionError, Name, Node, Type, parts_of
from yarrowdew.tables.expressions.checking import checked
from yarrowdew.tables.expressions.compiling import worked_out
from yarrowdew.tables.expressions.functions import FUNCTIONS
from yarrowdew.tables.kinds import MOST_CATEGORIES
from yarrowdew.tables.table import Kind, Table


@dataclass(frozen=True, slots=True)
class Derived:
    """What an expression gives.

    Attributes
    ----------
    values : polars.Series
        Typed as a table's columns are; null where a source is missing or the result does not exist.
    kind : Kind
    sources : tuple of str
        Names of the variables that it is made from.
    """

    values: pl.Series
    kind: Kind
    sources: tuple[str, ...]


def derive(table: Table, expression: str) -> Derived:
    """Evaluate an expression over a table's columns.

    Raises
    ------
    ExpressionError
        If it is not an expression, pointing at the place.
    """
    tree = parsed(expression)
    whole = checked(tree, table)
    kind, column = _as_column(worked_out(whole, table), whole.type)
    return Derived(column, kind, _sources(tree, table))


def sources_of(table: Table, expression: str) -> tuple[str, ...]:
    """Name the variables that an expression looks at; nothing is worked out.

    Raises
    ------
    ExpressionError
        If it is not an expression, or speaks of a variable that is not there.
    """
    tree = parsed(expression)
    checked(tree, table)
    return _sources(tree, table)


def sources_present(table: Table, expression: str) -> tuple[str, ...]:
    """Name the variables of a table that an expression mentions, whether or not it can be computed.

    Names that the table does not have are left out; kinds are not checked.
    """
    try:
        tree = parsed(expression)
    except UserFacingError:
        return ()
    found: dict[str, None] = {}
    for name in _names(tree):
        with suppress(UserFacingError):
            found[table.called(name).name] = None
    return tuple(found)


def check_by_row(expression: str) -> None:
    """Refuse an expression that looks beyond one row at a time.

    Raises
    ------
    ExpressionError
        If a function of it does, pointing at the place.
    """

    def check(node: Node) -> None:
        if isinstance(node, Call) and node.name in FUNCTIONS:
            fewest = FUNCTIONS[node.name].fewest_by_row
            if fewest is None or len(node.arguments) < fewest:
                raise ExpressionError(
                    f"'{node.name}' uses other rows, and a dataset is read in chunks",
                    node.position,
                )
        for part in parts_of(node):
            check(part)

    check(parsed(expression))


def _sources(tree: Node, table: Table) -> tuple[str, ...]:
    return tuple(dict.fromkeys(table.called(name).name for name in _names(tree)))


def _names(tree: Node) -> Iterator[str]:
    """Every name of a tree, from left to right."""
    if isinstance(tree, Name):
        yield tree.text
    for part in parts_of(tree):
        yield from _names(part)


def _as_column(values: pl.Series, type_: Type) -> tuple[Kind, pl.Series]:
    if type_ is Type.NUMBER:
        numbers = values.cast(pl.Float64)
        return Kind.NUMBER, numbers.set(~numbers.is_finite(), None)
    if type_ is Type.TRUTH:
        words = pl.Enum(["no", "yes"])
        return Kind.CATEGORY, values.cast(pl.Int8).replace_strict(
            {0: "no", 1: "yes"}, default=None, return_dtype=words
        )
    if type_ is Type.DATE:
        return Kind.DATE, values
    if isinstance(values.dtype, pl.Enum):
        return Kind.CATEGORY, values
    distinct = values.drop_nulls().unique().sort()
    if len(distinct) <= MOST_CATEGORIES:
        return Kind.CATEGORY, values.cast(pl.Enum(distinct.to_list()))
    return Kind.TEXT, values


__all__ = ["FUNCTIONS", "Derived", "ExpressionError", "derive", "sources_of", "sources_present"]
