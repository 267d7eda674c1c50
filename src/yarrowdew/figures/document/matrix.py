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
    """As they are listed, or so that those which go together stand together."""
    below: Public[Region] = "points"
    above: Public[Region] = "r"
    diagonal: Public[Literal["histogram", "density", "both", "nothing"]] = "histogram"
    names: Looks[bool] = True
    """Whether the variables are named on the diagonal."""
    trend: Public[Trend] = Field(default_factory=trend_of)
    """What is drawn where a region shows points with a trend; for each colour by itself."""
    r_as: Looks[Literal["number", "ellipse"]] = "number"
    missing: Public[Literal["pairwise", "complete"]] = "pairwise"
    """Which rows each pair shows: those that have both, or those that have every variable."""
    axes: Looks[Literal["outer", "none"]] = "outer"
