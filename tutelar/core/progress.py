"""How far the job is: what is open at each stage, and the one next thing, of each stage and of the site.

It is decided here, once; pages draw it. `act` names what a press does, `goes` the stage that a press leads to.
"""

from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Literal

from tutelar.core.addressing.assignment import Plan
from tutelar.core.links.readiness import OPEN, LinkStatus
from tutelar.core.links.wishes import has_target, untied
from tutelar.core.problems import Problem, in_order
from tutelar.core.proof import Expectation, State, check_title
from tutelar.core.recording import channels_of, recording_problems
from tutelar.core.run import Run, Step
from tutelar.core.run.chain import AdapterConfig
from tutelar.core.site.types import Site
from tutelar.core.survey import questions
from tutelar.core.wording import capital, count

STAGES = ("survey", "kit", "addresses", "settings", "bench", "links", "recording", "proof", "handover")
Mark = Literal["not-begun", "open", "done", "proven"]
Act = Literal[
    "ask", "note", "labels", "mend", "plan", "device", "step", "laptop", "proposal", "link", "measure", "again", "see",
    "schedule", "pattern", "disk", "loads", "go",
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
    """The stages in the order of the work, the next thing, and the laptop's adapter setting (None = automatic)."""

    stages: tuple[StageProgress, ...]
    next: Next
    laptop: AdapterConfig | None

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
    many that have one); `excepted` how many checks are left open by decision.
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

    @property
    def errors(self) -> list[Problem]:
        """What cannot work as written, but for what is fed, kept and recorded."""
        return [item for item in self._wrong if not _is_load(item) and not item.code.startswith("recording.")]

    @property
    def loads(self) -> list[Problem]:
        """What cannot be fed as written."""
        return [item for item in self._wrong if _is_load(item)]

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


_LOADS = frozenset({"uplink.circle", "cable.drop", "supply.over", "supply.too-short", "panel.locks-over"})


def _is_load(item: Problem) -> bool:
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


def progress(job: JobState) -> Progress:
    """Return what is open at each stage, each stage's next thing, and that of the site: the first in the order of the
    work: addresses, devices that can be tied, the bench, loose links, recordings, the proof."""
    stages = {name: _STAGES[name](job) for name in STAGES}
    return Progress(tuple(stages.values()), stages[_where(job, stages)].next, job.laptop)


def _where(job: JobState, stages: Mapping[str, StageProgress]) -> str:
    """Return the stage of the site's next thing."""
    if not job.site.networks:
        return "survey"
    order: tuple[str, ...] = ("addresses", "bench", "settings", "links", "recording", "proof")
    if not job.site.devices:
        order = ("kit",)
    elif not job.done and _can_be_tied(job.site):  # what is typed at the bench hangs on it
        order = ("addresses", "links", *order[1:])
    for stage in order:
        here = stages[stage]
        if (here.open or stage == "kit") and not _nothing_to_tie_to(job.site, here.next):
            return stage
    return "handover"


def _can_be_tied(site: Site) -> bool:
    """Return whether a loose device has something that it could be tied to."""
    return any(has_target(site, key) for key in untied(site))


def _nothing_to_tie_to(site: Site, found: Next) -> bool:
    """Return whether a loose device has nothing that it could be tied to, so that it holds nobody up."""
    return found.act == "proposal" and not has_target(site, found.subjects[0])


def _survey(job: JobState) -> StageProgress:
    open_ = unanswered(job.site)
    if not job.site.networks:
        found = Next("survey", "Ask which network the devices may live on.", "", "ask", None, ("networks",))
        return StageProgress("survey", len(open_), found)
    for question in questions(job.site):
        if question.open:
            words = question.open[0].asks
            sentence = f"Ask {'' if words.startswith(('who', 'whether')) else 'for '}{words}."
            detail = f"{len(open_)} answers are open." if len(open_) > 1 else "It is the last one."
            return StageProgress("survey", len(open_), Next("survey", sentence, detail, "ask", None, (question.key,)))
    return StageProgress("survey", 0, Next("survey", "Every question is answered.", "The kit is next.", "go", "kit"))


