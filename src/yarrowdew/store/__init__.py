"""Studies as records: SQLite through SQLAlchemy."""

from yarrowdew.store.records import NotFoundError, OutdatedError, StoreError
from yarrowdew.store.store import FigureRecord, Store

__all__ = ["FigureRecord", "NotFoundError", "OutdatedError", "Store", "StoreError"]
