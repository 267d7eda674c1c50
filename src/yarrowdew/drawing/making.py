"""Figures from plain arguments, as a command line or a script gives them."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping, Sequence
from functools import cache
from typing import Any, TypeVar

import polars as pl
from pydantic import TypeAdapter, ValidationError
from typing_extensions import TypedDict

from yarrowdew.drawing.engine import engine, plain
from yarrowdew.figures.analyses.suggestion import marks_for
from yarrowdew.figures.document.trends import Band, OnFigure, TrendPart, trend_of
from yarrowdew.figures.document.words import Venue
from yarrowdew.figures.figure import FigureDocument
from yarrowdew.figures.kinds import KINDS
from yarrowdew.figures.kinds.space.planes import FAMILY as PLANE
from yarrowdew.tables.errors import TableError
from yarrowdew.tables.expressions import derive
from yarrowdew.tables.table import Kind, Table, categories_of

POINTS_A_MM = 72 / 25.4
_SIDES = (72, 7200)
"""Of a page, in points: as its model has them."""


class FigureOptions(TypedDict, total=False):
    """What a figure is to show beside what goes across and up; nothing of it has to be given.

    Attributes
    ----------
    z : str
        The z variable.
    matrix : sequence of str
        Every pair of these variables against each other.
    colour, size, names : str
        The variable that marks are coloured, sized and named by.
    trends : str or mapping, or sequence of them
        Families of trend lines, or what is set about each as in a document; "plane" where there
        is a z.
    by : str
        A line is fitted to each category of this variable.
    level : float or sequence of float
        A band of each level; the first is that of intervals.
    on_figure : str or sequence of str
        Readings that are printed on the figure.
    where : str
        An expression: rows are kept where it is true.
    title : str
    venue : str
        Where the figure will be seen, which sets its page, its text and its ink.
    width, height : float
        Of the page, in millimetres.
    look : mapping
        How it looks: a document, or a look that was kept.
    """

    z: str | None
    matrix: Sequence[str]
    colour: str | None
    size: str | None
    names: str | None
    trends: str | Mapping[str, Any] | Sequence[str | Mapping[str, Any]]
    by: str | None
    level: float | Sequence[float]
    on_figure: OnFigure | Sequence[OnFigure]
    where: str | None
    title: str | None
    venue: Venue | None
    width: float | None
    height: float | None
    look: Mapping[str, Any] | None


class FigureRequest(FigureOptions, total=False):
    """All that a figure is to show: what goes across and up, and what is asked for beside.

    Attributes
    ----------
    x, y : str, and str or sequence of str
        Not needed by a matrix.
    """

    x: str | None
    y: str | Sequence[str]


WANTED = ("x", "y", *FigureOptions.__annotations__)
"""Everything that can be asked for, in the order in which it is said."""


def wanted(given: Mapping[str, Any]) -> FigureRequest:
    """Take what was asked for; what is empty was not.

    Raises
    ------
    TableError
        If there is no such thing to be asked for, or it is nothing of that kind.
    """
    strange = [name for name in given if name not in WANTED]
    if strange:
        raise TableError(f"A figure knows no '{strange[0]}'.", f"Options are: {', '.join(WANTED)}.")
    listed = {
        name: value
        if isinstance(value, str | Mapping) or not isinstance(value, Iterable)
        else [*value]
        for name, value in given.items()
    }
    kept = {
        name: value
        for name, value in listed.items()
        if value is not None and not (isinstance(value, list) and not value)
    }
    return _checked(lambda: _wanted().validate_python(kept), depth=1)


@cache
def _wanted() -> TypeAdapter[FigureRequest]:
    """Made when something is first asked for."""
    return TypeAdapter(FigureRequest)


def several(given: str | float | Mapping[str, Any] | Sequence[Any]) -> list[Any]:
    """One thing or several, as several."""
    return [given] if isinstance(given, str | int | float | Mapping) else list(given)


def kept_table(table: Table, where: str | None) -> Table:
    """Keep the rows of a table for which an expression is true.

    Raises
    ------
    TableError
        If it is no expression of truths, or true for no row.
    """
    if where is None:
        return table
    found = derive(table, where)
    if found.kind is not Kind.CATEGORY or set(categories_of(found.values)) != {"yes", "no"}:
        raise TableError(
            f"'{where}' is a value, and not something that is true or false.",
            "Compare something, as in: wind > 3.",
        )
    kept = (found.values.cast(pl.String) == "yes").fill_null(value=False)
    if not kept.any():
        raise TableError(f"No row matches '{where}'.", "Check its values, or leave it out.")
    return table.where(kept)


def document_of(table: Table, asked: FigureRequest) -> FigureDocument:
    """Make the document of a figure.

    Parameters
    ----------
    table : Table
        With the rows that are kept already.
    asked : Wanted

    Raises
    ------
    TableError
        If there is no such variable, or something cannot be asked for so.
    """

    def name_of(text: str | None) -> str | None:
        return None if text is None else table.called(text).name

    def of(text: str | None) -> dict[str, str] | None:
        return None if text is None else {"variable": table.called(text).name}

    matrix = [table.called(name).name for name in several(asked.get("matrix", ()))]
    x, y = (
        name_of(asked.get("x")),
        [table.called(name).name for name in several(asked.get("y", ()))],
    )
    if matrix:
        x, y = x or matrix[0], y or [matrix[-1]]
    if x is None or not y:
        raise TableError("A figure needs an x variable and a y variable.", "Name both, as x and y.")
    given: dict[str, Any] = {
        "table": table.name[:64],
        "x": x,
        "y": y,
        "colour": of(asked.get("colour")),
        "size": of(asked.get("size")),
        "names": of(asked.get("names")),
        "title": asked.get("title"),
        "trends": [],
        "marks": plain(marks_for(table)),
    }
    if matrix:
        given |= {"kind": _kind_with("matrix"), "matrix": {"variables": matrix}}
    if asked.get("z") is not None:
        plane = _plane(asked, name_of(asked.get("by")))
        given |= {"kind": _kind_with("space"), "space": {**of(asked["z"]), "plane": plane}}  # type: ignore[dict-item]
        asked = {**asked, "trends": ()}
    trends = _checked(
        lambda: [
            plain(_trend(one, asked, name_of(asked.get("by"))))
            for one in several(asked.get("trends", ()))
        ]
    )
    if matrix and trends:
        given["matrix"] |= {"trend": trends[0], "below": "trend"}
    given["trends"] = [] if matrix else trends
    document = _checked(lambda: FigureDocument.model_validate(given))
    if (venue := asked.get("venue")) is not None:
        document = FigureDocument.model_validate(engine().at_venue(plain(document), venue))
    if (look := asked.get("look")) is not None:
        document = _with_look(document, look)
    sides = sides_of(asked.get("width"), asked.get("height"))
    if not sides:
        return document
    page = plain(document.page) | sides | {"venue": "own"}
    return _checked(lambda: FigureDocument.model_validate(plain(document) | {"page": page}))


def sides_of(width: float | None, height: float | None) -> dict[str, float]:
    """The sides of a page in points, of those that are given in millimetres.

    Raises
    ------
    TableError
        If a page cannot be so large or so small.
    """
    least, most = _SIDES
    for side in (width, height):
        if side is not None and not least <= side * POINTS_A_MM <= most:
            raise TableError(
                f"A page cannot be {side:g} mm wide or high.",
                f"Choose from {least / POINTS_A_MM:g} to {most / POINTS_A_MM:g} mm.",
            )
    given = {"width": width, "height": height}
    return {name: round(mm * POINTS_A_MM, 3) for name, mm in given.items() if mm is not None}


def saved_document(given: Mapping[str, Any], table: Table) -> FigureDocument:
    """Take a saved document to another table.

    Raises
    ------
    TableError
        If it is no document of a figure, or the table lacks some of its variables.
    """
    document = _checked(
        lambda: FigureDocument.model_validate(dict(given) | {"table": table.name[:64]})
    )
    known = {v.name for v in table.variables}
    missing = [name for name in document.variables_used() if name not in known]
    if missing:
        said = ", ".join(f"'{name}'" for name in missing)
        raise TableError(
            f"{table.name} has no {said}, which the figure shows.",
            f"It has: {', '.join(sorted(known))[:400]}.",
            column=missing[0],
        )
    return document


def _kind_with(part: str) -> str:
    return next(kind.name for kind in KINDS.values() if kind.part_name == part)


def _fitted(
    given: str | Mapping[str, Any], asked: FigureOptions, by: str | None
) -> tuple[dict[str, Any], list[float]]:
    """What is said of a line or a plane, with what is asked for of all of them; and the levels."""
    said: dict[str, Any] = {"family": given} if isinstance(given, str) else dict(given)
    said.setdefault("by", by)
    if "on_figure" in asked:
        said.setdefault("on_figure", several(asked["on_figure"]))
    levels = several(asked.get("level", ()))
    if levels:
        said.setdefault("level", levels[0])
    return said, levels


def _trend(given: str | Mapping[str, Any], asked: FigureOptions, by: str | None) -> TrendPart:
    said, levels = _fitted(given, asked, by)
    made = trend_of(**said)
    if levels and "bands" not in said and made.bands:
        made = made.model_copy(update={"bands": [Band(level=level) for level in levels]})
    return made


def _plane(asked: FigureOptions, by: str | None) -> dict[str, Any] | None:
    """The plane of a figure with a third axis; None where none is asked for."""
    trends = several(asked.get("trends", ()))
    if not trends:
        return None
    said, _ = _fitted(trends[0], asked, by)
    family = said.pop("family", PLANE)
    if family != PLANE or len(trends) > 1:
        other = f", not by {family!r}" if family != PLANE else ""
        raise TableError(
            f"Three variables are fitted by one {PLANE}{other}.", f"Ask for '{PLANE}'."
        )
    return said


def _with_look(document: FigureDocument, look: Mapping[str, Any]) -> FigureDocument:
    parts = ("marks", "axes", "type", "page", "legend")
    lacking = [name for name in parts if name not in look]
    if lacking:
        raise TableError(
            f"This is no look: it has no '{lacking[0]}'.", "Give a saved figure, or a saved look."
        )
    # A whole figure looks as its document says; one that was kept says only that.
    own = engine().look_of(dict(look)) if "x" in look else dict(look)
    made = engine().dressed(plain(document), own)
    return _checked(lambda: FigureDocument.model_validate(made))


Made = TypeVar("Made")


def _checked(make: Callable[[], Made], depth: int | None = None) -> Made:
    """Make something from what a person gave, and say where it is wrong, down to a depth."""
    try:
        return make()
    except ValidationError as error:
        first = error.errors()[0]
        place = " ".join(str(part) for part in first["loc"][:depth])
        said = first["msg"].removeprefix("Value error, ").rstrip(".")
        where = f"'{place}': " if place else ""
        raise TableError(f"This figure cannot be made: {where}{said}.") from None
