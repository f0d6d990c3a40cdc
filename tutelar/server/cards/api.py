"""The API of job cards."""

from typing import Any

from django.http import HttpRequest
from ninja import Router

from tutelar.core.cards import Tick
from tutelar.server.cards import schemas as shapes
from tutelar.server.cards import services, views
from tutelar.server.http import REFUSED, WRITE, Words, who
from tutelar.server.rights import SEE, WORK
from tutelar.server.schemas import ApiError
from tutelar.server.store import lookup

router = Router(tags=["cards"])


@router.get("/{key}/cards", response={200: shapes.CardsSheet, 404: ApiError}, auth=SEE, operation_id="cards")
def cards(request: HttpRequest, key: str, phase: Words = "") -> Any:
    """Return the cards of a site in one phase of the work; without one, in the phase whose turn it is."""
    return views.cards_sheet(lookup.site_row(key), phase)


@router.get("/{key}/cards/{subject}", response={200: shapes.CardOut, **REFUSED}, auth=SEE, operation_id="card_of")
def card(request: HttpRequest, key: str, subject: str) -> Any:
    """Return the card of a device, or of the site ("site")."""
    row = lookup.site_row(key)
    return views.card_out(row, services.card(row, subject))


@router.put(
    "/{key}/cards/{subject}/{item}", response={200: shapes.CardOut, **WRITE}, auth=WORK, operation_id="tick_card"
)
def tick_card(request: HttpRequest, key: str, subject: str, item: str, body: shapes.CardTick) -> Any:
    """Tick an item of a card, say that it is not needed or has to be done later, or open it again."""
    tick = Tick(body.state, body.note, body.value, body.of, body.photo)
    row = services.tick_item(key, who(request), subject, item, tick)
    return views.card_out(row, services.card(row, subject))
