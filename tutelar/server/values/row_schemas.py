"""Values to type, ticks, secrets without the secret, what must be told."""

from dataclasses import dataclass
from datetime import datetime
from typing import Annotated, Literal

from ninja import Schema
from pydantic import ConfigDict, Field, SecretStr

from tutelar.core.keypad import Press


@dataclass(frozen=True, slots=True, kw_only=True)
class ValueProof:
    """The reading that proves a value: what it says today."""

    check: str
    title: str
    state: Literal["planned", "proven", "broken", "not-measured", "stale"]
    measured: str | None
    at: str | None


@dataclass(frozen=True, slots=True, kw_only=True)
class SecretRow:
    """Saved passwords in a slot of a device; version 0: nothing.

    `weak`: why one is kept that would soon be guessed, `same_as`: which others have the same although each is to have
    its own, `left_open`: why there is none, `undecided`: somebody has to fill it or to say why not.
    """

    device: str
    slot: str
    word: str
    makeable: bool
    version: int
    weak: str | None
    same_as: str | None
    left_open: str | None
    undecided: bool
    by: str | None
    at: datetime | None


@dataclass(frozen=True, slots=True, kw_only=True)
class LineRow:
    """A value to type. `mark` is what a tick refers to; `typed_before` an older value that was ticked."""

    key: str
    label: str
    value: str
    why: str
    mark: str
    chosen: bool
    usual: str | None
    proof: ValueProof | None
    secret: SecretRow | None
    ticked: bool
    typed_by: str | None
    typed_at: datetime | None
    typed_before: str | None


@dataclass(frozen=True, slots=True, kw_only=True)
class GroupRow:
    """A group of values as they are typed together; `same_as` names the device of the same model that was typed before
    it and has every one of them too."""

    key: str
    title: str
    caution: str | None
    lines: list[LineRow]
    same_as: str | None = None


class MakeMissing(Schema):
    """Of which device missing passwords are made; of all where none is named."""

    model_config = ConfigDict(extra="forbid")

    device: str | None = Field(default=None, max_length=80)


@dataclass(frozen=True, slots=True, kw_only=True)
class Made:
    """How many passwords and codes were made, and in how many other places one has to be typed."""

    made: int
    told: int


class Tick(Schema):
    """A value of a device (by its key) or of a step (by its id) was typed, or was not."""

    model_config = ConfigDict(extra="forbid")

    subject: str
    line: str
    value: str = Field(max_length=4000)
    done: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class TellingRow:
    """A device that has a changed value typed in and was not told yet."""

    id: int
    device: str
    name: str
    about: str
    about_name: str
    code: str
    sentence: str
    by: str
    at: datetime


class Told(Schema):
    """That a device was told of a changed value."""

    model_config = ConfigDict(extra="forbid")

    tellings: list[Annotated[int, Field(ge=1, le=2**53)]] = Field(max_length=5000)


class NewSecret(Schema):
    """A secret to keep, based on a version (0: the slot is empty); without `secret` one is made. `reason`: why one is
    kept that would soon be guessed."""

    model_config = ConfigDict(extra="forbid")

    version: int
    secret: SecretStr | None = Field(default=None, max_length=300)
    reason: str = Field(default="", max_length=300)


class Look(Schema):
    """Why somebody looks at a secret; support has to say it."""

    model_config = ConfigDict(extra="forbid")

    reason: str = Field(default="", max_length=300)


class LeftEmpty(Schema):
    """Why a slot is left empty; `everywhere`: at every device of the site that has none."""

    model_config = ConfigDict(extra="forbid")

    reason: str = Field(max_length=300)
    everywhere: bool = False


class Candidate(Schema):
    """A secret that is only judged."""

    model_config = ConfigDict(extra="forbid")

    secret: SecretStr = Field(max_length=300)


@dataclass(frozen=True, slots=True, kw_only=True)
class Judged:
    """Whether a secret fits its slot: a sentence for each rule that it breaks, and how long it would hold; `weak`: it
    would be guessed within a day, and is kept with a reason only."""

    fails: list[str]
    weak: bool
    score: int | None
    strength: str | None
    helps: list[str]


@dataclass(frozen=True, slots=True, kw_only=True)
class Revealed:
    """One secret. `presses` tell how it is typed on a desk's keys, where one is involved."""

    secret: str
    presses: list[Press] | None


class Taken(Schema):
    """What a device said to a password."""

    model_config = ConfigDict(extra="forbid")

    taken: bool
