"""The API of a firm's own cards."""

import json
from typing import Any

from django.http import HttpRequest
from ninja import Router

from tutelar.server.firmcards import schemas as shapes
from tutelar.server.firmcards import services, views
from tutelar.server.http import BYTES, REFUSED, WRITE, download, who
from tutelar.server.rights import LEADING, SEE

router = Router(tags=["cards"])


@router.get("", response={200: shapes.FirmSheet}, auth=SEE, operation_id="firm_cards")
def firm_cards(request: HttpRequest) -> Any:
    """Return every item of the job cards, and which of them this firm uses."""
    return views.firm_sheet()


@router.put("", response={200: shapes.FirmSheet, **WRITE}, auth=LEADING, operation_id="keep_firm_cards")
def keep_firm_cards(request: HttpRequest, body: shapes.FirmFile) -> Any:
    """Keep the firm's own items, and which shipped ones are not used."""
    services.keep(who(request), body.edition, body.items, body.off)
    return views.firm_sheet()


@router.get("/file", response={200: dict[str, Any]}, auth=SEE, operation_id="firm_cards_file")
def firm_cards_file(request: HttpRequest) -> Any:
    """Return the firm's file (JSON), to be shared."""
    text = json.dumps(services.firm_row().file, ensure_ascii=False, indent=2)
    return download(text, "application/json", "cards.json")


@router.post(
    "", response={200: shapes.FirmSheet, **REFUSED}, auth=LEADING, operation_id="bring_firm_cards", openapi_extra=BYTES
)
def bring_firm_cards(request: HttpRequest) -> Any:
    """Bring a file of cards in, in the place of the firm's own."""
    services.bring(who(request), request.body)
    return views.firm_sheet()
