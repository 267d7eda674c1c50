"""What is crossed: kinds of figures, optional parts of documents, and where the rows come from."""

from __future__ import annotations

from typing import Any

import numpy as np
import polars as pl

ROWS = 240


def frame() -> pl.DataFrame:
    """A table with every kind of variable, missing values, and names that are easily misread."""
    rng = np.random.default_rng(30)
    x = np.round(rng.uniform(1, 9, ROWS), 2)
    group = rng.choice(["site_1", "a^2", "plain"], ROWS)
    rise = {"site_1": 2.0, "a^2": 1.0, "plain": -1.0}
    y = np.round(20 + np.array([rise[g] for g in group]) * x + rng.normal(0, 1, ROWS), 2)
    every = np.arange(ROWS)
    made = pl.DataFrame(
        {
            "x": x,
            "y": y,
            "z": np.round(rng.normal(50, 9, ROWS), 1),
            "se": np.round(rng.uniform(0.1, 0.9, ROWS), 2),
            "weight": rng.integers(1, 6, ROWS).astype(float),
            "group": group.tolist(),
            "code": [f"k{i % 12:02d}" for i in every],
            "name": [f"row {i}" for i in every],
            "day": (np.datetime64("2031-04-01") + every // 3).tolist(),
        }
    )
    return made.with_columns(
        y=pl.when(pl.int_range(ROWS) % 41 == 5).then(None).otherwise("y"),
        x=pl.when(pl.int_range(ROWS) % 53 == 7).then(None).otherwise("x"),
        group=pl.when(pl.int_range(ROWS) % 61 == 9).then(None).otherwise("group"),
    )


def line(**more: Any) -> dict[str, Any]:
    return {"family": "straight", **more}


KINDS: dict[str, dict[str, Any]] = {
    "scatterplot": {},
    "scatterplot matrix": {"matrix": {"variables": ["x", "y", "z"], "below": "trend"}},
    "3-D scatterplot": {"space": {"variable": "z", "plane": {"by": "group"}}},
    "distribution": {"distribution": {"variable": "y", "by": "group", "histogram": True}},
}

RENAMED = "Hill site"
"""What the study calls the category site_1."""

PARTS: dict[str, dict[str, Any]] = {
    "nothing": {},
    "a line": {"trends": [line()]},
    "a line for each": {
        "trends": [line(by="group", read_off=[{"at": 5.0}, {"level": 22.0, "group": "site_1"}])]
    },
    "a line for each of twelve": {"trends": [line(by="code")]},
    "a line for each of what is gone": {"trends": [line(by="nowhere")]},
    "a weighted line": {"trends": [line(weights="weight")]},
    "a polynomial": {"trends": [line(family="polynomial", bands=[{"kind": "prediction"}])]},
    "robust errors": {"trends": [line(errors="hc3")]},
    "given errors": {"trends": [line(errors="given", weights="se", weights_are="standard_errors")]},
    "colours": {"colour": {"variable": "group"}},
    "colours of a line for each": {"colour": {"variable": "group"}, "trends": [line(by="group")]},
    "colours of amounts": {"colour": {"variable": "weight", "scale": "amount"}},
    "sizes": {"size": {"variable": "weight"}},
    "names": {"names": {"variable": "name", "show": "furthest", "count": 3}},
    "error bars": {"error_bars": {"y": {"kind": "two", "below": "se", "above": "se"}}},
    "error bars across": {"error_bars": {"x": {"kind": "fixed", "amount": 0.2}}},
    "a connecting line": {"connect": {"order": "variable", "variable": "day"}},
    "a connecting line by x": {"connect": {"order": "x", "variable": "weight"}},
    "jitter": {"jitter": {"x": 0.5, "y": 0.5}},
    "margins": {"margins": {"x": "histogram", "y": "box"}},
    "a filter": {
        "rows": {"join": "and", "conditions": [{"variable": "z", "test": "between", "low": 45}]}
    },
    "a filter by category": {
        "rows": {
            "join": "and",
            "conditions": [{"variable": "group", "test": "one_of", "values": ["site_1"]}],
        }
    },
    "rows set aside": {"set_aside": [3, 4, 11]},
    "highlighted rows": {"singled_out": [{"rows": [2, 6]}]},
    "reference lines": {
        "references": [{"axis": "y", "at": "mean"}, {"axis": "x", "at": "value", "value": 4}]
    },
    "a note": {"notes": [{"text": "a_b", "x": 0.5, "y": 0.5}]},
    "words": {"title": "Dew_2 & <fog>", "caption": "n = {n}, {equation}", "subtitle": "x^2"},
    "logarithms": {"axes": {"x": {"scale": "log"}, "y": {"scale": "sqrt"}}},
    "ends": {"axes": {"x": {"low": 0, "high": 12}, "y": {"reversed": True}}},
    "text as marks": {"marks": {"text": "code"}},
    "own looks": {
        "colour": {"variable": "group"},
        "marks": {"each": {"plain": {"shape": "star"}}, "front": ["plain"]},
        "legend": {"renamed": {"plain": "level ground"}, "hidden": ["a^2"]},
    },
    "a derived variable": {"x": "twice", "trends": [line()]},
    "dates": {"x": "day", "trends": [line()]},
}


def everything() -> dict[str, Any]:
    """All parts that can stand together."""
    made: dict[str, Any] = {}
    apart = {"a line for each of what is gone", "a derived variable", "dates", "logarithms"}
    for name, part in PARTS.items():
        if name in apart or "weighted" in name or "amounts" in name:
            continue
        for field, value in part.items():
            if isinstance(value, dict) and isinstance(made.get(field), dict):
                made[field] = {**made[field], **value}
            elif field == "trends":
                made[field] = [*made.get(field, []), *value][:12]
            else:
                made[field] = value
    return made


def document(table: str, kind: str, part: dict[str, Any]) -> dict[str, Any]:
    """A document of a kind that holds a part, and what the other kinds keep in it."""
    kept: dict[str, Any] = {}
    for one in KINDS.values():
        kept |= one
    return {"table": table, "kind": kind, "x": "x", "y": ["y"], **kept, **part}
