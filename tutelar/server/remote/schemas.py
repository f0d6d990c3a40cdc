"""Shapes of remote access."""

from dataclasses import dataclass
from typing import Literal

from ninja import Schema
from pydantic import Field

MethodKey = Literal["relay", "vpn", "hosted", "forwarding", "local"]


class MethodChoice(Schema):
    """The way that is chosen, and why."""

    method: MethodKey
    why: str = Field(default="", max_length=2000)


class StepTick(Schema):
    """A step done, opened again or not needed, with what is written down."""

    state: Literal["done", "open", "not-needed"]
    note: str = Field(default="", max_length=500)


class OwnerSaid(Schema):
    """Whose a device is at its maker's relay."""

    state: Literal["unknown", "released", "ours", "bound"]
    account: Literal["customer", "installer", "former"] | None = None
    note: str = Field(default="", max_length=500)


@dataclass(frozen=True, slots=True, kw_only=True)
class MethodRow:
    """A way of remote access with its reason and its risk."""

    key: MethodKey
    title: str
    reason: str
    risk: str


@dataclass(frozen=True, slots=True, kw_only=True)
class RemoteStep:
    """A step of a device; `asks`: what is written down with its tick; `ticked`: whether a tick does it."""

    item: str
    title: str
    do: str
    asks: str
    state: Literal["done", "open", "waits", "not-needed"]
    waits_for: str | None
    ticked: bool
    by: str | None
    at: str | None
    note: str | None


@dataclass(frozen=True, slots=True, kw_only=True)
class AppRow:
    """A program that somebody needs: for what, on which system, from where."""

    for_: str
    system: str | None
    source: str | None


@dataclass(frozen=True, slots=True, kw_only=True)
class RemoteDevice:
    """A device with its steps, whose it is, and the programs it is seen with."""

    key: str
    name: str
    place: str | None
    serial: str | None
    used: bool
    tied: bool
    owner: str
    account: str | None
    owner_note: str | None
    owner_by: str | None
    steps: list[RemoteStep]
    open: int
    apps: list[AppRow]


@dataclass(frozen=True, slots=True, kw_only=True)
class RemoteSheet:
    """Remote access of a site."""

    method: MethodKey | None
    why: str
    by: str
    methods: list[MethodRow]
    wanted_by: list[str]
    devices: list[RemoteDevice]
