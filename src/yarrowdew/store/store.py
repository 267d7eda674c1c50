"""Studies, their figures, and what is set once for a study. Every write is one transaction."""

from __future__ import annotations

import datetime as dt
import logging
import secrets
from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from contextlib import contextmanager
from dataclasses import dataclass
from functools import partial
from typing import Any, TypeVar

import polars as pl
from pydantic import BaseModel, ValidationError
from sqlalchemy import ColumnElement, delete, or_, select
from sqlalchemy.orm import Session

from yarrowdew.figures.document.looks import SavedLook
from yarrowdew.figures.document.upgrading import with_rows_that_can_be
from yarrowdew.figures.figure import FigureDocument
from yarrowdew.figures.plate import PlateDocument
from yarrowdew.store.copying import copied_study
from yarrowdew.store.database import give_back
from yarrowdew.store.models import (
    DocumentColumns,
    FigureRow,
    PlateRow,
    ShareRow,
    StudyRow,
    TableRow,
    moment,
    now,
)
from yarrowdew.store.records import NotFoundError, OutdatedError, StoreError, get, next_position
from yarrowdew.store.tables import (
    TableRecord,
    TableRecords,
    looks_of,
    readable,
    record_of,
)
from yarrowdew.tables.categories import CategoryLook
from yarrowdew.tables.errors import TableError
from yarrowdew.tables.filters import SavedFilter
from yarrowdew.tables.reading import ReadOptions
from yarrowdew.tables.reading.progress import Progress, unheard
from yarrowdew.tables.table import Table

DAYS_KEPT = 30
"""How long a study that was deleted can be brought back."""

Held = TypeVar("Held", FigureRow, PlateRow)
Record = TypeVar("Record")
Document = TypeVar("Document", bound=BaseModel)

log = logging.getLogger(__name__)


@dataclass(frozen=True, slots=True)
class StudyRecord:
    """A study without its tables and figures."""

    id: str
    name: str
    changed: str
    deleted: str | None
    """When it was deleted, where it was."""
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


@dataclass(frozen=True, slots=True)
class PlateRecord:
    """A plate as it was last saved."""

    id: str
    study_id: str
    document: PlateDocument
    revision: int


@dataclass(frozen=True, slots=True)
class ShareRecord:
    """A page that others may open, without what it holds."""

    id: str
    name: str
    created: str
    expires: str | None


@dataclass(frozen=True, slots=True)
class UnreadableRecord:
    """A figure or plate whose document cannot be read."""

    id: str
    what: str
    problem: str


