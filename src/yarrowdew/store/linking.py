"""Datasets of a study: where their files are, and what was found in them; their rows stay there."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from sqlalchemy import select
from sqlalchemy.orm import Session

from yarrowdew.figures.figure import FigureDocument
from yarrowdew.store.categories import categories_of_study, make_known
from yarrowdew.store.documents import added
from yarrowdew.store.models import FigureRow, StudyRow, TableRow, now
from yarrowdew.store.reading import TableReader, TableRecord, record_of
from yarrowdew.store.records import get, next_position
from yarrowdew.store.versions import StoredVariable, add_version, variables_of, version_of
from yarrowdew.tables.datasets import Dataset, DatasetFile
from yarrowdew.tables.naming import LONGEST_NAME
from yarrowdew.tables.summary import TableSummary
from yarrowdew.tables.table import Kind, Table


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


class LinkRepository(TableReader):
    """The datasets of all studies."""

    def link(
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
        with self._writing() as session:
            study = get(session, StudyRow, study_id, "study")
            study.changed = now()
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
                # A dataset has no columns here.
                stored=[
                    StoredVariable(name=v.name, label=v.label, unit=v.unit, kind=v.kind, column="")
                    for v in dataset.variables
                ],
                summaries=summary.variables,
                ids=None,
                rows=dataset.rows,
            )
            for document in figures if is_new else ():
                added(session, FigureRow, study_id, document.model_copy(update={"table": row.id}))
            return record_of(session, row)

    def linked(self, table_id: str) -> Linked | None:
        """Find the dataset that a table stands for; None where it is a table of rows."""
        with self._reading() as session:
            row = get(session, TableRow, table_id, "table")
            if row.dataset is None:
                return None
            held = variables_of(version_of(session, row))
            dataset = Dataset(
                row.name,
                tuple(v.plain() for v in held),
                row.dataset["columns"],
                tuple(DatasetFile(*file) for file in row.dataset["files"]),
            )
            categories = categories_of_study(row.study, (v.name for v in held))
        head = dataset.head
        return Linked(dataset, Table(head.name, head.variables, head.frame, None, categories))


def _linked_from(session: Session, study_id: str, where: str) -> TableRow | None:
    rows = session.scalars(select(TableRow).where(TableRow.study_id == study_id))
    return next((row for row in rows if (row.dataset or {}).get("path") == where), None)


def _stored(dataset: Dataset, where: str) -> dict[str, Any]:
    return {
        "path": where,
        "columns": dict(dataset.columns),
        "files": [[str(Path(f.path).absolute()), f.size, f.changed, f.rows] for f in dataset.files],
    }
