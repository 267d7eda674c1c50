"""What looks at all rows of a dataset have told of a figure, and is kept."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

from yarrowdew.core.aggregates.aggregation import Group
from yarrowdew.core.aggregates.cell_counts import CellCounts
from yarrowdew.core.aggregates.cell_crops import at_most
from yarrowdew.core.aggregates.pair_sums import Ends, PairSums
from yarrowdew.core.aggregates.view_rows import Gathered, PartEnds
from yarrowdew.figures.datasets.cache import SMALL_BYTES

_MOST_LOOKS = 4
"""So many counts are kept of a figure: of all of it, and of where one looked closer."""
_LOOKS_BYTES = 128 * 1024 * 1024
MOST_ROWS_KEPT = 2_500_000
"""So many rows of a view are kept themselves, and what lies inside it is found among them."""
_HELD_BYTES = 32 * MOST_ROWS_KEPT


@dataclass(frozen=True, slots=True)
class PairScan:
    """Of two variables.

    Attributes
    ----------
    sums : PairSums
    lacking : mapping
        Rows by what they lack; see `LackingAggregation`.
    labels : mapping or None
        Rows with each category that colours.
    ends : PartEnds
    cells : list of mapping
        Fine counts of all of it, and of where one looked closer.
    near : list of (tuple of float, tuple of float, Gathered)
        The rows of where one looked last, with the values between which they lie; one or none.
    """

    sums: PairSums
    lacking: Mapping[Group, int]
    labels: Mapping[Group, int] | None
    ends: PartEnds
    cells: list[Mapping[Group, CellCounts]]
    kept_rows: list[tuple[Ends, Ends, Gathered]] = field(default_factory=list)

    @property
    def size(self) -> int:
        """In bytes, once all closer looks are taken."""
        return SMALL_BYTES + _HELD_BYTES + self._one_look * self._most_looks

    @property
    def _one_look(self) -> int:
        return sum(counts.cells.nbytes for counts in self.cells[0].values()) if self.cells else 0

    @property
    def _most_looks(self) -> int:
        return max(2, min(_MOST_LOOKS, _LOOKS_BYTES // max(self._one_look, 1)))

    def at_most(self, across: Ends, up: Ends) -> int | None:
        """How many rows lie in a view at most, as far as that is known."""
        found = []
        for cells in self.cells:
            known = [at_most(counts, across, up) for counts in cells.values()]
            held = [count for count in known if count is not None]
            if len(held) == len(known):
                found.append(sum(held))
        return min(found, default=None)

    def keep_cells(self, cells: Mapping[Group, CellCounts]) -> None:
        """Keep what a closer look counted, in the place of the oldest closer look."""
        if len(self.cells) >= self._most_looks:
            del self.cells[1]
        self.cells.append(cells)

    def keep_rows(self, across: Ends, up: Ends, rows: Gathered) -> None:
        """Keep the rows of a view, where they are not too many."""
        if len(rows.places) <= MOST_ROWS_KEPT:
            self.kept_rows[:] = [(across, up, rows)]

    def rows_in(self, across: Ends, up: Ends) -> Gathered | None:
        """The rows of a view, where it lies inside one whose rows are kept."""
        for wide, high, rows in self.kept_rows:
            if _holds(wide, across) and _holds(high, up):
                return rows.within(across, up)
        return None


def _holds(ends: Ends, inner: Ends) -> bool:
    return ends[0] <= inner[0] and inner[1] <= ends[1]
