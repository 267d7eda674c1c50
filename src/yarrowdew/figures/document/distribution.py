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
    """Whether values are on the x axis and categories on the y axis."""
    together: Looks[bool] = False
    """Whether all categories share one baseline instead of a band each."""
    order: Public[Literal["study", "name", "median"]] = "study"
    """Order of the categories: as in the study, alphabetical, or by median."""
    measure: Looks[Literal["counts", "shares"]] = "counts"
    """What the heights of bars and densities show."""
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
