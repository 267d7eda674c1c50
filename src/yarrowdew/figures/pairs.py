"""Every pair of number variables of a table, strongest first."""

from __future__ import annotations

import numpy as np
from pydantic import BaseModel, ConfigDict

from yarrowdew.core.association import holm
from yarrowdew.core.pairs import Method, pairs
from yarrowdew.figures.parts import RowNumber, VariableName
from yarrowdew.figures.report import Groups, Number
from yarrowdew.figures.words import count_of
from yarrowdew.tables.errors import TableError
from yarrowdew.tables.filters import RowFilter, kept_rows
from yarrowdew.tables.table import Kind, Table, axis_values

PICTURE_POINTS = 60


class PairsAsked(BaseModel):
    """Which pairs are wanted, and on which rows."""

    model_config = ConfigDict(extra="forbid", use_attribute_docstrings=True)

    table: str
    method: Method = "pearson"
    by: VariableName | None = None
    """The category variable within whose every value pairs are correlated; the whole where null."""
    with_variable: VariableName | None = None
    """Only pairs with this variable."""
    rows: RowFilter | None = None
    set_aside: list[RowNumber] = []


class PairAnswer(BaseModel):
    """One pair, and how it goes together."""

    model_config = ConfigDict(use_attribute_docstrings=True)

    x: str
    y: str
    x_label: str
    y_label: str
    group: str | None
    n: int
    r: Number
    """r, ρ, τ, or the distance correlation, as was asked."""
    low: Number
    high: Number
    p_value: Number
    p_adjusted: Number
    """For all pairs of the list (Holm)."""
    across: list[float]
    """A tiny picture: some rows, from 0 to 1 across and up."""
    up: list[float]


class PairsAnswer(BaseModel):
    """Every pair, strongest first."""

    pairs: list[PairAnswer]
    caution: str
    """How many were looked at, and what that means for small p values."""


def variables_needed(asked: PairsAsked, table: Table) -> list[str]:
    """Name the number variables of a table."""
    return [v.name for v in table.variables if v.kind is Kind.NUMBER and v.name != asked.by]


def pairs_of(asked: PairsAsked, table: Table) -> PairsAnswer:
    """Correlate every pair of number variables.

    Raises
    ------
    TableError
        If there are fewer than two number variables, or a variable does not exist.
    """
    if asked.rows is not None:
        table = table.where(kept_rows(table, asked.rows))
    names = variables_needed(asked, table)
    if len(names) < 2:
        raise TableError(
            f"{table.name} has fewer than two number variables.", "Pairs need two or more."
        )
    wanted = None if asked.with_variable is None else table.variable(asked.with_variable).name
    label = {v.name: v.label for v in table.variables}
    kept = ~np.isin(table.row_ids(), asked.set_aside)
    groups = None if asked.by is None else Groups.of(table, asked.by)
    parts: list[tuple[str | None, np.ndarray]] = [(None, kept)]
    if groups is not None:
        parts = [(name, kept & (groups.codes == k)) for k, name in enumerate(groups.labels)]
    values = {name: axis_values(table.frame[name]) for name in names}
    out: list[PairAnswer] = []
    for group, rows in parts:
        held = {name: v[rows] for name, v in values.items()}
        for pair in pairs(held, asked.method):
            c = pair.correlation
            if wanted is not None and wanted not in (pair.x, pair.y):
                continue
            across, up = _picture(held[pair.x], held[pair.y])
            out.append(
                PairAnswer(
                    x=pair.x,
                    y=pair.y,
                    x_label=label[pair.x],
                    y_label=label[pair.y],
                    group=group,
                    n=c.n,
                    r=c.r,
                    low=c.low,
                    high=c.high,
                    p_value=c.p_value,
                    p_adjusted=None,
                    across=across,
                    up=up,
                )
            )
    for pair_answer, adjusted in zip(out, holm([p.p_value for p in out]), strict=True):
        pair_answer.p_adjusted = adjusted
    out.sort(key=lambda p: -abs(p.r or 0.0))
    return PairsAnswer(pairs=out, caution=_caution(out))


def _caution(found: list[PairAnswer]) -> str:
    tested = [p for p in found if p.p_value is not None]
    small = sum((p.p_value or 0) < 0.05 for p in tested)
    expected = 0.05 * len(tested)
    return (
        f"{count_of(len(tested), 'pair')} {'was' if len(tested) == 1 else 'were'} looked at. By "
        f"chance alone about {expected:.1f} of them would have p below 0.05; {small} have. The "
        "adjusted p values (Holm) allow for that."
    )


def _picture(x: np.ndarray, y: np.ndarray) -> tuple[list[float], list[float]]:
    known = np.flatnonzero(np.isfinite(x) & np.isfinite(y))
    if not len(known):
        return [], []
    kept = known[np.unique(np.linspace(0, len(known) - 1, PICTURE_POINTS).astype(np.intp))]

    def share(v: np.ndarray) -> list[float]:
        low, high = float(v[known].min()), float(v[known].max())
        shares: list[float] = np.round((v[kept] - low) / ((high - low) or 1.0), 3).tolist()
        return shares

    return share(x), share(y)
