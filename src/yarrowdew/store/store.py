"""Reading and writing studies. Every write is one transaction."""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Iterable, Iterator, Mapping, Sequence
from concurrent.futures import ThreadPoolExecutor
from contextlib import contextmanager
from dataclasses import dataclass
from pathlib import Path
from threading import Lock
from typing import Any, TypeVar

import polars as pl
from sqlalchemy import func, select
from sqlalchemy.orm import Session, selectinload

from yarrowdew.figures.document import FigureDocument
from yarrowdew.store.columns import pack, unpack
from yarrowdew.store.database import open_database
from yarrowdew.store.models import (
    Base,
    FigureRow,
    StudyRow,
    TableRow,
    VariableRow,
    new_id,
    now,
)
from yarrowdew.tables.errors import TableError
from yarrowdew.tables.expressions import derive
from yarrowdew.tables.kinds import Marks, as_kind, as_text
from yarrowdew.tables.naming import label_of
from yarrowdew.tables.summary import TableSummary, summarise, summarise_variable
from yarrowdew.tables.table import Kind, Table, Variable

DATABASE_NAME = "studies.sqlite"
CACHED_BYTES = 256 * 1024 * 1024
MOST_UNREAD_LISTED = 1_000

Row = TypeVar("Row", bound=Base)


class NotFoundError(LookupError):
    """There is no such record."""

    def __init__(self, what: str, record_id: str) -> None:
        super().__init__(f"There is no {what} '{record_id}'; it may have been deleted.")


class OutdatedError(RuntimeError):
    """Someone else saved first."""

    def __init__(self, revision: int) -> None:
        super().__init__("This figure was saved elsewhere in the meantime.")
        self.revision = revision


@dataclass(frozen=True, slots=True)
class StudyRecord:
    """A study without its contents."""

    id: str
    name: str
    changed: str


@dataclass(frozen=True, slots=True)
class TableRecord:
    """A table without its values."""

    id: str
    study_id: str
    name: str
    summary: TableSummary


@dataclass(frozen=True, slots=True)
class UnreadRows:
    """Values that could not be read as a kind, with their rows from 0; at most a thousand."""

    count: int
    rows: list[int]
    values: list[str]

    @classmethod
    def of(cls, text: pl.Series, values: pl.Series) -> UnreadRows:
        """List what is in a text and missing in the values read from it."""
        places = (text.is_not_null() & values.is_null()).arg_true()
        listed = places.head(MOST_UNREAD_LISTED)
        return cls(len(places), listed.to_list(), text.gather(listed).to_list())


@dataclass(frozen=True, slots=True)
class FigureRecord:
    """A figure as it was last saved."""

    id: str
    study_id: str
    document: FigureDocument
    revision: int


