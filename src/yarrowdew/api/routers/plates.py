"""Plates: several figures on one page."""

from __future__ import annotations

from fastapi import Response

from yarrowdew.api.models import PlateOut
from yarrowdew.api.problems import etag
from yarrowdew.api.routing import api_router
from yarrowdew.api.state import Expected, Meant, StoreNow
from yarrowdew.figures.document.plate import PlateDocument

router = api_router("plates")


@router.post("/studies/{study_id}/plates", status_code=201)
def create_plate(
    study_id: str, document: PlateDocument, store: StoreNow, response: Response
) -> PlateOut:
    """Add a plate to a study."""
    record = store.plates.create(study_id, document)
    response.headers["Location"] = f"/api/plates/{record.id}"
    response.headers["ETag"] = etag(record.revision)
    return PlateOut.model_validate(record)


@router.get("/plates/{plate_id}")
def get_plate(plate_id: str, store: StoreNow, response: Response) -> PlateOut:
    """Show a plate as it was last saved."""
    record = store.plates.get(plate_id)
    response.headers["ETag"] = etag(record.revision)
    return PlateOut.model_validate(record)


@router.put("/plates/{plate_id}")
def save_plate(
    plate_id: str,
    document: PlateDocument,
    store: StoreNow,
    response: Response,
    expected: Meant,
) -> PlateOut:
    """Save a plate over the revision that was read; 412 when someone else saved first."""
    record = store.plates.save(plate_id, document, expected)
    response.headers["ETag"] = etag(record.revision)
    return PlateOut.model_validate(record)


@router.delete("/plates/{plate_id}", status_code=204)
def delete_plate(plate_id: str, store: StoreNow, expected: Expected) -> None:
    """Delete a plate, whose figures stay; with If-Match, only the revision that is meant."""
    store.plates.delete(plate_id, expected)


@router.post("/plates/{plate_id}/return")
def return_plate(plate_id: str, store: StoreNow, response: Response) -> PlateOut:
    """Bring back a plate that was deleted."""
    record = store.plates.restore(plate_id)
    response.headers["ETag"] = etag(record.revision)
    return PlateOut.model_validate(record)
