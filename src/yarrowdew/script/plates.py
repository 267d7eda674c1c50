"""Several figures on one page, in a script."""

from __future__ import annotations

import json
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from yarrowdew.drawing.images import Pictured
from yarrowdew.drawing.making import sides_of
from yarrowdew.figures.document.plate import Cell, PlateDocument
from yarrowdew.script.figures import Drawable, Figure
from yarrowdew.tables.errors import TableError


@dataclass(frozen=True)
class Plate(Drawable):
    """Several figures on one page.

    Attributes
    ----------
    figures : tuple of Figure
    document : PlateDocument
    """

    figures: tuple[Figure, ...]
    document: PlateDocument

    def __repr__(self) -> str:
        """Say how many figures there are."""
        return f"<yarrowdew plate of {len(self.figures)} figures>"

    def pictured(self) -> tuple[list[Pictured], PlateDocument | None]:
        """Give the figures with their answers, and their page."""
        headings = [cell.heading or "" for cell in self.document.cells]
        made = [
            Pictured(one.document, one.answered, one.table, heading=heading)
            for one, heading in zip(self.figures, headings, strict=True)
        ]
        return made, self.document

    def written(self) -> str:
        """The plate and its figures, as JSON."""
        figures = [json.loads(one.written()) for one in self.figures]
        return json.dumps({"plate": self.document.model_dump(mode="json"), "figures": figures})

    def page(self) -> str:
        """Write a page of one file that can be looked into, and fetches nothing."""
        from yarrowdew.drawing.single_page import single_page  # noqa: PLC0415 (seldom needed)
        from yarrowdew.figures.sharing.bundle import shared  # noqa: PLC0415
        from yarrowdew.figures.sharing.models import ShareRequest  # noqa: PLC0415

        documents = [
            one.document.model_copy(update={"table": str(i)}) for i, one in enumerate(self.figures)
        ]
        title = self.document.title or "Figures"
        asked = ShareRequest(title=title[:200], figures=documents, plate=self.document)
        made = shared(asked, lambda place: self.figures[int(place)].table)
        return single_page(title, made.model_dump_json())


def plate(
    figures: Sequence[Figure],
    *,
    columns: int = 2,
    headings: Sequence[str | None] = (),
    title: str | None = None,
    width: float | None = None,
    height: float | None = None,
) -> Plate:
    """Put several figures on one page, their plots in line, each with its letter.

    Parameters
    ----------
    figures : sequence of Figure
    columns : int
    headings : sequence of str, optional
        Beside the letters.
    title : str, optional
    width, height : float, optional
        Of the page, in millimetres.

    Examples
    --------
    >>> import yarrowdew as yd
    >>> one = yd.figure({"dose": [1, 2, 3], "shed": [5, 9, 7]}, x="dose", y="shed")
    >>> yd.plate([one, one.with_(title="Again")])
    <yarrowdew plate of 2 figures>
    """
    if not figures:
        raise TableError("A plate needs a figure.", "Give one or more.")
    named = [*headings, *([None] * (len(figures) - len(headings)))][: len(figures)]
    given: dict[str, Any] = {
        "columns": columns,
        "title": title,
        "cells": [Cell(figure=str(i), heading=h).model_dump() for i, h in enumerate(named)],
    }
    document = PlateDocument.model_validate(given)
    sides = sides_of(width, height)
    if sides:
        document = PlateDocument.model_validate(
            given | {"page": document.page.model_dump() | sides}
        )
    return Plate(tuple(figures), document)