class Store(TableRecords):
    """All studies in one data folder."""

    # Studies

    def studies(self, *, deleted: bool = False) -> list[StudyRecord]:
        """List all studies, the one changed last first; or those that were deleted."""
        with self._reading() as session:
            wanted = StudyRow.deleted.is_not(None) if deleted else StudyRow.deleted.is_(None)
            rows = session.scalars(select(StudyRow).where(wanted).order_by(StudyRow.changed.desc()))
            return [_study(row) for row in rows]

    def create_study(self, name: str) -> StudyRecord:
        """Make an empty study."""
        with self._writing() as session:
            row = StudyRow(name=name)
            session.add(row)
            session.flush()
            return _study(row)

    def study(self, study_id: str) -> StudyRecord:
        """Find a study; one that was deleted is not found until it is brought back."""
        with self._reading() as session:
            row = get(session, StudyRow, study_id, "study")
            if row.deleted is not None:
                raise NotFoundError("study", study_id)
            return _study(row)

    def rename_study(self, study_id: str, name: str) -> StudyRecord:
        """Give a study another name."""
        with self._changing(study_id) as (_, row):
            row.name = name
            return _study(row)

    def delete_study(self, study_id: str) -> StudyRecord:
        """Delete a study; it can be brought back for 30 days. What was kept longer goes for good."""
        with self._writing() as session:
            row = get(session, StudyRow, study_id, "study")
            row.deleted = row.deleted or now()
            _forget_expired(session)
            return _study(row)

    def tidy(self) -> None:
        """Let go of what has had its time, and give its space back to the disk."""
        with self._writing() as session:
            _forget_expired(session)
        give_back(self._engine)

    def copy_study(self, study_id: str, name: str) -> StudyRecord:
        """Make a copy of a study as it is, record by record, with ids of its own.

        Values are copied as they are stored, so that every figure of the copy answers as its
        original, to the last bit. Earlier versions of tables are not copied.
        """
        with self._writing() as session:
            return _study(copied_study(session, get(session, StudyRow, study_id, "study"), name))

    def unreadable(self, study_id: str) -> list[UnreadableRecord]:
        """List the figures and plates of a study that cannot be read, and why."""
        with self._reading() as session:
            study = get(session, StudyRow, study_id, "study")
            found: list[UnreadableRecord] = []
            checks: list[tuple[str, str, Callable[[], object]]] = [
                *((f.id, "figure", partial(_figure, f)) for f in study.figures),
                *((p.id, "plate", partial(_plate, p)) for p in study.plates),
            ]
            for record_id, what, read in checks:
                try:
                    read()
                except StoreError as error:
                    found.append(UnreadableRecord(record_id, what, error.message))
            return found

    def bring_back(self, study_id: str) -> StudyRecord:
        """Bring back a study that was deleted."""
        with self._changing(study_id) as (_, row):
            row.deleted = None
            return _study(row)

    def delete_for_good(self, study_id: str) -> None:
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
            Is told the share that is stored; nothing is left behind where it raises.
        next_row : int
            The number that the next new row gets, where rows that had numbers are gone.
        """
        with self._writing() as session:
            row = self._insert(
                session,
                study_id,
                table,
                sources=sources or {},
                options=options,
                recipes=recipes or {},
                progress=progress,
                next_row=next_row,
            )
            for document in figures:
                owned = document.model_copy(update={"table": row.id})
                _added(session, FigureRow, study_id, owned)
            return record_of(session, row)

    # Figures

    def figures(self, study_id: str) -> list[FigureRecord]:
        """List a study's figures in their order."""
        with self._reading() as session:
            return _those_readable(get(session, StudyRow, study_id, "study").figures, _figure)

    def create_figure(self, study_id: str, document: FigureDocument) -> FigureRecord:
        """Add a figure at the end."""
        with self._changing(study_id) as (session, _):
            _owned_table(session, study_id, document.table)
            return _figure(_added(session, FigureRow, study_id, document))

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
            _owned_table(session, row.study_id, document.table)
            _saved(session, row, row.study, document, revision)
            return _figure(row)

    def delete_figure(self, figure_id: str, revision: int | None = None) -> None:
        """Delete a figure; raise OutdatedError where another revision was meant."""
        with self._writing() as session:
            _delete(session, get(session, FigureRow, figure_id, "figure"), revision)

    # Plates

    def plates(self, study_id: str) -> list[PlateRecord]:
        """List a study's plates in their order."""
        with self._reading() as session:
            return _those_readable(get(session, StudyRow, study_id, "study").plates, _plate)

    def create_plate(self, study_id: str, document: PlateDocument) -> PlateRecord:
        """Add a plate at the end."""
        with self._changing(study_id) as (session, _):
            _owned_figures(session, study_id, document)
            return _plate(_added(session, PlateRow, study_id, document))

    def plate(self, plate_id: str) -> PlateRecord:
        """Find a plate."""
        with self._reading() as session:
            return _plate(get(session, PlateRow, plate_id, "plate"))

    def save_plate(self, plate_id: str, document: PlateDocument, revision: int) -> PlateRecord:
        """Save a plate's document over the revision that was read.

        A figure that was deleted may stay in its place, so that nothing else moves.

        Raises
        ------
        OutdatedError
            If it was saved elsewhere since.
        """
        with self._writing() as session:
            row = get(session, PlateRow, plate_id, "plate")
            _saved(session, row, row.study, document, revision)
            return _plate(row)

    def delete_plate(self, plate_id: str, revision: int | None = None) -> None:
        """Delete a plate, whose figures stay; OutdatedError where another revision was meant."""
        with self._writing() as session:
            _delete(session, get(session, PlateRow, plate_id, "plate"), revision)

    # Pages that are shared

    def shares(self, study_id: str) -> list[ShareRecord]:
        """List the pages of a study that can be opened, the newest first."""
        with self._reading() as session:
            get(session, StudyRow, study_id, "study")
            rows = session.scalars(
                select(ShareRow)
                .where(ShareRow.study_id == study_id, _open_still())
                .order_by(ShareRow.created.desc())
            )
            return [_share(row) for row in rows]

    def share(
        self, study_id: str, name: str, content: bytes, days: float | None = None
    ) -> ShareRecord:
        """Keep what is shared at an id that cannot be guessed.

        Parameters
        ----------
        study_id, name : str
        content : bytes
        days : float, optional
            After how many days it can no longer be opened; it stays until withdrawn where None.
        """
        with self._writing() as session:
            get(session, StudyRow, study_id, "study")
            expires = None if days is None else now() + dt.timedelta(days=days)
            row = ShareRow(
                id=secrets.token_urlsafe(32),
                study_id=study_id,
                name=name,
                expires=expires,
                content=content,
            )
            session.add(row)
            session.flush()
            return _share(row)

    def shared(self, share_id: str) -> bytes:
        """Find what is shared; a page that expired or whose study is deleted is not there."""
        with self._reading() as session:
            found = session.scalar(
                select(ShareRow.content)
                .join(StudyRow, StudyRow.id == ShareRow.study_id)
                .where(ShareRow.id == share_id, StudyRow.deleted.is_(None), _open_still())
            )
            if found is None:
                raise NotFoundError("shared page", "at this address")
            return found

    def withdraw(self, share_id: str) -> None:
        """Delete what is shared."""
        with self._writing() as session:
            session.delete(get(session, ShareRow, share_id, "shared page"))

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


