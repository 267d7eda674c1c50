"""The figure format as a page to read, written from the models themselves."""

from __future__ import annotations

import json
from collections.abc import Iterator
from typing import Any

from yarrowdew.core.trends import FAMILIES
from yarrowdew.figures.document.families import USUAL, settings_model
from yarrowdew.figures.figure import FigureDocument

_HEAD = """# The figure format

A figure is a JSON document: it says what is wanted and holds neither data nor results. Whoever
writes the same document gets the same figure. It is sent to `POST /api/studies/{study}/figures` to
be kept, or to `POST /api/answers` to be answered once.

What is left out takes its default; an unknown key is refused. Lengths on the page are points
(1/72 inch), colours are `#rrggbb`, rows are named by their own numbers, counted from 0.

This page is written from the models by `yarrowdew figure-format`.

```json
{"table": "…", "x": "humidity", "y": ["yield"], "colour": {"variable": "valley"},
 "trends": [{"by": "valley", "bands": [{"level": 0.95}]}]}
```
"""


def figure_format() -> str:
    """Write the page, in Markdown."""
    schema = FigureDocument.model_json_schema(mode="serialization")
    parts = schema.pop("$defs")
    trends = dict(_trends(parts))
    usual = next(name for name, family in trends.items() if family == USUAL)
    models = {"FigureDocument": schema}
    for name, model in parts.items():
        if name == usual:
            models["Trend"] = _any_trend(model)
        elif name not in trends:
            models[name] = model
    sections = [_section(name, model) for name, model in models.items() if model.get("properties")]
    return "\n".join([_HEAD, *sections, _families()])


def _trends(parts: dict[str, Any]) -> Iterator[tuple[str, str]]:
    """Find the models of trends, one for each family."""
    for name, model in parts.items():
        properties = model.get("properties", {})
        if {"family", "settings", "bands"} <= set(properties):
            yield name, properties["family"]["const"]


def _any_trend(model: dict[str, Any]) -> dict[str, Any]:
    """A trend of whatever family."""
    held = {
        "family": {"enum": list(FAMILIES), "default": USUAL},
        "settings": {
            "type": "object",
            "description": "What is set about its family; see [families](#families).",
        },
    }
    return {**model, "properties": {**model["properties"], **held}}


def _families() -> str:
    rows = [
        f"| `{name}` | {family.label} | {f'[{model}](#{model.lower()})' if own else 'none'} |"
        for name, family in FAMILIES.items()
        for model, own in ((settings_model(family).__name__, family.declared()),)
    ]
    return "\n".join(
        ["## Families", "", "| `family` | | settings |", "| --- | --- | --- |", *rows, ""]
    )


def _section(name: str, model: dict[str, Any]) -> str:
    rows = [
        f"| `{key}` | {_type(field)} | {_default(field)} | {_text(field)} |"
        for key, field in model["properties"].items()
    ]
    return "\n".join(
        [
            f"## {name}",
            "",
            " ".join(model.get("description", "").split()),
            "",
            "| key | holds | default | |",
            "| --- | --- | --- | --- |",
            *rows,
            "",
        ]
    )


def _type(field: dict[str, Any]) -> str:
    if "$ref" in field:
        name = field["$ref"].rsplit("/", 1)[1]
        return f"[{name}](#{name.lower()})"
    if "oneOf" in field or "anyOf" in field:
        several = " or ".join(_type(one) for one in field.get("anyOf", []))
        return several or "[Trend](#trend)"
    values = field.get("enum", [field["const"]] if "const" in field else [])
    if values:
        return ", ".join(f"`{json.dumps(value)}`" for value in values)
    kind = field.get("type", "any")
    if kind == "array":
        return f"list of {_type(field['items']) if 'items' in field else 'two numbers'}"
    if kind == "object" and isinstance(field.get("additionalProperties"), dict):
        return f"object of {_type(field['additionalProperties'])}"
    return f"{kind}{_limits(field)}"


def _limits(field: dict[str, Any]) -> str:
    low = field.get("minimum", field.get("exclusiveMinimum"))
    high = field.get("maximum", field.get("exclusiveMaximum"))
    if low is not None and high is not None:
        return f" from {low} to {high}"
    if low is not None:
        return f" of at least {low}" if "minimum" in field else f" above {low}"
    return ""


def _default(field: dict[str, Any]) -> str:
    if "default" not in field:
        return ""
    text = json.dumps(field["default"], ensure_ascii=False)
    return f"`{text}`" if len(text) < 40 else "its own"


def _text(field: dict[str, Any]) -> str:
    return " ".join(field.get("description", "").split()).replace("|", "\\|")
