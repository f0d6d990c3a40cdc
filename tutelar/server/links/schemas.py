"""Links."""

from dataclasses import dataclass
from typing import Literal

from ninja import Schema
from pydantic import ConfigDict, Field

from tutelar.core.site.base import LinkKind
from tutelar.server.schemas import ProblemRow
from tutelar.server.values.row_schemas import GroupRow

LinkState = Literal["ready", "waiting", "impossible", "tied", "proven", "doubtful", "broken"]
Numeral = Field(default=None, ge=0, le=1_000_000)

TestState = Literal["planned", "proven", "broken", "doubtful"]


@dataclass(frozen=True, slots=True, kw_only=True)
class Thread:
    """One link as a thread: where it starts, which number it has there, how far it is, and why not farther."""

    id: int
    revision: int
    kind: str
    title: str
    start: str
    start_name: str
    place: str | None
    from_channel: int | None
    to_channel: int | None
    slot: int | None
    side: str | None
    state: LinkState
    wanted: bool
    reason: str | None
    whose: str | None
    where: str | None
    passed: int
    tests: int


@dataclass(frozen=True, slots=True, kw_only=True)
class Beam:
    """A target with its numbers: first and last where they are known, and what it carries in words."""

    id: str
    key: str
    name: str
    group: str
    word: str | None
    first: int
    last: int | None
    load: str
    threads: list[Thread]


@dataclass(frozen=True, slots=True, kw_only=True)
class Untied:
    """A device that is not finished without a link; `word` is the kind of link it wants, `targets` where it may go."""

    key: str
    name: str
    place: str | None
    word: LinkKind
    title: str


@dataclass(frozen=True, slots=True, kw_only=True)
class KindRow:
    """A kind of link: families it starts at, families it leads to (None: any), outside ends, its number's name."""

    key: str
    word: LinkKind
    title: str
    group: str
    starts: list[str]
    ends: list[str] | None
    outside: list[str]
    number: str | None


@dataclass(frozen=True, slots=True, kw_only=True)
class StateCount:
    """How many links are in a state."""

    state: LinkState
    number: int


@dataclass(frozen=True, slots=True, kw_only=True)
class Links:
    """Every link, by what it leads to."""

    revision: int
    beams: list[Beam]
    untied: list[Untied]
    counts: list[StateCount]
    places: list[str]
    next_link: int | None
    kinds: list[KindRow]
    problems: list[ProblemRow]


@dataclass(frozen=True, slots=True, kw_only=True)
class NeedRow:
    """Something that a link needs, met or not, in words; where not: the stage, whose turn it is, the nearest way."""

    key: str
    met: bool
    words: str
    where: str | None
    whose: str | None
    never: bool
    nearest: str | None


@dataclass(frozen=True, slots=True, kw_only=True)
class TestRow:
    """A reading that proves a part of a link; `changed` names what is no longer as it was then."""

    key: str
    title: str
    expected: str
    state: TestState
    measured: str | None
    at: str | None
    by: str | None
    changed: list[str]


@dataclass(frozen=True, slots=True, kw_only=True)
class Room:
    """What a target takes of something, what it carries, and what this link brings."""

    word: str
    used: float
    most: float
    brings: float
    unit: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Seat:
    """A number at a target, and who has it."""

    number: int
    holder: str | None


@dataclass(frozen=True, slots=True, kw_only=True)
class Target:
    """A device that a link may lead to."""

    key: str
    name: str
    fits: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class LinkCard:
    """Everything about one link: needs, values at both ends (a group an end, its key the device's), tests, room."""

    id: int
    revision: int
    kind: str
    word: LinkKind
    title: str
    said: str
    start: str
    start_name: str
    place: str | None
    to: str
    to_name: str
    number_word: str | None
    slot: int | None
    from_channel: int | None
    to_channel: int | None
    side: str | None
    at: str | None
    account: str | None
    state: LinkState
    wanted: bool
    reason: str | None
    needs: list[NeedRow]
    groups: list[GroupRow]
    tests: list[TestRow]
    rooms: list[Room]
    seats: list[Seat]
    targets: list[Target]
    caution: str | None
    fields: list[str]


