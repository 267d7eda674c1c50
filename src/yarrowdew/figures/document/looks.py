"""How a figure looks, apart from what it shows."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from yarrowdew.figures.document.axes import Axes
from yarrowdew.figures.document.base import DocumentPart
from yarrowdew.figures.document.marks import Marks
from yarrowdew.figures.document.words import Page, Type


class SavedLook(DocumentPart):
    """A named style, for every figure of a study."""

    name: Annotated[str, Field(min_length=1, max_length=200)]
    marks: Marks
    axes: Axes
    """What belongs to one variable (title, ends, ticks at own places) is left as it begins."""
    legend: Literal["auto", "inside", "right", "below", "none", "free"] = "auto"
    type: Type
    page: Page
