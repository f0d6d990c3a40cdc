"""Sites as a whole, the frame of every screen, the log, signing in."""

from datetime import datetime

from ninja import Schema
from pydantic import Field

from tutelar.server.schemas import Laptop


class SiteRow(Schema):
    key: str
    name: str
    devices: int
    proven: int
    next: str
    updated_at: datetime


class StageCount(Schema):
    stage: str
    open: int


class NextThing(Schema):
    stage: str
    sentence: str
    detail: str


class Findable(Schema):
    key: str
    name: str
    place: str | None
    family: str
    address: str | None
    network: str | None


class Frame(Schema):
    """What every screen of a site shows: stages with open counts, the next thing, the laptop, what Find finds."""

    key: str
    name: str
    revision: int
    stages: list[StageCount]
    next: NextThing
    laptop: Laptop
    reserved: int
    live: bool
    devices: list[Findable]


class Imported(Schema):
    key: str
    name: str


class Session(Schema):
    user: str | None


class Login(Schema):
    username: str = Field(max_length=150)
    password: str = Field(max_length=500)
