"""Studies."""

from __future__ import annotations

from fastapi import APIRouter, Response

from yarrowdew.api.models import CategoriesIn, ServerLimits, StudyContents, StudyIn, StudyOut
from yarrowdew.api.state import SettingsNow, StoreNow, figure_out, study_out, table_out
from yarrowdew.figures.parts import SavedLook
from yarrowdew.store.seeding import add_demo_study
from yarrowdew.tables.filters import SavedFilter

router = APIRouter(tags=["studies"])


@router.get("/limits")
def get_limits(settings: SettingsNow) -> ServerLimits:
    """Say what the server takes."""
    return ServerLimits(max_upload_bytes=settings.max_upload_bytes)


@router.get("/studies")
def list_studies(store: StoreNow) -> list[StudyOut]:
    """List all studies, the one changed last first."""
    return [study_out(record) for record in store.studies()]


@router.post("/studies", status_code=201)
def create_study(study: StudyIn, store: StoreNow, response: Response) -> StudyOut:
    """Make an empty study."""
    record = store.create_study(study.name)
    response.headers["Location"] = f"/api/studies/{record.id}"
    return study_out(record)


@router.post("/studies/demo", status_code=201)
def create_demo_study(store: StoreNow, response: Response) -> StudyOut:
    """Make the demo study, or find the one that is there."""
    record = store.study(add_demo_study(store))
    response.headers["Location"] = f"/api/studies/{record.id}"
    return study_out(record)


@router.get("/studies/{study_id}")
def get_study(study_id: str, store: StoreNow) -> StudyContents:
    """Show a study with its tables and figures."""
    return StudyContents(
        **dict(study_out(store.study(study_id))),
        tables=[table_out(record) for record in store.tables(study_id)],
        figures=[figure_out(record) for record in store.figures(study_id)],
    )


@router.patch("/studies/{study_id}")
def rename_study(study_id: str, study: StudyIn, store: StoreNow) -> StudyOut:
    """Give a study another name."""
    return study_out(store.rename_study(study_id, study.name))


@router.delete("/studies/{study_id}", status_code=204)
def delete_study(study_id: str, store: StoreNow) -> None:
    """Delete a study with everything in it."""
    store.delete_study(study_id)


@router.put("/studies/{study_id}/categories/{variable}")
def set_categories(study_id: str, variable: str, wanted: CategoriesIn, store: StoreNow) -> StudyOut:
    """Order, call and colour the categories of a variable, for every figure of the study."""
    return study_out(store.set_categories(study_id, variable, wanted.looks))


@router.put("/studies/{study_id}/filters")
def save_filter(study_id: str, saved: SavedFilter, store: StoreNow) -> StudyOut:
    """Keep a row filter under its name; one of the same name and table is replaced."""
    return study_out(store.save_filter(study_id, saved))


@router.delete("/studies/{study_id}/filters/{table_id}/{name}")
def delete_filter(study_id: str, table_id: str, name: str, store: StoreNow) -> StudyOut:
    """Forget a row filter; figures that use it keep it as their own."""
    return study_out(store.delete_filter(study_id, table_id, name))


@router.put("/studies/{study_id}/looks")
def save_look(study_id: str, saved: SavedLook, store: StoreNow) -> StudyOut:
    """Keep how a figure looks under a name; one of the same name is replaced."""
    return study_out(store.save_look(study_id, saved))


@router.delete("/studies/{study_id}/looks/{name}")
def delete_look(study_id: str, name: str, store: StoreNow) -> StudyOut:
    """Forget a look; figures that have it keep it."""
    return study_out(store.delete_look(study_id, name))
