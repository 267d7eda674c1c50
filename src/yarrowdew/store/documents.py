"""Figures and plates: records that hold a document and count how often it was saved."""

from __future__ import annotations

import logging
from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass
from functools import partial
from typing import Any, TypeVar

from pydantic import BaseModel, ValidationError
from sqlalchemy.orm import Session

from yarrowdew.figures.document.plate import PlateDocument
from yarrowdew.figures.document.upgrading import with_rows_that_can_be
from yarrowdew.figures.figure import FigureDocument
from yarrowdew.store.models import (
    DocumentColumns,
    FigureRow,
    PlateRow,
    StudyRow,
    TableRow,
    new_id,
    now,
)
from yarrowdew.store.records import (
    NotFoundError,
    OutdatedError,
    Repository,
    StoreError,
    changed,
    get,
    next_position,
)

Held = TypeVar("Held", FigureRow, PlateRow)
Record = TypeVar("Record")
Document = TypeVar("Document", bound=BaseModel)

log = logging.getLogger(__name__)


@dataclass(frozen=True, slots=True)
class FigureRecord:
    """A figure as it was last saved."""

    id: str
    study_id: str
    document: FigureDocument
    revision: int


@dataclass(frozen=True, slots=True)
class PlateRecord:
    """A plate as it was last saved."""

    id: str
    study_id: str
    document: PlateDocument
    revision: int


@dataclass(frozen=True, slots=True)
class UnreadableRecord:
    """A figure or plate whose document cannot be read."""

    id: str
    what: str
    problem: str


class FigureRepository(Repository):
    """The figures of all studies."""

    def of_study(self, study_id: str) -> list[FigureRecord]:
        """List a study's figures in their order."""
        with self._database.reading() as session:
            return _those_readable(get(session, StudyRow, study_id, "study").figures, _figure)

    def create(self, study_id: str, document: FigureDocument) -> FigureRecord:
        """Add a figure at the end."""
        with self._database.changing(study_id) as (session, _):
            owned_table(session, study_id, document.table)
            return _figure(added(session, FigureRow, study_id, document))

    def create_all(self, study_id: str, documents: Sequence[FigureDocument]) -> list[str]:
        """Add figures at the end, whose tables are known to be of the study; return their ids."""
        with self._database.changing(study_id) as (session, _):
            return _added_all(session, FigureRow, study_id, documents)

    def get(self, figure_id: str) -> FigureRecord:
        """Find a figure."""
        with self._database.reading() as session:
            return _figure(get(session, FigureRow, figure_id, "figure"))

    def save(self, figure_id: str, document: FigureDocument, revision: int | None) -> FigureRecord:
        """Save a figure's document over the revision that was read, or over whichever there is.

        Raises
        ------
        OutdatedError
            If it was saved elsewhere since.
        """
        with self._database.writing() as session:
            row = get(session, FigureRow, figure_id, "figure")
            owned_table(session, row.study_id, document.table)
            _saved(session, row, row.study, document, revision)
            return _figure(row)

    def delete(self, figure_id: str, revision: int | None = None) -> None:
        """Delete a figure; it can be brought back for a while.

        Raises
        ------
        OutdatedError
            Where another revision was meant.
        """
        with self._database.writing() as session:
            _delete(get(session, FigureRow, figure_id, "figure"), revision)

    def restore(self, figure_id: str) -> FigureRecord:
        """Bring back a figure that was deleted, to its place in the study."""
        with self._database.writing() as session:
            row = get(session, FigureRow, figure_id, "figure", also_deleted=True)
            changed(row.study)
            owned_table(session, row.study_id, row.document.get("table", ""))
            row.deleted = None
            return _figure(row)

    def unreadable(self, study_id: str) -> list[UnreadableRecord]:
        """List the figures and plates of a study that cannot be read, and why."""
        with self._database.reading() as session:
            study = get(session, StudyRow, study_id, "study")
            found: list[UnreadableRecord] = []
            checks: list[tuple[str, str, Callable[[], object]]] = [
                *((f.id, "figure", partial(_figure, f)) for f in study.figures),
                *((p.id, "plate", partial(_plate, p)) for p in study.plates),
            ]
            for record_id, what, read in checks:
                try:
                    read()
                except StoreError as error:
                    found.append(UnreadableRecord(record_id, what, error.message))
            return found


