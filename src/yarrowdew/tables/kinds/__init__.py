"""Kinds of variables: one module each, listed in the registry."""

from yarrowdew.tables.kinds.base import (
    AxisKind,
    Kind,
    Marks,
    Typed,
    VariableKind,
    as_text,
    texts_of,
)
from yarrowdew.tables.kinds.category import MOST_CATEGORIES, MOST_LEVELS, categories_of
from yarrowdew.tables.kinds.date import date_on_axis
from yarrowdew.tables.kinds.guessing import LONG_CODE, SAMPLE, could_be_category, guess_kind
from yarrowdew.tables.kinds.number import could_be_two, marks_typed
from yarrowdew.tables.kinds.registry import KINDS, as_kind, axis_kind, of_kind

__all__ = [
    "KINDS",
    "LONG_CODE",
    "MOST_CATEGORIES",
    "MOST_LEVELS",
    "SAMPLE",
    "AxisKind",
    "Kind",
    "Marks",
    "Typed",
    "VariableKind",
    "as_kind",
    "as_text",
    "axis_kind",
    "categories_of",
    "could_be_category",
    "could_be_two",
    "date_on_axis",
    "guess_kind",
    "marks_typed",
    "of_kind",
    "texts_of",
]
