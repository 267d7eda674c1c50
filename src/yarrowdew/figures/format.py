"""The figure format as a page to read, written from the models themselves."""

from __future__ import annotations

import json
from typing import Any

from yarrowdew.figures.document import FigureDocument

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
    order = ["FigureDocument", *parts]
    models = {"FigureDocument": schema} | parts
    sections = [_section(name, models[name]) for name in order if "properties" in models[name]]
    return "\n".join([_HEAD, *sections])


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
    if "anyOf" in field:
        return " or ".join(_type(one) for one in field["anyOf"])
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
