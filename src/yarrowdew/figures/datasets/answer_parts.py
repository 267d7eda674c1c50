"""What the answer to a figure of a dataset says beside its marks and trends."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Literal

from yarrowdew.core.aggregates.aggregation import Group
from yarrowdew.core.aggregates.cell_counts import Grid
from yarrowdew.core.aggregates.pair_sums import Ends, PairSums
from yarrowdew.core.association import correlation_of
from yarrowdew.figures.document.figure import FigureBase
from yarrowdew.figures.pipeline.answer_models import AxisAnswer, CellSide, ColourAnswer
from yarrowdew.figures.pipeline.axis_values import AxisValues, check_drawable
from yarrowdew.figures.pipeline.groups import Groups
from yarrowdew.figures.wire.base import VariableWords
from yarrowdew.figures.wire.reports import AssociationAnswer

_LEVEL = 0.95


def cell_side(grid: Grid) -> CellSide:
    """Say which cells an axis has."""
    return CellSide(low=grid.low, high=grid.high, count=grid.cells)


def axis_of(axis: AxisValues, ends: Ends) -> AxisAnswer:
    """Say what stands on an axis, and where all of its values end."""
    low, high = ends if ends[0] <= ends[1] else (None, None)
    check_drawable(axis.variable, low, high)
    return AxisAnswer(variable=VariableWords.of(axis.variable), low=low, high=high)


def colour_of(groups: Groups, labels: Mapping[Group, int]) -> ColourAnswer:
    """Say what colours stand for."""
    return ColourAnswer(
        variable=VariableWords.of(groups.variable),
        scale="category",
        categories=list[str](groups.labels),
        values=[look.value for look in groups.looks],
        turns=[look.colour_index for look in groups.looks],
        colours=[look.colour for look in groups.looks],
        shown=[bool(labels.get(look.value)) for look in groups.looks],
        missing=labels.get(None, 0),
    )


def association_in(sums: PairSums) -> AssociationAnswer | None:
    """Say how two variables go together; None where that does not exist."""
    found = correlation_of(sums.correlation(), sums.n, _LEVEL)
    if found.r is None:
        return None
    return AssociationAnswer(
        r=found.r, low=found.low, high=found.high, p_value=found.p_value, n=found.n, level=_LEVEL
    )


def not_shown(
    document: FigureBase, names: Literal["never", "from near", "here"] = "never"
) -> list[str]:
    """What a document asks for and a dataset does not show.

    Parameters
    ----------
    document : FigureBase
    names : {"never", "from near", "here"}
        Where rows of such a figure are named.
    """
    asked = {
        "Sizes": document.size,
        "Names": document.names if names == "never" else None,
        "Error bars": document.error_bars.x or document.error_bars.y,
        "Joining points": document.connect,
        "Rows set aside": document.set_aside,
        "Distributions along the axes": {document.margins.x, document.margins.y} - {"none"},
        "Reference lines at a mean or a median": [
            one for one in document.references if one.at in ("mean", "median")
        ],
    }
    out = [
        f"{what} need all rows in memory, and are not shown for a dataset."
        for what, wanted in asked.items()
        if wanted
    ]
    if document.names is not None and names == "from near":
        out.append("Labels are shown where rows are drawn one by one: zoom in until they are.")
    return out
