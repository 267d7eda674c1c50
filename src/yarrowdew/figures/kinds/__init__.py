"""Kinds of figures: one module each, listed here. A new kind is one module and one line."""

from importlib.metadata import entry_points

from yarrowdew.figures.kinds import distribution, matrix, scatterplot, space
from yarrowdew.figures.kinds.base import FigureKind, KindAnswer

KINDS: dict[str, FigureKind] = {}
"""By name, in the order in which they are offered; the first is what a document is of by itself."""


def register(kind: FigureKind) -> None:
    """Offer a kind."""
    KINDS[kind.name] = kind


for _module in (scatterplot, matrix, space, distribution):
    register(_module.KIND)
for _found in entry_points(group="yarrowdew.kinds"):
    # Kinds of other packages that are installed beside this one.
    register(_found.load())


def kind_named(name: str) -> FigureKind:
    """Find the kind of a document."""
    return KINDS[name]


__all__ = ["KINDS", "FigureKind", "KindAnswer", "kind_named", "register"]