class LinkParts(Schema):
    """What may be said of a link besides its ends."""

    model_config = ConfigDict(extra="forbid")

    slot: int | None = Numeral
    from_channel: int | None = Numeral
    to_channel: int | None = Numeral
    side: Literal["in", "out"] | None = None
    at: str | None = Field(default=None, max_length=200)
    account: str | None = Field(default=None, max_length=200)
    address: str | None = Field(default=None, max_length=40)
    port: int | None = Field(default=None, ge=1, le=65535)
    priority: int | None = Field(default=None, ge=0, le=99)
    wanted: bool | None = None


class LinkChange(LinkParts):
    """Keys of a link to change."""

    revision: int
    to: str | None = None


class NewLink(LinkParts):
    """A link as in the document."""

    kind: LinkKind = "records"
    start: str
    to: str


class Witnessed(Schema):
    """What somebody saw: the test, whether it went as expected, and in words what was seen."""

    model_config = ConfigDict(extra="forbid")

    test: str = Field(max_length=40)
    result: Literal["pass", "fail"]
    words: str = Field(default="", max_length=500)


@dataclass(frozen=True, slots=True, kw_only=True)
class ProposedChange:
    """A link that a proposal ties, moves or takes out, and why."""

    action: Literal["add", "number", "move", "remove"]
    start_name: str
    to_name: str
    word: str
    slot: int | None
    why: str


@dataclass(frozen=True, slots=True, kw_only=True)
class ProposalSheet:
    """What could be tied; `left` are names of those that cannot, `proved` that no more fits."""

    revision: int
    changes: list[ProposedChange]
    shortfall: list[str]
    left: list[str]
    proved: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class TableRow:
    """What a row of a table would do."""

    line: int
    action: Literal["add", "change", "same", "skip", "refuse"]
    sentence: str


@dataclass(frozen=True, slots=True, kw_only=True)
class TablePreview:
    """What bringing a table in would do."""

    revision: int
    strange: list[str]
    rows: list[TableRow]


@dataclass(frozen=True, slots=True, kw_only=True)
class TableResult:
    """How many links were added, changed and left out."""

    added: int
    changed: int
    left_out: int


@dataclass(frozen=True, slots=True, kw_only=True)
class NumberRow:
    """A number that somebody types or dials."""

    link: int
    revision: int
    word: str
    group: str
    target: str
    device: str
    number: int | None
    source: Literal["kept", "planned", "missing"]
    why: str


@dataclass(frozen=True, slots=True, kw_only=True)
class ZoneRow:
    """A paging zone."""

    number: int
    address: str
    port: int
    speakers: list[str]
    listeners: list[str]
    fault: str | None


@dataclass(frozen=True, slots=True, kw_only=True)
class ServerLines:
    """How many lines of a call server are spoken for."""

    server: str
    sentence: str
    full: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class RingRow:
    """How long monitor, forward and person ring in seconds, and whether the station rings as long."""

    monitor_s: float
    forward_s: float
    person_s: float
    station_s: float
    needed_s: float
    holds: bool
    sentence: str


@dataclass(frozen=True, slots=True, kw_only=True)
class FlatRow:
    """Where a monitor stands in the house."""

    device: str
    name: str
    revision: int
    building: int | None
    floor: int | None
    unit: int | None


@dataclass(frozen=True, slots=True, kw_only=True)
class Numbers:
    """The site's numbers, zones, lines and ring times."""

    revision: int
    rows: list[NumberRow]
    planned: int
    zones: list[ZoneRow]
    paging_base: str
    paging_port: int
    lines: list[ServerLines]
    ring: RingRow
    flats: list[FlatRow]
    problems: list[ProblemRow]


class NumberingChange(Schema):
    """How the site is numbered: the ring chain, where paging begins, the first extension."""

    model_config = ConfigDict(extra="forbid")

    revision: int
    station_s: float | None = Field(default=None, ge=0, le=3600)
    monitor_s: float | None = Field(default=None, ge=0, le=3600)
    forward_s: float | None = Field(default=None, ge=0, le=3600)
    person_s: float | None = Field(default=None, ge=0, le=3600)
    paging_base: str | None = Field(default=None, max_length=40)
    paging_port: int | None = Field(default=None, ge=1, le=65535)


class FlatChange(Schema):
    """Where a monitor stands from now on."""

    model_config = ConfigDict(extra="forbid")

    revision: int
    building: int | None = Field(default=None, ge=0, le=1_000_000)
    floor: int | None = Field(default=None, ge=-99, le=999)
    unit: int | None = Field(default=None, ge=0, le=1_000_000)
