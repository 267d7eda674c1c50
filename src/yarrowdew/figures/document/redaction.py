"""What of a document may go out: built field by field from what was agreed to.

A field goes out only where its type says that it may, and what it names only where that was agreed
to. What is added tomorrow stays private until someone says otherwise.
"""

from __future__ import annotations

from collections.abc import Mapping
from collections.abc import Set as Names
from dataclasses import dataclass, field
from types import NoneType, UnionType
from typing import Annotated, Any, TypeVar, Union, get_args, get_origin

from annotated_types import MinLen
from pydantic import BaseModel

from yarrowdew.figures.document.base import DocumentPart, GoesOut
from yarrowdew.figures.document.walking import typed
from yarrowdew.tables.field_roles import RefersTo

Document = TypeVar("Document", bound=BaseModel)


@dataclass(frozen=True, slots=True)
class Agreed:
    """What was agreed to.

    Attributes
    ----------
    variables : set of str
    rows : set of int, or None
        Numbers; every one where None.
    categories : set of str, or None
        As figures call them; every one where None.
    """

    variables: Names[str]
    rows: Names[int] | None = None
    categories: Names[str] | None = None
    called: Mapping[str, str] = field(default_factory=dict)
    """What goes out in the place of a category's value."""

    def to(self, what: str, value: Any) -> bool:
        """Whether something may be named."""
        if what == "variable":
            return value in self.variables
        if what == "words":
            return True
        if what == "category":
            return self.categories is None or value in self.categories
        return self.rows is None or int(value) in self.rows


class PrivateFieldError(Exception):
    """Something that a part cannot do without stays."""


def built(
    document: Document, agreed: Agreed, shown: Names[str] | None = None, **given: Any
) -> Document:
    """Build the document that goes out.

    Parameters
    ----------
    document : BaseModel
    agreed : Agreed
    shown : set of str, optional
        The fields that count for it; all where None.
    **given
        Fields that it needs in other words than its own.

    Raises
    ------
    PrivateFieldError
        If something that it cannot do without was not agreed to.
    """
    fields = _fields(document, agreed, can_go=False, only=shown)
    return type(document).model_validate({**fields, **given})


def _fields(
    part: BaseModel, agreed: Agreed, *, can_go: bool, only: Names[str] | None = None
) -> dict[str, Any]:
    """Take what goes out of a part.

    What a part names and must not makes the whole part stay, if the document can do without it; if
    it cannot, that field alone stays as it begins.
    """
    idle = part.idle() if isinstance(part, DocumentPart) else frozenset()
    out: dict[str, Any] = {}
    for name, declared in type(part).model_fields.items():
        goes = any(isinstance(mark, GoesOut) for mark in declared.metadata)
        if not goes or name in idle or (only is not None and name not in only):
            continue
        value = getattr(part, name)
        try:
            out[name] = _value(typed(declared), value, agreed)
        except PrivateFieldError:
            # A part within a part goes by itself, where there need not be one.
            goes_alone = isinstance(value, BaseModel) and _is_optional(declared.annotation)
            if declared.is_required() or (can_go and not goes_alone):
                raise
    return out


def _value(kind: Any, value: Any, agreed: Agreed, *, can_go: bool = False) -> Any:
    origin, args = get_origin(kind), get_args(kind)
    if value is None:
        return None
    if origin is Annotated:
        return _marked(args[0], args[1:], value, agreed, can_go=can_go)
    if isinstance(value, BaseModel):
        return _fields(value, agreed, can_go=can_go or _is_optional(kind))
    if origin in (Union, UnionType):
        kinds = [arg for arg in args if arg is not NoneType and _fits(arg, value)]
        return _value(kinds[0], value, agreed, can_go=can_go) if kinds else value
    if origin is list and isinstance(value, list):
        value = [found for one in value for found in _kept(args[0], one, agreed)]
    elif origin is dict and isinstance(value, dict):
        value = {
            key: found
            for one, held in value.items()
            for key in _kept(args[0], one, agreed)
            for found in _kept(args[1], held, agreed)
        }
    return value


def _marked(kind: Any, marks: tuple[Any, ...], value: Any, agreed: Agreed, *, can_go: bool) -> Any:
    """A value of a type of which more is said: what it names, and how many it needs."""
    for mark in marks:
        if isinstance(mark, RefersTo) and not agreed.to(mark.what, value):
            raise PrivateFieldError
        if isinstance(mark, RefersTo) and mark.what == "category":
            value = agreed.called.get(value, value)
    found = _value(kind, value, agreed, can_go=can_go)
    least = next((mark.min_length for mark in marks if isinstance(mark, MinLen)), 0)
    if isinstance(found, list | dict) and len(found) < least:
        raise PrivateFieldError
    return found


def _kept(kind: Any, value: Any, agreed: Agreed) -> list[Any]:
    try:
        return [_value(kind, value, agreed, can_go=True)]
    except PrivateFieldError:
        return []


def _is_optional(kind: Any) -> bool:
    return get_origin(kind) in (Union, UnionType) and NoneType in get_args(kind)


def _fits(kind: Any, value: Any) -> bool:
    """Whether a value is of a type, as far as that tells alternatives apart."""
    bare = get_args(kind)[0] if get_origin(kind) is Annotated else kind
    plain = get_origin(bare) or bare
    return not isinstance(plain, type) or isinstance(value, plain)
