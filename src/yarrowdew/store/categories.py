"""How a study shows categories, as it is kept in its record."""

from __future__ import annotations

import logging
from collections.abc import Iterable, Mapping
from typing import TypeVar

from pydantic import BaseModel, ValidationError

from yarrowdew.figures.document.categories import CategoryLook, with_distinct_labels, with_new
from yarrowdew.store.models import StudyRow

Categories = dict[str, tuple[CategoryLook, ...]]
Model = TypeVar("Model", bound=BaseModel)

log = logging.getLogger(__name__)


def categories_of_study(study: StudyRow, names: Iterable[str]) -> Categories:
    """Say how a study shows the categories of variables, as far as it knows them."""
    return {
        name: with_distinct_labels(readable(CategoryLook, study.categories[name]))
        for name in names
        if name in study.categories
    }


def readable(model: type[Model], held: Iterable[object]) -> list[Model]:
    """Those of some records that can be read: one that cannot spoils itself alone."""
    found = []
    for one in held:
        try:
            found.append(model.model_validate(one))
        except ValidationError:
            log.warning("A record cannot be read and is passed over: %.200s", one)
    return found


def make_known(study: StudyRow, found: Mapping[str, list[str]]) -> None:
    """Make categories known to a study, each with the next colour in turn."""
    for name, values in found.items():
        if values:
            known = categories_of_study(study, [name]).get(name, ())
            looks = with_new(known, values)
            if len(looks) > len(known):
                # Another object, so that the change is seen.
                study.categories = {
                    **study.categories,
                    name: [look.model_dump(mode="json") for look in looks],
                }
