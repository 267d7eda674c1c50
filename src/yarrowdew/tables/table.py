"""A table: variables with a kind, a label and a unit, and their values."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, replace

import numpy as np
import numpy.typing as npt
import polars as pl

from yarrowdew.tables.categories import Category
from yarrowdew.tables.errors import TableError
from yarrowdew.tables.kinds import Kind, axis_kind, categories_of, date_on_axis, of_kind

RowIds = npt.NDArray[np.uint32]
MOST_ROW_NUMBER = 2**32 - 1
"""The largest number that a row can have."""
MOST_NAMED = 40
"""How many variables a message names."""


@dataclass(frozen=True, slots=True)
class Variable:
    """A column of a table.

    Attributes
    ----------
    name : str
        Names it in documents, on the command line and in the API; distinct within its table.
    kind : Kind
    label : str
        As it reads on a figure.
    unit : str
        Empty where there is none.
    """

    name: str
    kind: Kind
    label: str
    unit: str = ""

    @property
    def on_axis(self) -> bool:
        """Whether its values have a place on an axis."""
        return of_kind(self.kind).on_axis


@dataclass(frozen=True, slots=True)
class Table:
    """Variables and their values, one column each, in the same order.

    Numbers are Float64, dates Date or Datetime without a zone, categories an Enum in the order in
    which they are to be shown, text String; null where a value is missing.

    Attributes
    ----------
    name : str
    variables : tuple of Variable
    frame : polars.DataFrame
    ids : ndarray of uint32, shape (rows,), optional
        Each row's own number, which it keeps whatever is added and deleted around it; its place
        where None.
    categories : mapping of str to tuple of Category
        By variable, how its categories are ordered and called throughout the study.
    """

    name: str
    variables: tuple[Variable, ...]
    frame: pl.DataFrame
    ids: RowIds | None = None
    categories: Mapping[str, tuple[Category, ...]] = field(default_factory=dict)

    @property
    def rows(self) -> int:
        """How many rows there are."""
        return self.frame.height

    def row_ids(self) -> RowIds:
        """Return each row's own number."""
        return np.arange(self.rows, dtype=np.uint32) if self.ids is None else self.ids

    def places_of(self, ids: npt.ArrayLike) -> npt.NDArray[np.intp]:
        """Find where rows stand, in the order asked for; those that are not there are left out."""
        wanted = np.asarray(ids, dtype=np.float64).reshape(-1)
        # A number that no row can have would not fit; every one that a row can have does.
        wanted = np.where(np.abs(wanted) <= MOST_ROW_NUMBER, wanted, -1).astype(np.int64)
        if self.ids is None:
            return wanted[(wanted >= 0) & (wanted < self.rows)].astype(np.intp)
        order = np.argsort(self.ids, kind="stable")
        at = np.searchsorted(self.ids, wanted, sorter=order)
        found = at < self.rows
        places = order[np.where(found, at, 0)] if self.rows else np.zeros_like(at)
        return places[found & (self.ids[places] == wanted)] if self.rows else places[:0]

    def where(self, kept: pl.Series) -> Table:
        """Keep the rows for which a column of truths is true."""
        ids = self.row_ids()[kept.to_numpy()]
        return replace(self, frame=self.frame.filter(kept), ids=ids)

    def variable(self, name: str) -> Variable:
        """Look a variable up by its exact name, and by nothing else.

        Raises
        ------
        TableError
            If there is none, naming those there are.
        """
        for v in self.variables:
            if v.name == name:
                return v
        known = ", ".join(v.name for v in self.variables[:MOST_NAMED])
        raise TableError(
            f"{self.name} has no variable '{name[:80]}'.", f"It has: {known}.", column=name
        )

    def called(self, text: str) -> Variable:
        """Look up the variable that a person means, who may type its label, or capitals wrongly.

        Raises
        ------
        TableError
            If there is none, or several could be meant.
        """
        wanted = text.strip().casefold()
        near = [v for v in self.variables if wanted in (v.name.casefold(), v.label.casefold())]
        exact = [v for v in self.variables if v.name == text]
        if not exact and len(near) == 1:
            return near[0]
        return self.variable(text)

    def axis_variable(self, name: str, place: str) -> Variable:
        """Look up a variable that is to stand on an axis.

        Parameters
        ----------
        name : str
        place : str
            What it is to be, for the message: "the x variable".

        Raises
        ------
        TableError
            If it holds neither numbers nor dates.
        """
        found = self.variable(name)
        if found.on_axis:
            return found
        fit_for_axis = [v.name for v in self.variables if v.on_axis][:MOST_NAMED]
        remedy = (
            f"Choose one of: {', '.join(fit_for_axis)}."
            if fit_for_axis
            else f"No variable of {self.name} holds numbers; check how it was read."
        )
        raise TableError(
            f"'{found.name}' holds {of_kind(found.kind).plural}, and {place} must hold numbers or dates.",
            remedy,
            column=found.name,
        )


def axis_values(column: pl.Series) -> npt.NDArray[np.float64]:
    """Values as they stand on an axis.

    Returns
    -------
    ndarray of float64, shape (rows,)
        Numbers as they are; dates as days since 1970-01-01; NaN where missing.
    """
    dated = axis_kind(Kind.DATE)
    return (dated if dated.holds(column) else axis_kind(Kind.NUMBER)).places(column)


__all__ = [
    "MOST_ROW_NUMBER",
    "Kind",
    "RowIds",
    "Table",
    "Variable",
    "axis_values",
    "categories_of",
    "date_on_axis",
]
