"""Shapes of live work."""

from ninja import Schema
from pydantic import ConfigDict, Field


class NewAuthority(Schema):
    """Who answers for testing which real networks."""

    model_config = ConfigDict(extra="forbid")

    person: str = Field(max_length=200)
