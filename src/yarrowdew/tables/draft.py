"""A table while it is being changed: values, rows, variables, and what follows from them."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import replace

import numpy as np
import polars as pl

from yarrowdew.core.errors import UserFacingError
from yarrowdew.tables.draft_state import Cell, Compared, DraftState, DraftVariable, UnreadRows
from yarrowdew.tables.errors import TableError
from yarrowdew.tables.expressions import derive, sources_of, sources_present
from yarrowdew.tables.kinds import (
    Marks,
    as_kind,
    as_text,
    could_be_two,
    guess_kind,
    marks_typed,
    of_kind,
)
from yarrowdew.tables.naming import distinct_names, label_of, split_header
from yarrowdew.tables.reading.rows import guess_header
from yarrowdew.tables.table import (
    MOST_ROW_NUMBER,
    Kind,
    Table,
    Variable,
)

MOST_PASTED = 2_000_000
OTHERS = "others"
"""What rows are called that were not chosen."""


class Draft(DraftState):
    """A working copy of a table, and how it is changed; `derive_again` must be called last."""

    def describe(self, name: str, label: str | None, unit: str | None) -> None:
        """Give a variable another label or unit; None leaves either as it is."""
        held = self.find(name)
        variable = held.variable
        self._put(
            replace(
                held,
                variable=replace(
                    variable,
                    label=variable.label if label is None else label,
                    unit=variable.unit if unit is None else unit,
                ),
            )
        )

    def change_kind(self, name: str, kind: Kind) -> UnreadRows:
        """Read a variable's values as another kind; what cannot be read is kept as text."""
        held = self.find(name)
        if held.recipe is not None:
            raise TableError(
                f"'{name}' is derived, and its kind follows from its expression.",
                "Change the expression, or derive another variable.",
                column=name,
            )
        text = self.source(name)
        if text is None:
            text = as_text(self.column(name))
        # Text with commas is as its file wrote it; what was a number is written with points here.
        has_commas = bool(text.str.contains(",", literal=True).any())
        typed = as_kind(text, kind, self.marks if has_commas else Marks())
        self._set(name, typed.kind, typed.values, text if typed.unread else None)
        if typed.unit and not held.variable.unit:
            self.describe(name, None, typed.unit)
        return UnreadRows.of(text, typed.values, self.ids)

    def derive(self, name: str, expression: str, label: str = "", unit: str = "") -> None:
        """Add a variable made from others by an expression, or make a derived one anew."""
        table = self.table()
        derived = derive(table, expression)
        held = next((h for h in self.held if h.variable.name == name), None)
        if held is not None and held.recipe is None:
            raise TableError(
                f"{self.name} already has a variable '{name}'.",
                "Choose another name.",
                column=name,
            )
        if name in self._all_sources(table, derived.sources):
            raise TableError(
                f"'{name}' would be derived from itself.",
                "Take it out of the expression.",
                column=name,
            )
        if held is None:
            held = DraftVariable(Variable(name, derived.kind, label_of(name)))
            self.held.append(held)
        variable = replace(
            held.variable, label=label or held.variable.label, unit=unit or held.variable.unit
        )
        self._put(DraftVariable(variable, expression))
        self._set(name, derived.kind, derived.values, None)

    def add_variable(self, name: str, kind: Kind, unit: str = "") -> None:
        """Add a variable without values, to be filled in."""
        if any(h.variable.name == name for h in self.held):
            raise TableError(
                f"{self.name} already has a variable '{name}'.", "Choose another name.", column=name
            )
        self.held.append(DraftVariable(Variable(name, kind, label_of(name), unit)))
        nothing = pl.Series(name, [None] * len(self.ids), dtype=pl.String)
        self._set(name, kind, as_kind(nothing, kind, Marks()).values, None)

    def add_choice(self, name: str, rows: Sequence[int]) -> None:
        """Add a variable of two categories: its own name for rows that were chosen, and "others".

        Parameters
        ----------
        name : str
        rows : sequence of int
            Numbers of rows.
        """
        places = self._places(rows)
        self.add_variable(name, Kind.CATEGORY)
        others = OTHERS if name != OTHERS else f"not {name}"
        codes = np.ones(len(self.ids), dtype=np.uint32)
        codes[places] = 0
        words = pl.Series(name, [name, others], dtype=pl.String)
        self._set(name, Kind.CATEGORY, words[codes].cast(pl.Enum([name, others])), None)

    def delete_variable(self, name: str) -> None:
        """Delete a variable from which no other is made."""
        held = self.find(name)
        table = self.table()
        made = [
            h.variable.name
            for h in self.held
            if h is not held and h.recipe is not None and name in sources_present(table, h.recipe)
        ]
        if made:
            raise TableError(
                f"'{made[0]}' is derived from '{name}'.", f"Delete '{made[0]}' first.", column=name
            )
        if len(self.held) == 1:
            raise TableError(f"'{name}' is all that {self.name} holds.", column=name)
        self.held.remove(held)
        self.changed.add(name)

    # Values and rows

    def write(self, cells: Sequence[Cell]) -> None:
        """Write values as they were typed; nothing is written if any cannot be read.

        Raises
        ------
        TableError
            Naming the first row and variable whose value cannot be read.
        """
        by_variable: dict[str, list[Cell]] = {}
        for cell in cells:
            by_variable.setdefault(cell.variable, []).append(cell)
        for name, given in by_variable.items():
            places = self._places([cell.row for cell in given])
            self._write(name, places, [cell.text for cell in given])

    def add_rows(self, count: int, before: int | None = None) -> list[int]:
        """Add blank rows at the end, or above a row, and return their numbers."""
        rows = len(self.ids)
        above = rows
        if before is not None:
            found = np.flatnonzero(self.ids == before)
            above = int(found[0]) if len(found) else rows
        order = np.concatenate(
            [np.arange(above), np.full(count, -1), np.arange(above, rows)]
        ).astype(np.int64)
        if self.next_id + count > MOST_ROW_NUMBER:
            raise TableError(
                f"{self.name} has run out of row numbers.",
                "Save it as a file and import that as a new table.",
            )
        made = np.arange(self.next_id, self.next_id + count, dtype=np.uint32)
        self.next_id += count
        self._gather(order)
        self.ids = np.concatenate([self.ids[:above], made, self.ids[above:]])
        return made.tolist()

    def delete_rows(self, rows: Iterable[int]) -> None:
        """Delete rows by their numbers; those that are not there are passed over."""
        wanted = [row for row in rows if 0 <= row <= MOST_ROW_NUMBER]
        kept = ~np.isin(self.ids, np.array(wanted, dtype=np.int64))
        self._gather(np.flatnonzero(kept))
        self.ids = self.ids[kept]

    def paste(self, rows: Sequence[int], variable: str, block: Sequence[Sequence[str]]) -> None:
        """Write a block of text at a variable, downwards over rows and on to the right.

        Rows are added below where there are too few, and variables on the right. A first line of
        headers names the new variables; it is not written as values.

        Parameters
        ----------
        rows : sequence of int
            Numbers of the rows from the cursor downwards.
        variable : str
            Where the block starts.
        block : sequence of sequence of str
            Lines of values.
        """
        width = max((len(line) for line in block), default=0)
        if not width:
            raise TableError("There is nothing to paste.", "Copy some cells first.")
        if width * len(block) > MOST_PASTED:
            raise TableError(
                f"{width * len(block):,} values are too many to paste.",
                "Save them as a file and read it in.",
            )
        names = [h.variable.name for h in self.held]
        at = names.index(self.find(variable).variable.name)
        header = [""] * width
        if len(block) > 1 and guess_header(block)[0] == 1 and self._is_heading(block, names[at:]):
            header, block = [*block[0], *header][:width], block[1:]
        lines = [[*line, *[""] * (width - len(line))] for line in block]
        ids = list(rows[: len(lines)])
        if len(ids) < len(lines):
            ids += self.add_rows(len(lines) - len(ids))
        places = self._places(ids)
        names += self._new_names(header[len(names) - at :])
        for column, name in enumerate(names[at:][:width]):
            texts = [line[column] for line in lines]
            self._ready_for(name, header[column], texts)
            self._write(name, places, texts)

    def replace(self, table: Table, sources: dict[str, pl.Series]) -> Compared:
        """Take another table's rows; labels, units and derived variables stay."""
        before = {h.variable.name: h for h in self.held}
        derived = [h for h in self.held if h.recipe is not None]
        read = [name for name, h in before.items() if h.recipe is None]
        new = [v.name for v in table.variables if v.name not in before]
        gone = [name for name in read if name not in table.frame.columns]
        self.held = []
        self.ids = table.row_ids()
        self.next_id = max(self.next_id, table.rows)
        self._columns, self._sources = {}, {}
        for v in table.variables:
            own = before.get(v.name)
            kept = v if own is None else replace(own.variable, kind=v.kind)
            self.held.append(DraftVariable(kept))
            self._set(v.name, v.kind, table.frame[v.name], sources.get(v.name))
        for held in derived:
            if held.variable.name not in table.frame.columns:
                self.held.append(held)
                nothing = pl.Series([None] * table.rows, dtype=pl.Float64)
                self._set(held.variable.name, Kind.NUMBER, nothing, None)
        self.changed |= set(gone)
        return Compared(gone, new)

    def derive_again(self) -> None:
        """Recompute derived variables whose sources changed, each after its own sources.

        A variable that can no longer be computed is blank until its sources are back.
        """
        changed = set(self.changed)
        for held in self._by_dependency():
            recipe = held.recipe or ""
            name = held.variable.name
            try:
                table = self.table()
                if not changed & {name, *sources_of(table, recipe)}:
                    continue
                derived = derive(table, recipe)
            except UserFacingError:
                values = self.column(name)
                nothing = pl.Series(name, [None] * len(self.ids), dtype=values.dtype)
                self._set(name, held.variable.kind, nothing, None)
            else:
                self._set(name, derived.kind, derived.values, None)
            changed.add(name)

    # Inside

    def _write(self, name: str, places: np.ndarray, texts: list[str]) -> None:
        held = self.find(name)
        if held.recipe is not None:
            raise TableError(
                f"'{name}' is derived from other variables.",
                "Change its expression, or the values that it is made from.",
                column=name,
            )
        text = _as_typed(texts, name)
        marks = self._marks_for(text, held.variable.kind)
        typed = as_kind(text, held.variable.kind, marks)
        if typed.unread:
            first = (text.is_not_null() & typed.values.is_null()).arg_max() or 0
            raise _unread(text[first], held.variable, int(self.ids[places[first]]) + 1, marks)
        if held.variable.kind is Kind.NUMBER and not marks.thousands:
            for place, value in zip(places, texts, strict=True):
                if could_be_two(value, marks.decimal):
                    raise _unread(value, held.variable, int(self.ids[place]) + 1, marks)
        column, values = of_kind(held.variable.kind).alike(self.column(name), typed.values)
        source = self.source(name)
        self._set(
            name,
            held.variable.kind,
            _scattered(column, places, values),
            None if source is None else _scattered(source, places, text),
        )

    def _marks_for(self, text: pl.Series, kind: Kind) -> Marks:
        return marks_typed(text, self.marks) if kind is Kind.NUMBER else self.marks

    def _ready_for(self, name: str, header: str, texts: Sequence[str]) -> None:
        """Make a variable, or one that is blank as yet, ready for values.

        Its kind follows from the values, its label and unit from the header where there is one.
        """
        known = any(h.variable.name == name for h in self.held)
        if known and (
            self.find(name).recipe is not None
            or self.column(name).null_count() < len(self.ids)
            or not any(texts)
        ):
            return
        text = _as_typed(texts, name)
        kind = guess_kind(text, marks_typed(text, self.marks)).kind
        called, unit = split_header(header)
        if not known:
            self.add_variable(name, kind, unit)
        elif called:
            self.describe(name, label_of(called), unit)
        nothing = pl.Series(name, [None] * len(self.ids), dtype=pl.String)
        self._set(name, kind, as_kind(nothing, kind, Marks()).values, None)

    def _is_heading(self, block: Sequence[Sequence[str]], names: list[str]) -> bool:
        """Whether the first line names variables: new ones, or some that hold other things."""
        first = [cell.strip() for cell in block[0]]
        known = [self.find(name).variable for name in names[: len(first)]]
        for variable, cell in zip(known, first, strict=False):
            if variable.kind in (Kind.CATEGORY, Kind.TEXT) and cell not in (
                variable.name,
                variable.label,
            ):
                return False
        return True

    def _new_names(self, headers: Sequence[str]) -> list[str]:
        taken = [h.variable.name for h in self.held]
        given = [
            split_header(header)[0] or f"column {len(taken) + place}"
            for place, header in enumerate(headers, 1)
        ]
        return distinct_names([*taken, *given])[len(taken) :]


def _as_typed(texts: Sequence[str], name: str) -> pl.Series:
    bare = [text.strip() for text in texts]
    return pl.Series(name, [text or None for text in bare], dtype=pl.String)


def _unread(text: str, variable: Variable, row: int, marks: Marks) -> TableError:
    """Say why a value that was typed cannot be read."""
    both = could_be_two(text, marks.decimal) if variable.kind is Kind.NUMBER else None
    if both is not None:
        return TableError(
            f"“{text[:80]}” could be {both[0]} or {both[1]}.",
            "Type the one that is meant.",
            row=row,
            column=variable.name,
        )
    return TableError(
        f"“{text[:80]}” is not a {variable.kind}.",
        f"'{variable.name}' holds {of_kind(variable.kind).plural}; "
        "its kind can be changed in its panel.",
        row=row,
        column=variable.name,
    )


def _scattered(column: pl.Series, places: np.ndarray, values: pl.Series) -> pl.Series:
    order = np.arange(len(column))
    order[places] = len(column) + np.arange(len(places))
    return pl.concat([column, values.rename(column.name)]).gather(pl.Series(order))


__all__ = ["Cell", "Compared", "Draft", "DraftVariable", "UnreadRows"]
