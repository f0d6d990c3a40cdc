"""Shapes of the catalogue of models."""

from dataclasses import dataclass
from typing import Literal

from ninja import Schema
from pydantic import ConfigDict, Field

from tutelar.server.schemas import Option

Origin = Literal["shipped", "changed", "own"]


@dataclass(frozen=True, slots=True, kw_only=True)
class FieldRow:
    """One field of a model's profile with what stands in it."""

    group: str
    path: str
    label: str
    kind: str
    options: list[Option]
    value: str


@dataclass(frozen=True, slots=True, kw_only=True)
class ProfileSheet:
    """A model with the fields that people may write."""

    key: str
    label: str
    revision: int
    origin: Origin | Literal["site"]
    fields: list[FieldRow]
    devices: int = 0


@dataclass(frozen=True, slots=True, kw_only=True)
class ProfileRow:
    """A model of the catalogue."""

    key: str
    label: str
    maker: str | None
    family: str
    origin: Origin
    factory: str
    services: str
    revision: int


class ProfileChange(Schema):
    """Fields of a profile as typed, by path; what is not given stays. Revision 0: new in the catalogue."""

    model_config = ConfigDict(extra="forbid")

    revision: int
    typed: dict[str, str] = Field(max_length=100)


@dataclass(frozen=True, slots=True, kw_only=True)
class Said:
    """What was done, in one sentence."""

    sentence: str
