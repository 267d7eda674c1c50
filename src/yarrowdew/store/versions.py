"""A table between two changes: its variables, and which columns hold their values."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from functools import partial
from typing import Any

import numpy as np
import polars as pl
from pydantic import BaseModel
from sqlalchemy import func, select
from sqlalchemy.orm import Session

from yarrowdew.core.parallel import ParallelMap
from yarrowdew.store.columns import ColumnStore, PackedColumn
from yarrowdew.store.models import TableRow, VersionRow
from yarrowdew.store.records import NotFoundError, OutdatedError
from yarrowdew.tables.reading.progress import Progress
from yarrowdew.tables.summary import TableSummary, VariableSummary, summarise_variable
from yarrowdew.tables.table import Kind, RowIds, Variable, categories_of

MOST_VERSIONS = 200
_WRITTEN_AT_ONCE = 8 * 1024 * 1024
MOST_BYTES_FOR_UNDO = 512 * 1024 * 1024


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


@dataclass(frozen=True, slots=True)
class PackedVariables:
    """Variables ready to be put: their columns packed, and what is said of them under way.

    Attributes
    ----------
    stored : dict of str to StoredVariable
    columns : list of PackedColumn
    categories : dict of str to list of str
        That each holds.
    summarising : ParallelMap of VariableSummary
        In the order of `stored`; made while the columns are written.
    """

    def summaries(self) -> dict[str, VariableSummary]:
        """Wait for the summary of each."""
        return {
            one.name: said.model_copy(update={"recipe": one.recipe})
            for one, said in zip(self.stored.values(), self.summarising, strict=True)
        }

    stored: dict[str, StoredVariable]
    columns: list[PackedColumn]
    categories: dict[str, list[str]]
    summarising: ParallelMap[VariableSummary]

    def put(self, session: Session, columns: ColumnStore, table_id: str) -> None:
        """Store the columns for a table."""
        waiting = 0
        for column in self.columns:
            columns.put(session, table_id, column)
            waiting += column.size
            if waiting > _WRITTEN_AT_ONCE:
                # So that not all of them wait in memory twice.
                session.flush()
                waiting = 0
        session.flush()


def packed_variables(
    variables: Sequence[Variable],
    *,
    columns: Mapping[str, pl.Series],
    sources: Mapping[str, pl.Series],
    recipes: Mapping[str, str],
    progress: Progress,
) -> PackedVariables:
    """Pack columns and summarise them, which needs no lock.

    Parameters
    ----------
    variables : sequence of Variable
    columns, sources : mapping of str to polars.Series
        By name, the values, and the text of those that could not all be read.
    recipes : mapping of str to str
        Of derived variables.
    progress : callable
        Is told the share that is done; nothing is left behind where it raises.
    """
    packed: list[PackedColumn] = []
    stored: dict[str, StoredVariable] = {}
    rows = max((len(column) for column in columns.values()), default=0)
    packing = ParallelMap(
        [partial(PackedColumn.of, columns[v.name], sources.get(v.name)) for v in variables], rows
    )
    # While they are written, which keeps one core busy, another summarises.
    summarising = ParallelMap(
        [partial(summarise_variable, v, columns[v.name]) for v in variables], rows
    )
    try:
        for v, column in zip(variables, packing, strict=True):
            progress((len(packed) + 1) / len(variables))
            packed.append(column)
            stored[v.name] = StoredVariable(
                name=v.name,
                label=v.label,
                unit=v.unit,
                kind=v.kind,
                recipe=recipes.get(v.name),
                column=column.id,
            )
    except BaseException:
        summarising.drop()
        raise
    categories = {v.name: categories_of(columns[v.name]) for v in variables}
    return PackedVariables(stored, packed, categories, summarising)


def check_version(row: TableRow, expected: int | None) -> None:
    """Raise OutdatedError where another version was meant."""
    if expected is not None and row.version != expected:
        raise OutdatedError(row.version)


def version_of(session: Session, row: TableRow) -> VersionRow:
    """Find the version that holds."""
    found = session.scalar(
        select(VersionRow).where(VersionRow.table_id == row.id, VersionRow.number == row.version)
    )
    if found is None:
        raise NotFoundError("table", row.id)
    return found


def variables_of(version: VersionRow) -> list[StoredVariable]:
    """List the variables of a version."""
    return [StoredVariable.model_validate(v) for v in version.variables]


def ids_of(version: VersionRow) -> RowIds | None:
    """Say the rows' own numbers; None where they are their places."""
    if version.row_ids is None:
        return None
    return np.frombuffer(version.row_ids, dtype="<u4").astype(np.uint32)


def add_version(
    session: Session,
    row: TableRow,
    *,
    stored: Iterable[StoredVariable],
    summaries: Iterable[VariableSummary],
    ids: RowIds | None,
    rows: int,
    dataset: dict[str, Any] | None = None,
) -> None:
    """Add a version after the newest, and make it the one that holds."""
    newest = session.scalar(
        select(func.max(VersionRow.number)).where(VersionRow.table_id == row.id)
    )
    number = (newest or 0) + 1
    summary = TableSummary(rows=rows, variables=list(summaries))
    session.add(
        VersionRow(
            table_id=row.id,
            number=number,
            rows=rows,
            row_ids=None if ids is None else ids.astype("<u4").tobytes(),
            variables=[v.model_dump(mode="json") for v in stored],
            summary=summary.model_dump(mode="json"),
            dataset=dataset,
        )
    )
    row.version = number
    session.flush()


def forget_oldest(session: Session, row: TableRow, columns: ColumnStore) -> None:
    """Let go of what can no longer be undone, so that a database does not grow for ever."""
    sizes = columns.sizes(session, row.id)
    used = {v.column for v in variables_of(version_of(session, row))}
    total = 0
    newest_first = session.scalars(
        select(VersionRow).where(VersionRow.table_id == row.id).order_by(VersionRow.number.desc())
    )
    for place, version in enumerate(newest_first):
        own = {v.column for v in variables_of(version)}
        total += sum(sizes.get(column, 0) for column in own - used)
        if version.number != row.version and (
            place >= MOST_VERSIONS or total > MOST_BYTES_FOR_UNDO
        ):
            session.delete(version)
        else:
            used |= own
    columns.drop(session, sizes.keys() - used)
