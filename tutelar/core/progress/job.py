"""What the next thing is decided by: the stages, how far each is, and all that is known of the job."""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Literal

from tutelar.core.addressing.assignment import Plan
from tutelar.core.links.readiness import LinkStatus
from tutelar.core.loose_ends import LooseEnd
from tutelar.core.problems import Problem
from tutelar.core.proof import Expectation, State
from tutelar.core.run import Run, Step
from tutelar.core.run.chain import AdapterConfig
from tutelar.core.site.types import Site
from tutelar.core.survey import questions

STAGES = ("survey", "kit", "addresses", "settings", "bench", "links", "recording", "doors", "proof", "handover")
Mark = Literal["not-begun", "open", "done", "proven"]
Act = Literal[
    "ask", "note", "labels", "mend", "plan", "device", "step", "laptop", "proposal", "link", "measure", "again", "see",
    "schedule", "pattern", "disk", "loads", "door", "sent", "alarm", "go",
]  # fmt: skip


@dataclass(frozen=True, slots=True)
class Next:
    """The one next thing: where it is done, in one sentence, a few words beside it, and what a press does."""

    stage: str
    sentence: str
    detail: str = ""
    act: Act = "go"
    goes: str | None = None
    subjects: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True)
class StageProgress:
    """One stage: what is open there (None: there is nothing in it yet), and its next thing."""

    stage: str
    open: int | None
    next: Next
    proven: bool = False  # by measurement

    @property
    def mark(self) -> Mark:
        """The stage's mark: not begun, open, done, or proven by measurement."""
        if self.open is None:
            return "not-begun"
        if self.open:
            return "open"
        return "proven" if self.proven else "done"


@dataclass(frozen=True)
class Progress:
    """The stages in the order of the work, the next thing, the laptop's adapter setting (None = automatic), and how
    many devices are not proven."""

    stages: tuple[StageProgress, ...]
    next: Next
    laptop: AdapterConfig | None
    unproven: int

    @property
    def open(self) -> dict[str, int | None]:
        """What is open by stage, None where there is nothing in it yet."""
        return {item.stage: item.open for item in self.stages}


@dataclass(frozen=True)
class JobState:
    """All that the next thing is decided by.

    `done` holds ids of bench steps done or skipped; `states` the state of each device; `pending` (device key, sentence)
    of each device that was not told of a changed value yet; `links` how far each link is; `to_see` what somebody still
    has to see where everything else is proven; `bare` (how many devices have no administrator password kept, of how
    many that have one); `excepted` how many checks are left open by decision; `door_tests` those of doors at panels
    that nobody saw yet; `ends` the loose ends that hold the signature.
    """

    site: Site
    planned: Plan
    bench: Run
    done: frozenset[str] = frozenset()
    states: Mapping[str, State] = field(default_factory=dict)
    pending: Sequence[tuple[str, str]] = ()
    links: Sequence[LinkStatus] = ()
    to_see: Sequence[Expectation] = ()
    bare: tuple[int, int] = (0, 0)
    excepted: int = 0
    door_tests: Sequence[Expectation] = ()
    ends: Sequence[LooseEnd] = ()

    @property
    def errors(self) -> list[Problem]:
        """What cannot work as written, but for what is fed, kept and recorded."""
        return [item for item in self._wrong if not is_load(item) and item.code.split(".")[0] not in _ELSEWHERE]

    @property
    def loads(self) -> list[Problem]:
        """What cannot be fed as written."""
        return [item for item in self._wrong if is_load(item)]

    @property
    def _wrong(self) -> list[Problem]:
        return [item for item in self.planned.problems if item.level == "error"]

    @property
    def unplanned(self) -> list[str]:
        """Keys of devices that still need an address."""
        set_ones = {device.key for device in self.site.devices if device.address is not None}
        return [item.device for item in self.planned.assignments if item.device not in set_ones]

    @property
    def hand_steps(self) -> list[Step]:
        """Steps of the run that want a technician's hands."""
        return [step for step in self.bench.steps if step.manual and step.id not in self.done]

    @property
    def laptop(self) -> AdapterConfig | None:
        """How the laptop has to stand at the bench now."""
        return laptop_setting(self.bench.steps, self.done)

    @property
    def unproven(self) -> list[str]:
        """Keys of devices that are not proven."""
        return [key for key, state in self.states.items() if state != "proven"]


_ELSEWHERE = frozenset({"recording", "access", "card", "frame", "door"})  # put right at stages of their own
_LOADS = frozenset({"uplink.circle", "cable.drop", "supply.over", "supply.too-short", "panel.locks-over"})


def is_load(item: Problem) -> bool:
    return item.code in _LOADS


def unanswered(site: Site) -> list[str]:
    """Return what still has to be asked for, in the order of the conversation ("the time source of Office")."""
    found = [] if site.networks else ["which network the devices may live on"]
    return found + [blank.asks for question in questions(site) for blank in question.open]


def unidentified(site: Site) -> list[str]:
    """Return the keys of devices whose label was not read: no hardware address or no serial number."""
    return [device.key for device in site.devices if not device.mac or not device.serial]


def laptop_setting(steps: Iterable[Step], done: frozenset[str], hand: int | None = None) -> AdapterConfig | None:
    """Return the adapter setting of a technician's laptop after the last change that was done; None = automatic.

    Without a hand: of the first laptop that is still fixed, since any of them keeps the job open.
    """
    settings: dict[int | None, AdapterConfig | None] = {}
    for step in steps:
        if step.kind == "adapter" and step.id in done:
            settings[step.hand] = step.adapter
    if hand is not None:
        return settings.get(hand)
    return next((setting for setting in settings.values() if setting), None)