class PlateRepository(Repository):
    """The plates of all studies."""

    def of_study(self, study_id: str) -> list[PlateRecord]:
        """List a study's plates in their order."""
        with self._database.reading() as session:
            return _those_readable(get(session, StudyRow, study_id, "study").plates, _plate)

    def create(self, study_id: str, document: PlateDocument) -> PlateRecord:
        """Add a plate at the end."""
        with self._database.changing(study_id) as (session, _):
            _owned_figures(session, study_id, document)
            return _plate(added(session, PlateRow, study_id, document))

    def create_all(self, study_id: str, documents: Sequence[PlateDocument]) -> list[str]:
        """Add plates at the end, whose figures are of the study or gone; return their ids."""
        with self._database.changing(study_id) as (session, _):
            return _added_all(session, PlateRow, study_id, documents)

    def get(self, plate_id: str) -> PlateRecord:
        """Find a plate."""
        with self._database.reading() as session:
            return _plate(get(session, PlateRow, plate_id, "plate"))

    def save(self, plate_id: str, document: PlateDocument, revision: int | None) -> PlateRecord:
        """Save a plate's document over the revision that was read, or over whichever there is.

        A figure that was deleted may stay in its place, so that nothing else moves.

        Raises
        ------
        OutdatedError
            If it was saved elsewhere since.
        """
        with self._database.writing() as session:
            row = get(session, PlateRow, plate_id, "plate")
            _saved(session, row, row.study, document, revision)
            return _plate(row)

    def delete(self, plate_id: str, revision: int | None = None) -> None:
        """Delete a plate, whose figures stay; it can be brought back for a while.

        Raises
        ------
        OutdatedError
            Where another revision was meant.
        """
        with self._database.writing() as session:
            _delete(get(session, PlateRow, plate_id, "plate"), revision)

    def restore(self, plate_id: str) -> PlateRecord:
        """Bring back a plate that was deleted, to its place in the study."""
        with self._database.writing() as session:
            row = get(session, PlateRow, plate_id, "plate", also_deleted=True)
            changed(row.study)
            row.deleted = None
            return _plate(row)


def owned_table(session: Session, study_id: str, table_id: str) -> TableRow:
    """Find a table of a study, or raise."""
    table = get(session, TableRow, table_id, "table")
    if table.study_id != study_id:
        raise NotFoundError("table", table_id)
    return table


def _owned_figures(session: Session, study_id: str, document: PlateDocument) -> None:
    for cell in document.cells:
        figure = get(session, FigureRow, cell.figure, "figure")
        if figure.study_id != study_id:
            raise NotFoundError("figure", cell.figure)


def added(session: Session, model: type[Held], study_id: str, document: BaseModel) -> Held:
    """Add a record of a document at the end of its study."""
    row = model(
        study_id=study_id,
        position=next_position(session, model, study_id),
        document=document.model_dump(mode="json"),
        revision=1,
    )
    session.add(row)
    session.flush()
    return row


def _added_all(
    session: Session, model: type[Held], study_id: str, documents: Sequence[BaseModel]
) -> list[str]:
    first = next_position(session, model, study_id)
    rows = [
        model(
            id=new_id(),
            study_id=study_id,
            position=first + place,
            document=document.model_dump(mode="json"),
            revision=1,
        )
        for place, document in enumerate(documents)
    ]
    session.add_all(rows)
    session.flush()
    return [row.id for row in rows]


def _saved(
    session: Session,
    row: DocumentColumns,
    study: StudyRow,
    document: BaseModel,
    revision: int | None,
) -> None:
    """Put a document over the revision that was read."""
    if revision is not None and row.revision != revision:
        raise OutdatedError(row.revision)
    row.document = document.model_dump(mode="json")
    row.revision += 1
    changed(study)
    session.flush()


def _delete(row: FigureRow | PlateRow, revision: int | None) -> None:
    if revision is not None and row.revision != revision:
        raise OutdatedError(row.revision)
    changed(row.study)
    row.deleted = now()


def _those_readable(rows: Iterable[Held], make: Callable[[Held], Record]) -> list[Record]:
    """Those records whose document can be read: one that cannot spoils itself alone."""
    found = []
    for row in rows:
        try:
            found.append(make(row))
        except StoreError as error:
            log.warning("%s", error)
    return found


def _read(model: type[Document], held: dict[str, Any], what: str) -> Document:
    try:
        return model.model_validate(with_rows_that_can_be(held))
    except ValidationError as error:
        first = error.errors()[0]
        place = ".".join(map(str, first["loc"]))
        raise StoreError(
            f"This {what} cannot be read: {place}: {first['msg'].lower()}.",
            "It may have been written by a newer version; the rest of the study is not touched.",
        ) from error


def _figure(row: FigureRow) -> FigureRecord:
    document = _read(FigureDocument, row.document, "figure")
    return FigureRecord(row.id, row.study_id, document, row.revision)


def _plate(row: PlateRow) -> PlateRecord:
    document = _read(PlateDocument, row.document, "plate")
    return PlateRecord(row.id, row.study_id, document, row.revision)
