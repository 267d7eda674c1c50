"""Studies as records: SQLite through SQLAlchemy."""

from yarrowdew.store.documents import FigureRecord
from yarrowdew.store.records import NotFoundError, OutdatedError, StoreBusyError, StoreError
from yarrowdew.store.store import Store

__all__ = [
    "FigureRecord",
    "NotFoundError",
    "OutdatedError",
    "Store",
    "StoreBusyError",
    "StoreError",
]
