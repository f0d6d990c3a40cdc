"""Who may open what when: frames, rules, cards, and what every panel has to know."""

from tutelar.core.access.cards import CardRefused, card_format, decode, encode
from tutelar.core.access.digest import Standing, standings
from tutelar.core.access.index import AccessIndex
from tutelar.core.access.may import Answer, may
from tutelar.core.access.problems import access_problems

__all__ = [
    "AccessIndex",
    "Answer",
    "CardRefused",
    "Standing",
    "access_problems",
    "card_format",
    "decode",
    "encode",
    "may",
    "standings",
]