def _kit(job: JobState) -> StageProgress:
    if not job.site.devices:
        words = "Import the delivery note, or add the first device."
        return StageProgress("kit", None, Next("kit", words, "", "note"))
    unread = unidentified(job.site)
    if unread:
        detail = (
            f"{len(unread)} labels are not scanned yet." if len(unread) > 1 else "Hardware address and serial number."
        )
        sentence = f"Read the label of {job.site.label_of(unread[0])}."
        open_ = len(unread) + len(job.loads)
        return StageProgress("kit", open_, Next("kit", sentence, detail, "labels", None, (unread[0],)))
    if job.loads:
        first = job.loads[0]
        found = Next("kit", first.message, first.fix or "", "loads", None, first.subjects)
        return StageProgress("kit", len(job.loads), found)
    return StageProgress("kit", 0, Next("kit", "All labels are scanned.", "", "go", "addresses"))


def _addresses(job: JobState) -> StageProgress:
    if not job.site.devices:
        return StageProgress("addresses", None, _empty("addresses"))
    errors, unplanned = job.errors, job.unplanned
    open_ = len(errors) + len(unplanned)
    movable = next((item for item in errors if item.move), None)
    if movable is not None:
        return StageProgress("addresses", open_, _mend(movable, len(errors)))
    if errors and unplanned:
        found = _mend(errors[0], len(errors))
        placed = f"{len(unplanned)}"
        return StageProgress(
            "addresses", open_, Next("addresses", found.sentence, found.detail, "plan", None, ("that fit", placed))
        )
    if unplanned:
        sentence = f"Give {count(len(unplanned), 'device')} the planned address."
        return StageProgress("addresses", open_, Next("addresses", sentence, "What is set stays.", "plan"))
    if errors:
        return StageProgress("addresses", open_, _mend(errors[0], len(errors)))
    following = "links" if _can_be_tied(job.site) else "bench"
    detail = f"Send IT the request; the {following} {'are' if following == 'links' else 'is'} next."
    found = Next("addresses", "Every device has its address.", detail, "go", following)
    return StageProgress("addresses", 0, found)


def _mend(item: Problem, number: int) -> Next:
    more = f"{count(number, 'problem')} to put right."
    return Next("addresses", item.message, item.fix or more, "mend", None, item.subjects)


def _settings(job: JobState) -> StageProgress:
    if not job.site.devices:
        return StageProgress("settings", None, _empty("settings"))
    if job.pending:
        number = len(job.pending)
        detail = f"{number} are open." if number > 1 else "It is the last one."
        device, sentence = job.pending[0]
        return StageProgress("settings", number, Next("settings", sentence, detail, "device", None, (device,)))
    bare, total = job.bare
    sentence = (
        f"{bare} of {total} devices have no administrator password saved."
        if bare
        else "Every administrator password is saved."
    )
    return StageProgress(
        "settings", 0, Next("settings", sentence, "The bench asks for each at first contact.", "go", "bench")
    )


def _bench(job: JobState) -> StageProgress:
    if not job.site.devices or not job.bench.steps:
        return StageProgress("bench", None, _empty("bench"))
    steps = job.hand_steps
    if steps:
        detail = f"{count(len(steps), 'step')} by hand left."
        return StageProgress("bench", len(steps), Next("bench", f"{steps[0].title}.", detail, "step", "bench"))
    if job.laptop:
        found = Next(
            "bench",
            "Set this laptop back to automatic.",
            f"It is still fixed at {job.laptop.address}.",
            "laptop",
            "bench",
        )
        return StageProgress("bench", 1, found)
    return StageProgress("bench", 0, Next("bench", "The bench is done.", "Measure the site.", "go", "proof"))


def _links(job: JobState) -> StageProgress:
    loose = untied(job.site)
    counted = {item.case.start.key for item in job.links if item.state in OPEN}
    open_ = sum(key not in counted for key in loose) + sum(item.state in OPEN for item in job.links)
    if not job.site.links and not loose:
        nothing = "There is nothing to tie yet." if job.site.devices else _empty("links").sentence
        return StageProgress(
            "links", None, Next("links", nothing, "", "go", "kit" if not job.site.devices else "proof")
        )
    first = next((key for key in loose if has_target(job.site, key)), None)
    said = _open_link(job.links)
    if said is not None and first is None:
        return StageProgress("links", open_, Next("links", said, f"{open_} open.", "link"))
    if loose:
        key = first or loose[0]
        sentence = f"{job.site.label_of(key)} is not tied to anything yet."
        detail = f"{len(loose)} are not." if len(loose) > 1 else ""
        return StageProgress("links", open_, Next("links", sentence, detail, "proposal", None, (key,)))
    proven = all(item.state == "proven" for item in job.links)
    found = Next("links", "Every link is tied.", "Now measure the site.", "go", "proof")
    return StageProgress("links", 0, found, proven=proven)


