"""Tables as records: versions that share columns, so that every change can be undone."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from typing import Generic, TypeVar

import numpy as np
import polars as pl
from sqlalchemy import select
from sqlalchemy.orm import Session

from yarrowdew.figures.figure import FigureDocument
from yarrowdew.store.categories import make_known
from yarrowdew.store.documents import added
from yarrowdew.store.models import FigureRow, StudyRow, TableRow, VersionRow, now
from yarrowdew.store.records import NotFoundError, changed, get, next_position
from yarrowdew.store.table_queries import TableReader, TableRecord, holds_rows, marks_of, record_of
from yarrowdew.store.versions import (
    PackedVariables,
    StoredVariable,
    add_version,
    check_version,
    forget_oldest,
    ids_of,
    packed_variables,
    variables_of,
    version_of,
)
from yarrowdew.tables.draft import Draft
from yarrowdew.tables.errors import TableError
from yarrowdew.tables.naming import LONGEST_NAME
from yarrowdew.tables.reading import ReadOptions
from yarrowdew.tables.reading.progress import Progress, unheard
from yarrowdew.tables.summary import TableSummary
from yarrowdew.tables.table import Table

Result = TypeVar("Result")

_TRIES_WITHOUT_A_LOCK = 5


@dataclass(frozen=True, slots=True)
class _Changed(Generic[Result]):
    """A change that was worked out and packed over a state of a table, and not yet written.

    Attributes
    ----------
    over : tuple of int
        The version and the next row's number that it was worked out over.
    draft : Draft
    packed : PackedVariables or None
        None where nothing changed.
    known : dict of str to StoredVariable
        As they were.
    summary : TableSummary
        As it was.
    result : object
        Whatever the change itself gave.
    """

    over: tuple[int, int]
    draft: Draft
    packed: PackedVariables | None
    known: dict[str, StoredVariable]
    summary: TableSummary
    result: Result


@dataclass(frozen=True, slots=True)
class PackedTable:
    """A table that is ready to be written: all that takes long is done, and no lock is held.

    Attributes
    ----------
    table : Table
    packed : PackedVariables
    options : ReadOptions or None
        How its file was read.
    next_row : int
        The number that the next new row gets, where rows that had numbers are gone.
    """

    table: Table
    packed: PackedVariables
    options: ReadOptions | None = None
    next_row: int = 0

    @classmethod
    def of(
        cls,
        table: Table,
        sources: Mapping[str, pl.Series] | None = None,
        *,
        options: ReadOptions | None = None,
        recipes: Mapping[str, str] | None = None,
        progress: Progress = unheard,
        next_row: int = 0,
    ) -> PackedTable:
        """Pack the columns of a table; see `TableRepository.add_table`."""
        packed = packed_variables(
            table.variables,
            columns={v.name: table.frame[v.name] for v in table.variables},
            sources=sources or {},
            recipes=recipes or {},
            progress=progress,
        )
        return cls(table, packed, options, next_row)


class TableRepository(TableReader):
    """The tables of all studies, and how they change."""

    def add(
        self,
        study_id: str,
        table: Table,
        figures: Sequence[FigureDocument] = (),
        sources: Mapping[str, pl.Series] | None = None,
        *,
        options: ReadOptions | None = None,
        recipes: Mapping[str, str] | None = None,
        progress: Progress = unheard,
        next_row: int = 0,
    ) -> TableRecord:
        """Add a table, and figures of it, whose documents are given its id.

        Parameters
        ----------
        study_id : str
        table : Table
        figures : sequence of FigureDocument
        sources : mapping of str to polars.Series, optional
            As text, the variables of which some values could not be read; they are kept, so that
            nothing is lost.
        options : ReadOptions, optional
            How its file was read.
        recipes : mapping of str to str, optional
            Expressions of its derived variables, by their names.
        progress : callable
            Is told the share that is packed; nothing is left behind where it raises.
        next_row : int
            The number that the next new row gets, where rows that had numbers are gone.
        """
        # A study that is not there is said before the work, and seen to once more behind the lock.
        with self._database.reading() as session:
            get(session, StudyRow, study_id, "study")
        packed = PackedTable.of(
            table, sources, options=options, recipes=recipes, progress=progress, next_row=next_row
        )
        return self.add_packed(study_id, packed, figures)

    def add_packed(
        self, study_id: str, made: PackedTable, figures: Sequence[FigureDocument] = ()
    ) -> TableRecord:
        """Add a table whose columns are packed already; see `add_table`."""
        table, packed = made.table, made.packed
        # So many values were not typed: the file that they were read from is still there.
        repeatable = sum(column.size for column in packed.columns) > _FROM_A_FILE
        with self._database.writing(repeatable=repeatable) as session:
            study = changed(get(session, StudyRow, study_id, "study"))
            row = TableRow(
                study_id=study_id,
                position=next_position(session, TableRow, study_id),
                name=table.name[:LONGEST_NAME],
                version=1,
                next_row=max(made.next_row, _after_last(table)),
                options=(made.options or ReadOptions()).model_dump(mode="json"),
                study=study,
            )
            session.add(row)
            session.flush()
            packed.put(session, self._columns, row.id)
            make_known(study, packed.categories)
            add_version(
                session,
                row,
                stored=packed.stored.values(),
                summaries=packed.summaries().values(),
                ids=table.ids,
                rows=table.rows,
            )
            for document in figures:
                added(session, FigureRow, study_id, document.model_copy(update={"table": row.id}))
            return record_of(session, row)

    def change(
        self,
        table_id: str,
        change: Callable[[Draft], Result],
        *,
        progress: Progress = unheard,
        options: ReadOptions | None = None,
        expected: int | None = None,
    ) -> tuple[TableRecord, Result]:
        """Change a table as one step that can be undone; nothing changes where `change` raises.

        Parameters
        ----------
        table_id : str
        change : callable
            Works on a draft of the table.
        progress : callable
            Is told the share that is stored; nothing changes where it raises.
        options : ReadOptions, optional
            How its rows were read, where they come from a file.
        expected : int, optional
            The version that is changed; any where None.

        Raises
        ------
        OutdatedError
            If the table was changed elsewhere since.
        """
        for _ in range(_TRIES_WITHOUT_A_LOCK):
            # Worked out and packed without a lock: others may read and write meanwhile.
            with self._database.reading() as session:
                row = get(session, TableRow, table_id, "table")
                check_version(row, expected)
                worked = self._changed(session, row, change, progress)
            with self._database.writing() as session:
                session.expire_all()
                row = get(session, TableRow, table_id, "table")
                check_version(row, expected)
                changed(row.study)
                if (row.version, row.next_row) != worked.over:
                    # Somebody else was first: it is worked out anew over what they left.
                    continue
                if worked.packed is not None:
                    self._write(session, row, worked, worked.packed, options)
                return record_of(session, row), worked.result
        # Somebody changes it all the time: now they wait.
        with self._database.unit():
            return self.change(table_id, change, progress=progress, options=options)

    def _changed(
        self,
        session: Session,
        row: TableRow,
        change: Callable[[Draft], Result],
        progress: Progress,
    ) -> _Changed[Result]:
        """Work a change out on a draft, and pack what it made."""
        holds_rows(row)
        before = version_of(session, row)
        held = {v.name: v for v in variables_of(before)}
        ids = ids_of(before)
        blank = pl.DataFrame({"": np.zeros(before.rows)}) if ids is None else pl.DataFrame()
        draft = Draft(
            Table(row.name, tuple(v.plain() for v in held.values()), blank, ids),
            {v.name: v.recipe for v in held.values() if v.recipe is not None},
            row.next_row,
            marks=marks_of(row),
            column=lambda name: self._column(session, held[name]),
            source=lambda name: self._columns.source(session, held[name].column),
        )
        over = (row.version, row.next_row)
        result = change(draft)
        draft.derive_again()
        packed = None
        if draft.changed | draft.described:
            variables = [h.variable for h in draft.held if h.variable.name in draft.changed]
            texts = ((v.name, draft.source(v.name)) for v in variables)
            packed = packed_variables(
                variables,
                columns={v.name: draft.column(v.name) for v in variables},
                sources={name: text for name, text in texts if text is not None},
                recipes={h.variable.name: h.recipe for h in draft.held if h.recipe is not None},
                progress=progress,
            )
        summary = TableSummary.model_validate(before.summary)
        return _Changed(over, draft, packed, held, summary, result)

    def _write(
        self,
        session: Session,
        row: TableRow,
        worked: _Changed[Result],
        packed: PackedVariables,
        options: ReadOptions | None,
    ) -> None:
        """Write a change as the table's newest version."""
        draft = worked.draft
        row.next_row = draft.next_id
        if options is not None:
            row.options = options.model_dump(mode="json")
        packed.put(session, self._columns, row.id)
        make_known(row.study, packed.categories)
        every = {s.name: s for s in worked.summary.variables}
        stored, summaries = dict(packed.stored), packed.summaries()
        for v in (h.variable for h in draft.held):
            if v.name not in stored:
                words = {"label": v.label, "unit": v.unit}
                stored[v.name] = worked.known[v.name].model_copy(update=words)
                summaries[v.name] = every[v.name].model_copy(update=words)
        names = [h.variable.name for h in draft.held]
        add_version(
            session,
            row,
            stored=[stored[name] for name in names],
            summaries=[summaries[name] for name in names],
            ids=draft.numbered,
            rows=len(draft.ids),
        )
        forget_oldest(session, row, self._columns)

    def restore_version(
        self, table_id: str, number: int, expected: int | None = None
    ) -> TableRecord:
        """Make a table what it was at one of its versions.

        Parameters
        ----------
        table_id : str
        number : int
        expected : int, optional
            The version that is taken back, so that nobody else's change goes with it.

        Raises
        ------
        OutdatedError
            If the table was changed elsewhere since.
        """
        with self._database.writing() as session:
            row = get(session, TableRow, table_id, "table")
            check_version(row, expected)
            version = session.scalar(
                select(VersionRow).where(
                    VersionRow.table_id == table_id, VersionRow.number == number
                )
            )
            if version is None:
                raise NotFoundError(f"version of {row.name}", str(number))
            row.version = number
            row.dataset = version.dataset or row.dataset
            changed(row.study)
            return record_of(session, row)

    def delete(self, table_id: str, expected: int | None = None) -> None:
        """Delete a table that no figure shows; it can be brought back for a while.

        Raises
        ------
        TableError
            Where a figure shows it.
        OutdatedError
            If it was changed elsewhere since.
        """
        with self._database.writing() as session:
            row = get(session, TableRow, table_id, "table")
            check_version(row, expected)
            study = changed(row.study)
            shown = sum(one.document.get("table") == table_id for one in study.figures)
            if shown:
                raise TableError(
                    f"{shown} {'figure shows' if shown == 1 else 'figures show'} {row.name}.",
                    "Delete the figures first.",
                )
            row.deleted = now()

    def restore(self, table_id: str) -> TableRecord:
        """Bring back a table that was deleted, to its place in the study."""
        with self._database.writing() as session:
            row = get(session, TableRow, table_id, "table", also_deleted=True)
            changed(row.study)
            row.deleted = None
            return record_of(session, row)


_FROM_A_FILE = 8 * 1024 * 1024
"""Bytes of a table from which on it cannot have been typed or pasted."""


def _after_last(table: Table) -> int:
    """Return the number after the largest that a row has."""
    return table.rows if table.ids is None else int(max(table.ids, default=-1)) + 1
