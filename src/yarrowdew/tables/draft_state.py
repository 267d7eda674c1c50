"""What a draft of a table holds: its variables, columns and rows as they now are."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from graphlib import CycleError, TopologicalSorter

import numpy as np
import polars as pl

from yarrowdew.tables.errors import TableError
from yarrowdew.tables.expressions import sources_present
from yarrowdew.tables.kinds import Marks
from yarrowdew.tables.table import (
    MOST_ROW_NUMBER,
    Kind,
    RowIds,
    Table,
    Variable,
)

MOST_UNREAD_LISTED = 1_000


@dataclass(frozen=True, slots=True)
class DraftVariable:
    """A variable of a draft, and the expression that it is made by, where it is derived."""

    variable: Variable
    recipe: str | None = None


@dataclass(frozen=True, slots=True)
class Cell:
    """A value to be written.

    Attributes
    ----------
    row : int
        The row's own number.
    variable : str
    text : str
        As it was typed; missing where blank.
    """

    row: int
    variable: str
    text: str


@dataclass(frozen=True, slots=True)
class UnreadRows:
    """Values that could not be read as a kind, with their rows' numbers; at most a thousand."""

    count: int
    rows: list[int]
    values: list[str]

    @classmethod
    def of(cls, text: pl.Series, values: pl.Series, ids: RowIds) -> UnreadRows:
        """List what is in a text and missing in the values read from it."""
        places = (text.is_not_null() & values.is_null()).arg_true()
        listed = places.head(MOST_UNREAD_LISTED)
        return cls(len(places), ids[listed.to_numpy()].tolist(), text.gather(listed).to_list())


@dataclass(frozen=True, slots=True)
class Compared:
    """What came of reading a table in again: variables that are gone, and that are new."""

    gone: list[str]
    new: list[str]


class DraftState:
    """A working copy of a table.

    Columns are fetched when they are needed; `changed` names those that are no longer what they
    were, and `described` those of which only the label or unit is new. `derive_again` makes derived variables anew and must be called last.

    Parameters
    ----------
    table : Table
        Its frame is not looked at.
    recipes : dict of str to str
        Of the derived variables.
    next_id : int
        The number that the next new row gets.
    marks : Marks
        How the table's file wrote numbers and dates: by these what is typed is read.
    column, source : callable
        Fetch the values of a variable, and what it held as text where some of it could not be read.
    """

    def __init__(
        self,
        table: Table,
        recipes: dict[str, str],
        next_id: int,
        *,
        column: Callable[[str], pl.Series],
        source: Callable[[str], pl.Series | None],
        marks: Marks = Marks(),
    ) -> None:
        self.marks = marks
        self.name = table.name
        self.held = [DraftVariable(v, recipes.get(v.name)) for v in table.variables]
        self.ids = table.row_ids()
        self.next_id = next_id
        self.changed: set[str] = set()
        self.described: set[str] = set()
        self._fetch_column, self._fetch_source = column, source
        self._columns: dict[str, pl.Series] = {}
        self._sources: dict[str, pl.Series | None] = {}

    # Looking

    @property
    def numbered(self) -> RowIds | None:
        """The rows' own numbers; None where they are their places."""
        plain = np.arange(len(self.ids), dtype=np.uint32)
        return None if np.array_equal(self.ids, plain) else self.ids

    def column(self, name: str) -> pl.Series:
        """Return the values of a variable as they now are."""
        if name not in self._columns:
            self._columns[name] = self._fetch_column(name)
        return self._columns[name]

    def source(self, name: str) -> pl.Series | None:
        """Return what a variable holds as text, where some of it could not be read."""
        if name not in self._sources:
            self._sources[name] = self._fetch_source(name)
        return self._sources[name]

    def table(self) -> Table:
        """Return the whole as a table."""
        variables = tuple(h.variable for h in self.held)
        frame = pl.DataFrame([self.column(v.name) for v in variables])
        return Table(self.name, variables, frame, self.ids)

    def find(self, name: str) -> DraftVariable:
        """Find a variable by its exact name."""
        for held in self.held:
            if held.variable.name == name:
                return held
        known = ", ".join(h.variable.name for h in self.held)
        raise TableError(f"{self.name} has no variable '{name}'.", f"It has: {known}.", column=name)

    # Variables

    def _put(self, held: DraftVariable) -> None:
        names = [h.variable.name for h in self.held]
        self.held[names.index(held.variable.name)] = held
        self.described.add(held.variable.name)

    def _set(self, name: str, kind: Kind, values: pl.Series, source: pl.Series | None) -> None:
        held = self.find(name)
        self._columns[name] = values.rename(name)
        self._sources[name] = source
        self.changed.add(name)
        self._put(replace(held, variable=replace(held.variable, kind=kind)))

    def _gather(self, order: np.ndarray) -> None:
        """Put the rows of every column into another order; -1 stands for a row without values."""
        wanted = pl.Series(order).cast(pl.Int64)
        wanted = wanted.set(wanted < 0, None)
        for held in list(self.held):
            name = held.variable.name
            source = self.source(name)
            self._set(
                name,
                held.variable.kind,
                self.column(name).gather(wanted),
                None if source is None else source.gather(wanted),
            )

    def _places(self, ids: Sequence[int]) -> np.ndarray:
        """Find where rows stand; raise where one is not there."""
        order = np.argsort(self.ids, kind="stable")
        ordered = self.ids[order].astype(np.int64)
        wanted = np.array([i if i <= MOST_ROW_NUMBER else -1 for i in ids], dtype=np.int64)
        at = np.searchsorted(ordered, wanted)
        found = at < len(ordered)
        found[found] = ordered[at[found]] == wanted[found]
        if not found.all():
            gone = ids[int(np.flatnonzero(~found)[0])]
            raise TableError(f"There is no row {gone + 1:,}.", "It may have been deleted.")
        return order[at]

    def _by_dependency(self) -> list[DraftVariable]:
        """List the derived variables so that each follows those that it is computed from."""
        if all(h.recipe is None for h in self.held):
            return []
        table = self.table()
        derived = {h.variable.name: h for h in self.held if h.recipe is not None}
        sources = {
            name: [s for s in sources_present(table, h.recipe or "") if s in derived]
            for name, h in derived.items()
        }
        return [derived[name] for name in dependency_order(sources)]

    def _all_sources(self, table: Table, names: Iterable[str]) -> set[str]:
        """Name everything that variables are made from, however far back."""
        recipes = {h.variable.name: h.recipe for h in self.held}
        found: set[str] = set()
        waiting = list(names)
        while waiting:
            name = waiting.pop()
            if name not in found:
                found.add(name)
                recipe = recipes.get(name)
                waiting += sources_present(table, recipe) if recipe else ()
        return found


def dependency_order(sources: Mapping[str, Iterable[str]]) -> list[str]:
    """Order names so that each follows its sources; names that depend on themselves come last.

    Parameters
    ----------
    sources : mapping of str to iterable of str
        By name, the names that it depends on.
    """
    graph = {name: set(needs) & sources.keys() for name, needs in sources.items()}
    sorter = TopologicalSorter(graph)
    try:
        return list(sorter.static_order())
    except CycleError:
        # Only a file written by hand holds a cycle: its members cannot be computed in any order.
        ordered = [name for name in graph if not graph[name]]
        return [*ordered, *(name for name in graph if graph[name])]
