"""Pages that others may open: what was agreed to go out, as it was then."""

from __future__ import annotations

import datetime as dt
import secrets
from dataclasses import dataclass

from sqlalchemy import ColumnElement, or_, select

from yarrowdew.store.models import ShareRow, StudyRow, moment, now
from yarrowdew.store.records import NotFoundError, Repository, changed, get


@dataclass(frozen=True, slots=True)
class ShareRecord:
    """A page that others may open, without what it holds."""

    id: str
    name: str
    created: str
    expires: str | None


class ShareRepository(Repository):
    """The shared pages of all studies."""

    def of_study(self, study_id: str) -> list[ShareRecord]:
        """List the pages of a study that can be opened, the newest first."""
        with self._database.reading() as session:
            get(session, StudyRow, study_id, "study")
            rows = session.scalars(
                select(ShareRow)
                .where(ShareRow.study_id == study_id, _open_still())
                .order_by(ShareRow.created.desc())
            )
            return [_share(row) for row in rows]

    def create(
        self, study_id: str, name: str, content: bytes, days: float | None = None
    ) -> ShareRecord:
        """Keep what is shared at an id that cannot be guessed.

        Parameters
        ----------
        study_id, name : str
        content : bytes
        days : float, optional
            After how many days it can no longer be opened; it stays until withdrawn where None.
        """
        with self._database.writing() as session:
            changed(get(session, StudyRow, study_id, "study"))
            expires = None if days is None else now() + dt.timedelta(days=days)
            row = ShareRow(
                id=secrets.token_urlsafe(32),
                study_id=study_id,
                name=name,
                expires=expires,
                content=content,
            )
            session.add(row)
            session.flush()
            return _share(row)

    def content(self, share_id: str) -> bytes:
        """Find what is shared; a page that expired or whose study is deleted is not there."""
        with self._database.reading() as session:
            found = session.scalar(
                select(ShareRow.content)
                .join(StudyRow, StudyRow.id == ShareRow.study_id)
                .where(ShareRow.id == share_id, StudyRow.deleted.is_(None), _open_still())
            )
            if found is None:
                raise NotFoundError("shared page", "at this address")
            return found

    def withdraw(self, share_id: str) -> None:
        """Delete what is shared."""
        with self._database.writing() as session:
            session.delete(get(session, ShareRow, share_id, "shared page"))


def _open_still() -> ColumnElement[bool]:
    return or_(ShareRow.expires.is_(None), ShareRow.expires > now())


def _share(row: ShareRow) -> ShareRecord:
    return ShareRecord(
        row.id, row.name, moment(row.created), None if row.expires is None else moment(row.expires)
    )
