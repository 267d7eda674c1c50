"""Datasets: tables of any size in Parquet files that stay where they are, and are read in chunks."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace
from functools import cached_property
from itertools import accumulate
from pathlib import Path
from typing import TypeVar

import numpy as np
import polars as pl

from yarrowdew.core.aggregates.aggregation import Labels, Rows
from yarrowdew.core.errors import UserFacingError
from yarrowdew.tables.columns import column_named, select_named
from yarrowdew.tables.draft import Draft
from yarrowdew.tables.engines.chunk_columns import (
    held_as,
    keep_labels,
    kept_labels,
    labels_of,
    numbers_of,
    rows_where,
    unreadable,
)
from yarrowdew.tables.engines.predicate_pushdown import worth_of_file
from yarrowdew.tables.errors import TableError
from yarrowdew.tables.expressions import check_by_row, derive, sources_of
from yarrowdew.tables.filters import RowFilter, kept_rows
from yarrowdew.tables.kinds import categories_of
from yarrowdew.tables.table import Kind, Table, Variable

PART_ROWS = 1_000_000
"""So many rows are read at once: what a part takes of memory does not depend on the whole."""
HEAD_ROWS = 1_000
_AT = "\N{SECTION SIGN} row"
"""Where a row stands in its file, beside columns of any name."""


Result = TypeVar("Result")


@dataclass(frozen=True, slots=True)
class DatasetFile:
    """A file as it was when the dataset was opened.

    Attributes
    ----------
    path : str
    size, changed : int
        Bytes, and when it was written, in nanoseconds.
    rows : int
    """

    path: str
    size: int
    changed: int
    rows: int

    def check(self) -> None:
        """Raise TableError where it is not as it was."""
        try:
            now = Path(self.path).stat()
        except OSError as error:
            raise TableError(
                f"{Path(self.path).name} is missing.", "Put it back, or open the dataset again."
            ) from error
        if (now.st_size, now.st_mtime_ns) != (self.size, self.changed):
            raise TableError(
                f"{Path(self.path).name} has changed since the dataset was opened.",
                "Open it again, so that all of it is from the same moment.",
            )


@dataclass(frozen=True, slots=True)
class Part:
    """A stretch of rows of one file.

    Attributes
    ----------
    file : DatasetFile
    start, rows : int
        Within the file.
    place : int
        Of its first row in the whole.
    """

    file: DatasetFile
    start: int
    rows: int
    place: int


@dataclass(frozen=True)
class Dataset:
    """A table of which some rows are read at a time.

    Attributes
    ----------
    name : str
    variables : tuple of Variable
    columns : mapping of str to str
        By variable, what its column is called in the files.
    files : tuple of DatasetFile
    where : tuple of str or RowFilter
        Expressions and conditions: only rows for which all of these are true are given.
    made : tuple of (str, str)
        Variables that no file has, and the expressions by which each is made from others of its row.
    passed_over : frozenset of int
        Places of parts that are known to hold nothing that is asked for.
    left_out : tuple of int
        Places of rows that are not given, whatever else is true of them.
    """

    name: str
    variables: tuple[Variable, ...]
    columns: Mapping[str, str]
    files: tuple[DatasetFile, ...]
    where: tuple[str | RowFilter, ...] = field(default=())
    made: tuple[tuple[str, str], ...] = field(default=())
    passed_over: frozenset[int] = field(default=frozenset(), repr=False)
    left_out: tuple[int, ...] = field(default=())

    @property
    def rows(self) -> int:
        """How many rows there are, before any is left out."""
        return sum(file.rows for file in self.files)

    def parts(self) -> Iterator[Part]:
        """Cut it into parts, always the same ones, but for those that are passed over."""
        starts = accumulate((file.rows for file in self.files), initial=0)
        for file, first in zip(self.files, starts, strict=False):
            for start in range(0, file.rows, PART_ROWS):
                if first + start not in self.passed_over:
                    yield Part(file, start, min(PART_ROWS, file.rows - start), first + start)

    def without(self, places: frozenset[int]) -> Dataset:
        """The same without parts of which it is known that they hold nothing that is asked for.

        One part is always left, so that what is asked has an answer.
        """
        first = next(self.parts(), None)
        left = first is not None and any(part.place not in places for part in self.parts())
        kept = places if left or first is None else places - {first.place}
        return replace(self, passed_over=kept)

    @cached_property
    def head(self) -> Table:
        """The first rows, as a table that knows the variables."""
        first = next((file for file in self.files if file.rows), self.files[0])
        return self.table_of(Part(first, 0, min(first.rows, HEAD_ROWS), 0))

    def table_of(self, part: Part, names: Sequence[str] | None = None) -> Table:
        """Read some columns of a part.

        Raises
        ------
        TableError
            If its file has changed, or cannot be read.
        """
        return self._table(self._frame(part, names))

    def rows_at(self, places: Sequence[int], names: Sequence[str] | None = None) -> Table:
        """Read rows by their places in the whole, in this order; those that are none are left out.

        Raises
        ------
        TableError
            If a file has changed, or cannot be read.
        """
        known = np.array([p for p in places if 0 <= p < self.rows], dtype=np.int64)
        held = tuple(v for v in self.variables if names is None or v.name in names)
        if not len(known):
            nothing = select_named(self.head.frame.clear(), [v.name for v in held])
            return Table(self.name, held, nothing, known.astype(np.uint32))
        frames, found_at = [], []
        for part in self.parts():
            own = known[(known >= part.place) & (known < part.place + part.rows)]
            if not len(own):
                continue
            first, last = int(own.min()), int(own.max())
            stretch = Part(part.file, part.start + first - part.place, last - first + 1, first)
            frames.append(self.table_of(stretch, names).frame[(own - first).tolist()])
            found_at.append(own)
        found = np.concatenate(found_at)
        order = np.argsort(found, kind="stable")[np.argsort(np.argsort(known, kind="stable"))]
        frame = pl.concat(frames, how="vertical_relaxed")[order.tolist()]
        return Table(self.name, held, frame, found[order].astype(np.uint32))

    def _frame(
        self, part: Part, names: Sequence[str] | None = None, worth: pl.Expr | None = None
    ) -> pl.DataFrame:
        """The columns as the file has them, under the names of their variables, and what is made.

        Where only some rows are worth reading, it is said where in the file these are.
        """
        part.file.check()
        wanted = [v.name for v in self.variables if names is None or v.name in names]
        columns = [column_named(self.columns[name]).alias(name) for name in self._read_for(wanted)]
        read = pl.scan_parquet(
            part.file.path, glob=False, row_index_name=None if worth is None else _AT
        )
        if part.rows < part.file.rows:
            read = read.slice(part.start, part.rows)
        if worth is not None:
            read = read.filter(worth).select([*columns, _AT])
            wanted.append(_AT)
        else:
            read = read.select(columns)
        try:
            frame = read.collect()
        except (pl.exceptions.PolarsError, OSError) as error:
            raise unreadable(part.file.path, error) from error
        for name in wanted:
            frame = self._with(frame, name)
        return select_named(frame, wanted)

    def _read_for(self, names: Sequence[str]) -> list[str]:
        """Name the variables of the files from which others are made, and those that are there."""
        found: dict[str, None] = {}
        for name in names:
            sources = self._made_from.get(name)
            found |= dict.fromkeys([name] if sources is None else self._read_for(sources))
        return list(found)

    def _with(self, frame: pl.DataFrame, name: str) -> pl.DataFrame:
        """The same with a variable that is made, and with those that it is made from."""
        if name in frame.columns:
            return frame
        sources = self._made_from[name]
        for source in sources:
            frame = self._with(frame, source)
        made = derive(self._table(select_named(frame, sources)), dict(self.made)[name]).values
        return frame.with_columns(made.alias(name))

    @cached_property
    def _made_from(self) -> Mapping[str, tuple[str, ...]]:
        """What each variable that is made is made from."""
        nothing = pl.DataFrame({v.name: pl.Series([], dtype=pl.Null) for v in self.variables})
        blank = Table(self.name, self.variables, nothing)
        # What is made of nothing has as many values as there are rows of something.
        some = (next(iter(self.columns)),)
        return {name: sources_of(blank, expression) or some for name, expression in self.made}

    def change(self, change: Callable[[Draft], Result]) -> tuple[Dataset, set[str], Result]:
        """Change what is made and how variables are called, as in a draft of a table.

        Returns
        -------
        Dataset
        set of str
            Variables that are made anew.
        object
            What the change gave.

        Raises
        ------
        TableError
            If it would change values that are in the files, or looks beyond one row.
        """
        head = self.head
        draft = Draft(
            head, dict(self.made), head.rows, column=head.frame.__getitem__, source=lambda _: None
        )
        result = change(draft)
        draft.derive_again()
        recipes = {h.variable.name: h.recipe for h in draft.held if h.recipe is not None}
        kept = {h.variable.name: h.variable for h in draft.held if h.recipe is None}
        there = {v.name: v.kind for v in self.variables if v.name in self.columns}
        if {name: v.kind for name, v in kept.items()} != there or draft.changed & set(there):
            raise TableError(
                f"The files of {self.name} are read, and never written.",
                "Derive a variable from it, or import part of its rows.",
            )
        for expression in recipes.values():
            check_by_row(expression)
        variables = tuple(h.variable for h in draft.held)
        changed = replace(self, variables=variables, made=tuple(recipes.items()))
        try:
            changed.head  # noqa: B018 (all that is made is made there)
        except UserFacingError as error:
            raise TableError(
                f"A variable that is derived from it could no longer be computed: {error.message}",
                "Change that first, or give this another name.",
            ) from error
        return changed, draft.changed & set(recipes), result

    def _table(self, frame: pl.DataFrame) -> Table:
        held = [v for v in self.variables if v.name in frame.columns]
        made = pl.DataFrame([held_as(v, frame[v.name]) for v in held]) if held else frame
        return Table(self.name, tuple(held), made)

    def rows_of(
        self,
        part: Part,
        numbers: Sequence[str] = (),
        labels: Sequence[str] = (),
        origins: Mapping[str, float] | None = None,
    ) -> Rows:
        """Read what is asked of a part, of the rows that are kept.

        Parameters
        ----------
        part : Part
        numbers : sequence of str
            Variables with a place on an axis.
        labels : sequence of str
            Variables whose values tell groups apart.
        origins : mapping of str to float, optional
            What is taken from numbers.
        """
        sources = self._sources
        part.file.check()
        keys = {name: self._key(part, name) for name in labels if name in self.columns}
        coded = {name: kept_labels(key) for name, key in keys.items()}
        known = {name: found for name, found in coded.items() if found is not None}
        read = [*numbers, *(name for name in labels if name not in known), *sources]
        worth = self._worth_reading(part)
        at = np.arange(part.rows)
        if worth is not None:
            found = self._frame(part, read, worth)
            frame = found.drop(_AT)
            at = found[_AT].to_numpy().astype(np.intp) - part.start
            known = {name: Labels(own.codes[at], own.names) for name, own in known.items()}
        else:
            frame = self._frame(part, read) if read else pl.DataFrame(height=part.rows)
        for name in labels:
            if name not in known:
                known[name] = labels_of(frame[name])
                if name in keys and worth is None:
                    keep_labels(keys[name], known[name])
        kept = np.arange(len(at))
        for where in self.where:
            true = rows_where(self._table(select_named(frame, sources)), where)
            frame, kept = frame.filter(true), kept[true.to_numpy()]
        if self.left_out:
            there = ~np.isin(part.place + at[kept], self.left_out)
            frame, kept = frame.filter(pl.Series(there)), kept[there]
        if self.where or self.left_out:
            at = at[kept]
            known = {name: Labels(own.codes[kept], own.names) for name, own in known.items()}
        origins = origins or {}
        return Rows(
            {
                name: numbers_of(self.head.variable(name), frame[name], origins.get(name, 0.0))
                for name in numbers
            },
            known,
            part.place + at,
            part.place,
        )

    def _worth_reading(self, part: Part) -> pl.Expr | None:
        """Which rows of a part may be kept, where its file can tell; see `tables.passing`."""
        filters = [where for where in self.where if isinstance(where, RowFilter)]
        if not filters:
            return None
        return worth_of_file(part.file.path, filters, self.variables, self.columns)

    def _key(self, part: Part, name: str) -> str:
        """Under which the words of a part are kept."""
        kind = self.head.variable(name).kind
        return repr((part.file, part.start, part.rows, self.columns[name], kind))

    def kept_where(self, expression: str | None) -> Dataset:
        """The same with only those rows for which an expression is true.

        Raises
        ------
        TableError
            If it is none, or looks beyond one row at a time.
        """
        if expression is None:
            return self
        check_by_row(expression)
        found = derive(self.head, expression)
        if found.kind is not Kind.CATEGORY or not set(categories_of(found.values)) <= {"yes", "no"}:
            raise TableError(
                f"'{expression}' is a value, and not something that is true or false.",
                "Compare something, as in: wind > 3.",
            )
        return replace(self, where=(*self.where, expression))

    def kept_by(self, conditions: RowFilter | None) -> Dataset:
        """The same with only those rows for which conditions are true.

        Raises
        ------
        TableError
            If there is no such variable, or a test does not fit its kind.
        """
        if conditions is None:
            return self
        kept_rows(self.head, conditions)
        return replace(self, where=(*self.where, conditions))

    @cached_property
    def _sources(self) -> tuple[str, ...]:
        found: list[str] = []
        for where in self.where:
            if isinstance(where, RowFilter):
                found += where.variables()
            else:
                found += derive(self.head, where).sources
        return tuple(dict.fromkeys(found))