def _recording(job: JobState) -> StageProgress:
    channels = channels_of(job.site)
    if not channels:
        words = "Nothing is recorded here." if job.site.devices else _empty("recording").sentence
        goes = "proof" if job.site.devices else "kit"
        return StageProgress("recording", None, Next("recording", words, "", "go", goes))
    if job.site.recording is None:
        found = Next("recording", "Say what is recorded when.", "All day, or by a pattern of the week.", "pattern")
        return StageProgress("recording", 1, found)
    wrong = [item for item in in_order(recording_problems(job.site, channels)) if item.level != "note"]
    if wrong:
        first = wrong[0]
        act: Act = "disk" if first.code in _OF_DISKS else "pattern"
        return StageProgress(
            "recording", len(wrong), Next("recording", first.message, first.fix or "", act, None, first.subjects)
        )
    detail = "The patterns and the disks fit."
    return StageProgress("recording", 0, Next("recording", "What is promised is kept.", detail, "go", "proof"))


_OF_DISKS = frozenset({"recording.no-disk", "recording.too-small", "recording.too-many-disks", "recording.raid-disks"})


def _proof(job: JobState) -> StageProgress:
    if not job.states:
        return StageProgress("proof", None, _empty("proof"))
    unproven = job.unproven
    broken = [key for key, state in job.states.items() if state == "broken"]
    if broken:
        more = f", and {len(broken) - 1} more" if len(broken) > 1 else ""
        sentence = f"{job.site.label_of(broken[0])} is broken{more}."
        found = Next("proof", sentence, "Put it right, then measure again.", "again", None, tuple(broken))
        return StageProgress("proof", len(unproven), found)
    if unproven and job.to_see:
        first = job.to_see[0]
        what = f"{job.site.label_of(first.device)}, {check_title(first.check).lower()}"
        number = len(job.to_see)
        detail = f"{number} things are left to see." if number > 1 else "It is the last thing to see."
        found = Next("proof", f"See for yourself: {what}.", detail, "see", None, (first.device, first.check))
        return StageProgress("proof", len(unproven), found)
    if unproven:
        detail = f"{count(len(unproven), 'device')} not proven yet."
        return StageProgress("proof", len(unproven), Next("proof", "Measure the site.", detail, "measure"))
    left = job.excepted
    sentence = "Everything that counts is proven." if left else "Every device is proven."
    detail = f"{left} left open by decision. The handover is next." if left else "The handover is next."
    return StageProgress("proof", 0, Next("proof", sentence, detail, "go", "handover"), proven=True)


def _handover(job: JobState) -> StageProgress:
    if not job.site.devices:
        return StageProgress("handover", None, _empty("handover"))
    open_ = (1 if job.laptop else 0) + (1 if job.unproven else 0)
    number = len(job.unproven)
    detail = f"{count(number, 'device')} not proven yet." if number else "Every device is proven."
    found = Next("handover", "Take the address schedule away.", detail, "schedule")
    return StageProgress("handover", open_, found, proven=True)


def _empty(stage: str) -> Next:
    return Next(stage, "There is no device in the kit yet.", "", "go", "kit")


_STAGES: Mapping[str, Callable[[JobState], StageProgress]] = {
    "survey": _survey,
    "kit": _kit,
    "addresses": _addresses,
    "settings": _settings,
    "bench": _bench,
    "links": _links,
    "recording": _recording,
    "proof": _proof,
    "handover": _handover,
}


def _open_link(links: Sequence[LinkStatus]) -> str | None:
    """Return the gravest thing that is open about the links in one sentence, None where none is open."""
    for state in OPEN:
        item = next((item for item in links if item.state == state), None)
        if item is None:
            continue
        if state == "ready":
            return f"Type what ties {item.case.start.label} to {item.case.to}."
        return f"{item.case.said()}. {capital(item.reason or '')}."
    return None
