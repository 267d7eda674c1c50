"""What a document names, found from the types of its fields."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from collections.abc import Set as Names
from functools import cache
from types import UnionType
from typing import Annotated, Any, Literal, Union, get_args, get_origin

from pydantic import BaseModel
from pydantic.fields import FieldInfo

from yarrowdew.figures.document.base import DocumentPart, DrawnAs
from yarrowdew.tables.field_roles import Held, RefersTo

Found = Iterator[tuple[Any, str]]
Finder = Callable[[Any], Found]
"""What finds in a value of one type all that is looked for."""


def named_in(part: BaseModel, what: Held, only: Names[str] | None = None) -> Found:
    """Find everything of a sort that a part names, and what it is drawn as.

    Parameters
    ----------
    part : BaseModel
    what : {"variable", "category", "row", "words"}
    only : set of str, optional
        The fields that are looked at; all that count where None.
    """
    idle = part.idle() if isinstance(part, DocumentPart) else frozenset()
    for name, find in _finders(type(part), what):
        if name not in idle and (only is None or name in only):
            yield from find(getattr(part, name))


def variables_in(part: BaseModel, only: Names[str] | None = None) -> list[str]:
    """Name the variables that a part needs, each once."""
    return list(dict.fromkeys(name for name, _ in named_in(part, "variable", only)))


def typed(field: FieldInfo) -> Any:
    """The type of a field, with everything that is said of it."""
    return Annotated[field.annotation, *field.metadata] if field.metadata else field.annotation


@cache
def _finders(part: type[BaseModel], what: Held) -> list[tuple[str, Finder]]:
    """The fields of a part that may hold it, each with what finds it there.

    Types do not change, and to take them apart costs more than to look at what they hold.
    """
    found = ((name, _finder(typed(field), what)) for name, field in part.model_fields.items())
    return [(name, find) for name, find in found if find is not None]


def _finder(kind: Any, what: Held) -> Finder | None:
    """What looks through values of a type; None where they cannot hold it."""
    origin, args = get_origin(kind), get_args(kind)
    if origin is Annotated:
        inner = _finder(args[0], what)
        role = next((mark.role for mark in args[1:] if isinstance(mark, DrawnAs)), "")
        if any(isinstance(mark, RefersTo) and mark.what == what for mark in args[1:]):
            return _itself(inner, role)
        return _in_role(inner, role) if inner and role else inner
    if origin in (Union, UnionType):
        return _by_any([f for f in (_finder(arg, what) for arg in args) if f], what)
    if origin is list:
        return _of_each(_finder(args[0], what))
    if origin is dict:
        return _of_pairs(_finder(args[0], what), _finder(args[1], what))
    holds_none = origin is Literal or (isinstance(kind, type) and issubclass(kind, _PLAIN))
    return None if holds_none else lambda value: _in_model(value, what)


_PLAIN = (str, int, float, type(None))


def _in_model(value: Any, what: Held) -> Found:
    # Which of several models it is, the value says.
    if isinstance(value, BaseModel):
        yield from named_in(value, what)


def _itself(inner: Finder | None, role: str) -> Finder:
    def find(value: Any) -> Found:
        if value is not None:
            yield value, role
        if inner is not None:
            yield from inner(value)

    return find


def _in_role(inner: Finder, role: str) -> Finder:
    return lambda value: ((found, own or role) for found, own in inner(value))


def _by_any(finders: list[Finder], what: Held) -> Finder | None:
    if len(finders) < 2:
        return finders[0] if finders else None

    def find(value: Any) -> Found:
        # A model is looked through once, however many of the types are models.
        if isinstance(value, BaseModel):
            yield from _in_model(value, what)
            return
        for one in finders:
            yield from one(value)

    return find


def _of_each(inner: Finder | None) -> Finder | None:
    if inner is None:
        return None

    def find(values: Any) -> Found:
        for value in values if isinstance(values, list) else ():
            yield from inner(value)

    return find


def _of_pairs(of_keys: Finder | None, of_values: Finder | None) -> Finder | None:
    if of_keys is None and of_values is None:
        return None

    def find(pairs: Any) -> Found:
        for key, value in pairs.items() if isinstance(pairs, dict) else ():
            if of_keys is not None:
                yield from of_keys(key)
            if of_values is not None:
                yield from of_values(value)

    return find
