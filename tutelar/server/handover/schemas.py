"""Shapes of what is taken away."""

from dataclasses import dataclass

from ninja import Schema
from pydantic import Field

from tutelar.server.schemas import Option


@dataclass(frozen=True, slots=True, kw_only=True)
class FileRow:
    """A file of the site: its name in the address, its title, the endings it comes in."""

    name: str
    title: str
    endings: list[str]


class EndLeft(Schema):
    """Why an end is left open; empty: it is not any more."""

    reason: str = Field(default="", max_length=500)


class Noting(Schema):
    """Something that is open and that nothing else tells of."""

    code: str = Field(max_length=40)
    subject: str = Field(max_length=80)
    note: str = Field(default="", max_length=500)


class Signing(Schema):
    """For whom the site is signed off."""

    for_whom: str = Field(max_length=200)


@dataclass(frozen=True, slots=True, kw_only=True)
class EndRow:
    """A loose end: what it is about and where that is, what closes it, whose turn it is, whether it holds the
    signature, the page that closes it, and why somebody left it open."""

    code: str
    subject: str
    name: str
    place: str | None
    message: str
    fix: str
    whose: str
    blocks: bool
    goes: str
    by_tick: bool
    left_open: str | None
    left_by: str | None


@dataclass(frozen=True, slots=True, kw_only=True)
class SignedRow:
    """A signature: by whom for whom, when, what was open then, and whether the site was changed since."""

    by: str
    for_whom: str
    at: str
    open: list[str]
    changed: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class LeavingSheet:
    """Everything that is open, in walking order, how much of it holds the signature, how many items of the job cards
    nobody ticked that are done before leaving, and the signature."""

    ends: list[EndRow]
    holding: int
    cards: int
    empty: bool
    notable: list[Option]
    subjects: list[Option]
    signed: SignedRow | None


class SealedAsked(Schema):
    """Which part of the sealed sheet is printed, for whom, and why again."""

    part: str = Field(max_length=20)
    for_whom: str = Field(max_length=200)
    reason: str = Field(default="", max_length=300)


@dataclass(frozen=True, slots=True, kw_only=True)
class PackRow:
    """A pack: how far it is (`share` of 1, the file that is made, seconds left where they can be told), and whether the
    site was changed since."""

    number: int
    state: str
    share: float
    part: str
    left_s: float | None
    size: int
    by: str
    at: str
    ready: bool
    changed: bool
    message: str


@dataclass(frozen=True, slots=True, kw_only=True)
class SealedPart:
    """A part of the sealed sheet: who may open it, how many credentials are in it, and who got it last."""

    key: str
    title: str
    says: str
    slots: int
    printed: int
    for_whom: str | None
    by: str | None
    at: str | None


@dataclass(frozen=True, slots=True, kw_only=True)
class PackSheet:
    """The last pack of a site, and the parts of its sealed sheet."""

    last: PackRow | None
    sealed: list[SealedPart]
