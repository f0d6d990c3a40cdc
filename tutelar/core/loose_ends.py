"""What is still open before one may leave: worked out from what was done; nobody keeps the list (handbook 3.15).

Each end has its reason, whose turn it is and the one thing that closes it. Ends that were signed as left open no longer
hold the signature. What has no other place in the document stands in its checklist.
"""

from collections.abc import Collection, Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from typing import Any, NamedTuple

from tutelar.core.access import access_problems
from tutelar.core.addressing.assignment import Plan
from tutelar.core.clock import drift, zone_of
from tutelar.core.doors.escape import door_tests
from tutelar.core.doors.held import held_open
from tutelar.core.later.footage import Look, looks_of
from tutelar.core.links.readiness import link_statuses
from tutelar.core.links.registry import link_index
from tutelar.core.proof import Exceptions, Expectation, all_expectations, latest, reading_state
from tutelar.core.recording import channels_of, recording_problems
from tutelar.core.site.closing import WHOM
from tutelar.core.site.types import Reading, Site
from tutelar.core.survey import questions
from tutelar.core.wording import capital, count, listed

YOU, CUSTOMER, OWNER = "you", "the customer", "the former owner"
SITE = "site"
LEFT_OPEN = "x-left-open"  # of a site: ends left open by decision, with reason and name


class Code(NamedTuple):
    """A kind of loose end: what is said, what closes it, whose turn it is, whether it holds the signature, and where it
    is closed."""

    says: str
    fix: str
    whose: str = YOU
    blocks: bool = True
    stage: str = "proof"


CODES: dict[str, Code] = {
    "laptop-fixed": Code(
        "The laptop is still on a hand-set address", "Set its adapter back to automatic.", stage="bench"
    ),
    "temporary-value": Code(
        "{name} has a value that was typed for the test", "Type the final value.", stage="settings"
    ),
    "debug-log-on": Code("Debug logging of {name} is on", "Switch it off.", stage="settings"),
    "setup-switch-on": Code("A switch or wizard for set-up is on at {name}", "Switch it off.", stage="settings"),
    "door-not-normal": Code("{name} is not left as on any day", "Put it back and try it.", stage="doors"),
    "enclosure-open": Code("The enclosure of {name} is open", "Close it, all screws in.", stage="handover"),
    "tamper-off": Code("The lid contact of {name} is off", "Close the lid, then switch it on.", stage="doors"),
    "station-on-test": Code(
        "The station takes signals of {name} as tests", "End the test with the station.", stage="doors"
    ),
    "alarm-not-as-found": Code("{name} is not armed as it was found", "Arm it as found.", stage="doors"),
    "access-not-sent": Code("{name} was not sent what it has to know now", "Send it, then tick it.", stage="doors"),
    "partner-not-told": Code("{name} was not told of a changed password", "Type it there too.", stage="settings"),
    "password-factory": Code(
        "{name} still takes the login from the factory", "Set a password of the site's.", stage="settings"
    ),
    "account-installer": Code(
        "{name} is registered in the installer's account", "Move it into the customer's.", stage="remote"
    ),
    "account-temporary": Code("A temporary account is open at {name}", "Remove it.", stage="settings"),
    "used-not-released": Code(
        "{name} was bought used and nobody released it", "Have the former owner release it.", OWNER, stage="remote"
    ),
    "relay-bound": Code("{name} is bound to somebody else's account", "Have it released there.", OWNER, stage="remote"),
    "exception-unsigned": Code("An exception for {name} has no name under it", "Have it signed, or measure it."),
    "proof-missing": Code("{name} is not proven", "Measure it."),
    "proof-failed": Code("{name} failed its proof", "Put it right, then measure again."),
    "proof-stale": Code("{name} was changed since it was proven", "Measure it again."),
    "egress-missing": Code(
        "Nobody wrote down that {name} opens from inside by hand",
        "Try it, with a name; local fire code decides.",
        stage="doors",
    ),
    "licence-not-accepted": Code(
        "Licence or terms of {name} are not accepted", "Let them be accepted, with a name.", CUSTOMER, stage="handover"
    ),
    "survey-open": Code("Questions of the survey are open", "Ask them.", stage="survey"),
    "link-waiting": Code("A link of {name} waits", "Give it what is missing.", stage="links"),
    "disk-not-formatted": Code(
        "A disk of {name} is not formatted", "Format it, then look at playback.", stage="recording"
    ),
    "retention-short": Code(
        "{name} keeps fewer days than promised", "Bigger disks, or less is recorded.", stage="recording"
    ),
    "audio-undecided": Code(
        "Sound is recorded and nobody decided on it", "Ask; off until then.", CUSTOMER, stage="survey"
    ),
    "checklist-open": Code(
        "An item of the checklist is open for {name}", "Do it, or say why it is not needed.", stage="handover"
    ),
    "certificate-ending": Code(
        "A certificate of {name} ends within a year", "Put its renewal into the diary.", blocks=False, stage="handover"
    ),
    "clock-due": Code("The clock of {name} is due to be looked at", "Compare it with a trusted clock.", blocks=False),
    "practice-only": Code("{name} was measured at the pretend site only", "Measure the real one."),
}
NOTED = (  # what nothing else tells of: noted and closed by hand
    *("temporary-value", "debug-log-on", "setup-switch-on", "enclosure-open", "tamper-off"),
    *("account-temporary", "licence-not-accepted", "certificate-ending", "checklist-open"),
)


