"""Shapes of signing in and of one's own account."""

from dataclasses import dataclass, field

from ninja import Schema
from pydantic import ConfigDict, Field


@dataclass(frozen=True, slots=True, kw_only=True)
class Session:
    """Who is signed in, by which role and with which rights; `second`: he proves it by a code too; `first`: nobody has
    an account here yet."""

    user: str | None
    first: bool = False
    role: str | None = None
    rights: list[str] = field(default_factory=list)
    second: bool = False


class FirstAccount(Schema):
    """The first account: what the server printed at its first start, and the name and password that are chosen."""

    token: str = Field(max_length=100)
    username: str = Field(max_length=150)
    password: str = Field(max_length=500)


class NewPassword(Schema):
    """One's own password, and the one that takes its place."""

    old_password: str = Field(max_length=500)
    password: str = Field(max_length=500)


class Login(Schema):
    """Name and password, and the code of whoever has a second factor."""

    username: str = Field(max_length=150)
    password: str = Field(max_length=500)
    code: str = Field(default="", max_length=40)


@dataclass(frozen=True, slots=True, kw_only=True)
class Offer:
    """By which link an account is made or a password chosen: the role it brings, and whose password it is."""

    role: str
    user: str | None


class Link(Schema):
    """The word of a link."""

    token: str = Field(max_length=100)


class OwnPassword(Schema):
    """One's own password, for what needs it again."""

    password: str = Field(max_length=500)


@dataclass(frozen=True, slots=True, kw_only=True)
class Begun:
    """A second factor that is not confirmed yet: its secret in base 32 (RFC 4648), its address for an authenticator
    app, and the same as a picture (SVG)."""

    secret: str
    uri: str
    svg: str


class Confirming(Schema):
    """The code that the app shows."""

    model_config = ConfigDict(extra="forbid")

    code: str = Field(max_length=40)


@dataclass(frozen=True, slots=True, kw_only=True)
class Recovery:
    """Codes that each open the account once, where the app is lost; they are shown this once."""

    codes: list[str]
