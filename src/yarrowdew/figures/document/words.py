"""Words on a figure, how they are written, and the page that they stand on."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from yarrowdew.figures.document.base import (
    DocumentPart,
    Offset,
    Public,
    Value,
    Words,
)
from yarrowdew.figures.document.categories import HexColour
from yarrowdew.tables.field_roles import CategoryName


class Note(DocumentPart):
    """Text placed anywhere."""

    text: Public[Words]
    anchor: Public[Literal["data", "page"]] = "page"
    """Whether x and y are values on the axes, or shares of the page from its upper left corner."""
    x: Public[Value]
    y: Public[Value]
    points_to: Public[Offset | None] = None
    """Where its pointer ends, in values on the axes."""


class Legend(DocumentPart):
    """The legend, drawn where there are several groups."""

    place: Public[Literal["auto", "inside", "right", "below", "none", "free"]] = "auto"
    x: Public[Value] = 0
    """Horizontal position, as a share of the page's width; used where the place is free."""
    y: Public[Value] = 0
    title: Public[Words | None] = None
    """Legend title; the label of the colour variable where null, none where empty."""
    renamed: Public[dict[CategoryName, Words]] = Field(default_factory=dict, max_length=500)
    """Labels of entries on this figure, by category value."""
    hidden: Public[list[CategoryName]] = Field(default_factory=list, max_length=500)
    """Entries that are left out."""
    order: Public[list[CategoryName]] = Field(default_factory=list, max_length=500)
    """Entries listed first, in this order; the others follow in the study's order."""


Written = Literal[
    "title",
    "subtitle",
    "caption",
    "axis_titles",
    "tick_labels",
    "legend",
    "readings",
    "names",
    "notes",
]


class Lettering(DocumentPart):
    """Font of one part of the text."""

    size: Public[float] = Field(default=1, ge=0.3, le=5)
    """How many times as large as it would be."""
    face: Public[Literal["sans", "serif", "mono"]] = "sans"
    weight: Public[Literal[400, 600] | None] = None
    """Regular or bold; the default of the part where null."""
    colour: Public[HexColour | None] = None


class Type(DocumentPart):
    """How the figure's words are written: all of them, and each part by itself."""

    scale: Public[float] = Field(default=1, ge=0.4, le=4)
    """Of every text."""
    parts: Public[dict[Written, Lettering]] = Field(default_factory=dict)


Venue = Literal["screen", "slide", "report column", "full page", "poster", "own"]


class Page(DocumentPart):
    """The page that the figure fills, in points (1/72 inch)."""

    venue: Public[Venue] = "screen"
    """The medium of the figure; choosing it sets the sizes of page, text, marks and lines."""
    width: Public[float] = Field(default=720, ge=72, le=7200)
    height: Public[float] = Field(default=610, ge=72, le=7200)
    background: Public[HexColour] = "#ffffff"
    frame: Public[HexColour | None] = None
