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
    tables: Mapped[list[TableRow]] = relationship(
        back_populates="study", order_by="TableRow.position", passive_deletes=True
    )
    figures: Mapped[list[FigureRow]] = relationship(
        back_populates="study", order_by="FigureRow.position", passive_deletes=True
    )


class TableRow(Base):
    """A table of a study; its values stand with its variables."""

    __tablename__ = "data_table"

    id: Mapped[str] = mapped_column(String(32), primary_key=True, default=new_id)
    study_id: Mapped[str] = mapped_column(ForeignKey("study.id", ondelete="CASCADE"), index=True)
    position: Mapped[int]
    name: Mapped[str] = mapped_column(String(200))
    rows: Mapped[int]
    summary: Mapped[dict[str, Any]] = mapped_column(JSON)
    created: Mapped[dt.datetime] = mapped_column(DateTime, default=now)
    study: Mapped[StudyRow] = relationship(back_populates="tables")
    variables: Mapped[list[VariableRow]] = relationship(
        back_populates="table", order_by="VariableRow.position", passive_deletes=True
    )


class VariableRow(Base):
    """A variable, and its values as a compressed Arrow blob."""

    __tablename__ = "variable"
    __table_args__ = (UniqueConstraint("table_id", "name"),)

    id: Mapped[str] = mapped_column(String(32), primary_key=True, default=new_id)
    table_id: Mapped[str] = mapped_column(
        ForeignKey("data_table.id", ondelete="CASCADE"), index=True
    )
    position: Mapped[int]
    name: Mapped[str] = mapped_column(String(200))
    label: Mapped[str] = mapped_column(String(200))
    unit: Mapped[str] = mapped_column(String(100))
    kind: Mapped[str] = mapped_column(String(16))
    values: Mapped[bytes] = mapped_column(LargeBinary, deferred=True)
    source: Mapped[bytes | None] = mapped_column(LargeBinary, deferred=True)
    """The values as text, where some of them could not be read as the kind."""
    recipe: Mapped[str | None] = mapped_column(String(2000))
    """The expression that it is made by, where it is derived."""
    table: Mapped[TableRow] = relationship(back_populates="variables")


class FigureRow(Base):
    """A figure: its document, and how often it was saved."""

    __tablename__ = "figure"

    id: Mapped[str] = mapped_column(String(32), primary_key=True, default=new_id)
    study_id: Mapped[str] = mapped_column(ForeignKey("study.id", ondelete="CASCADE"), index=True)
    position: Mapped[int]
    document: Mapped[dict[str, Any]] = mapped_column(JSON)
    revision: Mapped[int] = mapped_column(default=1)
    changed: Mapped[dt.datetime] = mapped_column(DateTime, default=now, onupdate=now)
    study: Mapped[StudyRow] = relationship(back_populates="figures")
