"""Documents of earlier versions, made such as this one writes them.

Each version has one function that makes the next from it; they are applied one after the other.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import fields
from typing import Any

from yarrowdew.core.trends import FAMILIES
from yarrowdew.core.trends.protocol import present_errors
from yarrowdew.core.trends.registry import present_name
from yarrowdew.figures.document.families import USUAL
from yarrowdew.figures.document.figure import VERSION
from yarrowdew.tables.table import MOST_ROW_NUMBER


def upgraded(given: object) -> object:
    """Bring a document up to date; one that says nothing of its version may be of any."""
    if not isinstance(given, Mapping):
        return given
    made = dict(given)
    version = made.get("version", 1)
    if not isinstance(version, int) or not 1 <= version <= VERSION:
        return made
    for step in _STEPS[version - 1 :]:
        made = step(made)
    return {**made, "version": VERSION} if "version" in made else made


def with_settings(given: object) -> object:
    """Give a part that names a family that family's own settings, in the place of everybody's."""
    if not isinstance(given, Mapping) or "form" not in given or "settings" in given:
        return given
    form, rest = given["form"], {k: v for k, v in given.items() if k != "form"}
    family = FAMILIES.get(present_name(str(rest.get("family", USUAL))))
    if family is None or not isinstance(form, Mapping):
        return rest
    own = {f.name for f in fields(family.settings)}
    return {**rest, "settings": {k: v for k, v in form.items() if k in own}}


def _of_version_1(given: dict[str, Any]) -> dict[str, Any]:
    """Its trends held the settings of every family."""
    made = dict(given)
    if isinstance(made.get("trends"), list):
        made["trends"] = [with_settings(trend) for trend in made["trends"]]
    matrix = made.get("matrix")
    if isinstance(matrix, Mapping) and "trend" in matrix:
        made["matrix"] = {**matrix, "trend": with_settings(matrix["trend"])}
    return made


def with_present_names(given: object) -> object:
    """Call a family and the source of its standard errors as they are called now."""
    if not isinstance(given, Mapping):
        return given
    made = dict(given)
    if isinstance(made.get("family"), str):
        made["family"] = present_name(made["family"])
    if isinstance(made.get("errors"), str):
        made["errors"] = present_errors(made["errors"])
    return made


def _of_version_2(given: dict[str, Any]) -> dict[str, Any]:
    """Its families had names of their own: resistant, balanced, broken and wave."""
    made = dict(given)
    if isinstance(made.get("trends"), list):
        made["trends"] = [with_present_names(trend) for trend in made["trends"]]
    matrix = made.get("matrix")
    if isinstance(matrix, Mapping) and "trend" in matrix:
        made["matrix"] = {**matrix, "trend": with_present_names(matrix["trend"])}
    return made


_STEPS: tuple[Callable[[dict[str, Any]], dict[str, Any]], ...] = (_of_version_1, _of_version_2)


def with_rows_that_can_be(document: Mapping[str, Any]) -> dict[str, Any]:
    """Leave out of a stored document rows of numbers that no row can have."""
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
