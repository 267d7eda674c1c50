"""The part of a document that says what a distribution shows."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from yarrowdew.figures.document.base import DocumentPart, DrawnAs, Level, Looks, Public, Value
from yarrowdew.tables.field_roles import VariableName


class Distribution(DocumentPart):
    """One number by itself, or one for each category."""

    variable: Public[Annotated[VariableName, DrawnAs("distribution")]]
    by: Public[Annotated[VariableName | None, DrawnAs("for each")]] = None
    """The category for whose every value it is shown; all together where null."""
    points: Looks[Literal["none", "jittered", "dots", "shaped"]] = "jittered"
    """Scattered at random, stacked where they share a place, or scattered as wide as their
    density."""
    histogram: Looks[bool] = False
    density: Looks[bool] = False
    box: Looks[bool] = True
    lying: Looks[bool] = False
    """Whether values run across, and categories stand above one another."""
    together: Looks[bool] = False
    """Whether all categories stand on one line and not each in a lane of its own."""
    order: Public[Literal["study", "name", "median"]] = "study"
    """In which categories stand: the study's, of the alphabet, or of their medians."""
    measure: Looks[Literal["counts", "shares"]] = "counts"
    """What bars of a histogram, and heights of a density, stand for."""
    bin_width: Public[Annotated[Value, Field(gt=0)] | None] = None
    """A good one where null."""
    bin_start: Public[Value | None] = None
    """An edge from which bins are counted; a multiple of their width where null."""
    bandwidth: Public[Annotated[Value, Field(gt=0)] | None] = None
    """Of the density, in units of the variable; found where null."""
    middle: Public[Literal["none", "mean", "median"]] = "mean"
    """Which middle is marked, with its interval."""
    level: Public[Level] = 0.95
    """Of the intervals."""
