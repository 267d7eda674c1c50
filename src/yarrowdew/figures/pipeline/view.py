"""The view: which rows of a table a document keeps, and which of them are set aside."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from yarrowdew.core.sample import Mask
from yarrowdew.figures.document.figure import FigureBase
from yarrowdew.tables.filters import kept_rows
from yarrowdew.tables.table import Table


@dataclass(frozen=True, slots=True)
class View:
    """What a document looks at.

    Attributes
    ----------
    document : FigureBase
    table : Table
        With the rows that its filter keeps.
    rows : int
        Of the table before it was filtered.
    set_aside : ndarray of bool, shape (rows kept,)
    """

    document: FigureBase
    table: Table
    rows: int
    set_aside: Mask


def view_of(document: FigureBase, table: Table) -> View:
    """Take from a table the rows that a document keeps.

    Raises
    ------
    TableError
        If its filter asks for what the table does not hold.
    """
    document = document.reduced()
    rows = table.rows
    if document.rows is not None:
        table = table.where(kept_rows(table, document.rows))
    return View(document, table, rows, aside_of(table, document.set_aside))


def aside_of(table: Table, set_aside: list[int]) -> Mask:
    """Find the rows that are set aside."""
    aside = np.zeros(table.rows, dtype=bool)
    aside[table.places_of(set_aside)] = True
    return aside
