"""What looks at all rows of a dataset have told of a figure, and is kept."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from yarrowdew.core.partials.asking import Group
from yarrowdew.core.partials.counting import Counts
from yarrowdew.core.partials.cropping import at_most
from yarrowdew.core.partials.lines import Ends, PairSums
from yarrowdew.core.partials.viewing import PartEnds
from yarrowdew.figures.dataset_once import SMALL

_MOST_LOOKS = 4
"""So many counts are kept of a figure: of all of it, and of where one looked closer."""


@dataclass(frozen=True, slots=True)
class LookedAt:
    """Of two variables.

    Attributes
    ----------
    sums : PairSums
    lacking : mapping
        Rows by what they lack; see `AskLacking`.
    labels : mapping or None
        Rows with each category that colours.
    ends : PartEnds
    cells : list of mapping
        Fine counts of all of it, and of where one looked closer.
    """

    sums: PairSums
    lacking: Mapping[Group, int]
    labels: Mapping[Group, int] | None
    ends: PartEnds
    cells: list[Mapping[Group, Counts]]

    @property
    def size(self) -> int:
        """In bytes, once all closer looks are taken."""
        held = sum(counts.cells.nbytes for counts in self.cells[0].values()) if self.cells else 0
        return SMALL + held * _MOST_LOOKS

    def at_most(self, across: Ends, up: Ends) -> int | None:
        """How many rows lie in a view at most, as far as that is known."""
        found = []
        for cells in self.cells:
            known = [at_most(counts, across, up) for counts in cells.values()]
            held = [count for count in known if count is not None]
            if len(held) == len(known):
                found.append(sum(held))
        return min(found, default=None)

    def keep(self, cells: Mapping[Group, Counts]) -> None:
        """Keep what a closer look counted, in the place of the oldest closer look."""
        if len(self.cells) >= _MOST_LOOKS:
            del self.cells[1]
        self.cells.append(cells)
