"""What all kinds of records share: sessions, errors, and how one is found."""

from __future__ import annotations

import sqlite3
from collections.abc import Iterator
from contextlib import contextmanager
from contextvars import ContextVar
from pathlib import Path
from threading import Lock
from typing import TypeVar

from sqlalchemy import func, select
from sqlalchemy.exc import DatabaseError, OperationalError
from sqlalchemy.orm import Session

from yarrowdew.core.errors import UserFacingError
from yarrowdew.store.database import give_back, open_database
from yarrowdew.store.models import Base, DocumentColumns, StudyRow, TableRow, now

DATABASE_NAME = "studies.sqlite"

Row = TypeVar("Row", bound=Base)
Value = TypeVar("Value")


class NotFoundError(LookupError):
    """There is no such record."""

    def __init__(self, what: str, record_id: str) -> None:
        super().__init__(f"There is no {what} '{record_id}'; it may have been deleted.")


class OutdatedError(RuntimeError):
    """Someone else saved first."""

    def __init__(self, revision: int) -> None:
        super().__init__("This was saved elsewhere in the meantime.")
        self.revision = revision


class StoreError(UserFacingError):
    """The records cannot be opened, read or written."""


class StoreBusyError(StoreError):
    """Somebody else writes, and has done so for longer than a writer waits."""


class Database:
    """One database file.

    Every change is one transaction; `unit` makes one of several, so that a kill leaves all of them
    or none.

    Parameters
    ----------
    folder : Path
        Made where it does not exist.
    """

    def __init__(self, folder: Path) -> None:
        self.folder = folder
        self._unit: ContextVar[Session | None] = ContextVar("unit", default=None)
        # Writers of this process wait here in turn, and not by asking SQLite again and again.
        self._writer = Lock()
        with _as_sentences():
            self._engine = open_database(folder / DATABASE_NAME)

    def close(self) -> None:
        """Let go of the database file."""
        self._engine.dispose()

    def give_back_space(self) -> None:
        """Give space that is no longer used back to the disk."""
        give_back(self._engine)

    @contextmanager
    def unit(self) -> Iterator[None]:
        """Make one transaction of all changes inside: all of them happen, or none."""
        with self.writing():
            yield

    @contextmanager
    def together(self) -> Iterator[None]:
        """Read everything inside as of one moment; writing inside raises RuntimeError."""
        with self.reading() as session:
            if session is self._unit.get():
                yield
                return
            session.info[_READS] = True
            token = self._unit.set(session)
            try:
                yield
            finally:
                self._unit.reset(token)

    @contextmanager
    def reading(self) -> Iterator[Session]:
        """Open a session that reads, or join the unit that is open."""
        current = self._unit.get()
        if current is not None:
            yield current
            return
        with _as_sentences(), Session(self._engine) as session:
            yield session

    @contextmanager
    def writing(self, *, repeatable: bool = False) -> Iterator[Session]:
        """Write in one transaction.

        Parameters
        ----------
        repeatable : bool
            Whether what is written can be had again, so that nobody has to wait for the disk. A
            power cut may then take all of it, and never a part; a kill takes nothing.
        """
        current = self._unit.get()
        if current is not None:
            if current.info.get(_READS):
                raise RuntimeError("Nothing can be written where records are read together.")
            yield current
            current.flush()
            return
        engine = self._engine.execution_options(writes=True, repeatable=repeatable)
        with self._turn(), _as_sentences(), Session(engine) as session, session.begin():
            token = self._unit.set(session)
            try:
                yield session
            finally:
                self._unit.reset(token)

    @contextmanager
    def _turn(self) -> Iterator[None]:
        if not self._writer.acquire(timeout=WAITS_SECONDS):
            raise StoreBusyError(_BUSY, _TRY_AGAIN)
        try:
            yield
        finally:
            self._writer.release()

    @contextmanager
    def changing(self, study_id: str) -> Iterator[tuple[Session, StudyRow]]:
        """Write to a study, and note that it changes now."""
        with self.writing() as session:
            yield session, changed(get(session, StudyRow, study_id, "study"))


class Repository:
    """Records of one sort in a database.

    Parameters
    ----------
    database : Database
    """

    def __init__(self, database: Database) -> None:
        self._database = database


_READS = "reads"
_BUSY = "Another program is writing the studies; nothing was changed."
_TRY_AGAIN = "Try again in a moment."
WAITS_SECONDS = 20.0
"""For so long a writer waits for those before it."""


def changed(study: StudyRow) -> StudyRow:
    """Note that a study changes now; one that was deleted cannot be changed.

    Raises
    ------
    NotFoundError
    """
    if study.deleted is not None:
        raise NotFoundError("study", study.id)
    study.changed = now()
    return study


@contextmanager
def _as_sentences() -> Iterator[None]:
    """Say what the database refuses: a full disk, a lock that stays, a damaged file."""
    try:
        yield
    except DatabaseError as error:
        # The low byte is the kind of refusal; what is above it says more of the place.
        code = getattr(error.orig, "sqlite_errorcode", 0) & 0xFF
        if code in (sqlite3.SQLITE_BUSY, sqlite3.SQLITE_LOCKED):
            raise StoreBusyError(_BUSY, _TRY_AGAIN) from error
        if code in _REFUSALS:
            raise StoreError(*_REFUSALS[code]) from error
        if isinstance(error, OperationalError):
            raise StoreError(
                f"The studies cannot be read or written ({error.orig or error}).",
                "Check the data folder and its disk.",
            ) from error
        raise


_REFUSALS = {
    sqlite3.SQLITE_FULL: (
        "The disk is full; nothing was changed.",
        "Make room on the disk that holds the studies, and try again.",
    ),
    sqlite3.SQLITE_READONLY: (
        "The studies may not be written to; nothing was changed.",
        "Give this user the right to write to the data folder.",
    ),
    sqlite3.SQLITE_CORRUPT: (
        "The file that holds the studies is damaged.",
        "Restore a copy of it, or choose another data folder with --data.",
    ),
    sqlite3.SQLITE_NOTADB: (
        "The file that holds the studies is no database of this program.",
        "Choose another data folder with --data.",
    ),
    sqlite3.SQLITE_CANTOPEN: (
        "The file that holds the studies cannot be opened.",
        "Check that the data folder is there and may be written to.",
    ),
}


def get(
    session: Session, model: type[Row], record_id: str, what: str, *, also_deleted: bool = False
) -> Row:
    """Find a record by its id, or raise.

    Parameters
    ----------
    session : Session
    model : type
    record_id, what : str
        Its id, and what it is called for a person.
    also_deleted : bool
        Whether a table, figure or plate that was deleted is found, too. A study always is.
    """
    row = session.get(model, record_id)
    is_deleted = not isinstance(row, StudyRow) and getattr(row, "deleted", None) is not None
    if row is None or (is_deleted and not also_deleted):
        raise NotFoundError(what, record_id)
    return row


def next_position(
    session: Session, model: type[TableRow] | type[DocumentColumns], study_id: str
) -> int:
    """Return the place after the last one of a study."""
    last = session.scalar(select(func.max(model.position)).where(model.study_id == study_id))
    return 0 if last is None else last + 1
