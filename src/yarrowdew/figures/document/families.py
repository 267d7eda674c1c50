"""A family and what is set about it, as parts of documents: made from the registry of families."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from functools import reduce
from operator import or_
from typing import Annotated, Any, Literal, TypeVar

from pydantic import BaseModel, BeforeValidator, Field, GetCoreSchemaHandler, GetJsonSchemaHandler
from pydantic.json_schema import JsonSchemaValue
from pydantic_core import CoreSchema, core_schema

from yarrowdew.core.trends import FAMILIES, Family, Setting, family_of
from yarrowdew.core.trends.family import LONGEST_WORDS
from yarrowdew.figures.document.base import DocumentPart, public
from yarrowdew.figures.wire.base import made_model

USUAL = next(iter(FAMILIES))
"""The family of a trend that names none."""

Model = TypeVar("Model", bound=BaseModel)


class FamilySettings(DocumentPart):
    """What is set about a family."""


class HasFamily(DocumentPart):
    """A part that names a family and holds that family's own settings."""

    family: str
    settings: FamilySettings

    def chosen(self) -> Any:
        """Return the settings as the core takes them."""
        return family_of(self.family).settings(**self.settings.model_dump())


def settings_model(family: Family[Any]) -> type[FamilySettings]:
    """Make the model of a family's settings from their declaration, or find it."""
    if family.settings not in _MODELS:
        fields: dict[str, Any] = {
            name: (public(hint), _field(said, declared.default))
            for name, (said, declared, hint) in family.declared().items()
        }
        _MODELS[family.settings] = made_model(
            family.settings.__name__, FamilySettings, family.settings.__doc__, **fields
        )
    return _MODELS[family.settings]


_MODELS: dict[type[Any], type[FamilySettings]] = {}


def _field(said: Setting, default: Any) -> Any:
    if said.choices:
        return Field(default=default, description=said.says)
    if said.is_words:
        return Field(default=default, description=said.says, max_length=LONGEST_WORDS)
    return Field(
        default=default,
        description=said.says,
        ge=said.low,
        le=said.high,
        gt=said.above,
        allow_inf_nan=False,
    )


@dataclass(frozen=True, slots=True)
class _WhenNeeded:
    """Marks a model whose validator is built when one is made: of most families none ever is."""

    model: type[BaseModel]

    def __get_pydantic_core_schema__(
        self, source: type[BaseModel], handler: GetCoreSchemaHandler
    ) -> CoreSchema:
        # What is wrong with it is told with its place in the whole, as from any part.
        return core_schema.no_info_plain_validator_function(source.model_validate)

    def __get_pydantic_json_schema__(
        self, schema: CoreSchema, handler: GetJsonSchemaHandler
    ) -> JsonSchemaValue:
        self.model.model_rebuild()
        named = f"{self.model.__module__}.{self.model.__qualname__}:{id(self.model)}"
        own: Any = {**self.model.__pydantic_core_schema__, "ref": named}
        return handler(core_schema.definitions_schema(own, []))


@dataclass(frozen=True, slots=True)
class _FamilyDiscriminator:
    """Marks the union of models of all families: the family says which of them is meant."""

    models: Mapping[str, type[BaseModel]]

    def __get_pydantic_core_schema__(
        self, source: Any, handler: GetCoreSchemaHandler
    ) -> CoreSchema:
        choices = {
            name: handler.generate_schema(Annotated[model, _WhenNeeded(model)])
            for name, model in self.models.items()
        }
        return core_schema.tagged_union_schema(
            choices,
            discriminator="family",
            # Each is written as the model that it is.
            serialization=core_schema.simple_ser_schema("any"),
        )

    def __hash__(self) -> int:
        return hash(tuple(self.models))


def by_family(base: type[Model], suffix: str) -> Any:
    """Make the union of a model for every family, told apart by `family`.

    Parameters
    ----------
    base : type
        A model with `family` and `settings`, which are narrowed to each family's own.
    suffix : str
        Behind the family's name in the name of its model.
    """
    models = {name: _for_family(base, family, suffix) for name, family in FAMILIES.items()}
    union: Any = reduce(or_, models.values())
    return Annotated[union, _FamilyDiscriminator(models), BeforeValidator(_named)]


def _for_family(base: type[Any], family: Family[Any], suffix: str) -> Any:
    settings = settings_model(family)
    name = "".join(word.capitalize() for word in family.name.split("-"))
    return made_model(
        f"{name}{suffix}",
        base,
        base.__doc__,
        family=(public(_literal(family.name)), family.name),
        settings=(public(settings), Field(default_factory=settings)),
    )


def _literal(name: str) -> Any:
    # The name is known only when the registry is.
    return Literal[name]


def _named(given: object) -> object:
    """Give what names no family the usual one; refuse one that does not exist."""
    if not isinstance(given, Mapping):
        return given
    named = given.get("family", USUAL)
    if isinstance(named, str):
        family_of(named)
    return {"family": USUAL, **given}
