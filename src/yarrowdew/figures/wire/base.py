"""What figures have in common on the wire."""

from __future__ import annotations

import math
from typing import Annotated, Any, TypeVar

from pydantic import BaseModel, BeforeValidator, create_model

from yarrowdew.figures.text.words import in_sentence
from yarrowdew.tables.documented import Documented
from yarrowdew.tables.table import Kind, Variable

Model = TypeVar("Model", bound=BaseModel)


def made_model(
    name: str, base: type[Model], doc: str | None, *, at_once: bool = False, **fields: Any
) -> type[Model]:
    """Make a model when the program runs, from one that is written down and from further fields.

    What its fields are is given with them; what checks them is built when the first comes, or at
    once.
    """
    config = {"defer_build": not at_once}
    return create_model(name, __base__=base, __doc__=doc, __cls_kwargs__=config, **fields)


class OnWire(Documented):
    """A model of an answer."""


def _finite(value: object) -> object:
    return None if isinstance(value, float) and not math.isfinite(value) else value


Number = Annotated[float | None, BeforeValidator(_finite)]
Place = Annotated[float | str | None, BeforeValidator(_finite)]
"""A number on an axis, or a date as ISO text."""


class VariableWords(OnWire):
    """How a variable is written on the figure."""

    name: str
    label: str
    in_sentence: str
    unit: str
    kind: Kind

    @classmethod
    def of(cls, variable: Variable) -> VariableWords:
        """Say how a variable is written."""
        return cls(
            name=variable.name,
            label=variable.label,
            in_sentence=in_sentence(variable),
            unit=variable.unit,
            kind=variable.kind,
        )