@dataclass(frozen=True, slots=True)
class LooseEnd:
    """One loose end: its code and subject (a device's key, a door's, or "site"), in words, what closes it, whose turn
    it is, whether it holds the signature, and the stage that closes it."""

    code: str
    subject: str
    message: str
    fix: str
    blocks: bool
    whose: str
    stage: str

    def as_dict(self) -> dict[str, Any]:
        """Return it as the contract prints it."""
        names = ("code", "subject", "message", "fix", "blocks", "whose")
        return {name: getattr(self, name) for name in names}


class Raised(NamedTuple):
    """An end as it was found: what else is said of it, and whose turn it is where that differs."""

    code: str
    subject: str
    detail: str = ""
    whose: str | None = None


def loose_ends(
    site: Site,
    planned: Plan,
    today: date,
    *,
    wanted: Mapping[str, Sequence[Expectation]] | None = None,
    last: Mapping[tuple[str, str], Reading] | None = None,
    played: Collection[str] | None = None,
    looks: Mapping[str, Sequence[Look]] | None = None,
    more: Iterable[Raised] = (),
) -> list[LooseEnd]:
    """Return everything that is open on a day, in the order of the codes, then of the walk; each code once a subject.

    `wanted`: what every device has to show (None: what is measured), `last`: the readings that count (None: the
    document's); `played`: devices that were measured at the pretend site (None: the document says); `looks`: those at
    each clock (None: the document's); `more`: ends that only the server knows of.
    """
    found: dict[tuple[str, str], Raised] = {}
    for item in (*_all(site, planned, today, wanted, last, played, looks), *more, *_ticked(site)):
        found.setdefault((item.code, item.subject), item)
    order = {code: number for number, code in enumerate(CODES)}
    walk = {device.key: number for number, device in enumerate(site.walking_order(list(site.devices)))}
    signed = set(site.sign_off.open) if site.sign_off is not None else set()
    ordered = sorted(found.values(), key=lambda item: (order[item.code], walk.get(item.subject, -1), item.subject))
    return [_end(site, item, signed) for item in ordered]


def may_sign(ends: Iterable[LooseEnd]) -> bool:
    """Return whether nothing holds the signature."""
    return not any(end.blocks for end in ends)


def _end(site: Site, item: Raised, signed: set[str]) -> LooseEnd:
    code = CODES[item.code]
    says = code.says.replace("{name}", name_of(site, item.subject))
    message = f"{capital(says)}{f': {item.detail}' if item.detail else ''}."
    blocks = code.blocks and f"{item.code}:{item.subject}" not in signed
    return LooseEnd(item.code, item.subject, message, code.fix, blocks, item.whose or code.whose, code.stage)


def name_of(site: Site, subject: str) -> str:
    """Return what people call the subject of a loose end."""
    if subject == SITE:
        return site.about.name
    door = next((door for door in site.doors if door.key == subject), None)
    return door.label if door is not None else site.label_of(subject)


def _all(
    site: Site,
    planned: Plan,
    today: date,
    wanted: Mapping[str, Sequence[Expectation]] | None,
    last: Mapping[tuple[str, str], Reading] | None,
    played: Collection[str] | None,
    looks: Mapping[str, Sequence[Look]] | None,
) -> Iterator[Raised]:
    counted = latest(site.readings, site) if last is None else last
    yield from _doors(site, counted)
    yield from _alarm(site)
    yield from _access(site)
    yield from _owners(site)
    yield from (Raised("exception-unsigned", item.device, item.reason) for item in site.exceptions if not item.by)
    if wanted is None:
        wanted = all_expectations(site, planned.assignments)
    if played is None:
        played = {item.device for item in site.readings if item.from_ == "pretend"}
    yield from _proof(site, today, wanted, counted, frozenset() if site.about.practice else played)
    yield from _asked(site)
    yield from _links(site, planned, counted)
    yield from _recording(site)
    yield from _clocks(site, today, looks)


def _asked(site: Site) -> Iterator[Raised]:
    blanks = [blank.asks for question in questions(site) for blank in question.open]
    waiting = [item for item in site.asked if item.open]
    if blanks:
        yield Raised("survey-open", SITE, listed([*blanks, *(item.question.rstrip("?.") for item in waiting)], 3))
    elif waiting:
        turns = {WHOM[item.of] for item in waiting}
        yield Raised(
            "survey-open",
            SITE,
            listed([f"{WHOM[item.of]}: {item.question.rstrip('?.')}" for item in waiting], 3),
            turns.pop() if len(turns) == 1 else "others",
        )


