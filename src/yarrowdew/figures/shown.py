"""What a figure shows of a table: a point for each row, or for each row and variable that goes up."""

from __future__ import annotations

from dataclasses import dataclass, field

import numpy as np
import polars as pl

from yarrowdew.core.sample import Array
from yarrowdew.figures.document import FigureDocument
from yarrowdew.figures.parts import ErrorBar
from yarrowdew.figures.report import Axis, Groups, told_apart
from yarrowdew.figures.words import in_sentence, joined
from yarrowdew.tables.categories import CategoryLook
from yarrowdew.tables.errors import TableError
from yarrowdew.tables.table import Kind, Table, Variable, axis_values


@dataclass(frozen=True, slots=True)
class Amounts:
    """A number variable and its values, NaN where missing."""

    variable: Variable
    values: Array


@dataclass(frozen=True, slots=True)
class Shown:
    """The points of a figure before any is left out.

    Attributes
    ----------
    table : Table
        With a row for each point.
    rows : ndarray of uint32, shape (points,)
        The row that each point comes from.
    x, y : Axis
    series : Groups or None
        Which of several variables that go up each point belongs to.
    ups : list of Variable
        What goes up, each by itself.
    bars : dict of str to ndarray, shape (points,)
        Ends of error bars on the axes; NaN where there is none.
    order : ndarray, shape (points,), or None
        By which points are connected.
    problems : list of str
        What was asked for and cannot be had.
    """

    table: Table
    rows: np.ndarray
    x: Axis
    y: Axis
    series: Groups | None
    ups: list[Variable]
    bars: dict[str, Array]
    order: Array | None
    problems: list[str] = field(default_factory=list)


def amounts_of(table: Table, name: str) -> Amounts:
    """Take a variable's values as amounts; raise TableError where it holds words."""
    axis = Axis.of(table, name, "as an amount")
    return Amounts(axis.variable, axis.values)


def shown_of(document: FigureDocument, table: Table) -> Shown:
    """Take from a table what a document shows.

    Raises
    ------
    TableError
        If a variable does not exist or cannot stand where it is asked for.
    """
    x = Axis.of(table, document.x, "across")
    ups = [Axis.of(table, name, "up") for name in dict.fromkeys(document.y)]
    rows, series, problems = table.row_ids(), None, []
    y = ups[0]
    if len(ups) > 1:
        places = np.tile(np.arange(table.rows), len(ups))
        y, series = _together(ups), _series(labels_of_ups(document, table), table.rows)
        table = Table(table.name, table.variables, table.frame[places], looks=table.looks)
        rows = rows[places]
        x = Axis(x.variable, x.values[places], x.origin)
        if document.colour is not None:
            problems.append(
                "Several variables go up, and colours tell them apart: "
                f"'{document.colour.variable}' does not colour the marks."
            )
    bars = _ends(document.error_bars.x, table, x, "x") | _ends(document.error_bars.y, table, y, "y")
    order = None
    if document.connect is not None and document.connect.variable is not None:
        order = amounts_of(table, document.connect.variable).values
    return Shown(table, rows, x, y, series, [up.variable for up in ups], bars, order, problems)


def labels_of_ups(document: FigureDocument, table: Table) -> list[str]:
    """What the variables that go up are called, each told apart from the others."""
    ups = [table.variable(name) for name in dict.fromkeys(document.y)]
    return told_apart([v.label for v in ups], [v.name for v in ups])


def _together(ups: list[Axis]) -> Axis:
    """Join variables that go up into one axis."""
    variables = [up.variable for up in ups]
    kinds = {v.kind for v in variables}
    if len(kinds) > 1:
        raise TableError(
            f"'{variables[0].name}' and '{variables[1].name}' cannot stand on one axis: "
            "one holds dates, the other numbers.",
            "Choose variables of one kind.",
            column=variables[1].name,
        )
    units = {v.unit for v in variables}
    label = joined([variables[0].label, *(in_sentence(v) for v in variables[1:])])
    variable = Variable(
        variables[0].name, variables[0].kind, label, units.pop() if len(units) == 1 else ""
    )
    origin = min(up.origin for up in ups)
    return Axis(variable, np.concatenate([up.values for up in ups]), origin)


def _series(labels: list[str], rows: int) -> Groups:
    looks = [CategoryLook(value=label, turn=turn) for turn, label in enumerate(labels)]
    codes = np.repeat(np.arange(len(labels), dtype=np.uint16), rows)
    return Groups(Variable("", Kind.CATEGORY, ""), labels, looks, codes)


def _ends(bar: ErrorBar | None, table: Table, axis: Axis, side: str) -> dict[str, Array]:
    """Work out where error bars end; amounts below zero are left out."""
    if bar is None:
        return {}
    if bar.kind == "fixed":
        below = above = np.full(table.rows, bar.amount)
    elif bar.kind == "share":
        with np.errstate(over="ignore"):
            below = above = np.abs(axis.values) * bar.amount
    else:
        below = _amount(table, bar.below)
        above = _amount(table, bar.above) if bar.kind == "two" else below
    with np.errstate(over="ignore"):
        ends = {f"{side}_low": axis.values - below, f"{side}_high": axis.values + above}
    return {end: np.where(np.isfinite(values), values, np.nan) for end, values in ends.items()}


def _amount(table: Table, name: str | None) -> Array:
    variable = table.variable(name or "")
    if variable.kind is not Kind.NUMBER:
        raise TableError(
            f"'{variable.name}' holds no numbers, and error bars need amounts.",
            "Choose a number variable.",
            column=variable.name,
        )
    values = axis_values(table.frame[variable.name].cast(pl.Float64))
    return np.where(values >= 0, values, np.nan)
