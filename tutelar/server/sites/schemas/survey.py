"""The survey."""

from typing import Any

from ninja import Schema
from pydantic import ConfigDict

from tutelar.server.sites.schemas.base import ProblemRow


class OpenQuestion(Schema):
    """A question without an answer: what it is about ("site", "internet" or a network's key), and what is asked for."""

    about: str
    words: str


class Survey(Schema):
    revision: int
    site: dict[str, Any]
    internet: dict[str, Any] | None
    networks: list[dict[str, Any]]
    policy: dict[str, Any]
    unanswered: list[OpenQuestion]
    problems: list[ProblemRow]


class SurveyChange(Schema):
    model_config = ConfigDict(extra="forbid")

    revision: int
    site: dict[str, Any] | None = None
    internet: dict[str, Any] | None = None
    networks: list[dict[str, Any]] | None = None
    policy: dict[str, Any] | None = None