def _doors(site: Site, last: Mapping[tuple[str, str], Reading]) -> Iterator[Raised]:
    for door, held in held_open(site).items():
        yield Raised("door-not-normal", door, f"held open for set-up, {held.guard} stands there")
    for device, checks in door_tests(site).items():
        for check, found in checks.items():
            reading = last.get((device, check))
            if check.endswith(".normal") and reading is not None and reading.result in ("fail", "silent"):
                yield Raised("door-not-normal", found.key, reading.measured or "")
            if check.endswith(".egress") and not _seen_by_name(reading):
                yield Raised("egress-missing", found.key)


def _seen_by_name(reading: Reading | None) -> bool:
    return reading is not None and (reading.result != "pass" or bool((reading.by or "").strip()))


def _alarm(site: Site) -> Iterator[Raised]:
    for hub in site.alarm.hubs if site.alarm is not None else ():
        if hub.on_test is not None:
            until = f"until {hub.on_test.until}" if hub.on_test.until else ""
            yield Raised("station-on-test", hub.hub, until)
        if hub.armed_as_found is not None and hub.armed_left != hub.armed_as_found:
            left = hub.armed_left or "not said"
            yield Raised("alarm-not-as-found", hub.hub, f"found {hub.armed_as_found}, left {left}")


def _access(site: Site) -> Iterator[Raised]:
    for item in access_problems(site):
        if item.code == "access.not-sent":
            yield Raised("access-not-sent", item.subjects[0])


def _owners(site: Site) -> Iterator[Raised]:
    owners = {item.device: item for item in site.ownership}
    for device in site.devices:
        owner = owners.get(device.key)
        if owner is not None and owner.account == "installer":
            yield Raised("account-installer", device.key)
        if device.used and (owner is None or owner.state not in ("released", "ours")):
            yield Raised("used-not-released", device.key)
        if owner is not None and owner.state == "bound":
            yield Raised("relay-bound", device.key, owner.note or "")


def _proof(
    site: Site,
    today: date,
    wanted: Mapping[str, Sequence[Expectation]],
    last: Mapping[tuple[str, str], Reading],
    played: Collection[str],
) -> Iterator[Raised]:
    exceptions = Exceptions.on(site, today)
    for key, items in wanted.items():
        states: dict[str, list[str]] = {}
        for item in items:
            if exceptions.of(key, item.check) is not None:
                continue
            state: str = reading_state(last.get((key, item.check)), item)
            if item.check.endswith(".egress") and state != "broken":
                continue  # has a code of its own
            if state == "broken" and (item.check == "factory-login" or item.check.endswith(".normal")):
                state = "special"
            states.setdefault(state, []).append(item.check)
        if "factory-login" in states.get("special", ()):
            yield Raised("password-factory", key)
        missing = states.get("planned", []) + states.get("not-measured", [])
        if missing:
            yield Raised(
                "practice-only" if key in played else "proof-missing", key, count(len(missing), "check") + " open"
            )
        if "broken" in states:
            yield Raised("proof-failed", key, listed(states["broken"], 3))
        if "stale" in states:
            yield Raised("proof-stale", key, listed(states["stale"], 3))
    measured = {item.check for items in wanted.values() for item in items}
    for (device, check), reading in last.items():
        failed = reading.result in ("fail", "silent") and check not in measured and device in site.device_by_key
        if failed and check == "factory-login":
            yield Raised("password-factory", device)
        elif failed and exceptions.of(device, check) is None and not check.endswith(".normal"):
            yield Raised("proof-failed", device, check)


def _links(site: Site, planned: Plan, last: Mapping[tuple[str, str], Reading]) -> Iterator[Raised]:
    for status in link_statuses(link_index(site, planned.addresses()), last, {}):
        if status.state in ("waiting", "impossible"):
            whose = next((gap.whose for gap in status.gaps), None)
            yield Raised("link-waiting", status.case.start.key, f"{status.case.said()}, {status.reason}", whose)


def _recording(site: Site) -> Iterator[Raised]:
    for device in site.devices:
        raw = [disk for disk in device.disks or () if disk.formatted is False]
        if raw:
            yield Raised("disk-not-formatted", device.key, count(len(raw), "disk"))
    if site.recording is None:
        return
    for item in recording_problems(site, channels_of(site)):
        if item.code == "recording.too-small":
            yield Raised("retention-short", item.subjects[0], item.message.rstrip("."))
        elif item.code == "recording.audio-undecided":
            yield Raised("audio-undecided", SITE)


def _clocks(site: Site, today: date, looks: Mapping[str, Sequence[Look]] | None) -> Iterator[Raised]:
    seen = {device.key: looks_of(site, device.key) for device in site.devices} if looks is None else looks
    for key, found in seen.items():
        drifts = drift([(look.at, look.offset_s) for look in found], zone_of(site))
        if drifts is not None and drifts.due is not None and drifts.due.date() <= today:
            yield Raised("clock-due", key, f"since {drifts.due.date().isoformat()}")


def _ticked(site: Site) -> Iterator[Raised]:
    for item in site.checklist:
        if item.state == "open":
            named = item.item if item.item in CODES else "checklist-open"
            detail = item.note or ("" if named != "checklist-open" else item.item.replace("-", " "))
            yield Raised(named, item.subject, detail)
