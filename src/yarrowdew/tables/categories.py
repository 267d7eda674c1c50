"""How the categories of a variable are ordered and called: once for a study, by variable name."""

from __future__ import annotations

from typing import NewType

from pydantic import ConfigDict, Field

from yarrowdew.tables.documented import Documented

CategoryValue = NewType("CategoryValue", str)
"""A category as it stands in the data."""
CategoryLabel = NewType("CategoryLabel", str)
"""A category as figures and readings call it."""

LONGEST_CATEGORY = 2_000
LONGEST_LABEL = 200


class Category(Documented):
    """A category, and what it is called throughout a study."""

    model_config = ConfigDict(
        extra="forbid",
        frozen=True,
        populate_by_name=True,
        serialize_by_alias=True,
    )

    value: CategoryValue = Field(max_length=LONGEST_CATEGORY)
    label: str | None = Field(default=None, max_length=LONGEST_LABEL)
    """Label shown on figures; the value itself where null."""

    @property
    def shown(self) -> CategoryLabel:
        """What it is called on figures."""
        return CategoryLabel(self.label or self.value)
