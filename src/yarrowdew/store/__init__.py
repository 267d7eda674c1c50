"""Studies as records: SQLite through SQLAlchemy."""

from yarrowdew.store.store import FigureRecord, NotFoundError, OutdatedError, Store

__all__ = ["FigureRecord", "NotFoundError", "OutdatedError", "Store"]
