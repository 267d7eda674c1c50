"""What the front end is told, so that no list of ours stands there a second time.

Families with their settings and traits, kinds of figures, and what every part of a document begins
with: all of it comes from where it is declared.
"""

from __future__ import annotations

from collections.abc import Iterator
from functools import cache
from types import UnionType
from typing import Annotated, Any, Union, get_args, get_origin

from pydantic import BaseModel
from pydantic_core import to_jsonable_python

from yarrowdew.core.trends import FAMILIES, Family, Setting
from yarrowdew.core.trends.family import Control, Needs
from yarrowdew.figures.document.base import DocumentPart, DrawnAlone
from yarrowdew.figures.document.families import HasFamily, settings_model
from yarrowdew.figures.document.looks import SavedLook
from yarrowdew.figures.document.marks import MOST_HIGHLIGHTED, MOST_NAMED
from yarrowdew.figures.document.plate import PlateDocument
from yarrowdew.figures.document.trends import TrendPart, trend_of
from yarrowdew.figures.figure import FigureDocument
from yarrowdew.figures.kinds import KINDS
from yarrowdew.figures.wire.base import OnWire
from yarrowdew.tables.expressions import FUNCTIONS


class ChoiceWords(OnWire):
    """One of a few values, and what it is called."""

    value: str | int
    label: str


class Beginning(OnWire):
    """A preset of the text settings, and everything that it sets."""

    label: str
    sets: dict[str, str]


class SettingWords(OnWire):
    """How one setting of a family is offered; see `Setting`."""

    name: str
    label: str
    says: str
    control: Control
    whole: bool
    """Whether it is a whole number."""
    low: float | None
    high: float | None
    above: float | None
    """Exclusive minimum."""
    slider: tuple[float, float] | None
    """Ends between which it is dragged."""
    scale: str
    """Of the slider: linear, log or share."""
    choices: list[ChoiceWords]
    free: str
    """Placeholder where there is no value; empty where there always is one."""
    starts: float | None
    """Its value when one is first given."""
    suffix: str
    counted_by: str
    """The setting that says whether it counts rows or units of x."""
    below: str
    """The setting that it must be below."""
    begins: list[Beginning]

    @classmethod
    def of(cls, name: str, said: Setting, hint: Any) -> SettingWords:
        """Say how a setting is offered."""
        return cls(
            name=name,
            label=said.label,
            says=said.says,
            control=said.control,
            whole=hint is int,
            low=said.low,
            high=said.high,
            above=said.above,
            slider=said.slider,
            scale=said.scale,
            choices=[ChoiceWords(value=v, label=label) for v, label in said.choices.items()],
            free=said.free,
            starts=said.starts,
            suffix=said.suffix,
            counted_by=said.counted_by,
            below=said.below,
            begins=[Beginning(label=label, sets=dict(s)) for label, s in said.begins.items()],
        )


class Together(OnWire):
    """Several trends of one type that are added together."""

    label: str
    settings: list[dict[str, str | float]]


class FamilyWords(OnWire):
    """A trend type: its name, settings and properties."""

    name: str
    was: list[str]
    """Names it had before, in pages that were shared then."""
    label: str
    note: str
    has_band: bool
    one_slope: bool
    is_smooth: bool
    is_usual: bool
    needs: list[Needs]
    said_as: str
    """How it is said, with settings in braces; empty where its label says it."""
    together: list[Together]
    settings: list[SettingWords]

    @classmethod
    def of(cls, family: Family[Any]) -> FamilyWords:
        """Say what there is to know of a family."""
        return cls(
            name=family.name,
            was=list(family.was),
            label=family.label,
            note=family.note,
            has_band=family.has_band,
            one_slope=family.one_slope,
            is_smooth=family.is_smooth,
            is_usual=family.is_usual,
            needs=list(family.needs),
            said_as=family.said_as,
            together=[
                Together(label=label, settings=[dict(one) for one in several])
                for label, several in family.together.items()
            ],
            settings=[
                SettingWords.of(name, said, hint)
                for name, (said, _, hint) in family.declared().items()
            ],
        )


class KindWords(OnWire):
    """A kind of figure."""

    name: str
    label: str
    part: str
    """The field of a document with the settings of this kind; empty where there is none."""
    by_parts: bool
    """Whether it can be drawn from a dataset."""


class MostRows(OnWire):
    """How many rows a part of a document can hold."""

    highlighted: int
    named: int


class Vocabulary(OnWire):
    """Everything that the front end has to know."""

    families: list[FamilyWords]
    kinds: list[KindWords]
    defaults: dict[str, dict[str, Any]]
    """By part of a document, what it begins with; what it cannot do without is not among it."""
    trends: dict[str, dict[str, Any]]
    """By family, a trend as it begins."""
    functions: list[str]
    """Of expressions."""
    most_rows: MostRows
    looks: list[str]
    """Places in a document that no answer depends on; `*` stands for every one of several."""


@cache
def vocabulary() -> Vocabulary:
    """Say everything that the front end is told."""
    return Vocabulary(
        families=[FamilyWords.of(family) for family in FAMILIES.values()],
        kinds=[
            KindWords(name=k.name, label=k.label, part=k.part_name, by_parts=bool(k.dataset_module))
            for k in KINDS.values()
        ],
        defaults={
            part.__name__: _defaults(part)
            for part in _parts(FigureDocument, PlateDocument, SavedLook)
            if not issubclass(part, HasFamily)
        },
        trends={name: trend_of(family=name).model_dump(mode="json") for name in FAMILIES},
        functions=list(FUNCTIONS),
        most_rows=MostRows(highlighted=MOST_HIGHLIGHTED, named=MOST_NAMED),
        looks=list(dict.fromkeys(_looks(FigureDocument))),
    )


def _defaults(part: type[BaseModel]) -> dict[str, Any]:
    return {
        name: to_jsonable_python(field.get_default(call_default_factory=True))
        for name, field in part.model_fields.items()
        if not field.is_required()
    }


def _parts(*models: type[BaseModel]) -> list[type[BaseModel]]:
    """Find every model of a document's parts, each once, in order of their names."""
    found: dict[str, type[BaseModel]] = {}
    waiting: list[type[BaseModel]] = [
        *models,
        *(settings_model(family) for family in FAMILIES.values()),
        TrendPart,
    ]
    while waiting:
        model = waiting.pop()
        if model.__name__ in found:
            continue
        found[model.__name__] = model
        for field in model.model_fields.values():
            waiting += _models_in(field.annotation)
    return [found[name] for name in sorted(found)]


def _looks(model: type[BaseModel], within: str = "") -> Iterator[str]:
    """Name every place of a document that is only drawn."""
    for name, field in model.model_fields.items():
        place = f"{within}{name}"
        if any(isinstance(mark, DrawnAlone) for mark in field.metadata):
            yield place
            continue
        several = _holds_several(field.annotation)
        for part in _models_in(field.annotation):
            yield from _looks(part, f"{place}.*." if several else f"{place}.")


def _holds_several(kind: Any) -> bool:
    origin = get_origin(kind)
    if origin in (list, dict):
        return True
    return any(_holds_several(arg) for arg in get_args(kind)) if origin else False


def _models_in(kind: Any) -> Iterator[type[BaseModel]]:
    if isinstance(kind, type) and issubclass(kind, DocumentPart):
        yield kind
    elif get_origin(kind) in (Annotated, Union, UnionType, list, dict, tuple):
        for arg in get_args(kind):
            yield from _models_in(arg)
