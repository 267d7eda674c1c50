"""Tables looked at: their descriptions, their columns, and stretches of their rows."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass

import numpy as np
import polars as pl
from pydantic import ValidationError
from sqlalchemy.orm import Session

from yarrowdew.core.lru_cache import SizedLRUCache
from yarrowdew.store.categories import categories_of_study
from yarrowdew.store.columns import ColumnStore
from yarrowdew.store.models import StudyRow, TableRow, VersionRow
from yarrowdew.store.records import Database, Repository, get
from yarrowdew.store.versions import StoredVariable, ids_of, variables_of, version_of
from yarrowdew.tables.errors import TableError
from yarrowdew.tables.kinds import Marks
from yarrowdew.tables.reading import ReadOptions
from yarrowdew.tables.row_pages import RowOrder, places_in_order
from yarrowdew.tables.summary import TableSummary
from yarrowdew.tables.table import RowIds, Table

CACHED_ORDERS_BYTES = 64 * 1024 * 1024


@dataclass(frozen=True, slots=True)
class TableRecord:
    """A table without its values."""

    id: str
    study_id: str
    name: str
    version: int
    options: ReadOptions
    summary: TableSummary
    dataset: str | None = None
    """Where its files are, where its rows are not here."""


class TableReader(Repository):
    """The tables of all studies, as they are."""

    def __init__(self, database: Database) -> None:
        super().__init__(database)
        self._columns = ColumnStore()
        self._orders: SizedLRUCache[np.ndarray] = SizedLRUCache(CACHED_ORDERS_BYTES)

    def of_study(self, study_id: str) -> list[TableRecord]:
        """List a study's tables in their order."""
        with self._database.reading() as session:
            rows = get(session, StudyRow, study_id, "study").tables
            return [record_of(session, row) for row in rows]

    def record(self, table_id: str) -> TableRecord:
        """Find a table without its values."""
        with self._database.reading() as session:
            return record_of(session, get(session, TableRow, table_id, "table"))

    def get(self, table_id: str, columns: Iterable[str] | None = None) -> Table:
        """Load a table: every variable's description, and the values of the columns named.

        Parameters
        ----------
        table_id : str
        columns : iterable of str, optional
            All where None. Names that the table does not have are passed over.
        """
        with self._database.reading() as session:
            row = get(session, TableRow, table_id, "table")
            return self._load(session, row, version_of(session, row), columns)

    def next_row(self, table_id: str) -> int:
        """Return the number that the next new row of a table gets."""
        with self._database.reading() as session:
            return get(session, TableRow, table_id, "table").next_row

    def sources(self, table_id: str) -> dict[str, pl.Series]:
        """Load the text of the variables some of whose values could not be read as their kind."""
        with self._database.reading() as session:
            row = get(session, TableRow, table_id, "table")
            holds_rows(row)
            held = variables_of(version_of(session, row))
            texts = ((v.name, self._columns.source(session, v.column)) for v in held)
            return {name: text for name, text in texts if text is not None}

    def _load(
        self,
        session: Session,
        row: TableRow,
        version: VersionRow,
        columns: Iterable[str] | None = None,
    ) -> Table:
        holds_rows(row)
        held = variables_of(version)
        wanted = {v.name for v in held} if columns is None else set(columns)
        series = [self._column(session, v) for v in held if v.name in wanted]
        return Table(
            row.name,
            tuple(v.plain() for v in held),
            pl.DataFrame(series or [self._column(session, held[0])]),
            ids_of(version),
            categories_of_study(row.study, (v.name for v in held)),
        )

    def _column(self, session: Session, variable: StoredVariable) -> pl.Series:
        return self._columns.get(session, variable.column).alias(variable.name)

    def rows(self, table_id: str, order: RowOrder, start: int, count: int) -> tuple[Table, int]:
        """Load a stretch of a table's rows in an order, and say how many rows there are in it."""
        with self._database.reading() as session:
            row = get(session, TableRow, table_id, "table")
            holds_rows(row)
            version = version_of(session, row)
            places = self._places(session, row, version, order)
            window = places[start : start + count]
            held = variables_of(version)
            numbers = ids_of(version)
            stretch = [self._columns.slice(session, v.column, window).alias(v.name) for v in held]
            table = Table(
                row.name,
                tuple(v.plain() for v in held),
                pl.DataFrame(stretch),
                window.astype(np.uint32) if numbers is None else numbers[window],
                categories_of_study(row.study, (v.name for v in held)),
            )
            return table, len(places)

    def ids_in_order(self, table_id: str, order: RowOrder) -> RowIds:
        """Return the numbers of the rows that are looked through, in their order."""
        with self._database.reading() as session:
            row = get(session, TableRow, table_id, "table")
            holds_rows(row)
            version = version_of(session, row)
            ids = ids_of(version)
            places = self._places(session, row, version, order)
            return places.astype(np.uint32) if ids is None else ids[places]

    def _places(
        self, session: Session, row: TableRow, version: VersionRow, order: RowOrder
    ) -> np.ndarray:
        key = f"{version.id} {order.model_dump_json()}"
        places = self._orders.get(key)
        if places is None:
            whole = self._load(session, row, version)
            places = places_in_order(whole, order)
            self._orders.put(key, places, places.nbytes)
        return places


def holds_rows(row: TableRow) -> None:
    """Refuse what needs the rows of a dataset together.

    Raises
    ------
    TableError
        If it is one.
    """
    if row.dataset is not None:
        raise TableError(
            f"This would need all rows of {row.name}, a dataset that is read in chunks.",
            "Import part of its rows as a table.",
        )


def _options(held: Mapping[str, object]) -> ReadOptions:
    """How a file was read; as it would be guessed, where that can no longer be told."""
    try:
        return ReadOptions.model_validate(held)
    except ValidationError:
        return ReadOptions()


def marks_of(row: TableRow) -> Marks:
    """Say how the file of a table wrote numbers and dates."""
    options = _options(row.options)
    return Marks(options.decimal or ".", options.thousands or "", options.day_first)


def record_of(session: Session, row: TableRow) -> TableRecord:
    """Show a table without its values."""
    version = version_of(session, row)
    return TableRecord(
        row.id,
        row.study_id,
        row.name,
        row.version,
        _options(row.options),
        TableSummary.model_validate(version.summary),
        (row.dataset or {}).get("path"),
    )
