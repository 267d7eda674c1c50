"""Studies."""

from __future__ import annotations

from typing import Any
from urllib.parse import quote

from fastapi import Request, Response

from yarrowdew.api.models import (
    CategoriesIn,
    PackageIn,
    ServerLimits,
    StudyContents,
    StudyIn,
    StudyListed,
    StudyOut,
)
from yarrowdew.api.routing import api_router
from yarrowdew.api.state import (
    ACCEPTED,
    JobsNow,
    Prefer,
    SettingsNow,
    StoreNow,
    UploadsNow,
    in_background,
)
from yarrowdew.demo.seeding import add_demo_study
from yarrowdew.figures.document.formulas import SavedFormula
from yarrowdew.figures.document.looks import SavedLook
from yarrowdew.figures.figure import FigureDocument
from yarrowdew.store import Store
from yarrowdew.store.packages import pack_figure, pack_study, unpack_study
from yarrowdew.store.studies import StudyRecord
from yarrowdew.tables.filters import SavedFilter
from yarrowdew.tables.reading.progress import Progress

MOST_PICTURES = 4
_ZIP: dict[int | str, dict[str, Any]] = {200: {"content": {"application/zip": {}}}}

router = api_router("studies")


@router.get("/limits")
def get_limits(settings: SettingsNow) -> ServerLimits:
    """Say what the server takes."""
    return ServerLimits(max_upload_bytes=settings.max_upload_bytes)


@router.get("/studies")
def list_studies(store: StoreNow, *, deleted: bool = False) -> list[StudyListed]:
    """List all studies, the one changed last first; or those that can be brought back."""
    with store.together():
        return [_listed(store, record) for record in store.studies.all(deleted=deleted)]


@router.post("/studies", status_code=201)
def create_study(study: StudyIn, store: StoreNow, response: Response) -> StudyOut:
    """Make an empty study."""
    record = store.studies.create(study.name)
    response.headers["Location"] = f"/api/studies/{record.id}"
    return StudyOut.model_validate(record)


@router.post("/studies/demo", status_code=201)
def create_demo_study(store: StoreNow, response: Response) -> StudyOut:
    """Make the demo study, or find the one that is there."""
    record = store.studies.get(add_demo_study(store))
    response.headers["Location"] = f"/api/studies/{record.id}"
    return StudyOut.model_validate(record)


@router.get("/studies/{study_id}")
def get_study(study_id: str, store: StoreNow) -> StudyContents:
    """Show a study with its tables and figures."""
    with store.together():
        found = {
            **dict(StudyOut.model_validate(store.studies.get(study_id))),
            "tables": store.tables.of_study(study_id),
            "figures": store.figures.of_study(study_id),
            "plates": store.plates.of_study(study_id),
            "unreadable": store.figures.unreadable(study_id),
        }
    return StudyContents.model_validate(found)


@router.patch("/studies/{study_id}")
def rename_study(study_id: str, study: StudyIn, store: StoreNow) -> StudyOut:
    """Give a study another name."""
    return StudyOut.model_validate(store.studies.rename(study_id, study.name))


@router.delete("/studies/{study_id}", status_code=204)
def delete_study(study_id: str, store: StoreNow, *, for_good: bool = False) -> None:
    """Delete a study; it can be brought back for 30 days unless it is deleted for good."""
    if for_good:
        store.studies.delete_for_good(study_id)
    else:
        store.studies.delete(study_id)


@router.post("/studies/{study_id}/return")
def bring_back(study_id: str, store: StoreNow) -> StudyOut:
    """Bring back a study that was deleted."""
    return StudyOut.model_validate(store.studies.restore(study_id))


@router.get("/studies/{study_id}/package", response_class=Response, responses=_ZIP)
def export_study(study_id: str, store: StoreNow) -> Response:
    """Write a whole study as one file, a Data Package that can be read in anywhere."""
    name = store.studies.get(study_id).name
    return Response(
        pack_study(store, study_id),
        media_type="application/zip",
        headers={"Content-Disposition": f"attachment; filename*=UTF-8''{quote(name, safe='')}.zip"},
    )


