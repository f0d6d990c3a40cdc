"""The survey."""

from dataclasses import dataclass
from typing import Any, Literal

from ninja import Schema
from pydantic import ConfigDict, Field, field_validator

from tutelar.server.schemas import Option


@dataclass(frozen=True, slots=True, kw_only=True)
class BlankRow:
    """One value that is asked for: `value` as it is typed, "" for unknown; `before` and `after` the words around it.
    `overtaken`: what was said here, where the site has another value by now."""

    path: str
    label: str
    kind: str
    before: str
    after: str
    asks: str
    options: list[Option]
    can_be_none: bool
    none: bool
    value: str
    example: str
    overtaken: str | None


@dataclass(frozen=True, slots=True, kw_only=True)
class FollowRow:
    """What follows from an answer."""

    level: Literal["good", "note", "warning", "error"]
    message: str
    fix: str | None


@dataclass(frozen=True, slots=True, kw_only=True)
class QuestionRow:
    """One question with its answer so far and what follows from it; `missing` names what still has to be asked."""

    key: str
    about: str
    margin: str
    words: str
    caution: str
    blanks: list[BlankRow]
    missing: list[str]
    told_by: str | None
    told_at: str | None
    follows: list[FollowRow]


@dataclass(frozen=True, slots=True, kw_only=True)
class NetworkName:
    """A network with how many devices are in it."""

    key: str
    label: str
    devices: int


@dataclass(frozen=True, slots=True, kw_only=True)
class Survey:
    """The questions with their answers and what follows."""

    revision: int
    site: dict[str, Any]
    internet: dict[str, Any] | None
    networks: list[dict[str, Any]]
    policy: dict[str, Any]
    questions: list[QuestionRow]
    names: list[NetworkName]
    people: list[str]


class SurveyChange(Schema):
    """Parts of the document that the survey holds; what is left out stays. Only the internet line may be unknown."""

    model_config = ConfigDict(extra="forbid")

    revision: int
    site: dict[str, Any] | None = None
    internet: dict[str, Any] | None = None
    networks: list[dict[str, Any]] | None = None
    policy: dict[str, Any] | None = None

    @field_validator("site", "networks", "policy")
    @classmethod
    def _is_there(cls, part: Any) -> Any:
        if part is None:
            raise ValueError("null stands where the part itself is expected; leave it out where it stays as it is")
        return part


class Answers(Schema):
    """What stands in the blanks of one question now, as typed, by path; `none`: paths answered "there is none"."""

    model_config = ConfigDict(extra="forbid")

    typed: dict[str, str] = Field(max_length=50)
    none: list[str] = Field(default=[], max_length=50)


class Answer(Answers):
    """An answer to keep. `was` is what stood in the blanks when they were opened."""

    revision: int
    was: dict[str, str] = Field(max_length=50)
    told_by: str | None = Field(default=None, max_length=200)


@dataclass(frozen=True, slots=True, kw_only=True)
class Preview:
    """What would follow from answers that are still being typed, by question."""

    follows: dict[str, list[FollowRow]]


class NewNetwork(Schema):
    """A network by its name and range."""

    model_config = ConfigDict(extra="forbid")

    revision: int
    name: str = Field(max_length=200)
    cidr: str = Field(max_length=50)
