"""What a document names, found from the types of its fields."""

from __future__ import annotations

from collections.abc import Iterator
from collections.abc import Set as Names
from types import UnionType
from typing import Annotated, Any, Union, get_args, get_origin

from pydantic import BaseModel
from pydantic.fields import FieldInfo

from yarrowdew.figures.document.base import DocumentPart, DrawnAs
from yarrowdew.tables.holding import Held, Holds


def named_in(
    part: BaseModel, what: Held, only: Names[str] | None = None
) -> Iterator[tuple[Any, str]]:
    """Find everything of a sort that a part names, and what it is drawn as.

    Parameters
    ----------
    part : BaseModel
    what : {"variable", "category", "row", "words"}
    only : set of str, optional
        The fields that are looked at; all that count where None.
    """
    idle = part.idle() if isinstance(part, DocumentPart) else frozenset()
    for name, field in type(part).model_fields.items():
        if name in idle or (only is not None and name not in only):
            continue
        role = next((m.role for m in field.metadata if isinstance(m, DrawnAs)), "")
        for found, own in _in_value(typed(field), getattr(part, name), what):
            yield found, own or role


def variables_in(part: BaseModel, only: Names[str] | None = None) -> list[str]:
    """Name the variables that a part needs, each once."""
    return list(dict.fromkeys(name for name, _ in named_in(part, "variable", only)))


def typed(field: FieldInfo) -> Any:
    """The type of a field, with everything that is said of it."""
    return Annotated[field.annotation, *field.metadata] if field.metadata else field.annotation


def _in_value(kind: Any, value: Any, what: Held) -> Iterator[tuple[Any, str]]:
    if value is None:
        return
    if isinstance(value, BaseModel):
        yield from named_in(value, what)
        return
    origin, args = get_origin(kind), get_args(kind)
    if origin is Annotated:
        if any(isinstance(mark, Holds) and mark.what == what for mark in args[1:]):
            yield value, ""
        role = next((mark.role for mark in args[1:] if isinstance(mark, DrawnAs)), "")
        for found, own in _in_value(args[0], value, what):
            yield found, own or role
    elif origin in (Union, UnionType):
        for arg in args:
            yield from _in_value(arg, value, what)
    elif origin is list and isinstance(value, list):
        for one in value:
            yield from _in_value(args[0], one, what)
    elif origin is dict and isinstance(value, dict):
        for key, one in value.items():
            yield from _in_value(args[0], key, what)
            yield from _in_value(args[1], one, what)
