"""The API's reference as one plain page, made from its OpenAPI schema; it needs no network."""

from __future__ import annotations

from html import escape
from typing import Any

_STYLE = """
body{font:16px/1.5 system-ui,sans-serif;max-width:60rem;margin:2rem auto;padding:0 1rem;
color:#1d2b2a;background:#fff}
h1,h2{color:#006a64}code{background:#eef1ec;padding:.1em .3em;border-radius:4px}
li{margin:.75rem 0;list-style:none}ul{padding:0}small{color:#52615f}
"""


def reference_page(schema: dict[str, Any]) -> str:
    """Write every operation with its parameters and what it takes and gives."""
    by_tag: dict[str, list[str]] = {}
    for path, operations in schema["paths"].items():
        for method, operation in operations.items():
            tag = (operation.get("tags") or ["other"])[0]
            by_tag.setdefault(tag, []).append(_operation(method, path, operation))
    sections = "".join(
        f"<h2>{escape(tag)}</h2><ul>{''.join(items)}</ul>" for tag, items in by_tag.items()
    )
    return (
        "<!doctype html><html lang=en><meta charset=utf-8>"
        f"<title>Yarrowdew: the API</title><style>{_STYLE}</style><h1>Yarrowdew: the API</h1>"
        "<p>Errors are problem details (RFC 9457). The whole description, with every model, is "
        f"<a href='/api/openapi.json'>the OpenAPI document</a>.</p>{sections}</html>"
    )


def _operation(method: str, path: str, operation: dict[str, Any]) -> str:
    taken = operation.get("requestBody", {}).get("content", {})
    answers: list[dict[str, Any]] = list(operation.get("responses", {}).values())
    given = answers[0].get("content", {}) if answers else {}
    query = [p["name"] for p in operation.get("parameters", []) if p["in"] == "query"]
    parts = [f"takes {_models(taken)}" if taken else "", f"gives {_models(given)}" if given else ""]
    parts.append(f"query: {', '.join(query)}" if query else "")
    note = "; ".join(filter(None, parts))
    return (
        f"<li><code>{method.upper()} {escape(path)}</code><br>"
        f"{escape(operation.get('description', ''))}<br><small>{escape(note)}</small></li>"
    )


def _models(content: dict[str, Any]) -> str:
    names = []
    for media_type, body in content.items():
        schema = body.get("schema", {})
        reference = schema.get("$ref") or schema.get("items", {}).get("$ref")
        many = "list of " if "items" in schema else ""
        names.append(many + reference.rsplit("/", 1)[-1] if reference else media_type)
    return ", ".join(names)
