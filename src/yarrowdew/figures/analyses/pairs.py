"""Every pair of number variables of a table, strongest first."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping, Sequence

import numpy as np
from pydantic import ConfigDict, Field

from yarrowdew.core.arithmetic import scaled
from yarrowdew.core.association import holm
from yarrowdew.core.pairs import AllPairs, Method, Pair, all_pairs
from yarrowdew.figures.cautions.rows import tailed_variables
from yarrowdew.figures.pipeline.fitting import MOST_LINES
from yarrowdew.figures.pipeline.groups import Groups
from yarrowdew.figures.text.words import TELLING, count_of, joined
from yarrowdew.figures.wire.base import Number, OnWire
from yarrowdew.tables.documented import Documented
from yarrowdew.tables.errors import TableError
from yarrowdew.tables.field_roles import RowNumber, VariableName
from yarrowdew.tables.filters import RowFilter, kept_rows
from yarrowdew.tables.reading.progress import part_of
from yarrowdew.tables.table import Kind, Table, axis_values

PICTURE_POINTS = 60
MOST_NAMED = 3
"""Of variables with heavy tails; the others are counted."""
MOST_PICTURES = 1_000
"""Weaker pairs are listed without a picture."""


class PairsRequest(Documented):
    """Which pairs to compute, and over which rows."""

    model_config = ConfigDict(extra="forbid")

    table: str
    method: Method = "pearson"
    by: VariableName | None = None
    """The category variable within whose every value pairs are correlated; the whole where null."""
    with_variable: VariableName | None = None
    """Only pairs with this variable."""
    rows: RowFilter | None = None
    set_aside: list[RowNumber] = []
    most: int = Field(default=5_000, ge=1, le=100_000)
    """How many pairs are listed, the strongest of all that are looked at."""


class PairAnswer(OnWire):
    """One pair, and how it goes together."""

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

    @classmethod
    def of(
        cls,
        pair: Pair,
        labels: Mapping[str, str],
        picture: tuple[list[float], list[float]],
        group: str | None = None,
    ) -> PairAnswer:
        """Say how a pair goes together."""
        c = pair.correlation
        return cls(
            x=pair.x,
            y=pair.y,
            x_label=labels[pair.x],
            y_label=labels[pair.y],
            group=group,
            n=c.n,
            r=c.r,
            low=c.low,
            high=c.high,
            p_value=c.p_value,
            p_adjusted=pair.p_adjusted,
            across=picture[0],
            up=picture[1],
        )


class PairsAnswer(OnWire):
    """Every pair, strongest first."""

    pairs: list[PairAnswer]
    total: int
    """How many were looked at."""
    caution: str
    """How many were looked at, and what that means for small p values."""


def variables_needed(asked: PairsRequest, table: Table) -> list[str]:
    """Name the number variables of a table."""
    return [v.name for v in table.variables if v.kind is Kind.NUMBER and v.name != asked.by]


def numbers_of(asked: PairsRequest, table: Table) -> tuple[list[str], str | None]:
    """Name the variables that are paired, and the one with which alone they are.

    Raises
    ------
    TableError
        If there are fewer than two, or that one is none of them.
    """
    names = variables_needed(asked, table)
    if len(names) < 2:
        raise TableError(
            f"{table.name} has fewer than two number variables.", "Pairs need two or more."
        )
    if asked.with_variable is None:
        return names, None
    wanted = table.variable(asked.with_variable).name
    if wanted not in names:
        raise TableError(
            f"'{wanted}' holds no numbers.", "Choose a number variable.", column=wanted
        )
    return names, wanted


def pairs_of(
    asked: PairsRequest, table: Table, progress: Callable[[float], None] = lambda _: None
) -> PairsAnswer:
    """Correlate every pair of number variables.

    Raises
    ------
    TableError
        If there are fewer than two number variables, or a variable does not exist.
    """
    if asked.rows is not None:
        table = table.where(kept_rows(table, asked.rows))
    names, wanted = numbers_of(asked, table)
    only = None if wanted is None else names.index(wanted)
    label = {v.name: v.label for v in table.variables}
    kept = ~np.isin(table.row_ids(), asked.set_aside)
    parts: list[tuple[str | None, np.ndarray]] = [(None, kept)]
    if asked.by is not None:
        groups = Groups.of(table, asked.by)
        present = groups.present()
        if not len(present):
            raise TableError(
                f"'{asked.by}' has no value in any of these rows.",
                "Choose another variable, or use all rows together.",
                column=asked.by,
            )
        if len(present) > MOST_LINES:
            raise TableError(
                f"'{asked.by}' has {len(present):,} categories; pairs are computed within at most "
                f"{MOST_LINES}.",
                "Choose a variable with fewer categories.",
                column=asked.by,
            )
        parts = [(groups.labels[k], kept & (groups.codes == k)) for k in present]
    values = [axis_values(table.frame[name]) for name in names]
    found: list[tuple[str | None, np.ndarray, AllPairs]] = []
    for place, (group, rows) in enumerate(parts):
        share = part_of(progress, place / len(parts), (place + 1) / len(parts))
        held = [v[rows] for v in values]
        found.append((group, rows, all_pairs(held, asked.method, only=only, progress=share)))
    # All of them count for the adjustment, though the strongest alone are listed.
    p_values = np.concatenate([one.p_value for _, _, one in found])
    adjusted = holm([None if math.isnan(p) else p for p in p_values.tolist()])
    strength = np.concatenate([np.nan_to_num(np.abs(one.r)) for _, _, one in found])
    strongest = np.argsort(-strength, kind="stable")[: asked.most].tolist()
    starts = np.cumsum([0, *(len(one.r) for _, _, one in found)])
    out: list[PairAnswer] = []
    for listed, place in enumerate(strongest):
        part = int(np.searchsorted(starts, place, side="right")) - 1
        group, rows, one = found[part]
        pair = place - int(starts[part])
        c = one.correlation(pair)
        i, j = int(one.first[pair]), int(one.second[pair])
        across, up = (
            ([], []) if listed >= MOST_PICTURES else picture_of(values[i][rows], values[j][rows])
        )
        told = Pair(names[i], names[j], c, adjusted[place])
        out.append(PairAnswer.of(told, label, (across, up), group))
    caution = caution_of(p_values, len(out))
    if asked.method == "pearson":
        caution += _tails_of(out, {name: v[kept] for name, v in zip(names, values, strict=True)})
    return PairsAnswer(pairs=out, total=len(strength), caution=caution)


def _tails_of(pairs: Sequence[PairAnswer], values: Mapping[str, np.ndarray]) -> str:
    """Name variables whose tails make intervals of r too short, among pairs that go together."""
    label = {name: text for p in pairs for name, text in ((p.x, p.x_label), (p.y, p.y_label))}
    clear = [
        (p.x, p.y)
        for p in pairs
        if p.p_value is not None and p.p_value < TELLING and p.low is not None
    ]
    tailed = [label[name] for name in tailed_variables(clear, values)]
    if not tailed:
        return ""
    more = len(tailed) - MOST_NAMED
    names = joined([*tailed[:MOST_NAMED], *([f"{more} more"] if more > 0 else [])])
    return (
        f" Intervals of r with {names} may be too short: heavy tails. In simulations of such tails "
        "95 % intervals covered 72 to 92 %; ρ (ranks) does not rest on normal variables."
    )


def caution_of(p_values: np.ndarray, listed: int) -> str:
    """Say how many pairs were looked at, and what that means for small p values."""
    tested = p_values[~np.isnan(p_values)]
    small = int(np.count_nonzero(tested < 0.05))
    expected = 0.05 * len(tested)
    weaker = len(p_values) - listed
    return (
        f"{count_of(len(tested), 'pair')} {'was' if len(tested) == 1 else 'were'} looked at. By "
        f"chance alone about {expected:.1f} of them would have p below 0.05; {small} have. The "
        "adjusted p values (Holm) allow for that."
        + (f" The {weaker:,} weakest are not listed." if weaker else "")
    )


def picture_of(x: np.ndarray, y: np.ndarray) -> tuple[list[float], list[float]]:
    """Draw a pair in a few rows: their places across and up, from 0 to 1."""
    known = np.flatnonzero(np.isfinite(x) & np.isfinite(y))
    if not len(known):
        return [], []
    kept = known[np.unique(np.linspace(0, len(known) - 1, PICTURE_POINTS).astype(np.intp))]

    def share(v: np.ndarray) -> list[float]:
        v = scaled(np.where(np.isfinite(v), v, 0.0))[0]
        low, high = float(v[known].min()), float(v[known].max())
        shares: list[float] = np.round((v[kept] - low) / ((high - low) or 1.0), 3).tolist()
        return shares

    return share(x), share(y)
