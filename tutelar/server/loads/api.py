"""The API of loads."""

from typing import Annotated, Any

from django.http import HttpRequest
from ninja import Query, Router

from tutelar.server.http import REFUSED
from tutelar.server.loads import schemas as shapes
from tutelar.server.loads import views
from tutelar.server.rights import SEE
from tutelar.server.schemas import ApiError, Draft
from tutelar.server.store import documents, drafts, lookup

router = Router(tags=["loads"])
Viewers = Annotated[int, Query(ge=1, le=50)]


@router.get("/{key}/loads", response={200: shapes.LoadsSheet, 404: ApiError}, auth=SEE, operation_id="loads")
def loads(request: HttpRequest, key: str, viewers: Viewers = 3) -> Any:
    """Return what is used of everything that has a limit; the line for so many viewers."""
    return views.loads_sheet(lookup.site_row(key), viewers=viewers)


@router.post(
    "/{key}/loads/preview", response={200: shapes.LoadsSheet, **REFUSED}, auth=SEE, operation_id="preview_loads"
)
def preview_loads(request: HttpRequest, key: str, draft: Draft, viewers: Viewers = 3) -> Any:
    """Return the same of a draft; nothing is stored."""
    row = lookup.site_row(key)
    given = draft.model_dump(exclude_unset=True)
    return views.loads_sheet(row, drafts.trial(documents.document(row), given), viewers)
