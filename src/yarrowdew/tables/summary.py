"""What a variable holds, in a few numbers."""

from __future__ import annotations

import math
from concurrent.futures import ThreadPoolExecutor
from typing import Any

import numpy as np
import polars as pl
from pydantic import BaseModel

from yarrowdew.core.arithmetic import scaled
from yarrowdew.tables.table import (
    Kind,
    Table,
    Variable,
    axis_values,
    categories_of,
    date_on_axis,
)

DISTRIBUTION_BINS = 12
MOST_COUNTS = 100


class VariableSummary(BaseModel):
    """A variable in a few numbers; what does not exist for its kind is null."""

    name: str
    label: str
    unit: str
    kind: Kind
    missing: int
    distinct: int
    min: float | str | None = None
    max: float | str | None = None
    mean: float | None = None
    sd: float | None = None
    lower_quartile: float | None = None
    median: float | None = None
    upper_quartile: float | None = None
    counts: dict[str, int] | None = None
    """Rows in each category, in the categories' order."""
    recipe: str | None = None
    """The expression that it is made by, where it is derived."""
    distribution: list[int] | None = None
    """Rows in each of twelve equal steps from smallest to largest."""


class TableSummary(BaseModel):
    """A table in a few numbers."""

    rows: int
    variables: list[VariableSummary]


def summarise(table: Table) -> TableSummary:
    """Summarise every variable of a table."""
    with ThreadPoolExecutor() as pool:
        described = pool.map(
            summarise_variable, table.variables, (table.frame[v.name] for v in table.variables)
        )
        return TableSummary(rows=table.rows, variables=list(described))


def summarise_variable(variable: Variable, column: pl.Series) -> VariableSummary:
    """Summarise one variable."""
    present = column.drop_nulls()
    numbers: dict[str, Any] = {}
    if variable.kind is Kind.CATEGORY:
        numbers = _category(present)
    elif variable.on_axis and len(present):
        numbers = _on_axis(axis_values(present), variable.kind)
    if "distinct" not in numbers:
        numbers["distinct"] = present.n_unique()
    return VariableSummary(
        name=variable.name,
        label=variable.label,
        unit=variable.unit,
        kind=variable.kind,
        missing=column.null_count(),
        **numbers,
    )


def _category(present: pl.Series) -> dict[str, Any]:
    held = dict(present.value_counts().iter_rows())
    order = [c for c in categories_of(present) if c in held][:MOST_COUNTS]
    return {"counts": {c: held[c] for c in order}}


def _on_axis(values: np.ndarray, kind: Kind) -> dict[str, Any]:
    """Sort once: order statistics, steps and distinct values are then a matter of looking."""
    ordered = np.sort(values)
    low, high = float(ordered[0]), float(ordered[-1])
    common = {
        "distribution": _steps(ordered),
        "distinct": 1 + int((ordered[1:] != ordered[:-1]).sum()),
    }
    if kind is Kind.DATE:
        return {"min": _date(low), "max": _date(high), **common}
    inner, exponent = scaled(ordered)
    with np.errstate(over="ignore", invalid="ignore"):
        found = [_quantile(inner, q) for q in (0.25, 0.5, 0.75)]
        found += [float(inner.mean()), float(inner.std(ddof=1)) if len(inner) > 1 else math.nan]
        lower, median, upper, mean, sd = (_finite(float(np.ldexp(v, exponent))) for v in found)
    return {
        "min": low,
        "max": high,
        "mean": mean,
        "sd": sd,
        "lower_quartile": lower,
        "median": median,
        "upper_quartile": upper,
        **common,
    }


def _steps(ordered: np.ndarray) -> list[int]:
    low, high = float(ordered[0]), float(ordered[-1])
    if low == high:
        return [len(ordered)]
    # Halved before they are taken off, so that the widest range there is does not overflow.
    span = high / 2 - low / 2
    shares = np.arange(1, DISTRIBUTION_BINS) / DISTRIBUTION_BINS
    edges = 2 * (low / 2 + shares * span)
    places = np.searchsorted(ordered, edges, side="left")
    counts: list[int] = np.diff(places, prepend=0, append=len(ordered)).tolist()
    return counts


def _quantile(ordered: np.ndarray, share: float) -> float:
    """Linear interpolation between order statistics (Hyndman and Fan 1996, definition 7)."""
    place = share * (len(ordered) - 1)
    below = int(place)
    above = min(below + 1, len(ordered) - 1)
    return float(ordered[below] + (place - below) * (ordered[above] - ordered[below]))


def _date(days: float) -> str:
    moment = date_on_axis(days)
    if days == int(days):
        return moment.date().isoformat()
    # Seconds only where there are some.
    whole = moment.second == 0 and moment.microsecond == 0
    return moment.isoformat(timespec="minutes" if whole else "auto")


def _finite(value: float) -> float | None:
    return float(value) if math.isfinite(value) else None
