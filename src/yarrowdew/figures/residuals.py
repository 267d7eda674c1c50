"""The residuals of a trend, as a figure beside the figure that it belongs to."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Literal

import numpy as np
import polars as pl
from pydantic import BaseModel, ConfigDict

from yarrowdew.core.diagnostics import diagnose, normal_scores
from yarrowdew.core.sample import Array
from yarrowdew.figures.answer import Answered, answer
from yarrowdew.figures.document import FigureDocument
from yarrowdew.figures.parts import Colour, Reference
from yarrowdew.figures.report import Fitted, Groups
from yarrowdew.figures.shown import Shown, shown_of
from yarrowdew.figures.trends import fits_of, groups_of
from yarrowdew.tables.categories import CategoryLook
from yarrowdew.tables.errors import TableError
from yarrowdew.tables.filters import kept_rows
from yarrowdew.tables.table import Kind, Table, Variable

Against = Literal["fitted", "x", "order", "quantile"]


class ResidualsAsked(BaseModel):
    """Which residuals are wanted, and against what."""

    model_config = ConfigDict(extra="forbid", use_attribute_docstrings=True)

    document: FigureDocument
    trend: int = 0
    """Which of the document's trends."""
    against: Against = "fitted"
    """Fitted values, x, the order of rows, or normal quantiles (then studentised ones)."""


def residual_table(document: FigureDocument, table: Table, place: int) -> Table:
    """Make a table of what a trend leaves: a row for each row fitted, under its own number.

    Its variables: the variables of the figure (`x`, and what goes up), `fitted`, `residual`,
    `studentised`, `leverage`, `Cook's distance`, `normal quantile` and `order`, and the variable
    whose groups were fitted.

    Raises
    ------
    TableError
        If there is no such trend, or none of its lines could be fitted.
    """
    if not 0 <= place < len(document.trends):
        raise TableError(f"The figure has no trend {place + 1}.", "Add a trend first.")
    if document.rows is not None:
        table = table.where(kept_rows(table, document.rows))
    trend = document.trends[place]
    shown = shown_of(document, table)
    groups = groups_of(trend, shown)
    aside = np.isin(shown.rows, document.set_aside)
    fits = [f for f in fits_of(trend, shown, groups, aside) if f.fit is not None]
    if not fits:
        raise TableError(
            "No line of this trend could be fitted, so there are no residuals.",
            "Look at the readings for the reason.",
        )
    return _table_of(shown, fits, groups)


def residuals(asked: ResidualsAsked, table: Table) -> tuple[FigureDocument, Answered]:
    """Answer with the figure of a trend's residuals, and the document that shows it."""
    made = residual_table(asked.document, table, asked.trend)
    x = asked.document.x
    across = {"fitted": "fitted", "x": x, "order": "order", "quantile": "normal quantile"}
    up = "studentised" if asked.against == "quantile" else "residual"
    if up == "studentised" and made.frame["studentised"].null_count() == made.rows:
        raise TableError(
            "This form has no studentised residuals, so there is no normal quantile plot.",
            "Look at the residuals against fitted values.",
        )
    by = next((v.name for v in made.variables if v.kind is Kind.CATEGORY), None)
    level = Reference(axis="y", at="value", value=0)
    document = FigureDocument(
        table=asked.document.table,
        x=across[asked.against],
        y=[up],
        colour=None if by is None else Colour(variable=by),
        references=[Reference(axis="both", at="identity") if up == "studentised" else level],
    )
    # A figure of its own makes no reading of residuals: what they say is said of the trend.
    answered = answer(document, made)
    answered.answer.cautions.clear()
    return document, answered


GROUP = "group"


def _table_of(shown: Shown, fits: Sequence[Fitted], groups: Groups | None) -> Table:
    frames = [_frame(shown, one) for one in fits]
    frame = pl.concat(frames).sort("order")
    y = shown.y.variable
    unit = y.unit if y.kind is Kind.NUMBER else "days"
    variables = [
        Variable("order", Kind.NUMBER, "Order of rows"),
        Variable(
            shown.x.variable.name,
            shown.x.variable.kind,
            shown.x.variable.label,
            shown.x.variable.unit,
        ),
        Variable("fitted", y.kind, f"Fitted {y.label.lower()}", y.unit),
        Variable("residual", Kind.NUMBER, "Residual", unit),
        Variable("studentised", Kind.NUMBER, "Studentised residual"),
        Variable("leverage", Kind.NUMBER, "Leverage"),
        Variable("cook", Kind.NUMBER, "Cook’s distance"),
        Variable("normal quantile", Kind.NUMBER, "Normal quantile"),
    ]
    looks: dict[str, tuple[CategoryLook, ...]] = {}
    if groups is not None:
        # As the figure calls and colours them.
        frame = frame.with_columns(pl.col(GROUP).cast(pl.Enum(groups.labels)))
        variables.append(Variable(GROUP, Kind.CATEGORY, groups.variable.label))
        looks[GROUP] = tuple(
            look.model_copy(update={"value": look.shown, "label": None}) for look in groups.looks
        )
    else:
        frame = frame.drop(GROUP)
    ids = frame["row"].to_numpy().astype(np.uint32)
    return Table("residuals", tuple(variables), frame.drop("row"), ids=ids, looks=shown.table.looks)


def _frame(shown: Shown, one: Fitted) -> pl.DataFrame:
    assert one.fit is not None  # noqa: S101 (the caller has left the others out)
    found = diagnose(one.fit, one.sample)
    rows = one.sample.rows
    standard = found.studentised
    if standard is None:
        scores = np.full(len(rows), np.nan)
    else:
        known = np.isfinite(standard)
        scores = np.full(len(rows), np.nan)
        scores[known] = normal_scores(standard[known])
    columns: dict[str, object] = {
        "row": shown.rows[rows],
        "order": (rows + 1).astype(np.float64),
        shown.x.variable.name: shown.table.frame[shown.x.variable.name][rows.tolist()],
        "fitted": _known(found.fitted + shown.y.origin),
        "residual": _known(found.residual),
        "studentised": _known(standard, len(rows)),
        "leverage": _known(found.leverage, len(rows)),
        "cook": _known(found.cook, len(rows)),
        "normal quantile": _known(scores),
        GROUP: pl.Series([one.report.group] * len(rows), dtype=pl.String),
    }
    return pl.DataFrame(columns)


def _known(values: Array | None, length: int = 0) -> pl.Series:
    if values is None:
        return pl.Series([None] * length, dtype=pl.Float64)
    return pl.Series(values).fill_nan(None)
