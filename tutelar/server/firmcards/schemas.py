"""Shapes of a firm's own cards."""

from dataclasses import dataclass
from typing import Any

from ninja import Schema
from pydantic import Field


class FirmFile(Schema):
    """A firm's whole file, and the edition that it was made from."""

    edition: int = Field(ge=0)
    items: list[dict[str, Any]] = Field(default_factory=list, max_length=500)
    off: list[str] = Field(default_factory=list, max_length=500)


@dataclass(frozen=True, slots=True, kw_only=True)
class FirmItem:
    """An item: where it stands in the work, for what it is there, whether it is used, and whether it is the firm's."""

    key: str
    phase: str
    of: str
    text: str
    reason: str
    when: list[str]
    own: bool
    used: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class WordRow:
    """A word by which an item says when it applies."""

    word: str
    says: str


@dataclass(frozen=True, slots=True, kw_only=True)
class FirmSheet:
    """All items of a firm, the file as it stands, and the words that may be used in it."""

    edition: int
    by: str
    items: list[FirmItem]
    file: dict[str, Any]
    words: list[WordRow]
    phases: list[WordRow]
