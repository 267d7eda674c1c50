"""Models that say in their source what their fields are."""

from __future__ import annotations

import ast
import inspect
import textwrap
from functools import cache
from typing import Any

from pydantic import BaseModel, ConfigDict, GetJsonSchemaHandler
from pydantic.json_schema import JsonSchemaValue
from pydantic_core import CoreSchema


class Documented(BaseModel):
    """A model whose fields are described by the text that stands below them.

    The source is read when a schema is asked for. Pydantic's own setting for this reads it whenever
    a class is made, which took a third of the time in which a command starts. What checks and
    writes a model is built when the first one comes.
    """

    model_config = ConfigDict(defer_build=True)

    @classmethod
    def __get_pydantic_json_schema__(
        cls, core_schema: CoreSchema, handler: GetJsonSchemaHandler
    ) -> JsonSchemaValue:
        schema = handler(core_schema)
        properties = handler.resolve_ref_schema(schema).get("properties", {})
        for name, text in _texts(cls).items():
            field = cls.model_fields.get(name)
            if field is None or field.description is not None:
                continue
            # Read and written it may be called otherwise.
            for key in (name, field.alias, field.serialization_alias):
                if key in properties:
                    properties[key]["description"] = text
        return schema


@cache
def _texts(model: type[Any]) -> dict[str, str]:
    """What stands below each field of a model, and of those that it is made from."""
    said: dict[str, str] = {}
    for one in reversed(model.__mro__):
        if not issubclass(one, BaseModel) or one.__module__.startswith("pydantic"):
            continue
        # A field that is declared anew has the text that stands there, or none.
        for name in inspect.get_annotations(one):
            said.pop(name, None)
        said |= _own_texts(one)
    return said


def _own_texts(model: type[Any]) -> dict[str, str]:
    try:
        source = textwrap.dedent(inspect.getsource(model))
    except (OSError, TypeError):
        # Made while the program runs: its fields were described as they were given.
        return {}
    (tree,) = ast.parse(source).body
    assert isinstance(tree, ast.ClassDef)  # noqa: S101 (it is the source of a class)
    said: dict[str, str] = {}
    for field, below in zip(tree.body, tree.body[1:], strict=False):
        match field, below:
            case (
                ast.AnnAssign(target=ast.Name(id=name)),
                ast.Expr(value=ast.Constant(value=str(text))),
            ):
                said[name] = inspect.cleandoc(text)
    return said
