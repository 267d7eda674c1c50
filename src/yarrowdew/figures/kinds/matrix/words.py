"""What misleads in a scatterplot matrix."""

from __future__ import annotations

from collections.abc import Mapping

from yarrowdew.core.register import documented
from yarrowdew.core.sample import Array, Mask
from yarrowdew.figures.cautions.rows import tailed_variables
from yarrowdew.figures.kinds.matrix.cells import MatrixAnswer
from yarrowdew.figures.text.words import TELLING, joined
from yarrowdew.figures.wire.reports import Caution


@documented(
    "cautions",
    "Intervals of r may be too short (a matrix, a list of pairs)",
    "the same of any of the variables",
    "below 0.6 % of each pair",
)
def matrix_cautions(
    part: MatrixAnswer, columns: Mapping[str, Array], set_aside: Mask
) -> list[Caution]:
    """Find variables whose tails make the intervals of r too short."""
    clear = [
        (f"v{cell.x}", f"v{cell.y}")
        for cell in part.cells
        if cell.p_value is not None and cell.p_value < TELLING and cell.low is not None
    ]
    used = {name: column[~set_aside] for name, column in columns.items()}
    places = sorted(int(name[1:]) for name in tailed_variables(clear, used))
    names = [part.variables[place].label for place in places]
    if not names:
        return []
    return [
        Caution(
            title="Intervals of r may be too short",
            text=f"They suppose variables that are close to normal, and {joined(names)} "
            f"{'has' if len(names) == 1 else 'have'} heavy tails. In simulations of such tails 95 % "
            "intervals covered 72 to 92 %. Take logarithms, or Spearman’s ρ in the list of pairs.",
        )
    ]
