"""How categories are ordered, called and coloured: once for a study, by variable name."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from typing import Annotated

from pydantic import BaseModel, ConfigDict, Field

HexColour = Annotated[str, Field(pattern=r"^#[0-9a-f]{6}$")]


class CategoryLook(BaseModel):
    """A category as it is shown in every figure of a study."""

    model_config = ConfigDict(extra="forbid", use_attribute_docstrings=True, frozen=True)

    value: str = Field(max_length=2000)
    label: str | None = Field(default=None, max_length=200)
    """What figures call it; its value where null."""
    colour: HexColour | None = None
    """By its turn where null."""
    turn: int = Field(ge=0, lt=2**31)
    """Its place among the study's colours, which it keeps however the categories are ordered."""

    @property
    def shown(self) -> str:
        """What it is called on figures."""
        return self.label or self.value


def with_new(known: Sequence[CategoryLook], values: Iterable[str]) -> tuple[CategoryLook, ...]:
    """Add the values that are not known yet, each with the next colour in turn."""
    held = {look.value for look in known}
    turn = max((look.turn for look in known), default=-1) + 1
    added = [value for value in values if value not in held]
    return (
        *known,
        *(CategoryLook(value=value, turn=turn + place) for place, value in enumerate(added)),
    )


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
    return looks, [place[value] for value in values]
