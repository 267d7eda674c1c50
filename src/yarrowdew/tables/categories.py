"""How the categories of a variable are ordered and called: once for a study, by variable name."""

from __future__ import annotations

from pydantic import ConfigDict, Field

from yarrowdew.tables.documented import Documented


class Category(Documented):
    """A category, and what it is called throughout a study."""

    model_config = ConfigDict(
        extra="forbid",
        frozen=True,
        populate_by_name=True,
        serialize_by_alias=True,
    )

    value: str = Field(max_length=2000)
    label: str | None = Field(default=None, max_length=200)
    """What figures call it; its value where null."""

    @property
    def shown(self) -> str:
        """What it is called on figures."""
        return self.label or self.value
