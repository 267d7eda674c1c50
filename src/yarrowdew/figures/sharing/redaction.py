"""A figure reduced to what was agreed to go out."""

from __future__ import annotations

from collections.abc import Mapping
from collections.abc import Set as Names

from yarrowdew.figures.document.redaction import Agreed, PrivateFieldError, built
from yarrowdew.figures.document.walking import named_in
from yarrowdew.figures.figure import FigureDocument
from yarrowdew.figures.sharing.models import ShareRequest
from yarrowdew.tables.errors import TableError
from yarrowdew.tables.table import Table


def roles_of(document: FigureDocument) -> dict[str, list[str]]:
    """Name what each variable draws whose values can be read off the figure."""
    roles: dict[str, list[str]] = {}
    for name, role in named_in(document.counting(), "variable", only=document.shown()):
        if role:
            roles.setdefault(name, []).append(role)
    return roles


def reduced_for(
    asked: ShareRequest,
    document: FigureDocument,
    table: Table,
    *,
    rows: Names[int] | None = None,
    categories: Names[str] | None = None,
    called: Mapping[str, str] | None = None,
) -> FigureDocument:
    """Build the document that goes out.

    Raises
    ------
    TableError
        If a variable is to be left out without which there is no figure.
    """
    left = set(asked.leave_out)
    kind = document.of_kind
    lost = sorted(left & set(kind.needed(document)))
    if lost:
        raise TableError(
            f"Without '{lost[0]}' there is no figure to share.",
            "Share it, or share another figure.",
            column=lost[0],
        )
    for name in document.variables_used():
        table.variable(name)
    agreed = Agreed({v.name for v in table.variables} - left, rows, categories, called or {})
    plain = document.counting()
    try:
        made = built(plain, agreed, document.shown(), table="", **kind.standing(plain, agreed))
    except PrivateFieldError:
        raise TableError(
            "Without the variables left out there is no figure to share.",
            "Share more variables, or share another figure.",
        ) from None
    if made.colour is None and document.colour is not None:
        # What a title says of colours that stay, stays.
        made.legend.title = None
    return made
