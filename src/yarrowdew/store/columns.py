"""Columns behind a small store: blobs in the database today, files tomorrow.

A column never changes: a change of a table makes others. What is put has been packed before, so that
nothing is packed while a lock is held.
"""

from __future__ import annotations

import io
from collections.abc import Collection
from dataclasses import dataclass

import numpy as np
import polars as pl
from sqlalchemy import delete, select
from sqlalchemy.orm import Session

from yarrowdew.core.lru_cache import SizedLRUCache
from yarrowdew.store.models import ColumnRow, new_id
from yarrowdew.tables.arrow import arrow_file

CACHED_BYTES = 256 * 1024 * 1024


def pack(column: pl.Series) -> bytes:
    """Turn a column into an Arrow IPC file.

    Text and categories are compressed; numbers and dates gain little by it and are kept plain, so
    that they are stored and read several times as fast.
    """
    words = column.dtype == pl.String or isinstance(column.dtype, pl.Enum)
    return arrow_file(column.rename("values").to_frame(), "lz4" if words else "uncompressed")


def unpack(blob: bytes) -> pl.Series:
    """Turn a stored blob back into a column."""
    return pl.read_ipc(io.BytesIO(blob)).to_series()


@dataclass(frozen=True, slots=True)
class PackedColumn:
    """A column ready to be put.

    Attributes
    ----------
    id : str
        That it will have.
    held : polars.Series
        Its values.
    values : bytes
    source : bytes or None
        The values as text, where some of them could not be read as the kind.
    """

    id: str
    held: pl.Series
    values: bytes
    source: bytes | None

    @classmethod
    def of(cls, held: pl.Series, source: pl.Series | None) -> PackedColumn:
        """Pack a column."""
        return cls(new_id(), held, pack(held), None if source is None else pack(source))

    @property
    def size(self) -> int:
        """In bytes, as it is stored."""
        return len(self.values) + len(self.source or b"")


class ColumnStore:
    """The columns of all tables."""

    def __init__(self) -> None:
        self._remembered: SizedLRUCache[pl.Series] = SizedLRUCache(CACHED_BYTES)

    def put(self, session: Session, table_id: str, column: PackedColumn) -> None:
        """Store a packed column for a table."""
        session.add(
            ColumnRow(
                id=column.id,
                table_id=table_id,
                size=column.size,
                values=column.values,
                source=column.source,
            )
        )
        self._remembered.put(column.id, column.held, column.held.estimated_size())

    def get(self, session: Session, column_id: str) -> pl.Series:
        """Load a column's values."""
        found = self._remembered.get(column_id)
        if found is None:
            wanted = select(ColumnRow.values).where(ColumnRow.id == column_id)
            found = unpack(session.scalar(wanted) or b"")
            self._remembered.put(column_id, found, found.estimated_size())
        return found

    def slice(self, session: Session, column_id: str, places: np.ndarray) -> pl.Series:
        """Load a column's values at some places."""
        return self.get(session, column_id).gather(pl.Series(places, dtype=pl.UInt32))

    @staticmethod
    def source(session: Session, column_id: str) -> pl.Series | None:
        """Load a column's text, where some of it could not be read as its kind."""
        text = session.scalar(select(ColumnRow.source).where(ColumnRow.id == column_id))
        return unpack(text) if text else None

    @staticmethod
    def sizes(session: Session, table_id: str) -> dict[str, int]:
        """Say how many bytes each column of a table takes."""
        wanted = select(ColumnRow.id, ColumnRow.size).where(ColumnRow.table_id == table_id)
        return {found.id: found.size for found in session.execute(wanted)}

    @staticmethod
    def drop(session: Session, column_ids: Collection[str]) -> None:
        """Let columns go."""
        if column_ids:
            session.execute(delete(ColumnRow).where(ColumnRow.id.in_(column_ids)))