class Store:
    """All studies in one data folder.

    Parameters
    ----------
    folder : Path
        Made where it does not exist.
    """

    def __init__(self, folder: Path) -> None:
        self.folder = folder
        self._engine = open_database(folder / DATABASE_NAME)
        self._columns = _ColumnCache(CACHED_BYTES)

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
            return _study(_get(session, StudyRow, study_id, "study"))

    def rename_study(self, study_id: str, name: str) -> StudyRecord:
        """Give a study another name."""
        with self._writing() as session:
            row = _get(session, StudyRow, study_id, "study")
            row.name, row.changed = name, now()
            return _study(row)

    def delete_study(self, study_id: str) -> None:
        """Delete a study with everything in it."""
        with self._writing() as session:
            session.delete(_get(session, StudyRow, study_id, "study"))

    # Tables

    def tables(self, study_id: str) -> list[TableRecord]:
        """List a study's tables in their order."""
        with self._reading() as session:
            return [_table_record(row) for row in _get(session, StudyRow, study_id, "study").tables]

    def table_record(self, table_id: str) -> TableRecord:
        """Find a table without its values."""
        with self._reading() as session:
            return _table_record(_get(session, TableRow, table_id, "table"))

    def add_table(
        self,
        study_id: str,
        table: Table,
        figures: Sequence[FigureDocument] = (),
        sources: Mapping[str, pl.Series] | None = None,
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
        """
        texts = {name: pack(source) for name, source in (sources or {}).items()}
        summary = summarise(table)
        with ThreadPoolExecutor() as pool:
            packed = list(pool.map(pack, (table.frame[v.name] for v in table.variables)))
        with self._writing() as session:
            study = _get(session, StudyRow, study_id, "study")
            study.changed = now()
            row = TableRow(
                study_id=study_id,
                position=_next_position(session, TableRow, study_id),
                name=table.name,
                rows=table.rows,
                summary=summary.model_dump(mode="json"),
            )
            session.add(row)
            session.flush()
            session.add_all(
                VariableRow(
                    table_id=row.id,
                    position=place,
                    name=v.name,
                    label=v.label,
                    unit=v.unit,
                    kind=v.kind.value,
                    values=values,
                    source=texts.get(v.name),
                )
                for place, (v, values) in enumerate(zip(table.variables, packed, strict=True))
            )
            for document in figures:
                owned = document.model_copy(update={"table": row.id})
                session.add(_new_figure(session, study_id, owned))
                session.flush()
            return _table_record(row)

    def table(self, table_id: str, columns: Iterable[str] | None = None) -> Table:
        """Load a table: every variable's description, and the values of the columns named.

        Parameters
        ----------
        table_id : str
        columns : iterable of str, optional
            All where None. Names that the table does not have are passed over.
        """
        wanted = None if columns is None else set(columns)
        with self._reading() as session:
            row = session.get(TableRow, table_id, options=[selectinload(TableRow.variables)])
            if row is None:
                raise NotFoundError("table", table_id)
            variables = tuple(
                Variable(v.name, Kind(v.kind), v.label, v.unit) for v in row.variables
            )
            series = [
                self._column(session, v)
                for v in row.variables
                if wanted is None or v.name in wanted or len(row.variables) == 1
            ] or [self._column(session, row.variables[0])]
            return Table(row.name, variables, pl.DataFrame(series))

    def _column(self, session: Session, variable: VariableRow) -> pl.Series:
        cached = self._columns.get(variable.id)
        if cached is None:
            blob = session.scalar(select(VariableRow.values).where(VariableRow.id == variable.id))
            cached = unpack(blob or b"", variable.name)
            self._columns.put(variable.id, cached)
        return cached

    def describe_variable(
        self, table_id: str, name: str, label: str | None = None, unit: str | None = None
    ) -> TableRecord:
        """Give a variable another label or unit; None leaves either as it is."""
        with self._writing() as session:
            row, variable = self._variable(session, table_id, name)
            variable.label = variable.label if label is None else label
            variable.unit = variable.unit if unit is None else unit
            self._summarise_again(row, variable, self._column(session, variable))
            return _table_record(row)

    def change_kind(self, table_id: str, name: str, kind: Kind) -> tuple[TableRecord, UnreadRows]:
        """Read a variable's values as another kind.

        What cannot be read is missing under the new kind and listed; it is kept as text, so that
        changing the kind again brings it back.
        """
        with self._writing() as session:
            row, variable = self._variable(session, table_id, name)
            if variable.recipe is not None:
                raise TableError(
                    f"'{name}' is derived, and its kind follows from its expression.",
                    "Change the expression, or derive another variable.",
                    column=name,
                )
            if variable.source is not None:
                text = unpack(variable.source, name)
            else:
                text = as_text(self._column(session, variable))
            typed = as_kind(text, kind, Marks())
            variable.source = pack(text) if typed.unread else None
            self._set_values(row, variable, typed.kind, typed.values)
            self._derive_again(session, row, {name})
            return _table_record(row), UnreadRows.of(text, typed.values)

    def derive_variable(
        self, table_id: str, name: str, expression: str, label: str = "", unit: str = ""
    ) -> TableRecord:
        """Add a variable made from others by an expression, or make it anew if it is derived.

        Raises
        ------
        TableError
            If the expression cannot be evaluated, or the name is taken by a variable that was read.
        """
        table = self.table(table_id)
        derived = derive(table, expression)
        with self._writing() as session:
            row = _get(session, TableRow, table_id, "table")
            row.study.changed = now()
            variable = next((v for v in row.variables if v.name == name), None)
            if variable is not None and variable.recipe is None:
                raise TableError(
                    f"{row.name} already has a variable '{name}'.",
                    "Choose another name.",
                    column=name,
                )
            if name in self._sources_of(row, table, derived.sources):
                raise TableError(
                    f"'{name}' would be made from itself.",
                    "Take it out of the expression.",
                    column=name,
                )
            if variable is None:
                variable = VariableRow(
                    table_id=table_id, position=len(row.variables), name=name, label="", unit=""
                )
                row.variables.append(variable)
            variable.label = label or variable.label or label_of(name)
            variable.unit = unit or variable.unit
            variable.recipe = expression
            self._set_values(row, variable, derived.kind, derived.values)
            session.flush()
            self._derive_again(session, row, {name})
            return _table_record(row)

    def delete_variable(self, table_id: str, name: str) -> TableRecord:
        """Delete a derived variable that no other is made from."""
        table = self.table(table_id)
        with self._writing() as session:
            row, variable = self._variable(session, table_id, name)
            if variable.recipe is None:
                raise TableError(
                    f"'{name}' was read from a file; only derived variables can be deleted.",
                    column=name,
                )
            made = [
                v.name
                for v in row.variables
                if v.recipe is not None and name in derive(table, v.recipe).sources
            ]
            if made:
                raise TableError(
                    f"'{made[0]}' is made from '{name}'.", f"Delete '{made[0]}' first.", column=name
                )
            session.delete(variable)
            summary = TableSummary.model_validate(row.summary)
            summary.variables = [v for v in summary.variables if v.name != name]
            row.summary = summary.model_dump(mode="json")
            return _table_record(row)

    @staticmethod
    def _sources_of(row: TableRow, table: Table, names: Iterable[str]) -> set[str]:
        """Name everything that variables are made from, however far back."""
        recipes = {v.name: v.recipe for v in row.variables}
        found: set[str] = set()
        waiting = list(names)
        while waiting:
            name = waiting.pop()
            if name not in found:
                found.add(name)
                recipe = recipes.get(name)
                waiting += derive(table, recipe).sources if recipe else ()
        return found

    def _derive_again(self, session: Session, row: TableRow, changed: set[str]) -> None:
        """Make derived variables anew whose sources have changed, in the order they were made.

        One that can no longer be made holds no values until its sources are what they were.
        """
        for variable in row.variables:
            if variable.recipe is None or variable.name in changed:
                continue
            described = tuple(
                Variable(v.name, Kind(v.kind), v.label, v.unit) for v in row.variables
            )
            columns = [self._column(session, v) for v in row.variables]
            table = Table(row.name, described, pl.DataFrame(columns))
            try:
                derived = derive(table, variable.recipe)
            except TableError:
                held = self._column(session, variable)
                nothing = pl.Series(variable.name, [None] * len(held), dtype=held.dtype)
                self._set_values(row, variable, Kind(variable.kind), nothing)
                changed.add(variable.name)
                continue
            if changed & set(derived.sources):
                self._set_values(row, variable, derived.kind, derived.values)
                changed.add(variable.name)

    def _set_values(
        self, row: TableRow, variable: VariableRow, kind: Kind, values: pl.Series
    ) -> None:
        variable.kind = kind.value
        variable.values = pack(values)
        # Columns are remembered by this id, and this one is no longer what it was.
        variable.id = new_id()
        self._columns.put(variable.id, values.rename(variable.name))
        self._summarise_again(row, variable, values)

    @staticmethod
    def _variable(session: Session, table_id: str, name: str) -> tuple[TableRow, VariableRow]:
        row = _get(session, TableRow, table_id, "table")
        row.study.changed = now()
        for variable in row.variables:
            if variable.name == name:
                return row, variable
        raise NotFoundError("variable", name)

    @staticmethod
    def _summarise_again(row: TableRow, variable: VariableRow, column: pl.Series) -> None:
        summary = TableSummary.model_validate(row.summary)
        described = Variable(variable.name, Kind(variable.kind), variable.label, variable.unit)
        again = summarise_variable(described, column)
        again.recipe = variable.recipe
        known = {v.name: v for v in summary.variables} | {variable.name: again}
        summary.variables = list(known.values())
        row.summary = summary.model_dump(mode="json")

    # Figures

    def figures(self, study_id: str) -> list[FigureRecord]:
        """List a study's figures in their order."""
        with self._reading() as session:
            return [_figure(row) for row in _get(session, StudyRow, study_id, "study").figures]

    def create_figure(self, study_id: str, document: FigureDocument) -> FigureRecord:
        """Add a figure at the end."""
        with self._writing() as session:
            _get(session, StudyRow, study_id, "study").changed = now()
            self._check_table(session, study_id, document)
            row = _new_figure(session, study_id, document)
            session.add(row)
            session.flush()
            return _figure(row)

    def figure(self, figure_id: str) -> FigureRecord:
        """Find a figure."""
        with self._reading() as session:
            return _figure(_get(session, FigureRow, figure_id, "figure"))

    def save_figure(self, figure_id: str, document: FigureDocument, revision: int) -> FigureRecord:
        """Save a figure's document over the revision that was read.

        Raises
        ------
        OutdatedError
            If it was saved elsewhere since.
        """
        with self._writing() as session:
            row = _get(session, FigureRow, figure_id, "figure")
            if row.revision != revision:
                raise OutdatedError(row.revision)
            self._check_table(session, row.study_id, document)
            row.document = document.model_dump(mode="json")
            row.revision += 1
            row.study.changed = now()
            session.flush()
            return _figure(row)

    def delete_figure(self, figure_id: str) -> None:
        """Delete a figure."""
        with self._writing() as session:
            session.delete(_get(session, FigureRow, figure_id, "figure"))

    @staticmethod
    def _check_table(session: Session, study_id: str, document: FigureDocument) -> None:
        table = session.get(TableRow, document.table)
        if table is None or table.study_id != study_id:
            raise NotFoundError("table", document.table)


class _ColumnCache:
    """The columns used last, up to a size; a stored column never changes under its id."""

    def __init__(self, most_bytes: int) -> None:
        self._most = most_bytes
        self._held: OrderedDict[str, pl.Series] = OrderedDict()
        self._bytes = 0.0
        self._lock = Lock()

    def get(self, key: str) -> pl.Series | None:
        with self._lock:
            if key in self._held:
                self._held.move_to_end(key)
            return self._held.get(key)

    def put(self, key: str, column: pl.Series) -> None:
        size = column.estimated_size()
        with self._lock:
            if key in self._held or size > self._most:
                return
            self._held[key] = column
            self._bytes += size
            while self._bytes > self._most:
                _, oldest = self._held.popitem(last=False)
                self._bytes -= oldest.estimated_size()


def _get(session: Session, model: type[Row], record_id: str, what: str) -> Row:
    row = session.get(model, record_id)
    if row is None:
        raise NotFoundError(what, record_id)
    return row


def _next_position(session: Session, model: type[TableRow] | type[FigureRow], study_id: str) -> int:
    last = session.scalar(select(func.max(model.position)).where(model.study_id == study_id))
    return 0 if last is None else last + 1


def _new_figure(session: Session, study_id: str, document: FigureDocument) -> FigureRow:
    content: dict[str, Any] = document.model_dump(mode="json")
    return FigureRow(
        study_id=study_id,
        position=_next_position(session, FigureRow, study_id),
        document=content,
        revision=1,
    )


def _study(row: StudyRow) -> StudyRecord:
    return StudyRecord(row.id, row.name, row.changed.isoformat(timespec="seconds") + "Z")


def _table_record(row: TableRow) -> TableRecord:
    return TableRecord(row.id, row.study_id, row.name, TableSummary.model_validate(row.summary))


def _figure(row: FigureRow) -> FigureRecord:
    document = FigureDocument.model_validate(row.document)
    return FigureRecord(row.id, row.study_id, document, row.revision)
