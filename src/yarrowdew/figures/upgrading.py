"""Documents of earlier versions, made such as this one writes them."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from yarrowdew.tables.table import MOST_ROW_NUMBER


def upgraded(document: Mapping[str, Any]) -> dict[str, Any]:
    """Bring a stored document up to date; what it says of rows that cannot be is left out."""
    made = dict(document)
    if isinstance(made.get("set_aside"), list):
        made["set_aside"] = [row for row in made["set_aside"] if _can_be(row)]
    if isinstance(made.get("singled_out"), list):
        singled = [dict(s) for s in made["singled_out"] if isinstance(s, Mapping)]
        for single in singled:
            single["rows"] = [row for row in single.get("rows", []) if _can_be(row)]
        made["singled_out"] = [single for single in singled if single["rows"]]
    names = made.get("names")
    if isinstance(names, Mapping):
        moved = names.get("moved")
        made["names"] = {
            **names,
            "rows": [row for row in names.get("rows", []) if _can_be(row)],
            "moved": {k: v for k, v in moved.items() if str(k).isdecimal() and _can_be(int(k))}
            if isinstance(moved, Mapping)
            else {},
        }
    return made


def _can_be(row: object) -> bool:
    return isinstance(row, int) and 0 <= row <= MOST_ROW_NUMBER
