"""The part of a document that says what a scatterplot matrix shows."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from yarrowdew.figures.document.base import DocumentPart, DrawnAs, Looks, Public
from yarrowdew.figures.document.trends import Trend, trend_of
from yarrowdew.tables.field_roles import VariableName

Region = Literal["points", "trend", "contours", "counts", "r", "nothing"]


class Matrix(DocumentPart):
    """A scatterplot matrix: every pair of some variables; the column gives x, the row gives y."""

    variables: Public[Annotated[list[VariableName], DrawnAs("matrix")]] = Field(
        min_length=2, max_length=16
    )
    order: Public[Literal["own", "together"]] = "own"
    """Order of the variables: as listed, or correlated ones next to each other."""
    below: Public[Region] = "points"
    above: Public[Region] = "r"
    diagonal: Public[Literal["histogram", "density", "both", "nothing"]] = "histogram"
    names: Looks[bool] = True
    """Whether the variables are named on the diagonal."""
    trend: Public[Trend] = Field(default_factory=trend_of)
    """Trend of the regions that show one; fitted to each colour."""
    r_as: Looks[Literal["number", "ellipse"]] = "number"
    missing: Public[Literal["pairwise", "complete"]] = "pairwise"
    """Whether each pair uses the rows complete for the pair, or those complete for all
    variables."""
    axes: Looks[Literal["outer", "none"]] = "outer"
