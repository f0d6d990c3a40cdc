"""What every check says of itself: who must pass it, what is expected, what it hangs on, how it is judged, its words.

Expectations and outcomes are keys and values; a sentence is made of them last, where somebody reads it. A check is a
file in `checks/`, found by itself.
"""

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from functools import cached_property
from typing import Literal, NamedTuple

from tutelar.core.addressing.assignment import Assignment
from tutelar.core.proof.seen import Observation
from tutelar.core.site.base import Result
from tutelar.core.site.types import Device, Site

Marks = Mapping[tuple[str, str], str]  # what a kept secret is known by, by (device key, slot)
Others = Mapping[str, Observation | None]  # what was seen of every device so far
Values = Mapping[str, str]
Probe = Literal["ports", "who it is", "login", "how it is set", "stream", "its recorders", "a person"]

PROTOCOLS: Mapping[Probe, str] = {
    "ports": "Ports",
    "who it is": "Identity",
    "login": "Login",
    "how it is set": "Settings",
    "stream": "Stream",
    "its recorders": "Links",
    "a person": "Witnessed",
}


@dataclass(frozen=True)
class Subject:
    """The device that checks are about, with what is known of it today: the plan, all addresses, kept secrets."""

    site: Site
    device: Device
    assignment: Assignment | None
    services: Mapping[str, int]
    family: str
    addresses: Mapping[str, str]
    marks: Marks

    @property
    def at(self) -> str:
        """Its planned address, "" where it is leased or has none."""
        return self.assignment.address if self.assignment is not None else ""

    @cached_property
    def tells_who(self) -> bool:
        """Whether it has a service on which it may say who it is."""
        return any(service in self.services for service in IDENTITY_SERVICES)

    @cached_property
    def logs_in(self) -> bool:
        """Whether it says more to whoever logs in."""
        return self.tells_who and self.family not in NO_LOGIN


@dataclass(frozen=True, slots=True)
class Sight:
    """What was seen of a device, beside what was wanted of it: all that a check is judged by."""

    site: Site
    device: Device
    wanted: Values
    seen: Observation
    others: Others


class Outcome(NamedTuple):
    """How a check came out: a code of the check, what was seen as values, and how long it took in milliseconds."""

    code: str
    values: Mapping[str, str | float] = {}
    took_ms: float | None = None


class Ending(NamedTuple):
    """What an outcome's code means: its result, and its sentence with blanks for the values."""

    result: Result
    says: str


def _nothing(_: Subject) -> Values:
    return {}


@dataclass(frozen=True, slots=True, eq=False)
class Check:
    """One check. `wants` returns what is expected of a device as values, None where it is not asked for; `hangs` what
    it depends on besides. `says` and the endings are sentences with blanks (see `saying`). `itself`: it says nothing of
    this device where another one answers in its place."""

    key: str
    title: str
    rank: int
    probe: Probe
    asked: str  # of whom, for the documentation
    wants: Callable[[Subject], Values | None]
    says: str
    endings: Mapping[str, Ending]
    judge: Callable[[Sight], Outcome]
    hangs: Callable[[Subject], Values] = _nothing
    itself: bool = True
    witnessed: bool = False
    first: bool = False  # without it nothing else means anything, so that no policy leaves it out
    never_open: bool = False  # no policy and no exception covers it, and whoever saw it is named
    caution: str = ""  # what is said where somebody does it, since it can hurt
    sources: tuple[str, ...] = ()  # what came over the wire for it; (): as is usual of its probe
    hung: tuple[str, ...] = field(default=())  # the keys of `hangs`, for the documentation

    @property
    def evidence(self) -> tuple[str, ...]:
        """What of a device's answers is shown for this check, by the names that the probe keeps them under."""
        return self.sources or SOURCES.get(self.probe, (self.key,))


SOURCES: Mapping[Probe, tuple[str, ...]] = {
    "who it is": ("identity", "device-interface"),
    "how it is set": ("state", "device-interface"),
    "stream": ("description",),
}
PAGES = ("web", "web-tls", "control")  # where a device may tell who it is, in this order
IDENTITY_SERVICES = (*PAGES, "device-interface")
NO_LOGIN = frozenset({"reader", "keypad", "injector"})
NOT_ASKED: Mapping[str, Ending] = {
    "no-address": Ending("skipped", "no address yet, so nothing was asked"),
    "silent-device": Ending("skipped", "not asked: it does not answer"),
    "stranger": Ending("skipped", "not asked: another device answers ({who})"),
    "not-told": Ending("skipped", "not told"),
    "no-login": Ending("skipped", "not asked: the login was not taken"),
}


def passes(says: str) -> Ending:
    """Return an ending that proves."""
    return Ending("pass", says)


def fails(says: str) -> Ending:
    """Return an ending that is wrong."""
    return Ending("fail", says)


def skips(says: str) -> Ending:
    """Return an ending that says nothing, and why."""
    return Ending("skipped", says)


def not_told(seen: Observation) -> Outcome:
    """Return why a device said nothing of how it is set."""
    return Outcome("not-told" if seen.login == "taken" else "no-login")


def as_wanted(key: str, told: Callable[[Observation], str | None]) -> Callable[[Sight], Outcome]:
    """Return the judge of a value that a device tells of itself: "same" as what is wanted under `key`, or "another"."""

    def judge(at: Sight) -> Outcome:
        value = told(at.seen)
        if value is None:
            return Outcome("not-told")
        return Outcome("same" if value == at.wanted.get(key) else "another", {key: value})

    return judge
