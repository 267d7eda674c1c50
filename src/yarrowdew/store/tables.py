"""Tables as records: versions that share columns, so that every change can be undone."""

from __future__ import annotations

import logging
import os
from collections.abc import Callable, Iterable, Mapping, Sequence
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from pathlib import Path
from typing import TypeVar

import numpy as np
import polars as pl
from pydantic import BaseModel, ValidationError
from sqlalchemy import delete, func, select
from sqlalchemy.orm import Session

from yarrowdew.store.columns import pack, unpack
from yarrowdew.store.models import ColumnRow, StudyRow, TableRow, VersionRow, new_id, now
from yarrowdew.store.records import (
    NotFoundError,
    OutdatedError,
    Records,
    Remembered,
    get,
    next_position,
)
from yarrowdew.tables.browsing import RowOrder, places_in_order
from yarrowdew.tables.categories import CategoryLook, with_new
from yarrowdew.tables.draft import Draft
from yarrowdew.tables.naming import LONGEST_NAME
from yarrowdew.tables.reading import ReadOptions
from yarrowdew.tables.reading.progress import Progress, unheard
from yarrowdew.tables.summary import TableSummary, VariableSummary, summarise_variable
from yarrowdew.tables.table import Kind, RowIds, Table, Variable, categories_of

CACHED_BYTES = 256 * 1024 * 1024
CACHED_ORDERS_BYTES = 64 * 1024 * 1024
MOST_VERSIONS = 200
MOST_BYTES_FOR_UNDO = 512 * 1024 * 1024

Looks = dict[str, tuple[CategoryLook, ...]]
Result = TypeVar("Result")
Model = TypeVar("Model", bound=BaseModel)

log = logging.getLogger(__name__)


@dataclass(frozen=True, slots=True)
class TableRecord:
    """A table without its values."""

    id: str
    study_id: str
    name: str
    version: int
    options: ReadOptions
    summary: TableSummary


class StoredVariable(BaseModel):
    """A variable of a version, and the column that holds its values."""

    name: str
    label: str
    unit: str
    kind: Kind
    recipe: str | None = None
    column: str

    def plain(self) -> Variable:
        """Return what tables know of it."""
        return Variable(self.name, self.kind, self.label, self.unit)


