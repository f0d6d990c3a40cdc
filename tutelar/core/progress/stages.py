"""What is open at each stage and its next thing, and the one next thing of the site. It is decided here, once."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import replace

from tutelar.core.access import access_problems
from tutelar.core.alarm import hub_standings
from tutelar.core.doors.held import held_open
from tutelar.core.doors.problems import door_problems
from tutelar.core.links.readiness import OPEN, LinkStatus
from tutelar.core.links.wishes import has_target, untied
from tutelar.core.loose_ends import LooseEnd
from tutelar.core.problems import Problem, in_order
from tutelar.core.progress.job import (
    STAGES,
    Act,
    JobState,
    Next,
    Progress,
    StageProgress,
    unanswered,
    unidentified,
)
from tutelar.core.proof import check_title
from tutelar.core.recording import channels_of, recording_problems
from tutelar.core.site.types import Site
from tutelar.core.survey import questions
from tutelar.core.wording import capital, count


def progress(job: JobState) -> Progress:
    """Return what is open at each stage, each stage's next thing, and that of the site: the first in the order of the
    work: addresses, devices that can be tied, the bench, loose links, recordings, the proof, what else is open before
    one may leave. No stage is done while a loose end of it holds the signature."""
    stages = {name: _STAGES[name](job) for name in STAGES}
    following = stages[_where(job, stages)].next
    told = tuple(_with_ends(item, job.ends) for item in stages.values())
    return Progress(told, following, job.laptop, len(job.unproven))


def _with_ends(item: StageProgress, ends: Sequence[LooseEnd]) -> StageProgress:
    """Return a stage with the loose ends that it does not count by its own facts."""
    here = [end for end in ends if end.stage == item.stage != "handover"]  # the handover counts them all
    open_ = (item.open or 0) + sum(1 for end in here if end.code not in _COUNTED) or len(here)
    if open_ == (item.open or 0):
        return item
    return replace(item, open=open_, next=item.next if item.open else _closing(item.stage, here))


def _closing(stage: str, ends: Sequence[LooseEnd]) -> Next:
    """Return that the first of loose ends is closed; the handover leads to where each is."""
    detail = f"{ends[0].fix} {count(len(ends), 'loose end')} in all." if len(ends) > 1 else ends[0].fix
    return Next(stage, ends[0].message, detail, "go", "handover")


# told by the stages' own facts: blanks, passwords that partners lack, links that wait, what does not fit, doors, proof
_COUNTED = frozenset(
    {
        *("survey-open", "partner-not-told", "laptop-fixed", "link-waiting", "retention-short"),
        *("access-not-sent", "station-on-test", "alarm-not-as-found", "egress-missing"),
        "door-not-normal",
        *("proof-missing", "proof-failed", "proof-stale", "practice-only"),
    }
)


def _where(job: JobState, stages: Mapping[str, StageProgress]) -> str:
    """Return the stage of the site's next thing."""
    if not job.site.networks:
        return "survey"
    order: tuple[str, ...] = ("addresses", "bench", "settings", "links", "recording", "doors", "proof")
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


def _doors(job: JobState) -> StageProgress:
    site = job.site
    wrong = [item for item in in_order([*door_problems(site), *access_problems(site)]) if item.level != "note"]
    hubs = hub_standings(site) if site.alarm is not None else []
    if not site.doors and not hubs and not wrong:
        words = "No door is written down." if site.devices else _empty("doors").sentence
        return StageProgress("doors", None, Next("doors", words, "", "go", "proof" if site.devices else "kit"))
    unsent = [item for item in wrong if item.code == "access.not-sent"]
    told = [item for item in wrong if item.code not in ("access.not-sent", "door.escape-fail-secure")]
    held = list(held_open(site).values())
    steps = [(item.hub, step) for item in hubs for step in item.open]
    open_ = len(told) + len(unsent) + len(held) + len(job.door_tests) + len(steps)
    if told:
        first = told[0]
        return StageProgress(
            "doors", open_, Next("doors", first.message, first.fix or "", "door", None, first.subjects)
        )
    if unsent:
        first = unsent[0]
        return StageProgress(
            "doors", open_, Next("doors", first.message, first.fix or "", "sent", None, first.subjects)
        )
    if held:
        sentence = f"{held[0].door.label} is held open for set-up until {held[0].until[11:16]} UTC."
        detail = f"{held[0].guard} stands there. Lock it, then say so; its tests wait for that."
        return StageProgress("doors", open_, Next("doors", sentence, detail, "door", None, (held[0].door.key,)))
    if job.door_tests:
        test = job.door_tests[0]
        number = len(job.door_tests)
        detail = f"{count(number, 'test')} of doors left." if number > 1 else "It is the last test."
        sentence = f"Try it: {check_title(test.check).lower()}, at {site.label_of(test.device)}."
        return StageProgress("doors", open_, Next("doors", sentence, detail, "door", None, (test.values["door"],)))
    if steps:
        hub, step = steps[0]
        detail = f"{count(len(steps), 'step')} of the alarm left." if len(steps) > 1 else "It is the last step."
        return StageProgress("doors", open_, Next("doors", f"{hub.label}: {step}", detail, "alarm", None, (hub.key,)))
    sentence = "Every door was tried." if site.doors else "The alarm is left as it was found."
    return StageProgress("doors", 0, Next("doors", sentence, "Every panel was told.", "go", "proof"))


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
    if not job.site.devices and not any(end.stage == "handover" for end in job.ends):
        return StageProgress("handover", None, _empty("handover"))
    if job.ends:
        return StageProgress("handover", len(job.ends), _closing("handover", job.ends))
    found = Next("handover", "Take the address schedule away.", "Nothing is left open.", "schedule")
    return StageProgress("handover", 0, found, proven=True)


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
    "doors": _doors,
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
