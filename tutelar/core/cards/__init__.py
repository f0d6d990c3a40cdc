"""Job cards: what is easily left out, as items that appear where the work happens (handbook 3.14)."""

from tutelar.core.cards.card import AT_ONCE, Card, Row, card_of, cards_of, first_phase
from tutelar.core.cards.item import FORMAT, PHASES, WHO, CardFile, Item, Phase, UnreadableCards, items_of, read_cards
from tutelar.core.cards.ticking import NotTickable, Tick, shown_with

__all__ = [
    "AT_ONCE",
    "FORMAT",
    "PHASES",
    "WHO",
    "Card",
    "CardFile",
    "Item",
    "NotTickable",
    "Phase",
    "Row",
    "Tick",
    "UnreadableCards",
    "card_of",
    "cards_of",
    "first_phase",
    "items_of",
    "read_cards",
    "shown_with",
]
