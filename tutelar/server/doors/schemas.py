"""Shapes of doors: how each is wired and tested, who may open what when, and the alarm."""

from dataclasses import dataclass
from typing import Any, Literal

from ninja import Schema
from pydantic import ConfigDict, Field

from tutelar.server.schemas import Option, ProblemRow


@dataclass(frozen=True, slots=True, kw_only=True)
class CircuitRow:
    """The lock's way of current while something is done: what is closed, whether current flows, whether it holds."""

    supply: bool
    fire: bool
    glass: bool
    relay: bool | None
    holds: bool | None


@dataclass(frozen=True, slots=True, kw_only=True)
class DoorTestRow:
    """A test of a door: what is done, what is expected, how the current runs meanwhile, and what was seen last."""

    key: str
    check: str
    title: str
    do: str
    expect: str
    named: bool
    circuit: CircuitRow
    result: str | None
    by: str | None
    at: str | None
    words: str | None
    stale: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class ReaderRow:
    """A reader at a door: its side and the lengths of cards that it sends."""

    device: str
    name: str
    side: str | None
    bits: list[int]


@dataclass(frozen=True, slots=True, kw_only=True)
class UnlockedRow:
    """A door held open for set-up: until when, by whom, and who stands there."""

    since: str
    until: str
    by: str
    guard: str


@dataclass(frozen=True, slots=True, kw_only=True)
class DoorRow:
    """A door with its wiring in words, its tests and what is wrong; `part` is it as in the document."""

    key: str
    name: str
    place: str | None
    panel: str | None
    panel_name: str | None
    of_doors: int | None
    number: int | None
    lock: str | None
    lock_a: float | None
    relay: str | None
    exit_button: bool | None
    contact: str | None
    unlock_s: float | None
    held_open_s: float | None
    escape: bool
    normal: str
    fire: bool
    sense: str
    wrong_sense: bool
    readers: list[ReaderRow]
    tests: list[DoorTestRow]
    open_tests: int
    unlocked: UnlockedRow | None
    problems: list[ProblemRow]
    part: dict[str, Any]


@dataclass(frozen=True, slots=True, kw_only=True)
class PanelStanding:
    """A panel: its doors, the digest of what it has to know, what it was sent last, when and by whom."""

    panel: str
    name: str
    doors: int
    digest: str
    sent: str | None
    sent_at: str | None
    sent_by: str | None
    is_sent: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class InputRow:
    """A supervision input: on or off and why; `decided`: somebody switched it, to be looked at again on `review`."""

    name: str
    label: str
    on: bool
    why: str
    decided: bool
    review: str | None


@dataclass(frozen=True, slots=True, kw_only=True)
class PanelInputs:
    """The supervision inputs of a panel; `part`: what was decided of them, as in the document."""

    panel: str
    name: str
    inputs: list[InputRow]
    part: Any


@dataclass(frozen=True, slots=True, kw_only=True)
class DoorsSheet:
    """Every door, and the panels that hold them; `told`: escape doors that the survey names and that hang nowhere."""

    revision: int
    practice: bool
    doors: list[DoorRow]
    panels: list[Option]
    standings: list[PanelStanding]
    inputs: list[PanelInputs]
    loose: list[str]
    escape_caution: str


@dataclass(frozen=True, slots=True, kw_only=True)
class AccessGroup:
    """A group of people or doors, or a single one that a rule names."""

    key: str
    name: str
    members: int


@dataclass(frozen=True, slots=True, kw_only=True)
class CellRow:
    """The rules that let a group of people through a group of doors."""

    people: str
    doors: str
    rules: list[str]
    frames: list[str]


@dataclass(frozen=True, slots=True, kw_only=True)
class PersonShort:
    """A person in the list."""

    key: str
    name: str
    groups: list[str]
    cards: int
    lost: int
    valid_from: str | None
    valid_to: str | None
    over: bool
    part: dict[str, Any]


@dataclass(frozen=True, slots=True, kw_only=True)
class FrameRow:
    """A frame with the spans of each day, in minutes."""

    key: str
    name: str
    days: dict[str, list[list[int]]]
    part: dict[str, Any]


@dataclass(frozen=True, slots=True, kw_only=True)
class AccessSheet:
    """Who may open what when: the grid, people (the first that hold the words looked for), frames, rules, holidays."""

    revision: int
    people_groups: list[AccessGroup]
    door_groups: list[AccessGroup]
    cells: list[CellRow]
    people: list[PersonShort]
    people_found: int
    people_in_all: int
    frames: list[FrameRow]
    rules: list[dict[str, Any]]
    holidays: list[dict[str, Any]]
    formats: list[Option]
    doors: list[Option]
    standings: list[PanelStanding]
    problems: list[ProblemRow]


