"""Studies, their figures, and what is set once for a study. Every write is one transaction."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from contextlib import contextmanager
from dataclasses import dataclass
from typing import Any

import polars as pl
from sqlalchemy import select
from sqlalchemy.orm import Session

from yarrowdew.figures.document import FigureDocument
from yarrowdew.figures.parts import SavedLook
from yarrowdew.store.models import FigureRow, StudyRow, TableRow, now
from yarrowdew.store.records import NotFoundError, OutdatedError, get, next_position
from yarrowdew.store.tables import TableRecord, TableRecords, looks_of, record_of
from yarrowdew.tables.categories import CategoryLook
from yarrowdew.tables.errors import TableError
from yarrowdew.tables.filters import SavedFilter
from yarrowdew.tables.reading import ReadOptions
from yarrowdew.tables.reading.progress import Progress, unheard
from yarrowdew.tables.table import Table


@dataclass(frozen=True, slots=True)
class StudyRecord:
    """A study without its tables and figures."""

    id: str
    name: str
    changed: str
    categories: dict[str, list[CategoryLook]]
    filters: list[SavedFilter]
    looks: list[SavedLook]


@dataclass(frozen=True, slots=True)
class FigureRecord:
    """A figure as it was last saved."""

    id: str
    study_id: str
    document: FigureDocument
    revision: int


class Store(TableRecords):
    """All studies in one data folder."""

    # Studies

    def studies(self) -> list[StudyRecord]:
        """List all studies, the one changed last first."""
        with self._reading() as session:
            rows = session.scalars(select(StudyRow).order_by(StudyRow.changed.desc()))
            return [_study(row) for row in rows]

    def create_study(self, name: str) -> StudyRecord:
        """Make an empty study."""
        with self._writing() as session:
            row = StudyRow(name=name)
            session.add(row)
            session.flush()
            return _study(row)

    def study(self, study_id: str) -> StudyRecord:
        """Find a study."""
        with self._reading() as session:
            return _study(get(session, StudyRow, study_id, "study"))

    def rename_study(self, study_id: str, name: str) -> StudyRecord:
        """Give a study another name."""
        with self._changing(study_id) as (_, row):
            row.name = name
            return _study(row)

    def delete_study(self, study_id: str) -> None:
        """Delete a study with everything in it."""
        with self._writing() as session:
            session.delete(get(session, StudyRow, study_id, "study"))

    def set_categories(
        self, study_id: str, variable: str, looks: Sequence[CategoryLook]
    ) -> StudyRecord:
        """Say how the categories of a variable are ordered, called and coloured.

        Categories that are held by some table and not given stay known, after those given.

        Raises
        ------
        TableError
            If two categories would be called the same.
        """
        with self._changing(study_id) as (_, row):
            known = looks_of(row, [variable]).get(variable, ())
            given = {look.value for look in looks}
            every = [*looks, *(look for look in known if look.value not in given)]
            called = [look.shown for look in every]
            twice = next((name for name in called if called.count(name) > 1), None)
            if twice is not None:
                raise TableError(
                    f"Two categories of '{variable}' would both be called '{twice}'.",
                    "Give each a name of its own.",
                    column=variable,
                )
            row.categories = {
                **row.categories,
                variable: [look.model_dump(mode="json") for look in every],
            }
            return _study(row)

    def save_filter(self, study_id: str, saved: SavedFilter) -> StudyRecord:
        """Keep a row filter under its name; one of the same name and table is replaced."""
        with self._changing(study_id) as (session, row):
            _owned_table(session, study_id, saved.table)
            others = [
                f for f in row.filters if (f["name"], f["table"]) != (saved.name, saved.table)
            ]
            row.filters = [*others, saved.model_dump(mode="json")]
            return _study(row)

    def delete_filter(self, study_id: str, table: str, name: str) -> StudyRecord:
        """Forget a row filter; figures that use it keep it as their own."""
        with self._changing(study_id) as (_, row):
            kept = [f for f in row.filters if (f["name"], f["table"]) != (name, table)]
            if len(kept) == len(row.filters):
                raise NotFoundError("filter", name)
            row.filters = kept
            return _study(row)

    def save_look(self, study_id: str, saved: SavedLook) -> StudyRecord:
        """Keep a look under its name; one of the same name is replaced."""
        with self._changing(study_id) as (_, row):
            others = [look for look in row.looks if look["name"] != saved.name]
            row.looks = [*others, saved.model_dump(mode="json")]
            return _study(row)

    def delete_look(self, study_id: str, name: str) -> StudyRecord:
        """Forget a look; figures that have it keep it."""
        with self._changing(study_id) as (_, row):
            kept = [look for look in row.looks if look["name"] != name]
            if len(kept) == len(row.looks):
                raise NotFoundError("look", name)
            row.looks = kept
            return _study(row)

    # Tables

    def add_table(
        self,
        study_id: str,
        table: Table,
        figures: Sequence[FigureDocument] = (),
        sources: Mapping[str, pl.Series] | None = None,
        *,
        options: ReadOptions | None = None,
        progress: Progress = unheard,
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
        progress : callable
            Is told the share that is stored; nothing is left behind where it raises.
        """
        with self._writing() as session:
            row = self._insert(
                session,
                study_id,
                table,
                sources=sources or {},
                options=options,
                progress=progress,
            )
            for document in figures:
                owned = document.model_copy(update={"table": row.id})
                session.add(_new_figure(session, study_id, owned))
                session.flush()
            return record_of(session, row)

    # Figures

    def figures(self, study_id: str) -> list[FigureRecord]:
        """List a study's figures in their order."""
        with self._reading() as session:
            return [_figure(row) for row in get(session, StudyRow, study_id, "study").figures]

    def create_figure(self, study_id: str, document: FigureDocument) -> FigureRecord:
        """Add a figure at the end."""
        with self._changing(study_id) as (session, _):
            _owned_table(session, study_id, document.table)
            row = _new_figure(session, study_id, document)
            session.add(row)
            session.flush()
            return _figure(row)

    def figure(self, figure_id: str) -> FigureRecord:
        """Find a figure."""
        with self._reading() as session:
            return _figure(get(session, FigureRow, figure_id, "figure"))

    def save_figure(self, figure_id: str, document: FigureDocument, revision: int) -> FigureRecord:
        """Save a figure's document over the revision that was read.

        Raises
        ------
        OutdatedError
            If it was saved elsewhere since.
        """
        with self._writing() as session:
            row = get(session, FigureRow, figure_id, "figure")
            if row.revision != revision:
                raise OutdatedError(row.revision)
            _owned_table(session, row.study_id, document.table)
            row.document = document.model_dump(mode="json")
            row.revision += 1
            row.study.changed = now()
            session.flush()
            return _figure(row)

    def delete_figure(self, figure_id: str) -> None:
        """Delete a figure."""
        with self._writing() as session:
            session.delete(get(session, FigureRow, figure_id, "figure"))

    @contextmanager
    def _changing(self, study_id: str) -> Iterator[tuple[Session, StudyRow]]:
        with self._writing() as session:
            row = get(session, StudyRow, study_id, "study")
            row.changed = now()
            yield session, row


def _owned_table(session: Session, study_id: str, table_id: str) -> TableRow:
    table = session.get(TableRow, table_id)
    if table is None or table.study_id != study_id:
        raise NotFoundError("table", table_id)
    return table


def _new_figure(session: Session, study_id: str, document: FigureDocument) -> FigureRow:
    content: dict[str, Any] = document.model_dump(mode="json")
    return FigureRow(
        study_id=study_id,
        position=next_position(session, FigureRow, study_id),
        document=content,
        revision=1,
    )


def _study(row: StudyRow) -> StudyRecord:
    return StudyRecord(
        row.id,
        row.name,
        row.changed.isoformat(timespec="seconds") + "Z",
        {name: list(looks) for name, looks in looks_of(row, row.categories).items()},
        [SavedFilter.model_validate(f) for f in row.filters],
        [SavedLook.model_validate(look) for look in row.looks],
    )


def _figure(row: FigureRow) -> FigureRecord:
    document = FigureDocument.model_validate(row.document)
    return FigureRecord(row.id, row.study_id, document, row.revision)
