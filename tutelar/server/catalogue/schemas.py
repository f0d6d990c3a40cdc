"""Shapes of the catalogue of models."""

from typing import Literal

from ninja import Schema
from pydantic import ConfigDict, Field


class FieldRow(Schema):
    """One field of a model's profile with what stands in it."""

    group: str
    path: str
    label: str
    kind: str
    options: list[dict[str, str]]
    value: str


class ProfileSheet(Schema):
    """A model with the fields that people may write."""

    key: str
    label: str
    revision: int
    origin: Literal["shipped", "changed", "own", "site"]
    fields: list[FieldRow]
    devices: int = 0


class ProfileRow(Schema):
    """A model of the catalogue."""

    key: str
    label: str
    maker: str | None
    family: str
    origin: Literal["shipped", "changed", "own"]
    factory: str
    services: str
    revision: int


class ProfileChange(Schema):
    """Fields of a profile as typed, by path; what is not given stays. Revision 0: new in the catalogue."""

    model_config = ConfigDict(extra="forbid")

    revision: int
    typed: dict[str, str] = Field(max_length=100)


class Said(Schema):
    """What was done, in one sentence."""

    sentence: str
