"""What routers work with."""

from __future__ import annotations

from typing import Annotated

from fastapi import Depends, Request

from yarrowdew.api.models import FigureOut, StudyOut, TableOut
from yarrowdew.api.settings import Settings
from yarrowdew.api.uploads import Uploads
from yarrowdew.store import FigureRecord, Store
from yarrowdew.store.store import StudyRecord, TableRecord


def _store(request: Request) -> Store:
    store: Store = request.app.state.store
    return store


def _uploads(request: Request) -> Uploads:
    uploads: Uploads = request.app.state.uploads
    return uploads


def _settings(request: Request) -> Settings:
    settings: Settings = request.app.state.settings
    return settings


StoreNow = Annotated[Store, Depends(_store)]
UploadsNow = Annotated[Uploads, Depends(_uploads)]
SettingsNow = Annotated[Settings, Depends(_settings)]


def study_out(record: StudyRecord) -> StudyOut:
    """Show a study."""
    return StudyOut(id=record.id, name=record.name, changed=record.changed)


def table_out(record: TableRecord) -> TableOut:
    """Show a table."""
    return TableOut(id=record.id, study=record.study_id, name=record.name, summary=record.summary)


def figure_out(record: FigureRecord) -> FigureOut:
    """Show a figure."""
    return FigureOut(
        id=record.id,
        study=record.study_id,
        revision=record.revision,
        document=record.document,
    )
