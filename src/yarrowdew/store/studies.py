"""Studies, and what is set once for a study."""

from __future__ import annotations

import datetime as dt
from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from types import MappingProxyType
from typing import Literal

from sqlalchemy import delete, select
from sqlalchemy.orm import Session

from yarrowdew.figures.document.categories import CategoryLook, with_distinct_labels
from yarrowdew.figures.document.formulas import SavedFormula
from yarrowdew.figures.document.looks import SavedLook
from yarrowdew.store.categories import categories_of_study, readable
from yarrowdew.store.documents import owned_table
from yarrowdew.store.models import (
    FigureRow,
    PlateRow,
    ShareRow,
    StudyRow,
    TableRow,
    moment,
    now,
)
from yarrowdew.store.records import NotFoundError, Repository, get
from yarrowdew.store.study_copy import copied_study
from yarrowdew.tables.errors import TableError
from yarrowdew.tables.filters import SavedFilter

DAYS_KEPT = 30
"""How long a study, or a part of one, that was deleted can be brought back."""


@dataclass(frozen=True, slots=True)
class StudyRecord:
    """A study without its tables and figures."""

    id: str
    name: str
    changed: str
    deleted: str | None
    """When it was deleted, where it was."""
    categories: dict[str, list[CategoryLook]]
    filters: list[SavedFilter]
    looks: list[SavedLook]
    formulas: list[SavedFormula]


