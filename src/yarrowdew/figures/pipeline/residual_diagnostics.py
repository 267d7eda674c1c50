"""What fits leave: for each row that was fitted, how far off it lies and what it does."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from yarrowdew.core.diagnostics import Diagnostics
from yarrowdew.figures.pipeline.axis_values import AxisValues
from yarrowdew.figures.pipeline.groups import Groups
from yarrowdew.figures.pipeline.points import Points
from yarrowdew.tables.errors import TableError


@dataclass(frozen=True, slots=True)
class LineResiduals:
    """What one line or plane leaves.

    Attributes
    ----------
    group : str or None
        That it was fitted to; None for the whole.
    rows : ndarray of intp, shape (n,)
        Places of the points fitted.
    found : Diagnostics
    """

    group: str | None
    rows: np.ndarray
    found: Diagnostics


@dataclass(frozen=True, slots=True)
class ResidualDiagnostics:
    """What all lines or planes of a trend leave.

    Attributes
    ----------
    points : Points
    parts : sequence of LineResiduals
    groups : Groups or None
        For each of which there is one.
    depth : AxisValues or None
        What goes into the depth of a box.
    """

    points: Points
    parts: Sequence[LineResiduals]
    groups: Groups | None
    depth: AxisValues | None = None


def checked(found: ResidualDiagnostics, what: str) -> ResidualDiagnostics:
    """The same, where there is anything.

    Raises
    ------
    TableError
        If nothing could be fitted.
    """
    if not found.parts:
        raise TableError(
            f"No {what} could be fitted, so there are no residuals.",
            "The readings say why.",
        )
    return found
