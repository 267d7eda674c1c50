"""Figures for others to open: pages on this server, and pages as one file."""

from __future__ import annotations

import gzip

from fastapi import Response

from yarrowdew.api.answering import sources
from yarrowdew.api.models import ShareIn, ShareOut
from yarrowdew.api.routing import api_router
from yarrowdew.api.state import SettingsNow, StoreNow, check_owned
from yarrowdew.drawing.single_page import single_page
from yarrowdew.figures.sharing.bundle import outgoing, shared
from yarrowdew.figures.sharing.models import Outgoing, Shared, ShareRequest

router = api_router("sharing")


@router.post("/outgoing")
def list_outgoing(asked: ShareRequest, store: StoreNow, settings: SettingsNow) -> Outgoing:
    """List the variables and rows that would go out. Nothing is shared by asking."""
    return outgoing(asked, sources(store, settings))


@router.post("/pages", response_class=Response, responses={200: {"content": {"text/html": {}}}})
def make_page(asked: ShareRequest, store: StoreNow, settings: SettingsNow) -> Response:
    """Make one HTML file that shows figures without a server or a network."""
    page = single_page(asked.title, shared(asked, sources(store, settings)).model_dump_json())
    return Response(page, media_type="text/html; charset=utf-8")


@router.post("/studies/{study_id}/shares", status_code=201)
def share(
    study_id: str, wanted: ShareIn, store: StoreNow, settings: SettingsNow, response: Response
) -> ShareOut:
    """Share figures of a study as they are now, at a private link."""
    for document in wanted.figures:
        check_owned(store, study_id, document.table)
    content = shared(wanted, sources(store, settings)).model_dump_json().encode()
    record = store.shares.create(study_id, wanted.title, gzip.compress(content, 6), wanted.days)
    response.headers["Location"] = f"/api/shared/{record.id}"
    return ShareOut.model_validate(record)


@router.get("/studies/{study_id}/shares")
def list_shares(study_id: str, store: StoreNow) -> list[ShareOut]:
    """List a study's pages that can be opened, the newest first."""
    return [ShareOut.model_validate(record) for record in store.shares.of_study(study_id)]


@router.delete("/shares/{share_id}", status_code=204)
def withdraw(share_id: str, store: StoreNow) -> None:
    """Withdraw a page: nobody can open it any more."""
    store.shares.withdraw(share_id)


@router.get("/shared/{share_id}", response_model=Shared)
def open_shared(share_id: str, store: StoreNow) -> Response:
    """Show what is shared at an address."""
    content = gzip.decompress(store.shares.content(share_id))
    return Response(
        content, media_type="application/json", headers={"Cache-Control": "private, no-store"}
    )
