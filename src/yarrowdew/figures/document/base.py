"""What parts of a document have in common, and the types of their fields."""

from __future__ import annotations

from collections.abc import Set
from dataclasses import dataclass
from typing import Annotated, Any, TypeVar

from pydantic import ConfigDict, Field

from yarrowdew.core.intervals import HIGHEST_LEVEL, LOWEST_LEVEL
from yarrowdew.tables.documented import Documented
from yarrowdew.tables.field_roles import RefersTo

Level = Annotated[float, Field(ge=LOWEST_LEVEL, le=HIGHEST_LEVEL)]
Words = Annotated[str, Field(max_length=500), RefersTo("words")]
"""What a person typed."""
Caption = Annotated[str, Field(max_length=4000), RefersTo("words")]
Value = Annotated[float, Field(allow_inf_nan=False)]
Offset = tuple[Value, Value]


@dataclass(frozen=True, slots=True)
class GoesOut:
    """Marks a field that may go out when its document is shared; others never do."""


@dataclass(frozen=True, slots=True)
class DrawnAs:
    """Marks a field that names a variable whose values can be read off the figure, and as what."""

    role: str


@dataclass(frozen=True, slots=True)
class DrawnAlone:
    """Marks a field that changes how a figure is drawn and nothing of the answer to it."""


T = TypeVar("T")
Public = Annotated[T, GoesOut()]
"""The type of a field that may go out. What it names goes out only where that was agreed to."""

Looks = Annotated[T, GoesOut(), DrawnAlone()]
"""The type of a field that may go out and that no answer depends on."""


def public(kind: Any) -> Any:
    """The type of a field that may go out, for a type that is known only when the program runs."""
    return Public[kind]  # type: ignore[misc]


class DocumentPart(Documented):
    """A part of a document; unknown keys are refused, so that a slip of the pen is found."""

    # What checks a part is built with the whole that it is part of.
    model_config = ConfigDict(extra="forbid")

    def idle(self) -> Set[str]:
        """Name the fields that count for nothing as the part stands."""
        return frozenset()