class StudyRepository(Repository):
    """All studies."""

    def all(self, *, deleted: bool = False) -> list[StudyRecord]:
        """List all studies, the one changed last first; or those that were deleted."""
        with self._database.reading() as session:
            wanted = StudyRow.deleted.is_not(None) if deleted else StudyRow.deleted.is_(None)
            rows = session.scalars(select(StudyRow).where(wanted).order_by(StudyRow.changed.desc()))
            return [_study(row) for row in rows]

    def create(self, name: str) -> StudyRecord:
        """Make an empty study."""
        with self._database.writing() as session:
            row = StudyRow(name=name)
            session.add(row)
            session.flush()
            return _study(row)

    def get(self, study_id: str) -> StudyRecord:
        """Find a study; one that was deleted is not found until it is brought back."""
        with self._database.reading() as session:
            row = get(session, StudyRow, study_id, "study")
            if row.deleted is not None:
                raise NotFoundError("study", study_id)
            return _study(row)

    def rename(self, study_id: str, name: str) -> StudyRecord:
        """Give a study another name."""
        with self._database.changing(study_id) as (_, row):
            row.name = name
            return _study(row)

    def delete(self, study_id: str) -> StudyRecord:
        """Delete a study; it can be brought back for 30 days. What was kept longer goes for
        good.
        """
        with self._database.writing() as session:
            row = get(session, StudyRow, study_id, "study")
            row.deleted = row.deleted or now()
            _forget_expired(session)
            return _study(row)

    def tidy(self) -> None:
        """Let go of what has had its time, and give its space back to the disk."""
        with self._database.writing() as session:
            _forget_expired(session)
        self._database.give_back_space()

    def copy(self, study_id: str, name: str) -> StudyRecord:
        """Make a copy of a study as it is, record by record, with ids of its own.

        Values are copied as they are stored, so that every figure of the copy answers as its
        original, to the last bit. Earlier versions of tables are not copied.
        """
        with self._database.writing() as session:
            study = get(session, StudyRow, study_id, "study")
            if study.deleted is not None:
                raise NotFoundError("study", study_id)
            return _study(copied_study(session, study, name))

    def restore(self, study_id: str) -> StudyRecord:
        """Bring back a study that was deleted."""
        with self._database.writing() as session:
            row = get(session, StudyRow, study_id, "study")
            row.deleted, row.changed = None, now()
            return _study(row)

    def delete_for_good(self, study_id: str) -> None:
        """Delete a study with everything in it."""
        with self._database.writing() as session:
            session.delete(get(session, StudyRow, study_id, "study"))

    def set_categories(
        self, study_id: str, variable: str, looks: Sequence[CategoryLook]
    ) -> StudyRecord:
        """Say how the categories of a variable are ordered, called and coloured.

        Categories that are held by some table and not given stay known, after those given.

        Raises
        ------
        TableError
            If two categories would be called the same.
        """
        with self._database.changing(study_id) as (_, row):
            known = categories_of_study(row, [variable]).get(variable, ())
            given = {look.value for look in looks}
            every = [*looks, *(look for look in known if look.value not in given)]
            counts = Counter(look.shown for look in every)
            twice = next((name for name, count in counts.items() if count > 1), None)
            if twice is not None:
                raise TableError(
                    f"Two categories of '{variable}' would both be called '{twice}'.",
                    "Give each a name of its own.",
                    column=variable,
                )
            row.categories = {
                **row.categories,
                variable: [look.model_dump(mode="json") for look in every],
            }
            return _study(row)

    def fill(
        self,
        study_id: str,
        *,
        categories: Mapping[str, Sequence[CategoryLook]] = MappingProxyType({}),
        filters: Sequence[SavedFilter] = (),
        looks: Sequence[SavedLook] = (),
        formulas: Sequence[SavedFormula] = (),
    ) -> None:
        """Take over what another study kept, as it was written; labels are made distinct."""
        with self._database.changing(study_id) as (_, row):
            row.categories = {
                **row.categories,
                **{
                    name: [one.model_dump(mode="json") for one in with_distinct_labels(own)]
                    for name, own in categories.items()
                },
            }
            for kind, saved in (("filters", filters), ("looks", looks), ("formulas", formulas)):
                dumped = [one.model_dump(mode="json") for one in saved]
                setattr(row, kind, [*getattr(row, kind), *dumped])

    def save_filter(self, study_id: str, saved: SavedFilter) -> StudyRecord:
        """Keep a row filter under its name; one of the same name and table is replaced."""
        with self._database.changing(study_id) as (session, row):
            owned_table(session, study_id, saved.table)
            others = [
                f for f in row.filters if (f["name"], f["table"]) != (saved.name, saved.table)
            ]
            row.filters = [*others, saved.model_dump(mode="json")]
            return _study(row)

    def delete_filter(self, study_id: str, table: str, name: str) -> StudyRecord:
        """Forget a row filter; figures that use it keep it as their own."""
        with self._database.changing(study_id) as (_, row):
            kept = [f for f in row.filters if (f["name"], f["table"]) != (name, table)]
            if len(kept) == len(row.filters):
                raise NotFoundError("filter", name)
            row.filters = kept
            return _study(row)

    def save_look(self, study_id: str, saved: SavedLook) -> StudyRecord:
        """Keep a look under its name; one of the same name is replaced."""
        return self._keep(study_id, "looks", saved)

    def delete_look(self, study_id: str, name: str) -> StudyRecord:
        """Forget a look; figures that have it keep it."""
        return self._forget(study_id, "looks", name)

    def save_formula(self, study_id: str, saved: SavedFormula) -> StudyRecord:
        """Keep a formula under its name; one of the same name is replaced."""
        return self._keep(study_id, "formulas", saved)

    def delete_formula(self, study_id: str, name: str) -> StudyRecord:
        """Forget a formula; figures that have it keep it."""
        return self._forget(study_id, "formulas", name)

    def _keep(
        self, study_id: str, kind: Literal["looks", "formulas"], saved: SavedLook | SavedFormula
    ) -> StudyRecord:
        with self._database.changing(study_id) as (_, row):
            others = [one for one in getattr(row, kind) if one["name"] != saved.name]
            setattr(row, kind, [*others, saved.model_dump(mode="json")])
            return _study(row)

    def _forget(self, study_id: str, kind: Literal["looks", "formulas"], name: str) -> StudyRecord:
        with self._database.changing(study_id) as (_, row):
            held = getattr(row, kind)
            kept = [one for one in held if one["name"] != name]
            if len(kept) == len(held):
                raise NotFoundError(kind.removesuffix("s"), name)
            setattr(row, kind, kept)
            return _study(row)


def _study(row: StudyRow) -> StudyRecord:
    return StudyRecord(
        row.id,
        row.name,
        moment(row.changed),
        None if row.deleted is None else moment(row.deleted),
        {name: list(looks) for name, looks in categories_of_study(row, row.categories).items()},
        readable(SavedFilter, row.filters),
        readable(SavedLook, row.looks),
        readable(SavedFormula, row.formulas),
    )


def _forget_expired(session: Session) -> None:
    limit = now() - dt.timedelta(days=DAYS_KEPT)
    for model in (StudyRow, TableRow, FigureRow, PlateRow):
        session.execute(delete(model).where(model.deleted < limit))
    session.execute(delete(ShareRow).where(ShareRow.expires <= now()))
