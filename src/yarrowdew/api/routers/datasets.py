"""Datasets: which may be opened, and adding one to a study."""

from __future__ import annotations

from pathlib import Path

from fastapi import Request, Response

from yarrowdew.api.models import DatasetFound, DatasetIn, FigureOut, TableOut, TableTaken
from yarrowdew.api.routing import api_router
from yarrowdew.api.settings import Settings
from yarrowdew.api.state import ACCEPTED, JobsNow, Prefer, SettingsNow, StoreNow, in_background
from yarrowdew.core.checkpoints import asking
from yarrowdew.figures.datasets.view import DatasetView
from yarrowdew.store import Store
from yarrowdew.store.link_dataset import link_dataset
from yarrowdew.tables.dataset_files import open_dataset
from yarrowdew.tables.engines.base import engine_named
from yarrowdew.tables.errors import TableError
from yarrowdew.tables.reading.progress import Progress

MOST_LISTED = 1_000

router = api_router("datasets")


@router.get("/datasets")
def list_datasets(settings: SettingsNow) -> list[DatasetFound]:
    """List the folders that the server may open, of those it was started with."""
    found: list[DatasetFound] = []
    for root in settings.datasets:
        for folder in [root, *sorted(p for p in root.rglob("*") if p.is_dir())]:
            files = [
                p for p in folder.glob("*.parquet") if p.is_file() and settings.may_open(str(p))
            ]
            if files:
                name = folder.relative_to(root.parent).as_posix()
                found.append(DatasetFound(path=str(folder), name=name, files=len(files)))
            if len(found) == MOST_LISTED:
                return found
    return found


@router.post(
    "/studies/{study_id}/datasets", status_code=201, response_model=TableTaken, responses=ACCEPTED
)
def link(
    study_id: str,
    wanted: DatasetIn,
    store: StoreNow,
    settings: SettingsNow,
    jobs: JobsNow,
    request: Request,
    prefer: Prefer = None,
) -> TableTaken | Response:
    """Add a dataset to a study, with the figure it starts with; or open it anew. Its rows stay."""
    store.studies.get(study_id)
    path = _allowed(wanted.path, settings)
    view = DatasetView(open_dataset(path, settings.may_open), engine_named(settings.engine))

    def work(tell: Progress) -> TableTaken:
        with asking(tell):
            return _taken(store, study_id, view, path)

    return in_background(prefer, jobs, request, work)


def _taken(store: Store, study_id: str, view: DatasetView, path: Path) -> TableTaken:
    record, problem = link_dataset(store, study_id, view, path)
    made = [f for f in store.figures.of_study(study_id) if f.document.table == record.id]
    return TableTaken(
        table=TableOut.model_validate(record),
        figure=FigureOut.model_validate(made[0]) if made else None,
        problem=problem,
    )


def _allowed(path: str, settings: Settings) -> Path:
    """Find a path among those that may be opened, wherever links in it lead."""
    if not settings.may_open(path):
        raise TableError(
            f"{path[:200]} is not among the datasets that this server may open.",
            "Start it with --datasets and the folder that holds it.",
        )
    return Path(path).resolve()