@dataclass(frozen=True, slots=True, kw_only=True)
class BecauseRow:
    """A rule and why it grants or not."""

    rule: str | None
    code: str | None
    why: str


@dataclass(frozen=True, slots=True, kw_only=True)
class MayRow:
    """Whether somebody may open a door then, by the plan and as the panel was told, in one line and with the rules."""

    may: bool
    now: bool
    said: str
    because: list[BecauseRow]
    refused: list[BecauseRow]


@dataclass(frozen=True, slots=True, kw_only=True)
class DoorWeek:
    """When a person may open one door: spans in minutes by day."""

    door: str
    name: str
    days: dict[str, list[list[int]]]


@dataclass(frozen=True, slots=True, kw_only=True)
class PersonWeek:
    """A person's week at every door."""

    person: str
    name: str
    doors: list[DoorWeek]
    said: str


@dataclass(frozen=True, slots=True, kw_only=True)
class CardRow:
    """A card as it is sent: its bits, or what does not fit and whom the cut number would be."""

    fits: bool
    bits: str | None
    hex: str | None
    said: str


@dataclass(frozen=True, slots=True, kw_only=True)
class PersonRowOut:
    """A row of a table of people."""

    line: int
    does: Literal["new", "changed", "same", "wrong"]
    key: str | None
    said: str


@dataclass(frozen=True, slots=True, kw_only=True)
class PeoplePreview:
    """What bringing a table in would do."""

    rows: list[PersonRowOut]
    table: list[list[str]]
    digest: str


class PeopleTable(Schema):
    """A table of people to bring in, as its preview gave it back."""

    model_config = ConfigDict(extra="forbid")

    table: list[list[str]] = Field(max_length=20_001)


class AccessItem(Schema):
    """One item as it stood (None: it was not there) and as it is to stand (None: it goes)."""

    model_config = ConfigDict(extra="forbid")

    was: dict[str, Any] | None = None
    now: dict[str, Any] | None = None


class SentTick(Schema):
    """A panel that was sent what it has to know, as its digest was shown."""

    model_config = ConfigDict(extra="forbid")

    panel: str
    digest: str = Field(max_length=100)


class Unlocking(Schema):
    """A door held open for set-up, for so many minutes, while somebody stands there."""

    model_config = ConfigDict(extra="forbid")

    minutes: int = Field(ge=1, le=240)
    guard: str = Field(min_length=1, max_length=200)


class PretendTry(Schema):
    """A test made at the pretend door, with faults in its wiring."""

    model_config = ConfigDict(extra="forbid")

    test: str
    faults: list[
        Literal["relay-swapped", "contact-swapped", "exit-dead", "reader-dead", "not-sent", "fire-not-wired"]
    ] = Field(default=[], max_length=6)


@dataclass(frozen=True, slots=True, kw_only=True)
class PretendSeen:
    """What is seen at the pretend door; `by_panel`: the panel of the pretend site that is kept up said it."""

    words: str
    by_panel: bool
    circuit: CircuitRow


@dataclass(frozen=True, slots=True, kw_only=True)
class RoomOfHub:
    """So much of what a hub holds is used."""

    what: str
    used: int
    most: int | None
    over: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class HubZone:
    """A detector or keypad at a hub, and whether its signal was confirmed."""

    device: str
    name: str
    place: str | None
    number: int | None
    tested: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class WayRow:
    """A way to the station, the mobile network that it takes, and whether it was tried alone."""

    way: str
    word: str
    network: str
    tested: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class HubRow:
    """An alarm hub with its room, zones, ways and what is still open; `part` is it as in the document."""

    hub: str
    name: str
    station: str | None
    account: str | None
    armed_as_found: str | None
    armed_left: str | None
    on_test: dict[str, Any] | None
    areas: list[dict[str, Any]]
    users: list[dict[str, Any]]
    room: list[RoomOfHub]
    zones: list[HubZone]
    ways: list[WayRow]
    apart: int
    remark: str
    open: list[str]
    there: bool
    part: dict[str, Any]


@dataclass(frozen=True, slots=True, kw_only=True)
class AlarmSheet:
    """The alarm hubs of a site."""

    revision: int
    hubs: list[HubRow]
    watched_by: str | None
