"""The API of the logbook."""

from datetime import date
from typing import Annotated, Any

from django.http import FileResponse, Http404, HttpRequest
from ninja import Query, Router, Status

from tutelar.server.http import BYTES, REFUSED, WRITE, Words, who
from tutelar.server.logbook import schemas as shapes
from tutelar.server.logbook import services, views
from tutelar.server.rights import SEE, WORK
from tutelar.server.schemas import ApiError
from tutelar.server.store import lookup
from tutelar.server.store.photos import photo_path

router = Router(tags=["logbook"])
Line = Annotated[int | None, Query(ge=1, le=2**53)]


@router.get("/{key}/log", response={200: shapes.Logbook, **REFUSED}, auth=SEE, operation_id="logbook")
def logbook(
    request: HttpRequest,
    key: str,
    search: Words = "",
    device: Words = "",
    day: date | None = None,
    before: Line = None,
    deed: Line = None,
) -> Any:
    """Return the newest lines of the log that hold every word, of a device, a day or a deed."""
    return views.logbook(lookup.site_row(key), search, device, day, before, deed=deed)


@router.post("/{key}/log", response={201: shapes.Entered, **WRITE}, auth=WORK, operation_id="add_entry")
def add_entry(request: HttpRequest, key: str, entry: shapes.NewEntry) -> Any:
    """Add a note, a reading, a photograph or the correction of a line."""
    return Status(201, shapes.Entered(id=services.add_entry(key, who(request), **entry.model_dump()).pk))


@router.post(
    "/{key}/log/photos",
    response={201: shapes.Photo, **WRITE},
    auth=WORK,
    operation_id="keep_photo",
    openapi_extra=BYTES,
)
def keep_photo(request: HttpRequest, key: str) -> Any:
    """Keep a photograph without place and camera data; returns its name."""
    return Status(201, shapes.Photo(name=services.keep_photo(key, request.body)))


@router.get("/{key}/log/photos/{name}", response={200: str, 404: ApiError}, auth=SEE, operation_id="photo")
def photo(request: HttpRequest, key: str, name: str) -> Any:
    """Return a photograph."""
    path = photo_path(lookup.site_row(key).key, name)
    if path is None or not path.exists():
        raise Http404(f"There is no photograph '{name}'.")
    return FileResponse(path.open("rb"), content_type="image/jpeg", headers={"Cache-Control": "private, max-age=86400"})
