"""The records and how they hang together."""

from __future__ import annotations

import datetime as dt
import uuid
from typing import Any

from sqlalchemy import JSON, DateTime, ForeignKey, LargeBinary, MetaData, String, UniqueConstraint
from sqlalchemy.orm import DeclarativeBase, Mapped, mapped_column, relationship


def new_id() -> str:
    """Make an id that no other record has."""
    return uuid.uuid4().hex


def now() -> dt.datetime:
    """Return this moment in UTC, without a zone, as SQLite keeps it."""
    return dt.datetime.now(dt.UTC).replace(tzinfo=None)


def moment(when: dt.datetime) -> str:
    """Write a moment as ISO 8601 text in UTC."""
    return when.isoformat(timespec="seconds") + "Z"


class Base(DeclarativeBase):
    """Base of all records; constraints are named so that migrations can speak of them."""

    metadata = MetaData(
        naming_convention={
            "ix": "ix_%(column_0_label)s",
            "uq": "uq_%(table_name)s_%(column_0_name)s",
            "fk": "fk_%(table_name)s_%(column_0_name)s",
            "pk": "pk_%(table_name)s",
        }
    )


class StudyRow(Base):
    """A saved body of work."""

    __tablename__ = "study"

    id: Mapped[str] = mapped_column(String(32), primary_key=True, default=new_id)
    name: Mapped[str] = mapped_column(String(200))
    created: Mapped[dt.datetime] = mapped_column(DateTime, default=now)
    changed: Mapped[dt.datetime] = mapped_column(DateTime, default=now)
    categories: Mapped[dict[str, Any]] = mapped_column(JSON, default=dict)
    """By variable name, how its categories are ordered, called and coloured."""
    filters: Mapped[list[dict[str, Any]]] = mapped_column(JSON, default=list)
    """Row filters saved under a name."""
    looks: Mapped[list[dict[str, Any]]] = mapped_column(JSON, default=list)
    """How figures look, saved under a name."""
    formulas: Mapped[list[dict[str, Any]]] = mapped_column(JSON, default=list)
    """Formulas of trends, saved under a name."""
    deleted: Mapped[dt.datetime | None] = mapped_column(DateTime)
    """When it was deleted; it can be brought back for a while."""
    # Records that were deleted wait to be brought back, and belong to the study no more. What is
    # deleted for good is deleted by the database's own cascade.
    tables: Mapped[list[TableRow]] = relationship(
        primaryjoin="and_(StudyRow.id == TableRow.study_id, TableRow.deleted.is_(None))",
        order_by="TableRow.position",
        viewonly=True,
    )
    figures: Mapped[list[FigureRow]] = relationship(
        primaryjoin="and_(StudyRow.id == FigureRow.study_id, FigureRow.deleted.is_(None))",
        order_by="FigureRow.position",
        viewonly=True,
    )
    plates: Mapped[list[PlateRow]] = relationship(
        primaryjoin="and_(StudyRow.id == PlateRow.study_id, PlateRow.deleted.is_(None))",
        order_by="PlateRow.position",
        viewonly=True,
    )


class TableRow(Base):
    """A table of a study, and which of its versions holds."""

    __tablename__ = "data_table"

    id: Mapped[str] = mapped_column(String(32), primary_key=True, default=new_id)
    study_id: Mapped[str] = mapped_column(ForeignKey("study.id", ondelete="CASCADE"), index=True)
    position: Mapped[int]
    name: Mapped[str] = mapped_column(String(200))
    version: Mapped[int]
    next_row: Mapped[int]
    """The number that the next new row gets; numbers are never given twice."""
    options: Mapped[dict[str, Any]] = mapped_column(JSON, default=dict)
    """How its file was read, so that it can be read in again the same way."""
    dataset: Mapped[dict[str, Any] | None] = mapped_column(JSON)
    """The files of a dataset, which has no columns here; null for a table of rows."""
    created: Mapped[dt.datetime] = mapped_column(DateTime, default=now)
    deleted: Mapped[dt.datetime | None] = mapped_column(DateTime)
    """When it was deleted; it can be brought back for a while."""
    # Whatever is read of a table, its study says how its categories look.
    study: Mapped[StudyRow] = relationship(lazy="joined", innerjoin=True)
    versions: Mapped[list[VersionRow]] = relationship(
        back_populates="table", order_by="VersionRow.number", passive_deletes=True
    )


class VersionRow(Base):
    """What a table held between two changes: its variables, and which columns have their values."""

    __tablename__ = "table_version"
    __table_args__ = (UniqueConstraint("table_id", "number"),)

    id: Mapped[str] = mapped_column(String(32), primary_key=True, default=new_id)
    table_id: Mapped[str] = mapped_column(
        ForeignKey("data_table.id", ondelete="CASCADE"), index=True
    )
    number: Mapped[int]
    rows: Mapped[int]
    row_ids: Mapped[bytes | None] = mapped_column(LargeBinary)
    """The rows' own numbers; their places where null."""
    variables: Mapped[list[dict[str, Any]]] = mapped_column(JSON)
    summary: Mapped[dict[str, Any]] = mapped_column(JSON, deferred=True)
    dataset: Mapped[dict[str, Any] | None] = mapped_column(JSON)
    """The files of a dataset as they were at this version; those of its table where null."""
    table: Mapped[TableRow] = relationship(back_populates="versions")


class ColumnRow(Base):
    """A variable's values as an Arrow blob; it never changes, a change makes another."""

    __tablename__ = "column_values"

    id: Mapped[str] = mapped_column(String(32), primary_key=True, default=new_id)
    table_id: Mapped[str] = mapped_column(
        ForeignKey("data_table.id", ondelete="CASCADE"), index=True
    )
    size: Mapped[int]
    values: Mapped[bytes] = mapped_column(LargeBinary, deferred=True)
    source: Mapped[bytes | None] = mapped_column(LargeBinary, deferred=True)
    """The values as text, where some of them could not be read as the kind."""


class DocumentColumns:
    """What records have that hold a document and count how often it was saved."""

    id: Mapped[str] = mapped_column(String(32), primary_key=True, default=new_id)
    study_id: Mapped[str] = mapped_column(ForeignKey("study.id", ondelete="CASCADE"), index=True)
    position: Mapped[int]
    document: Mapped[dict[str, Any]] = mapped_column(JSON)
    revision: Mapped[int] = mapped_column(default=1)
    changed: Mapped[dt.datetime] = mapped_column(DateTime, default=now, onupdate=now)
    deleted: Mapped[dt.datetime | None] = mapped_column(DateTime)
    """When it was deleted; it can be brought back for a while."""


class FigureRow(DocumentColumns, Base):
    """A figure: its document, and how often it was saved."""

    __tablename__ = "figure"

    study: Mapped[StudyRow] = relationship()


class PlateRow(DocumentColumns, Base):
    """A plate: its document, and how often it was saved."""

    __tablename__ = "plate"

    study: Mapped[StudyRow] = relationship()


class ShareRow(Base):
    """A page that others may open: what was agreed to go out, as it was then."""

    __tablename__ = "share"

    id: Mapped[str] = mapped_column(String(64), primary_key=True)
    """Cannot be guessed: 256 random bits."""
    study_id: Mapped[str] = mapped_column(ForeignKey("study.id", ondelete="CASCADE"), index=True)
    name: Mapped[str] = mapped_column(String(500))
    created: Mapped[dt.datetime] = mapped_column(DateTime, default=now)
    expires: Mapped[dt.datetime | None] = mapped_column(DateTime)
    content: Mapped[bytes] = mapped_column(LargeBinary, deferred=True)
