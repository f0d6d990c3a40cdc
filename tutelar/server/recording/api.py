"""The API of recordings."""

from typing import Any

from django.http import HttpRequest
from ninja import Router

from tutelar.core.recording.estimate import estimate
from tutelar.server.http import REFUSED, WRITE, who
from tutelar.server.recording import schemas as shapes
from tutelar.server.recording import services, views
from tutelar.server.rights import SEE, WORK
from tutelar.server.schemas import ApiError, Draft, Revised
from tutelar.server.sheet import shaped
from tutelar.server.store import documents, drafts, lookup

router = Router(tags=["recording"])
_ESTIMATED = "Pixels × pictures a second × bits per pixel × what moves. The rate that is set in the unit beats it."


def _given(draft: Draft) -> dict[str, Any]:
    return draft.model_dump(exclude_unset=True)


@router.get(
    "/{key}/recording", response={200: shapes.RecordingSheet, 404: ApiError}, auth=SEE, operation_id="recording"
)
def recording(request: HttpRequest, key: str) -> Any:
    """Return what is recorded when, and how long it is kept."""
    return views.recording_sheet(lookup.site_row(key))


@router.post(
    "/{key}/recording/preview",
    response={200: shapes.RecordingSheet, **REFUSED},
    auth=SEE,
    operation_id="preview_recording",
)
def preview_recording(request: HttpRequest, key: str, draft: Draft) -> Any:
    """Return the same of a draft; nothing is stored."""
    row = lookup.site_row(key)
    return views.recording_sheet(row, drafts.trial(documents.document(row), _given(draft)))


@router.post("/{key}/recording/lever", response={200: shapes.Pulled, **REFUSED}, auth=WORK, operation_id="take_lever")
def take_lever(request: HttpRequest, key: str, press: shapes.LeverPress) -> Any:
    """Return a draft with one of a recorder's levers taken in, and the page as it then is; nothing is stored."""
    row = lookup.site_row(key)
    stored = documents.document(row)
    draft = services.with_lever(stored, _given(press.draft), press.recorder, press.lever)
    return shapes.Pulled(draft=draft, sheet=views.recording_sheet(row, drafts.trial(stored, draft)))


@router.post(
    "/{key}/recording/measured", response={200: shapes.Measured, **REFUSED}, auth=WORK, operation_id="measured_space"
)
def measured_space(request: HttpRequest, key: str, body: shapes.Measuring) -> Any:
    """Return what two readings of used space tell, and a draft with the rates that were measured."""
    stored = documents.document(lookup.site_row(key))
    first, second = body.first.model_dump(), body.second.model_dump()
    found, draft = services.measured(stored, _given(body.draft), body.recorder, first, second)
    full_at = None if found.full_at is None else found.full_at.isoformat("T", "minutes")
    return shaped(shapes.Measured, found, full_at=full_at, draft=draft)


@router.post(
    "/{key}/recording/estimate", response={200: shapes.EstimateRow, **REFUSED}, auth=SEE, operation_id="estimate_rate"
)
def estimate_rate(request: HttpRequest, key: str, picture: shapes.Picture) -> Any:
    """Return an estimate of a rate that nobody knows, with its range."""
    lookup.site_row(key)
    return shapes.EstimateRow(**estimate(**picture.model_dump())._asdict(), source=_ESTIMATED)


@router.patch("/{key}/recording", response={200: Revised, **WRITE}, auth=WORK, operation_id="keep_recording")
def keep_recording(request: HttpRequest, key: str, kept: shapes.Kept) -> Any:
    """Keep a draft, all or nothing, unless something else stands there by now."""
    return drafts.keep(key, who(request), _given(kept.draft), _given(kept.was))
