"""The points of a figure: one for each row, or for each row and variable that goes up."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Any, TypeVar

import numpy as np
import numpy.typing as npt
import polars as pl

from yarrowdew.core.sample import Array, Mask
from yarrowdew.figures.document.categories import CategoryLook
from yarrowdew.figures.document.figure import FigureBase
from yarrowdew.figures.document.marks import Colour, ErrorBar
from yarrowdew.figures.pipeline.axis_values import Amounts, AxisValues, amounts_of
from yarrowdew.figures.pipeline.groups import Groups, distinct_labels
from yarrowdew.figures.pipeline.view import View
from yarrowdew.figures.text.words import in_sentence, joined, rest_of, stem_of
from yarrowdew.tables.categories import CategoryLabel, CategoryValue
from yarrowdew.tables.errors import TableError
from yarrowdew.tables.kinds import of_kind
from yarrowdew.tables.table import Kind, Table, Variable, axis_values

Values = TypeVar("Values", bound=npt.NDArray[Any])


@dataclass(frozen=True, slots=True)
class DrawnPoints:
    """Points that have a place, and where that is.

    Attributes
    ----------
    places : ndarray of intp, shape (drawn,)
        Which of the points they are.
    x, y : ndarray, shape (drawn,)
    every : bool
        Whether every point is drawn, so that nothing has to be taken out and copied.
    """

    places: np.ndarray
    x: Array
    y: Array
    is_complete: bool = False

    @classmethod
    def of(cls, x: Array, y: Array, drawable: np.ndarray) -> DrawnPoints:
        """Keep those that can be drawn."""
        places = np.flatnonzero(drawable)
        if len(places) == len(x):
            return cls(places, x, y, is_complete=True)
        return cls(places, x[places], y[places])

    def take(self, values: Values) -> Values:
        """Of values of all points, those of the points drawn."""
        return values if self.is_complete else values[self.places]

    def thinned(self, most: int | None) -> DrawnPoints:
        """Take so many at most, evenly from all."""
        if most is None or len(self.places) <= most:
            return self
        kept = np.linspace(0, len(self.places) - 1, most).astype(np.intp)
        return DrawnPoints(self.places[kept], self.x[kept], self.y[kept])


@dataclass(frozen=True, slots=True)
class Points:
    """The points of a figure before any is left out.

    Attributes
    ----------
    document : FigureBase
        That asks for them.
    table : Table
        With a row for each point.
    rows : ndarray of uint32, shape (points,)
        The row that each point comes from.
    x, y : AxisValues
    set_aside : ndarray of bool, shape (points,)
        Whether its row is set aside.
    series : Groups or None
        Which of several variables that go up each point belongs to.
    ups : list of Variable
        What goes up, each by itself.
    colour : Groups or Amounts or None
        What the points are coloured by.
    groups : Groups or None
        The same, where that is categories.
    drawn : Drawn
        Those that have a place.
    bars : dict of str to ndarray, shape (points,)
        Ends of error bars on the axes; NaN where there is none.
    order : ndarray, shape (points,), or None
        By which points are connected.
    problems : list of str
        What was asked for and cannot be had.
    """

    document: FigureBase
    table: Table
    rows: np.ndarray
    x: AxisValues
    y: AxisValues
    set_aside: Mask
    series: Groups | None
    ups: list[Variable]
    colour: Groups | Amounts | None
    groups: Groups | None
    drawn: DrawnPoints
    bars: dict[str, Array]
    order: Array | None
    problems: list[str] = field(default_factory=list)


def points_of(view: View) -> Points:
    """Make the points of a view.

    Raises
    ------
    TableError
        If a variable does not exist or cannot stand where it is asked for.
    """
    document, table = view.document, view.table
    x = AxisValues.of(table, document.x, "the x variable")
    ups = [AxisValues.of(table, name, "the y variable") for name in dict.fromkeys(document.y)]
    rows, aside, series, problems = table.row_ids(), view.set_aside, None, []
    y = ups[0]
    if len(ups) > 1:
        places = np.tile(np.arange(table.rows), len(ups))
        y, series = _together(ups), _series(labels_of_ups(document, table), table.rows)
        table = Table(table.name, table.variables, table.frame[places], categories=table.categories)
        rows, aside = rows[places], aside[places]
        x = AxisValues(x.variable, x.values[places], x.origin)
        if document.colour is not None:
            problems.append(
                "There are several y variables, told apart by colour: "
                f"'{document.colour.variable}' does not colour the marks."
            )
    bars = _ends(document.error_bars.x, table, x, "x") | _ends(document.error_bars.y, table, y, "y")
    order = None
    connect = document.connect
    if connect is not None and connect.order == "variable" and connect.variable is not None:
        order = amounts_of(table, connect.variable).values
    colour = series or coloured_by(document.colour, table)
    return Points(
        document=document,
        table=table,
        rows=rows,
        x=x,
        y=y,
        set_aside=aside,
        series=series,
        ups=[up.variable for up in ups],
        colour=colour,
        groups=colour if isinstance(colour, Groups) else None,
        drawn=DrawnPoints.of(x.values, y.values, x.known & y.known),
        bars=bars,
        order=order,
        problems=problems,
    )


def coloured_by(colour: Colour | None, table: Table) -> Groups | Amounts | None:
    """Tell rows apart by what colours them, or take its amounts.

    Raises
    ------
    TableError
        If words are asked for as amounts, or there are too many categories.
    """
    if colour is None:
        return None
    variable = table.variable(colour.variable)
    if variable.on_axis and colour.scale != "category":
        return amounts_of(table, variable.name)
    if colour.scale == "amount":
        raise TableError(
            f"'{variable.name}' holds {of_kind(variable.kind).plural}, which have no amount.",
            "Colour by category instead.",
            column=variable.name,
        )
    return Groups.of(table, variable.name)


def labels_of_ups(document: FigureBase, table: Table) -> list[CategoryLabel]:
    """What the variables that go up are called, each told apart from the others.

    What they have in common stands on their axis, and is not said again for each.
    """
    ups = [table.variable(name) for name in dict.fromkeys(document.y)]
    labels = distinct_labels([v.label for v in ups], [v.name for v in ups])
    if not stem_of([v.label for v in ups]):
        return labels
    return [CategoryLabel(rest) for rest in rest_of(labels)]


def _together(ups: list[AxisValues]) -> AxisValues:
    """Join variables that go up into one axis."""
    variables = [up.variable for up in ups]
    kinds = {v.kind for v in variables}
    if len(kinds) > 1:
        raise TableError(
            f"'{variables[0].name}' and '{variables[1].name}' cannot share one axis: "
            "one holds dates, the other numbers.",
            "Choose variables of one kind.",
            column=variables[1].name,
        )
    units = {v.unit for v in variables}
    stem = stem_of([v.label for v in variables])
    label = stem or joined([variables[0].label, *(in_sentence(v) for v in variables[1:])])
    variable = Variable(
        variables[0].name, variables[0].kind, label, units.pop() if len(units) == 1 else ""
    )
    origin = min(up.origin for up in ups)
    return AxisValues(variable, np.concatenate([up.values for up in ups]), origin)


def _series(labels: list[CategoryLabel], rows: int) -> Groups:
    looks = [
        CategoryLook(value=CategoryValue(label), colour_index=i) for i, label in enumerate(labels)
    ]
    codes = np.repeat(np.arange(len(labels), dtype=np.uint16), rows)
    return Groups(Variable("", Kind.CATEGORY, ""), labels, looks, codes)


def _ends(bar: ErrorBar | None, table: Table, axis: AxisValues, side: str) -> dict[str, Array]:
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
