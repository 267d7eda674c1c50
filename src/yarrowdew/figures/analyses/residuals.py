"""The residuals of a trend, as a figure beside the figure that it belongs to."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import numpy as np
import polars as pl
from pydantic import ConfigDict

from yarrowdew.core.diagnostics import normal_scores
from yarrowdew.core.errors import FitError
from yarrowdew.core.sample import Array
from yarrowdew.figures.answer import Answered, answer
from yarrowdew.figures.document.axes import Reference
from yarrowdew.figures.document.categories import CategoryLook
from yarrowdew.figures.document.marks import Colour
from yarrowdew.figures.figure import FigureDocument
from yarrowdew.figures.pipeline.points import Points
from yarrowdew.figures.pipeline.residual_diagnostics import LineResiduals, ResidualDiagnostics
from yarrowdew.figures.pipeline.view import view_of
from yarrowdew.tables.documented import Documented
from yarrowdew.tables.errors import TableError
from yarrowdew.tables.kinds import axis_kind
from yarrowdew.tables.naming import distinct_names
from yarrowdew.tables.table import Kind, Table, Variable

Against = Literal["fitted", "x", "order", "quantile"]


class ResidualsRequest(Documented):
    """Which residuals to compute, and against what."""

    model_config = ConfigDict(extra="forbid")

    document: FigureDocument
    trend: int = 0
    """Which of the document's trends."""
    against: Against = "fitted"
    """Fitted values, x, the order of rows, or normal quantiles (then studentised ones)."""


@dataclass(frozen=True, slots=True)
class _Made:
    """A table of residuals, and what its variables are called.

    A variable of the figure keeps its name; where one of the results would be called the same, the
    result is numbered, so that neither takes the other's place.
    """

    table: Table
    names: dict[str, str]
    """By what a variable holds."""


def residual_table(document: FigureDocument, table: Table, place: int) -> Table:
    """Make a table of what a trend leaves: a row for each row fitted, under its own number.

    Its variables: `row` (its number, from 1) and `order`; x and the observed y as they are called
    in the figure; `fitted`, `residual`, `studentised`, `leverage`, `cook` (Cook's distance) and
    `normal quantile`; and the variable whose groups were fitted.

    Raises
    ------
    TableError
        If there is no such trend, or none of its lines could be fitted.
    """
    return _made(document, table, place).table


def residuals(asked: ResidualsRequest, table: Table) -> tuple[FigureDocument, Answered]:
    """Answer with the figure of a trend's residuals, and the document that shows it."""
    made = _made(asked.document, table, asked.trend)
    names = made.names
    across = {
        "fitted": names["fitted"],
        "x": names["x"],
        "order": names["order"],
        "quantile": names["normal quantile"],
    }
    up = names["studentised" if asked.against == "quantile" else "residual"]
    quantiles = asked.against == "quantile"
    if quantiles and made.table.frame[up].null_count() == made.table.rows:
        raise TableError(
            "This form has no studentised residuals, so there is no normal quantile plot.",
            "Plot the residuals against fitted values.",
        )
    level = Reference(axis="y", at="value", value=0)
    document = FigureDocument(
        table=asked.document.table,
        x=across[asked.against],
        y=[up],
        colour=Colour(variable=names["group"], scale="category") if "group" in names else None,
        references=[Reference(axis="both", at="identity") if quantiles else level],
    )
    # A figure of its own makes no reading of residuals: what they say is said of the trend.
    answered = answer(document, made.table)
    answered.answer.cautions.clear()
    return document, answered


def _made(document: FigureDocument, table: Table, place: int) -> _Made:
    residuals_of = document.of_kind.residuals
    if residuals_of is None:
        raise TableError(
            "Nothing is fitted on this figure, so there are no residuals.",
            "Open a pair, and add a trend.",
        )
    try:
        return _table_of(residuals_of(view_of(document, table), place))
    except FitError as error:
        raise TableError(error.message, error.remedy) from error


