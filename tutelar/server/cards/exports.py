"""Job cards on paper."""

from django.utils import timezone

from tutelar.core.cards import cards_of
from tutelar.paper.asking import cards_pdf
from tutelar.server import models
from tutelar.server.cards import queries
from tutelar.server.files import Asked, Export
from tutelar.server.store import documents


def _cards(row: models.Site, asked: Asked) -> bytes:
    """Return the cards of the devices that are asked for, else of all."""
    site = documents.document(row)
    wanted = set(filter(None, (*asked.devices, asked.device)))
    cards = [card for card in cards_of(site, queries.items()) if not wanted or card.subject in wanted]
    return cards_pdf(site, cards, timezone.localdate())


EXPORTS = (Export("cards", "Job cards", {"pdf": _cards}),)
