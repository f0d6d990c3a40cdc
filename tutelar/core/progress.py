"""How far the job is: what is open at each stage, and the one next thing."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from tutelar.core.addressing.assignment import Assignment, Plan
from tutelar.core.links.propose import has_target, untied
from tutelar.core.links.readiness import OPEN, LinkStatus
from tutelar.core.problems import Problem
from tutelar.core.proof import Expectation, State, check_title
from tutelar.core.run import Run, Step
from tutelar.core.run.chain import AdapterConfig
from tutelar.core.site.types import Site
from tutelar.core.survey import questions
from tutelar.core.wording import capital, count

STAGES = ("survey", "kit", "addresses", "settings", "bench", "links", "proof", "handover")


@dataclass(frozen=True, slots=True)
class Next:
    """The one next thing: where it is done, in one sentence, and a few words beside it."""

    stage: str
    sentence: str
    detail: str = ""


@dataclass(frozen=True)
class Progress:
    """Open counts by stage, the next thing, and the laptop's adapter setting (None = automatic)."""

    open: dict[str, int]
    next: Next
    laptop: AdapterConfig | None


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


def progress(
    site: Site,
    planned: Plan,
    bench: Run,
    done: frozenset[str],
    states: dict[str, State],
    telling: Sequence[str] = (),
    links: Sequence[LinkStatus] = (),
    to_see: Sequence[Expectation] = (),
) -> Progress:
    """Return what is open. `done` holds ids of bench steps done or skipped; `states` the state of each device;
    `telling` one sentence for each device that was not told of a changed value yet; `links` how far each link is;
    `to_see` what somebody still has to see where everything else is proven."""
    errors = [item for item in planned.problems if item.level == "error"]
    set_ones = {device.key for device in site.devices if device.address is not None}
    unplanned = [item for item in planned.assignments if item.device not in set_ones]
    hand_steps = [step for step in bench.steps if step.hands and step.id not in done]
    open_links = [item for item in links if item.state in OPEN]
    unproven = [key for key, state in states.items() if state != "proven"]
    laptop = laptop_setting(bench.steps, done)
    counts = {
        "survey": len(unanswered(site)),
        "kit": len(unidentified(site)),
        "addresses": len(unplanned) + len(errors),
        "settings": len(telling),
        "bench": len(hand_steps),
        "links": len(untied(site)) + len(open_links),
        "proof": len(unproven),
        "handover": (1 if laptop else 0) + (1 if unproven else 0),
    }
    following = _next(site, errors, unplanned, hand_steps, unproven, laptop)
    if following.stage == "proof" and to_see:
        first = f"{site.label_of(to_see[0].device)}, {check_title(to_see[0].check).lower()}"
        following = Next("proof", f"See for yourself: {first}.", f"{count(len(to_see), 'thing')} left to see.")
    if following.stage in ("proof", "handover") and (wanted := next_link(site, links)) is not None:
        following = Next("links", wanted, count(counts["links"], "link") + " open.")
    if telling and following.stage in ("proof", "handover"):
        more = count(len(telling), "device") + " not told yet."
        following = Next("settings", telling[0], more)
    return Progress(counts, following, laptop)


def next_link(site: Site, links: Sequence[LinkStatus]) -> str | None:
    """Return the next thing to do about links in one sentence, None where none is open: the gravest state first."""
    for state in OPEN:
        item = next((item for item in links if item.state == state), None)
        if item is None:
            continue
        said = item.case.said()
        if state == "ready":
            return f"Type what ties {item.case.start.label} to {item.case.to}."
        return f"{said}. {capital(item.reason or '')}."
    loose = next((key for key in untied(site) if has_target(site, key)), None)
    return None if loose is None else f"{site.label_of(loose)} is not tied to anything yet."


def _next(
    site: Site,
    errors: list[Problem],
    unplanned: list[Assignment],
    hand_steps: list[Step],
    unproven: list[str],
    laptop: AdapterConfig | None,
) -> Next:
    if not site.networks:
        return Next("survey", "Ask which network the devices may live on.")
    if not site.devices:
        return Next("kit", "Write down the first device.")
    if unplanned:
        return Next("addresses", f"Plan {count(len(unplanned), 'address', 'addresses')}.", "What is set stays.")
    if errors:
        return Next("addresses", errors[0].message, f"{count(len(errors), 'problem')} to put right.")
    if hand_steps:
        return Next("bench", f"{hand_steps[0].title}.", f"{count(len(hand_steps), 'step')} by hand left.")
    if laptop:
        return Next("bench", "Set this laptop back to automatic.", f"It is still fixed at {laptop.address}.")
    if unproven:
        return Next("proof", "Measure the site.", f"{count(len(unproven), 'device')} not proven yet.")
    return Next("handover", "Take the address schedule away.", "Every device is proven.")
