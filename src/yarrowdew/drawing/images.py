"""Images of figures and plates, in the formats that are handed on."""

from __future__ import annotations

import base64
from collections.abc import Sequence
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any, Literal

from yarrowdew.drawing.built import DrawingError
from yarrowdew.drawing.engine import engine, plain
from yarrowdew.drawing.pixels import POINTS_AN_INCH, jpeg_of, png_of
from yarrowdew.figures.answer import Answered
from yarrowdew.figures.figure import FigureDocument
from yarrowdew.tables.table import Table

if TYPE_CHECKING:
    from yarrowdew.figures.document.plate import PlateDocument

ImageFormat = Literal["svg", "png", "jpeg", "pdf"]
IMAGE_TYPES: dict[ImageFormat, str] = {
    "svg": "image/svg+xml",
    "png": "image/png",
    "jpeg": "image/jpeg",
    "pdf": "application/pdf",
}
"""Media type of each format."""
USUAL_DPI, LEAST_DPI, MOST_DPI = 300, 30, 1200


@dataclass(frozen=True, slots=True)
class Pictured:
    """A figure with everything that it is drawn from.

    Attributes
    ----------
    document : FigureDocument
    answered : Answered
    table : Table
        Whose variables the words speak of.
    number : int or None
        Its place among the figures of its study, from 1.
    heading : str
        Beside its letter on a plate.
    """

    document: FigureDocument
    answered: Answered
    table: Table
    number: int | None = None
    heading: str = ""


def image_of(
    figures: Sequence[Pictured],
    format: ImageFormat,
    *,
    plate: PlateDocument | None = None,
    title: str = "",
    dpi: float = USUAL_DPI,
) -> bytes:
    """Draw a figure, or several on a plate.

    Parameters
    ----------
    figures : sequence of Pictured
    format : {"svg", "png", "jpeg", "pdf"}
    plate : PlateDocument, optional
        The page on which the figures stand; without one there is one figure.
    title : str
        Of a PDF; what the picture shows where empty.
    dpi : float
        Of PNG and JPEG.

    Raises
    ------
    DrawingError
        If it cannot be drawn.
    """
    if not LEAST_DPI <= dpi <= MOST_DPI:
        raise DrawingError(
            f"A resolution of {dpi:g} dots per inch is not offered.",
            f"Choose one from {LEAST_DPI} to {MOST_DPI:,}.",
        )
    draws = engine()
    with draws.lock:
        laid = draws.lay([_panel(one) for one in figures], None if plate is None else plain(plate))
        if format == "svg":
            return draws.svg(laid).encode()
        if format == "pdf":
            made, missing = draws.pdf(laid, title or laid.alt)
            if missing:
                raise DrawingError(
                    f"The fonts have no letters for {missing}, which a PDF needs.",
                    "Save an SVG or a PNG, or change these words.",
                )
            return made
        svg = draws.svg(laid, scale=dpi / POINTS_AN_INCH, with_fonts=False)
    png = png_of(svg, laid, dpi)
    return png if format == "png" else jpeg_of(png, dpi)


def _panel(one: Pictured) -> dict[str, Any]:
    return {
        "document": plain(one.document),
        "answer": plain(one.answered.answer),
        "marks": base64.b64encode(one.answered.marks).decode(),
        "variables": [
            {"name": v.name, "label": v.label, "unit": v.unit, "kind": v.kind.value}
            for v in one.table.variables
        ],
        "number": one.number,
        "heading": one.heading,
    }
