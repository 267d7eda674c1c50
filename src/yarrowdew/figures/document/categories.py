"""How categories are coloured: once for a study, by variable name."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from typing import Annotated

from pydantic import AliasChoices, Field

from yarrowdew.tables.categories import LONGEST_LABEL, Category, CategoryValue
from yarrowdew.tables.table import Table

HexColour = Annotated[str, Field(pattern=r"^#[0-9a-f]{6}$")]


class CategoryLook(Category):
    """A category as it is shown in every figure of a study."""

    colour: HexColour | None = None
    """By its turn where null."""
    colour_index: int = Field(
        ge=0,
        lt=2**31,
        validation_alias=AliasChoices("turn", "colour_index"),
        serialization_alias="turn",
    )
    """Index among the study's colours, which does not depend on the order of categories."""


def looks_in(table: Table, name: str) -> tuple[CategoryLook, ...]:
    """Say how a table's study shows the categories of a variable, as far as it knows them."""
    return tuple(c for c in table.categories.get(name, ()) if isinstance(c, CategoryLook))


def with_new(known: Sequence[CategoryLook], values: Iterable[str]) -> tuple[CategoryLook, ...]:
    """Add the values that are not known yet, each with the next colour in turn."""
    held = {look.value for look in known}
    index = max((look.colour_index for look in known), default=-1) + 1
    added = [CategoryValue(value) for value in dict.fromkeys(values) if value not in held]
    new = (CategoryLook(value=value, colour_index=index + i) for i, value in enumerate(added))
    return with_distinct_labels([*known, *new])


def with_distinct_labels(looks: Sequence[CategoryLook]) -> tuple[CategoryLook, ...]:
    """Give those categories another label that are called as one before them is.

    A category may be renamed to what another value is called that comes to the data later.
    """
    taken: set[str] = set()
    distinct = []
    for look in looks:
        shown: str = look.shown
        count = 2
        while shown in taken:
            suffix = f" ({count})"
            shown = look.shown[: LONGEST_LABEL - len(suffix)] + suffix
            count += 1
        taken.add(shown)
        distinct.append(look if shown == look.shown else look.model_copy(update={"label": shown}))
    return tuple(distinct)


def in_order(
    known: Sequence[CategoryLook], values: Sequence[str]
) -> tuple[list[CategoryLook], list[int]]:
    """Put values into the study's order.

    Returns
    -------
    looks : list of CategoryLook
        One for each value; values that are not known come last.
    codes : list of int
        For each of `values` its place in `looks`.
    """
    present = set(values)
    looks = [look for look in with_new(known, values) if look.value in present]
    place = {look.value: i for i, look in enumerate(looks)}
    return looks, [place[CategoryValue(value)] for value in values]
