"""The API of the catalogue of models."""

from typing import Any

from django.http import HttpRequest
from ninja import Router, Status

from tutelar.server import models
from tutelar.server.catalogue import schemas as shapes
from tutelar.server.catalogue import services, views
from tutelar.server.catalogue.exports import catalogue_text
from tutelar.server.http import BYTES, REFUSED, WRITE, download, who
from tutelar.server.rights import LEADING, SEE
from tutelar.server.schemas import ApiError, Revised

router = Router(tags=["catalogue"])


@router.get("", response=list[shapes.ProfileRow], auth=SEE, operation_id="catalogue")
def list_catalogue(request: HttpRequest) -> Any:
    """Return every model that Tutelar knows."""
    return views.catalogue()


@router.post(
    "", response={200: shapes.Said, **REFUSED}, auth=LEADING, operation_id="import_catalogue", openapi_extra=BYTES
)
def import_catalogue(request: HttpRequest) -> Any:
    """Import models, all or nothing."""
    return shapes.Said(sentence=services.imported_words(services.import_catalogue(request.body, who(request))))


@router.get("/file", response={200: dict[str, Any]}, auth=SEE, operation_id="catalogue_file")
def catalogue_file(request: HttpRequest) -> Any:
    """Return all models as a file (JSON)."""
    return download(catalogue_text(), "application/json", "models.json")


@router.get("/{model}", response={200: shapes.ProfileSheet, 404: ApiError}, auth=SEE, operation_id="profile")
def one_profile(request: HttpRequest, model: str) -> Any:
    """Return one model with the fields that people may write."""
    row = models.Profile.objects.filter(key=model).first()
    part = services.catalogue_parts().get(model, {})
    return views.profile(model, part, row.revision if row else 0)


@router.patch("/{model}", response={200: Revised, **WRITE}, auth=LEADING, operation_id="keep_profile")
def keep_profile(request: HttpRequest, model: str, change: shapes.ProfileChange) -> Any:
    """Keep a model that was added or changed."""
    return services.keep_profile(model, who(request), change.revision, change.typed)


@router.delete("/{model}", response={204: None, **WRITE}, auth=LEADING, operation_id="drop_profile")
def drop_profile(request: HttpRequest, model: str, revision: int) -> Any:
    """Drop what was changed of a model, or one that was added here."""
    services.drop_profile(model, revision)
    return Status(204, None)