def _owned_figures(session: Session, study_id: str, document: PlateDocument) -> None:
    for cell in document.cells:
        figure = session.get(FigureRow, cell.figure)
        if figure is None or figure.study_id != study_id:
            raise NotFoundError("figure", cell.figure)


def _added(session: Session, model: type[Held], study_id: str, document: BaseModel) -> Held:
    """Add a record of a document at the end of its study."""
    row = model(
        study_id=study_id,
        position=next_position(session, model, study_id),
        document=document.model_dump(mode="json"),
        revision=1,
    )
    session.add(row)
    session.flush()
    return row


def _saved(
    session: Session, row: DocumentColumns, study: StudyRow, document: BaseModel, revision: int
) -> None:
    """Put a document over the revision that was read."""
    if row.revision != revision:
        raise OutdatedError(row.revision)
    row.document = document.model_dump(mode="json")
    row.revision += 1
    study.changed = now()
    session.flush()


def _open_still() -> ColumnElement[bool]:
    return or_(ShareRow.expires.is_(None), ShareRow.expires > now())


def _study(row: StudyRow) -> StudyRecord:
    return StudyRecord(
        row.id,
        row.name,
        moment(row.changed),
        None if row.deleted is None else moment(row.deleted),
        {name: list(looks) for name, looks in looks_of(row, row.categories).items()},
        readable(SavedFilter, row.filters),
        readable(SavedLook, row.looks),
    )


def _forget_expired(session: Session) -> None:
    session.execute(delete(StudyRow).where(StudyRow.deleted < now() - dt.timedelta(days=DAYS_KEPT)))
    session.execute(delete(ShareRow).where(ShareRow.expires <= now()))


def _delete(session: Session, row: FigureRow | PlateRow, revision: int | None) -> None:
    if revision is not None and row.revision != revision:
        raise OutdatedError(row.revision)
    session.delete(row)


def _those_readable(rows: Iterable[Held], make: Callable[[Held], Record]) -> list[Record]:
    """Those records whose document can be read: one that cannot spoils itself alone."""
    found = []
    for row in rows:
        try:
            found.append(make(row))
        except StoreError as error:
            log.warning("%s", error)
    return found


def _read(model: type[Document], held: dict[str, Any], what: str) -> Document:
    try:
        return model.model_validate(with_rows_that_can_be(held))
    except ValidationError as error:
        first = error.errors()[0]
        place = ".".join(map(str, first["loc"]))
        raise StoreError(
            f"This {what} cannot be read: {place}: {first['msg'].lower()}.",
            "It may have been written by a newer version; the rest of the study is not touched.",
        ) from error


def _figure(row: FigureRow) -> FigureRecord:
    document = _read(FigureDocument, row.document, "figure")
    return FigureRecord(row.id, row.study_id, document, row.revision)


def _plate(row: PlateRow) -> PlateRecord:
    document = _read(PlateDocument, row.document, "plate")
    return PlateRecord(row.id, row.study_id, document, row.revision)


def _share(row: ShareRow) -> ShareRecord:
    return ShareRecord(
        row.id, row.name, moment(row.created), None if row.expires is None else moment(row.expires)
    )