def _table_of(left: ResidualDiagnostics) -> _Made:
    points, groups, depth = left.points, left.groups, left.depth
    x, y = points.x.variable, points.y.variable
    unit = axis_kind(y.kind).difference_unit(y.unit)
    held = [
        ("row", Variable("row", Kind.NUMBER, "Row")),
        ("order", Variable("order", Kind.NUMBER, "Order of rows")),
        ("fitted", Variable("fitted", y.kind, f"Fitted {y.label.lower()}", y.unit)),
        ("residual", Variable("residual", Kind.NUMBER, "Residual", unit)),
        ("studentised", Variable("studentised", Kind.NUMBER, "Studentised residual")),
        ("leverage", Variable("leverage", Kind.NUMBER, "Leverage")),
        ("cook", Variable("cook", Kind.NUMBER, "Cook’s distance")),
        ("normal quantile", Variable("normal quantile", Kind.NUMBER, "Normal quantile")),
    ]
    figures = [("x", x)] if x.name == y.name else [("x", x), ("y", y)]
    if depth is not None and depth.variable.name not in (x.name, y.name):
        figures.append(("depth", depth.variable))
    if groups is not None:
        held.append(("group", Variable("group", Kind.CATEGORY, groups.variable.label)))
    every = [*figures, *held]
    names = dict(
        zip((key for key, _ in every), distinct_names([v.name for _, v in every]), strict=True)
    )
    columns = {key: pl.concat([_parts(left, one)[key] for one in left.parts]) for key, _ in every}
    looks: dict[str, tuple[CategoryLook, ...]] = {}
    if groups is not None:
        # As the figure calls and colours them.
        columns["group"] = columns["group"].cast(pl.Enum(groups.labels))
        looks[names["group"]] = tuple(
            look.model_copy(update={"value": label, "label": None})
            for look, label in zip(groups.looks, groups.labels, strict=True)
        )
    order = columns["order"].arg_sort()
    listed = ("row", "order", "x", "depth", "y", "group")
    first = [key for key in listed if key in names]
    keys = [*first, *(key for key, _ in held if key not in listed)]
    of = dict(every)
    variables = tuple(
        Variable(names[key], of[key].kind, of[key].label, of[key].unit) for key in keys
    )
    frame = pl.DataFrame([columns[key].gather(order).alias(names[key]) for key in keys])
    ids = np.concatenate([points.rows[one.rows] for one in left.parts])[order.to_numpy()]
    return _Made(
        Table("residuals", variables, frame, ids=ids.astype(np.uint32), categories=looks), names
    )


def _parts(left: ResidualDiagnostics, one: LineResiduals) -> dict[str, pl.Series]:
    points, rows, found = left.points, one.rows, one.found
    standard = found.studentised
    scores = np.full(len(rows), np.nan)
    if standard is not None:
        known = np.isfinite(standard)
        scores[known] = normal_scores(standard[known])
    return {
        "row": pl.Series(points.rows[rows].astype(np.float64) + 1),
        "order": pl.Series((rows + 1).astype(np.float64)),
        "x": points.table.frame[points.x.variable.name].gather(rows),
        "depth": pl.Series([None] * len(rows), dtype=pl.Float64)
        if left.depth is None
        else points.table.frame[left.depth.variable.name].gather(rows),
        "y": _observed(points, rows),
        "fitted": axis_kind(points.y.variable.kind).back(found.fitted + points.y.origin),
        "residual": _known(found.residual),
        "studentised": _known(standard, len(rows)),
        "leverage": _known(found.leverage, len(rows)),
        "cook": _known(found.cook, len(rows)),
        "normal quantile": _known(scores),
        "group": pl.Series([one.group] * len(rows), dtype=pl.String),
    }


def _observed(points: Points, rows: np.ndarray) -> pl.Series:
    """What was measured, as the table has it, or of several variables up as it stands on the
    axis.
    """
    if points.series is None:
        return points.table.frame[points.y.variable.name].gather(rows)
    return axis_kind(points.y.variable.kind).back(points.y.values[rows])


def _known(values: Array | None, length: int = 0) -> pl.Series:
    """Values of which those that do not exist are missing."""
    if values is None:
        return pl.Series([None] * length, dtype=pl.Float64)
    column = pl.Series(values, dtype=pl.Float64)
    return column.set(~column.is_finite(), None)