@router.post("/packages", response_class=Response, responses=_ZIP)
def export_figure(document: FigureDocument, store: StoreNow) -> Response:
    """Write one figure and its table as one file that reads back as the same figure."""
    study_id = store.tables.record(document.table).study_id
    return Response(pack_figure(store, study_id, document), media_type="application/zip")


@router.post("/studies/packages", status_code=201, response_model=StudyOut, responses=ACCEPTED)
def read_study_in(
    wanted: PackageIn,
    store: StoreNow,
    settings: SettingsNow,
    uploads: UploadsNow,
    jobs: JobsNow,
    request: Request,
    response: Response,
    prefer: Prefer = None,
) -> StudyOut | Response:
    """Make a study from a file that one was written to."""
    upload = uploads.find(wanted.upload)

    def work(progress: Progress) -> StudyOut:
        content = upload.path.read_bytes()
        record = unpack_study(store, content, upload.name, settings.may_open, progress)
        uploads.discard(upload.id)
        response.headers["Location"] = f"/api/studies/{record.id}"
        return StudyOut.model_validate(record)

    return in_background(prefer, jobs, request, work)


@router.post("/studies/{study_id}/copies", status_code=201)
def copy_study(study_id: str, store: StoreNow, response: Response) -> StudyOut:
    """Make a copy of a study with everything in it."""
    copy = store.studies.copy(study_id, f"{store.studies.get(study_id).name} (copy)"[-200:])
    response.headers["Location"] = f"/api/studies/{copy.id}"
    return StudyOut.model_validate(copy)


@router.put("/studies/{study_id}/categories/{variable:path}")
def set_categories(study_id: str, variable: str, wanted: CategoriesIn, store: StoreNow) -> StudyOut:
    """Order, call and colour the categories of a variable, for every figure of the study."""
    return StudyOut.model_validate(store.studies.set_categories(study_id, variable, wanted.looks))


@router.put("/studies/{study_id}/filters")
def save_filter(study_id: str, saved: SavedFilter, store: StoreNow) -> StudyOut:
    """Keep a row filter under its name; one of the same name and table is replaced."""
    return StudyOut.model_validate(store.studies.save_filter(study_id, saved))


@router.delete("/studies/{study_id}/filters/{table_id}/{name:path}")
def delete_filter(study_id: str, table_id: str, name: str, store: StoreNow) -> StudyOut:
    """Forget a row filter; figures that use it keep it as their own."""
    return StudyOut.model_validate(store.studies.delete_filter(study_id, table_id, name))


@router.put("/studies/{study_id}/looks")
def save_look(study_id: str, saved: SavedLook, store: StoreNow) -> StudyOut:
    """Keep how a figure looks under a name; one of the same name is replaced."""
    return StudyOut.model_validate(store.studies.save_look(study_id, saved))


@router.delete("/studies/{study_id}/looks/{name:path}")
def delete_look(study_id: str, name: str, store: StoreNow) -> StudyOut:
    """Forget a look; figures that have it keep it."""
    return StudyOut.model_validate(store.studies.delete_look(study_id, name))


@router.put("/studies/{study_id}/formulas")
def save_formula(study_id: str, saved: SavedFormula, store: StoreNow) -> StudyOut:
    """Keep a formula under a name; one of the same name is replaced."""
    return StudyOut.model_validate(store.studies.save_formula(study_id, saved))


@router.delete("/studies/{study_id}/formulas/{name:path}")
def delete_formula(study_id: str, name: str, store: StoreNow) -> StudyOut:
    """Forget a formula; figures that have it keep it."""
    return StudyOut.model_validate(store.studies.delete_formula(study_id, name))


def _listed(store: Store, record: StudyRecord) -> StudyListed:
    figures = store.figures.of_study(record.id)
    return StudyListed.model_validate(
        {
            **dict(StudyOut.model_validate(record)),
            "tables": len(store.tables.of_study(record.id)),
            "figures": len(figures),
            "plates": len(store.plates.of_study(record.id)),
            "first": figures[:MOST_PICTURES],
        }
    )