class TableRecords(Records):
    """The tables of all studies."""

    def __init__(self, folder: Path) -> None:
        super().__init__(folder)
        self._columns: Remembered[pl.Series] = Remembered(CACHED_BYTES)
        self._orders: Remembered[np.ndarray] = Remembered(CACHED_ORDERS_BYTES)

    def tables(self, study_id: str) -> list[TableRecord]:
        """List a study's tables in their order."""
        with self._reading() as session:
            rows = get(session, StudyRow, study_id, "study").tables
            return [record_of(session, row) for row in rows]

    def table_record(self, table_id: str) -> TableRecord:
        """Find a table without its values."""
        with self._reading() as session:
            return record_of(session, get(session, TableRow, table_id, "table"))

    def table(self, table_id: str, columns: Iterable[str] | None = None) -> Table:
        """Load a table: every variable's description, and the values of the columns named.

        Parameters
        ----------
        table_id : str
        columns : iterable of str, optional
            All where None. Names that the table does not have are passed over.
        """
        with self._reading() as session:
            row = get(session, TableRow, table_id, "table")
            return self._load(session, row, _version(session, row), columns)

    def next_row(self, table_id: str) -> int:
        """Return the number that the next new row of a table gets."""
        with self._reading() as session:
            return get(session, TableRow, table_id, "table").next_row

    def sources(self, table_id: str) -> dict[str, pl.Series]:
        """Load the text of the variables some of whose values could not be read as their kind."""
        with self._reading() as session:
            row = get(session, TableRow, table_id, "table")
            held = {v.name: v.column for v in _variables(_version(session, row))}
            texts = {
                name: session.scalar(select(ColumnRow.source).where(ColumnRow.id == column))
                for name, column in held.items()
            }
            return {name: unpack(text) for name, text in texts.items() if text}

    def _load(
        self,
        session: Session,
        row: TableRow,
        version: VersionRow,
        columns: Iterable[str] | None = None,
    ) -> Table:
        held = _variables(version)
        wanted = {v.name for v in held} if columns is None else set(columns)
        series = [self._column(session, v) for v in held if v.name in wanted]
        return Table(
            row.name,
            tuple(v.plain() for v in held),
            pl.DataFrame(series or [self._column(session, held[0])]),
            _ids(version),
            looks_of(row.study, (v.name for v in held)),
        )

    def _column(self, session: Session, variable: StoredVariable) -> pl.Series:
        cached = self._columns.get(variable.column)
        if cached is None:
            wanted = select(ColumnRow.values).where(ColumnRow.id == variable.column)
            cached = unpack(session.scalar(wanted) or b"")
            self._columns.put(variable.column, cached, cached.estimated_size())
        return cached.alias(variable.name)

    def rows(self, table_id: str, order: RowOrder, start: int, count: int) -> tuple[Table, int]:
        """Load a stretch of a table's rows in an order, and say how many rows there are in it."""
        with self._reading() as session:
            row = get(session, TableRow, table_id, "table")
            version = _version(session, row)
            places = self._places(session, row, version, order)
            window = places[start : start + count]
            whole = self._load(session, row, version)
            ids = whole.row_ids()[window]
            frame = whole.frame[window.tolist()] if len(window) else whole.frame.head(0)
            return Table(whole.name, whole.variables, frame, ids, whole.looks), len(places)

    def ids_in_order(self, table_id: str, order: RowOrder) -> RowIds:
        """Return the numbers of the rows that are looked through, in their order."""
        with self._reading() as session:
            row = get(session, TableRow, table_id, "table")
            version = _version(session, row)
            ids = _ids(version)
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

    # Changing

    def _insert(
        self,
        session: Session,
        study_id: str,
        table: Table,
        *,
        sources: Mapping[str, pl.Series],
        options: ReadOptions | None,
        recipes: Mapping[str, str],
        progress: Progress,
        next_row: int = 0,
    ) -> TableRow:
        """Add a table to a study within a transaction."""
        study = get(session, StudyRow, study_id, "study")
        study.changed = now()
        row = TableRow(
            study_id=study_id,
            position=next_position(session, TableRow, study_id),
            name=table.name[:LONGEST_NAME],
            version=1,
            next_row=max(next_row, _after_last(table)),
            options=(options or ReadOptions()).model_dump(mode="json"),
            study=study,
        )
        session.add(row)
        session.flush()
        stored, summaries = self._keep(
            session,
            row,
            table.variables,
            columns={v.name: table.frame[v.name] for v in table.variables},
            sources=sources,
            recipes=recipes,
            progress=progress,
        )
        self._add_version(
            session,
            row,
            1,
            stored=stored.values(),
            summaries=summaries.values(),
            ids=table.ids,
            rows=table.rows,
        )
        return row

    def change_table(
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
        with self._writing() as session:
            row = get(session, TableRow, table_id, "table")
            _check_version(row, expected)
            before = _version(session, row)
            held = {v.name: v for v in _variables(before)}

            def source(name: str) -> pl.Series | None:
                column = session.get(ColumnRow, held[name].column)
                return None if column is None or not column.source else unpack(column.source)

            ids = _ids(before)
            blank = pl.DataFrame({"": np.zeros(before.rows)}) if ids is None else pl.DataFrame()
            draft = Draft(
                Table(row.name, tuple(v.plain() for v in held.values()), blank, ids),
                {v.name: v.recipe for v in held.values() if v.recipe is not None},
                row.next_row,
                column=lambda name: self._column(session, held[name]),
                source=source,
            )
            result = change(draft)
            draft.settle()
            if not draft.changed | draft.described:
                return record_of(session, row), result
            row.study.changed = now()
            row.next_row = draft.next_id
            if options is not None:
                row.options = options.model_dump(mode="json")
            variables = [h.variable for h in draft.held]
            recipes = {h.variable.name: h.recipe for h in draft.held if h.recipe is not None}
            changed = [v for v in variables if v.name in draft.changed]
            known = TableSummary.model_validate(before.summary)
            new, summaries = self._keep(
                session,
                row,
                changed,
                columns={v.name: draft.column(v.name) for v in changed},
                sources={
                    v.name: text for v in changed if (text := draft.source(v.name)) is not None
                },
                recipes=recipes,
                progress=progress,
            )
            every = {s.name: s for s in known.variables}
            for v in variables:
                if v.name not in new:
                    words = {"label": v.label, "unit": v.unit}
                    new[v.name] = held[v.name].model_copy(update=words)
                    summaries[v.name] = every[v.name].model_copy(update=words)
            newest = session.scalar(
                select(func.max(VersionRow.number)).where(VersionRow.table_id == table_id)
            )
            self._add_version(
                session,
                row,
                (newest or 0) + 1,
                stored=[new[v.name] for v in variables],
                summaries=[summaries[v.name] for v in variables],
                ids=draft.numbered,
                rows=len(draft.ids),
            )
            self._forget_oldest(session, row)
            return record_of(session, row), result

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
        with self._writing() as session:
            row = get(session, TableRow, table_id, "table")
            _check_version(row, expected)
            held = session.scalar(
                select(VersionRow.id).where(
                    VersionRow.table_id == table_id, VersionRow.number == number
                )
            )
            if held is None:
                raise NotFoundError(f"version of {row.name}", str(number))
            row.version = number
            row.study.changed = now()
            return record_of(session, row)

    def _keep(
        self,
        session: Session,
        row: TableRow,
        variables: Sequence[Variable],
        *,
        columns: Mapping[str, pl.Series],
        sources: Mapping[str, pl.Series],
        recipes: Mapping[str, str],
        progress: Progress,
    ) -> tuple[dict[str, StoredVariable], dict[str, VariableSummary]]:
        """Store columns, and make the categories that they hold known to the study."""
        stored: dict[str, StoredVariable] = {}
        summaries: dict[str, VariableSummary] = {}
        with ThreadPoolExecutor(max(1, (os.cpu_count() or 2) - 1)) as pool:
            # Packing and writing keep one core busy; the other summarises meanwhile.
            summarised = pool.map(
                summarise_variable, variables, (columns[v.name] for v in variables)
            )
            for place, v in enumerate(variables):
                values = pack(columns[v.name])
                progress((place + 1) / len(variables))
                source = sources.get(v.name)
                text = None if source is None else pack(source)
                column = ColumnRow(
                    id=new_id(),
                    table_id=row.id,
                    size=len(values) + len(text or b""),
                    values=values,
                    source=text,
                )
                session.add(column)
                # At once, so that it is written while the other core goes on.
                session.flush()
                held = columns[v.name]
                self._columns.put(column.id, held, held.estimated_size())
                stored[v.name] = StoredVariable(
                    name=v.name,
                    label=v.label,
                    unit=v.unit,
                    kind=v.kind,
                    recipe=recipes.get(v.name),
                    column=column.id,
                )
            for v, summary in zip(variables, summarised, strict=True):
                summary.recipe = recipes.get(v.name)
                summaries[v.name] = summary
        _make_known(row.study, {v.name: categories_of(columns[v.name]) for v in variables})
        return stored, summaries

    @staticmethod
    def _add_version(
        session: Session,
        row: TableRow,
        number: int,
        *,
        stored: Iterable[StoredVariable],
        summaries: Iterable[VariableSummary],
        ids: RowIds | None,
        rows: int,
    ) -> None:
        summary = TableSummary(rows=rows, variables=list(summaries))
        session.add(
            VersionRow(
                table_id=row.id,
                number=number,
                rows=rows,
                row_ids=None if ids is None else ids.astype("<u4").tobytes(),
                variables=[v.model_dump(mode="json") for v in stored],
                summary=summary.model_dump(mode="json"),
            )
        )
        row.version = number
        session.flush()

    @staticmethod
    def _forget_oldest(session: Session, row: TableRow) -> None:
        """Let go of what can no longer be undone, so that a database does not grow for ever."""
        sizes = dict(
            session.execute(
                select(ColumnRow.id, ColumnRow.size).where(ColumnRow.table_id == row.id)
            ).all()
        )
        used = {v.column for v in _variables(_version(session, row))}
        total = 0
        newest_first = session.scalars(
            select(VersionRow)
            .where(VersionRow.table_id == row.id)
            .order_by(VersionRow.number.desc())
        )
        for place, version in enumerate(newest_first):
            own = {v.column for v in _variables(version)}
            total += sum(sizes.get(column, 0) for column in own - used)
            if version.number != row.version and (
                place >= MOST_VERSIONS or total > MOST_BYTES_FOR_UNDO
            ):
                session.delete(version)
            else:
                used |= own
        unused = sizes.keys() - used
        if unused:
            session.execute(delete(ColumnRow).where(ColumnRow.id.in_(unused)))


def _after_last(table: Table) -> int:
    """Return the number after the largest that a row has."""
    return table.rows if table.ids is None else int(max(table.ids, default=-1)) + 1


def _check_version(row: TableRow, expected: int | None) -> None:
    if expected is not None and row.version != expected:
        raise OutdatedError(row.version)


def _version(session: Session, row: TableRow) -> VersionRow:
    found = session.scalar(
        select(VersionRow).where(VersionRow.table_id == row.id, VersionRow.number == row.version)
    )
    if found is None:
        raise NotFoundError("table", row.id)
    return found


def _variables(version: VersionRow) -> list[StoredVariable]:
    return [StoredVariable.model_validate(v) for v in version.variables]


def _ids(version: VersionRow) -> RowIds | None:
    if version.row_ids is None:
        return None
    return np.frombuffer(version.row_ids, dtype="<u4").astype(np.uint32)


def looks_of(study: StudyRow, names: Iterable[str]) -> Looks:
    """Say how a study shows the categories of variables, as far as it knows them."""
    return {
        name: tuple(readable(CategoryLook, study.categories[name]))
        for name in names
        if name in study.categories
    }


def readable(model: type[Model], held: Iterable[object]) -> list[Model]:
    """Those of some records that can be read: one that cannot spoils itself alone."""
    found = []
    for one in held:
        try:
            found.append(model.model_validate(one))
        except ValidationError:
            log.warning("A record cannot be read and is passed over: %.200s", one)
    return found


def _make_known(study: StudyRow, found: Mapping[str, list[str]]) -> None:
    for name, values in found.items():
        if values:
            known = looks_of(study, [name]).get(name, ())
            looks = with_new(known, values)
            if len(looks) > len(known):
                # Another object, so that the change is seen.
                study.categories = {
                    **study.categories,
                    name: [look.model_dump(mode="json") for look in looks],
                }


def _options(held: Mapping[str, object]) -> ReadOptions:
    """How a file was read; as it would be guessed, where that can no longer be told."""
    try:
        return ReadOptions.model_validate(held)
    except ValidationError:
        return ReadOptions()


def record_of(session: Session, row: TableRow) -> TableRecord:
    """Show a table without its values."""
    version = _version(session, row)
    return TableRecord(
        row.id,
        row.study_id,
        row.name,
        row.version,
        _options(row.options),
        TableSummary.model_validate(version.summary),
    )
