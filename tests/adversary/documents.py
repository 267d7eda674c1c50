"""Random documents over a table: every part of a figure, in every combination."""

from __future__ import annotations

import random
from typing import Any

from tests.adversary.tables import EDGES
from yarrowdew.core.trends import FAMILIES as REGISTERED
from yarrowdew.tables.table import Kind, Table, categories_of

FAMILIES = list(REGISTERED)

Draw = random.Random


def document(draw: Draw, table: Table) -> dict[str, Any] | None:
    """A document that the models take, though not every table can answer to it."""
    on_axis = [v.name for v in table.variables if v.on_axis]
    every = [v.name for v in table.variables]
    numbers = [v.name for v in table.variables if v.kind is Kind.NUMBER]
    if not on_axis:
        return None
    rows = table.row_ids().tolist()

    def maybe(share: float) -> bool:
        return draw.random() < share

    def some_rows() -> list[int]:
        return draw.sample(rows, draw.randrange(min(len(rows), 4) + 1))

    made: dict[str, Any] = {
        "table": "t",
        "x": draw.choice(on_axis),
        "y": draw.sample(on_axis, draw.choice([1, 1, 1, min(2, len(on_axis))])),
        "set_aside": some_rows() if maybe(0.4) else [],
        "trends": [_trend(draw, table, every, numbers) for _ in range(draw.choice([0, 1, 1, 2]))],
        "margins": {
            side: draw.choice(["none", "histogram", "density", "box"]) for side in ("x", "y")
        },
        "axes": {side: {"scale": draw.choice(["linear", "log", "sqrt"])} for side in ("x", "y")},
        "references": [{"axis": "y", "at": draw.choice(["mean", "median"])}] if maybe(0.3) else [],
    }
    if maybe(0.4):
        made["colour"] = {"variable": draw.choice(every)}
    if maybe(0.3):
        made["size"] = (
            {"variable": draw.choice(numbers)} if numbers and maybe(0.7) else {"influence": True}
        )
    if maybe(0.3):
        made["names"] = {
            "variable": draw.choice(every),
            "show": draw.choice(["all", "chosen", "furthest", "outermost", "largest"]),
            "rows": some_rows(),
        }
    if maybe(0.3) and numbers:
        made["error_bars"] = {"y": {"kind": "variable", "below": draw.choice(numbers)}}
    if maybe(0.2):
        made["connect"] = {"order": "variable", "variable": draw.choice(on_axis)}
    if maybe(0.2):
        made["marks"] = {"text": draw.choice(every)}
    if maybe(0.3):
        made["rows"] = {"conditions": [_condition(draw, table)]}
    if maybe(0.25) and len(on_axis) > 1:
        made["kind"] = "scatterplot matrix"
        made["matrix"] = {
            "variables": draw.sample(every, draw.randrange(2, len(every) + 1)),
            "below": draw.choice(["points", "trend", "contours", "counts", "r", "nothing"]),
            "above": draw.choice(["points", "trend", "contours", "counts", "r", "nothing"]),
            "diagonal": draw.choice(["histogram", "density", "both", "nothing"]),
            "missing": draw.choice(["pairwise", "complete"]),
            "order": draw.choice(["own", "together"]),
        }
    if "kind" not in made and maybe(0.35):
        made |= _box(draw, on_axis, every) if maybe(0.5) else _spread(draw, on_axis, every)
    return made


def _box(draw: Draw, on_axis: list[str], every: list[str]) -> dict[str, Any]:
    """Three axes, with or without a plane."""
    plane = {
        "degree": draw.choice([1, 2]),
        "by": draw.choice([None, *every]),
        "level": draw.choice([0.5, 0.999]),
        "read_off": [{"across": draw.choice(EDGES), "depth": draw.choice(EDGES)}],
    }
    return {
        "kind": "3-D scatterplot",
        "space": {
            "variable": draw.choice(on_axis),
            "plane": plane if draw.random() < 0.7 else None,
        },
    }


def _spread(draw: Draw, on_axis: list[str], every: list[str]) -> dict[str, Any]:
    """One number by itself, or for each value of whatever there is."""
    widths = [None, None, *(edge for edge in EDGES if edge > 0)]
    return {
        "kind": "distribution",
        "distribution": {
            "variable": draw.choice(on_axis),
            "by": draw.choice([None, *every]),
            "order": draw.choice(["study", "name", "median"]),
            "bin_width": draw.choice(widths),
            "bin_start": draw.choice([None, *EDGES]),
            "bandwidth": draw.choice(widths),
            "level": draw.choice([0.5, 0.95]),
        },
    }


def _trend(draw: Draw, table: Table, every: list[str], numbers: list[str]) -> dict[str, Any]:
    trend: dict[str, Any] = {
        "family": draw.choice(FAMILIES),
        "form": {
            "degree": draw.choice([2, 3, 10]),
            "scatter": draw.choice(["multiplicative", "additive"]),
            "window": draw.choice([1, 3, 4, 1e-9, 1e12]),
            "window_unit": draw.choice(["rows", "x"]),
            "passes": draw.choice([0, 2]),
            "intercept": draw.choice([None, None, 0, *EDGES[:8]]),
        },
        "level": draw.choice([0.5, 0.95, 0.999]),
        "bands": [
            {"kind": draw.choice(["confidence", "prediction"]), "level": draw.choice([0.5, 0.999])}
        ],
        "carry": {"before": draw.choice([0, 1, 1e15]), "after": draw.choice([0, 1, 1e9])},
        "read_off": [
            draw.choice([{"at": draw.choice(EDGES)}, {"level": draw.choice(EDGES)}])
            for _ in range(draw.choice([0, 1, 3]))
        ],
        "letters": draw.choice(["x", "variables"]),
    }
    if draw.random() < 0.3:
        trend["by"] = draw.choice(every)
    if draw.random() < 0.2 and numbers:
        trend["weights"] = draw.choice(numbers)
        trend["weights_are"] = draw.choice(["weights", "counts", "standard_errors"])
    if draw.random() < 0.2:
        trend["errors"] = draw.choice(["hc3", "given"])
    return trend


def _condition(draw: Draw, table: Table) -> dict[str, Any]:
    variable = draw.choice(table.variables)
    test = draw.choice(["missing", "present", "contains", "one_of", "not_one_of", "between"])
    if variable.kind in (Kind.CATEGORY, Kind.TEXT) and test == "between":
        test = "one_of"
    values = categories_of(table.frame[variable.name])[:3] or ["1", "Argill"]
    low = "2031-02-01" if variable.kind is Kind.DATE else draw.choice(EDGES)
    return {
        "variable": variable.name,
        "test": test,
        "values": values,
        "text": "a",
        "low": low if test == "between" else None,
    }
