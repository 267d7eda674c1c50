"""Datasets of a study: where their files are, and what was found in them; their rows stay there."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from collections.abc import Set as Names
from dataclasses import dataclass
from pathlib import Path
from typing import Any, TypeVar

from sqlalchemy import select
from sqlalchemy.orm import Session

from yarrowdew.figures.figure import FigureDocument
from yarrowdew.store.categories import categories_of_study, make_known
from yarrowdew.store.documents import added
from yarrowdew.store.models import FigureRow, StudyRow, TableRow
from yarrowdew.store.records import NotFoundError, Repository, changed, get, next_position
from yarrowdew.store.table_queries import TableRecord, record_of
from yarrowdew.store.versions import (
    StoredVariable,
    add_version,
    check_version,
    variables_of,
    version_of,
)
from yarrowdew.tables.datasets import Dataset, DatasetFile
from yarrowdew.tables.draft import Draft
from yarrowdew.tables.naming import LONGEST_NAME
from yarrowdew.tables.summary import TableSummary, VariableSummary
from yarrowdew.tables.table import Kind, Table, Variable

Result = TypeVar("Result")


@dataclass(frozen=True, slots=True)
class Linked:
    """A dataset of a study.

    Attributes
    ----------
    dataset : Dataset
    words : Table
        Its variables and first rows, with how the study orders and colours categories.
    """

    dataset: Dataset
    words: Table


class DatasetRepository(Repository):
    """The datasets of all studies."""

    def add(
        self,
        study_id: str,
        dataset: Dataset,
        summary: TableSummary,
        path: Path,
        figures: Sequence[FigureDocument] = (),
    ) -> TableRecord:
        """Add a dataset to a study, or open one that it has anew.

        Parameters
        ----------
        study_id : str
        dataset : Dataset
        summary : TableSummary
            Of all its rows.
        path : Path
            By which it was opened: a dataset of the study with the same path is opened anew.
        figures : sequence of FigureDocument
            To begin with, where it is new; their documents are given its id.
        """
        where = str(path.absolute())
        with self._database.writing() as session:
            study = changed(get(session, StudyRow, study_id, "study"))
            row = _linked_from(session, study_id, where)
            is_new = row is None
            if row is None:
                row = TableRow(
                    study_id=study_id,
                    position=next_position(session, TableRow, study_id),
                    name=dataset.name[:LONGEST_NAME],
                    version=0,
                    next_row=0,
                    study=study,
                )
                session.add(row)
            row.dataset = _stored(dataset, where)
            session.flush()
            made = dict(dataset.made)
            make_known(
                study,
                {
                    v.name: list(v.counts or {})
                    for v in summary.variables
                    if v.kind is Kind.CATEGORY
                },
            )
            add_version(
                session,
                row,
                stored=[_stored_variable(v, made.get(v.name)) for v in dataset.variables],
                summaries=[
                    v.model_copy(update={"recipe": made.get(v.name)}) for v in summary.variables
                ],
                ids=None,
                rows=dataset.rows,
                dataset=row.dataset,
            )
            for document in figures if is_new else ():
                added(session, FigureRow, study_id, document.model_copy(update={"table": row.id}))
            return record_of(session, row)

    def change(
        self,
        table_id: str,
        change: Callable[[Draft], Result],
        look: Callable[[Dataset, Names[str]], Sequence[VariableSummary]],
        expected: int | None = None,
    ) -> tuple[TableRecord, Result]:
        """Change what is made of a dataset, as one step that can be undone.

        Parameters
        ----------
        table_id : str
        change : callable
            Works on a draft of the first rows.
        look : callable
            Says what some variables hold, from all rows.
        expected : int, optional
            The version that is changed; any where None.

        Raises
        ------
        OutdatedError
            If it was changed elsewhere since.
        """
        with self._database.reading() as session:
            row = get(session, TableRow, table_id, "table")
            check_version(row, expected)
            over = row.version
        linked = self.link(table_id)
        if linked is None:
            raise NotFoundError("dataset", table_id)
        dataset, anew, result = linked.dataset.change(change)
        looked = {v.name: v for v in look(dataset, anew)} if anew else {}
        with self._database.writing() as session:
            row = get(session, TableRow, table_id, "table")
            check_version(row, over)
            version = version_of(session, row)
            before = TableSummary.model_validate(version.summary)
            known = {v.name: v for v in before.variables} | looked
            changed(row.study)
            made = dict(dataset.made)
            make_known(
                row.study,
                {v.name: list(v.counts or {}) for v in looked.values() if v.kind is Kind.CATEGORY},
            )
            add_version(
                session,
                row,
                stored=[_stored_variable(v, made.get(v.name)) for v in dataset.variables],
                summaries=[
                    known[v.name].model_copy(
                        update={"label": v.label, "unit": v.unit, "recipe": made.get(v.name)}
                    )
                    for v in dataset.variables
                ],
                ids=None,
                rows=dataset.rows,
                dataset=version.dataset or row.dataset,
            )
            return record_of(session, row), result

    def known_variables(self, study_id: str, path: Path) -> list[StoredVariable]:
        """List the variables of the dataset that a study has from a path; none where it has
        none.
        """
        with self._database.reading() as session:
            row = _linked_from(session, study_id, str(path.absolute()))
            return [] if row is None else variables_of(version_of(session, row))

    def get(self, table_id: str) -> Dataset | None:
        """The dataset that a table stands for, whose files are not looked at; None for rows."""
        with self._database.reading() as session:
            row = get(session, TableRow, table_id, "table")
            return None if row.dataset is None else _dataset(session, row)

    def link(self, table_id: str) -> Linked | None:
        """Find the dataset that a table stands for; None where it is a table of rows."""
        with self._database.reading() as session:
            row = get(session, TableRow, table_id, "table")
            if row.dataset is None:
                return None
            dataset = _dataset(session, row)
            categories = categories_of_study(row.study, (v.name for v in dataset.variables))
        head = dataset.head
        return Linked(dataset, Table(head.name, head.variables, head.frame, None, categories))


def _dataset(session: Session, row: TableRow) -> Dataset:
    version = version_of(session, row)
    held = variables_of(version)
    stored: Mapping[str, Any] = version.dataset or row.dataset or {}
    return Dataset(
        row.name,
        tuple(v.plain() for v in held),
        stored["columns"],
        tuple(DatasetFile(*file) for file in stored["files"]),
        made=tuple((v.name, v.recipe) for v in held if v.recipe is not None),
    )


def _stored_variable(variable: Variable, recipe: str | None) -> StoredVariable:
    # A dataset has no columns here.
    return StoredVariable(
        name=variable.name,
        label=variable.label,
        unit=variable.unit,
        kind=variable.kind,
        recipe=recipe,
        column="",
    )


def _linked_from(session: Session, study_id: str, where: str) -> TableRow | None:
    wanted = select(TableRow).where(TableRow.study_id == study_id, TableRow.deleted.is_(None))
    rows = session.scalars(wanted)
    return next((row for row in rows if (row.dataset or {}).get("path") == where), None)


def _stored(dataset: Dataset, where: str) -> dict[str, Any]:
    return {
        "path": where,
        "columns": dict(dataset.columns),
        "files": [[str(Path(f.path).absolute()), f.size, f.changed, f.rows] for f in dataset.files],
    }
