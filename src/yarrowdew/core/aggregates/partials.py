"""What every summary of some rows offers, and summaries of several groups at once."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field
from typing import Generic, Protocol, Self, TypeVar


class Partial(Protocol):
    """A summary of some rows."""

    def merge(self, other: Self) -> Self:
        """The summary of these rows and of others."""


P = TypeVar("P", bound=Partial)


@dataclass(frozen=True, slots=True)
class Grouped(Generic[P]):
    """A summary of each of several groups.

    Attributes
    ----------
    groups : mapping of str or None to Partial
        By the name of the group; None for rows that belong to none, or where all are one.
    """

    groups: Mapping[str | None, P] = field(default_factory=dict)

    def merge(self, other: Grouped[P]) -> Grouped[P]:
        """Merge group by group."""
        out = dict(self.groups)
        for name, own in other.groups.items():
            out[name] = out[name].merge(own) if name in out else own
        return Grouped(out)


def merged(parts: Iterable[P]) -> P:
    """Merge summaries, of which there has to be one.

    Raises
    ------
    ValueError
        If there is none.
    """
    found = iter(parts)
    try:
        out = next(found)
    except StopIteration:
        raise ValueError("there is nothing to merge") from None
    for part in found:
        out = out.merge(part)
    return out
