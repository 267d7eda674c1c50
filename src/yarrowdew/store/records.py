"""What all kinds of records share: sessions, errors, and how one is found."""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from threading import Lock
from typing import Generic, TypeVar

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from yarrowdew.store.database import open_database
from yarrowdew.store.models import Base, DocumentColumns, TableRow

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


class Records:
    """One database file.

    Parameters
    ----------
    folder : Path
        Made where it does not exist.
    """

    def __init__(self, folder: Path) -> None:
        self.folder = folder
        self._engine = open_database(folder / DATABASE_NAME)

    def close(self) -> None:
        """Let go of the database file."""
        self._engine.dispose()

    @contextmanager
    def _reading(self) -> Iterator[Session]:
        with Session(self._engine) as session:
            yield session

    @contextmanager
    def _writing(self) -> Iterator[Session]:
        with Session(self._engine.execution_options(writes=True)) as session, session.begin():
            yield session


def get(session: Session, model: type[Row], record_id: str, what: str) -> Row:
    """Find a record by its id, or raise."""
    row = session.get(model, record_id)
    if row is None:
        raise NotFoundError(what, record_id)
    return row


def next_position(
    session: Session, model: type[TableRow] | type[DocumentColumns], study_id: str
) -> int:
    """Return the place after the last one of a study."""
    last = session.scalar(select(func.max(model.position)).where(model.study_id == study_id))
    return 0 if last is None else last + 1


class Remembered(Generic[Value]):
    """What was used last, up to a size in bytes; a value never changes under its key."""

    def __init__(self, most_bytes: int) -> None:
        self._most = most_bytes
        self._held: OrderedDict[str, tuple[Value, int]] = OrderedDict()
        self._bytes = 0
        self._lock = Lock()

    def get(self, key: str) -> Value | None:
        """Find a value."""
        with self._lock:
            if key not in self._held:
                return None
            self._held.move_to_end(key)
            return self._held[key][0]

    def put(self, key: str, value: Value, size: float) -> None:
        """Keep a value, and let go of those that were not used for longest."""
        with self._lock:
            if key in self._held or size > self._most:
                return
            self._held[key] = value, int(size)
            self._bytes += int(size)
            while self._bytes > self._most:
                _, (_, oldest) = self._held.popitem(last=False)
                self._bytes -= oldest
