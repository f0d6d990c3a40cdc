"""The items that count for this firm."""

from tutelar.core.cards import Item, items_of, read_cards
from tutelar.server import models


def items() -> tuple[Item, ...]:
    """Return the shipped items with the firm's own."""
    row = models.FirmCards.objects.first()
    return items_of(read_cards(row.file)) if row is not None else items_of()
