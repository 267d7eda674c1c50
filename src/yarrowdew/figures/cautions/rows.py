"""Cautions about rows: values that are missing at one end, and marks that hide one another."""

from __future__ import annotations

from yarrowdew.core.cautions import (
    MANY_ON_ONE_PLACE,
    may_hide,
    share_hidden,
    uneven_missing,
)
from yarrowdew.core.sample import Array
from yarrowdew.figures.pipeline.axis_values import AxisValues
from yarrowdew.figures.text.words import (
    in_sentence,
    percent,
)
from yarrowdew.figures.wire.reports import Caution


def missing_caution(x: AxisValues, y: AxisValues) -> list[Caution]:
    """Find rows that are missing in one variable mostly at one end of the other."""
    out = []
    for held, of in ((x, y), (y, x)):
        found = uneven_missing(held.values, of.values)
        if found is None:
            continue
        low, high = found
        where = "low" if low > high else "high"
        out.append(
            Caution(
                title=f"{of.variable.label} is missing mostly where {in_sentence(held.variable)} "
                f"is {where}",
                text=f"It is missing in {percent(low)} of the rows of the lower half and in "
                f"{percent(high)} of the upper half: what is left may lean to one side.",
            )
        )
    return out


def crowding_caution(x: Array, y: Array) -> list[Caution]:
    """Find many marks on one place."""
    if not may_hide(x, y, MANY_ON_ONE_PLACE):
        return []
    share = share_hidden(x, y)
    if share < MANY_ON_ONE_PLACE:
        return []
    return [
        Caution(
            title="Many marks share a place",
            text=f"{percent(share)} of the marks stand exactly on another, so the figure shows fewer "
            "than there are. With thinner marks, places that hold many are darker.",
            remedy="thin_marks",
        )
    ]
