"""Shapes of who works here."""

from dataclasses import dataclass
from datetime import datetime
from typing import Literal

from ninja import Schema
from pydantic import ConfigDict, Field

Role = Literal["owner", "lead", "technician", "trainee", "support"]


@dataclass(frozen=True, slots=True, kw_only=True)
class PersonRow:
    """Somebody with an account: his role ("" where nobody gave him one), his sites, whether he may sign in, whether he
    has a second factor, when he signed in last, and how many sessions are open."""

    name: str
    role: str
    every_site: bool
    sites: list[str]
    active: bool
    second: bool
    last_login: datetime | None
    sessions: int
    you: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class InvitationRow:
    """A link that was made and not used yet; `user`: it lets that one choose a new password."""

    number: int
    role: str
    note: str
    every_site: bool
    sites: list[str]
    until: datetime
    ended: bool
    made_by: str
    user: str | None


@dataclass(frozen=True, slots=True, kw_only=True)
class RoleRow:
    """A role, in words, and what it may do."""

    role: str
    word: str
    may: str


@dataclass(frozen=True, slots=True, kw_only=True)
class SiteChoice:
    """A site that somebody can be given."""

    key: str
    name: str


@dataclass(frozen=True, slots=True, kw_only=True)
class People:
    """Everybody with an account, the invitations that wait, the roles there are, and the sites to choose from."""

    people: list[PersonRow]
    invitations: list[InvitationRow]
    roles: list[RoleRow]
    sites: list[SiteChoice]


class Inviting(Schema):
    """Whom an invitation is for: the role and sites that it brings, and for how many days it opens."""

    model_config = ConfigDict(extra="forbid")

    role: Role
    every_site: bool = False
    sites: list[str] = Field(default_factory=list, max_length=2000)
    days: int = Field(default=7, ge=1, le=90)
    note: str = Field(default="", max_length=150)


@dataclass(frozen=True, slots=True, kw_only=True)
class Invited:
    """The address of the link, shown this once."""

    link: str
    until: datetime


class Changing(Schema):
    """What somebody may do from now on, where, and whether he may sign in at all."""

    model_config = ConfigDict(extra="forbid")

    role: Role
    every_site: bool
    sites: list[str] = Field(max_length=2000)
    active: bool
