"""The figure document: what a figure is to show, and nothing of data or results.

The OpenAPI schema, the TypeScript types and the statement on the screen all come from here. It is
made from what every kind shares and from the part of each kind.
"""

from __future__ import annotations

from typing import TYPE_CHECKING, Any, Literal, Self, cast

from pydantic import Field, model_validator

from yarrowdew.figures.document.base import public
from yarrowdew.figures.document.figure import FigureBase
from yarrowdew.figures.document.upgrading import upgraded
from yarrowdew.figures.document.walking import variables_in
from yarrowdew.figures.kinds import KINDS, FigureKind, kind_named
from yarrowdew.figures.wire.base import made_model

_OF_EVERY_KIND = frozenset({"version", "kind", "name", "table", "rows"})
"""Fields that say which figure it is and which rows it keeps."""


class _Figure(FigureBase):
    @model_validator(mode="before")
    @classmethod
    def _upgraded(cls, given: object) -> object:
        return upgraded(given)

    @model_validator(mode="after")
    def _has_its_part(self) -> _Figure:
        kind = self.of_kind
        if kind.part_name and getattr(self, kind.part_name) is None:
            raise ValueError(f"a {kind.name} needs {kind.part_holds}")
        return self

    @property
    def of_kind(self) -> FigureKind:
        """The kind of figure that it is of."""
        return kind_named(self.kind)

    def counting(self) -> Self:
        """The same without what counts for nothing in its kind of figure."""
        return cast("Self", self.of_kind.counting(self))

    def reduced(self) -> Self:
        """The document with only those fields set that its kind of figure shows.

        Other fields keep what another kind of figure needs; an answer must not depend on them.
        """
        kept = self.shown() | _OF_EVERY_KIND
        unset = {
            name: field.get_default(call_default_factory=True)
            for name, field in type(self).model_fields.items()
            if name not in kept and not field.is_required()
        }
        return self.model_copy(update=unset)

    def shown(self) -> set[str]:
        """Name the fields that count, beside the rows that it keeps."""
        kind = self.of_kind
        return set(kind.shows) | ({kind.part_name} if kind.part_name else set())

    def variables_used(self) -> list[str]:
        """Names of the variables whose values are needed to draw it, each once."""
        return variables_in(self.counting(), only=self.shown() | {"rows"})


def _made() -> Any:
    # The kinds are known only when all of them are registered.
    names: Any = Literal[tuple(KINDS)]
    parts: dict[str, Any] = {
        kind.part_name: (
            public(kind.part | None),
            Field(default=None, description=f"What a {kind.name} shows; kept by other kinds."),
        )
        for kind in KINDS.values()
        if kind.part is not None
    }
    return made_model(
        "FigureDocument",
        _Figure,
        "A figure: its kind, the variables of a table that it shows, and its style.",
        # Half of all that is asked over HTTP holds one: each would build its own.
        at_once=True,
        kind=(public(names), next(iter(KINDS))),
        **parts,
    )


if TYPE_CHECKING:
    FigureDocument = _Figure
else:
    FigureDocument = _made()
