"""What is typed into a panel about its doors and inputs, and into a hub about its areas and users."""

from collections.abc import Iterator
from typing import NamedTuple

from tutelar.core.access.cards import formats_of
from tutelar.core.access.index import AccessIndex
from tutelar.core.alarm.hubs import hub_standings
from tutelar.core.line import Line
from tutelar.core.loads.budget import feeder_of
from tutelar.core.site.doors import Door
from tutelar.core.site.types import Device, Site
from tutelar.core.wording import count, listed

DOOR_CAUTION = (
    "Escape doors open from inside by hand, without power, card or network; local fire code and licensed people decide."
)
_LOCKS = {
    "magnet": "magnet",
    "strike-fail-secure": "fail-secure strike",
    "strike-fail-safe": "fail-safe strike",
    "gate": "gate",
}
INPUTS = "x-inputs"
_INPUTS = (
    ("mains", "Mains input"),
    ("battery", "Battery input"),
    ("lid", "Lid contact"),
)
INPUT_SETTINGS = {f"supervise-{name}": label for name, label in _INPUTS}


def door_lines(site: Site, device: Device) -> Iterator[Line]:
    """Yield what is typed into a panel or station about the doors that it holds; nothing where it holds none."""
    mine = [door for door in site.doors if door.panel == device.key]
    for door in sorted(mine, key=lambda item: (item.number is None, item.number or 0)):
        yield from _door(door)
    if mine and site.access is not None:
        yield from _access(site, device, mine)
    if site.family_of(device) == "panel":
        yield from _inputs(site, device)


def _door(door: Door) -> Iterator[Line]:
    name = f"Door {door.number}" if door.number is not None else door.label
    key = f"door-{door.key}"
    yield Line(f"{key}-name", f"{name}, name", door.label, "As people at the site say it.")
    if door.lock is not None and door.relay is not None:
        holds = "the relay cuts its current" if door.relay == "nc" else "the relay gives its current"
        yield Line(f"{key}-relay", f"{name}, relay", f"C and {door.relay.upper()}", f"A {_LOCKS[door.lock]}: {holds}.")
    if door.unlock_s is not None:
        yield Line(f"{key}-unlock", f"{name}, unlocks for", f"{door.unlock_s:g} s", "Long enough to walk through.")
    if door.held_open_s is not None:
        yield Line(f"{key}-held", f"{name}, held open after", f"{door.held_open_s:g} s", "Then the panel says so.")
    if door.contact is not None:
        shut = "closed" if door.contact == "nc" else "open"
        why = f"It is {shut} while the leaf is shut; the other way round the panel says open when it is shut."
        yield Line(f"{key}-contact", f"{name}, contact", door.contact.upper(), why)
    if door.exit_button:
        yield Line(f"{key}-exit", f"{name}, exit button", "On", "Whoever is inside gets out without a card.")


def _access(site: Site, device: Device, doors: list[Door]) -> Iterator[Line]:
    known = AccessIndex(site)
    keys = {key for door in doors for key in (door.key, *door.groups)}
    rules = [rule for rule in known.access.rules if keys & {*rule.doors}]
    people = {key for rule in rules for key in known.people_of(rule)}
    cards = [card for key in people for card in known.people[key].cards if not card.lost]
    formats = formats_of(site.access)
    for form in sorted({card.format for card in cards if card.format in formats}):
        item = formats[form]
        fields = listed([f"{field.name} {field.bits} bits" for field in item.fields])
        yield Line(f"format-{form}", "Card format", f"{item.bits} bits", f"{item.name or item.key}: {fields}.")
    frames = [known.frames[key] for key in dict.fromkeys(rule.frame for rule in rules) if key in known.frames]
    if frames:
        names = listed([frame.label for frame in frames])
        yield Line(
            "frames", "Weekly frames", names, "Each day of each, and the holidays, as the page of doors has them."
        )
    if people:
        said = f"{count(len(people), 'person', 'people')}, {count(len(cards), 'card')}"
        why = "From the table of who may open what; afterwards send it, and tick that it was sent."
        yield Line("people", "People and cards", said, why)


class Input(NamedTuple):
    """A supervision input of a panel: whether it is on, why, and the day to look again where somebody decided it."""

    name: str
    label: str
    on: bool
    why: str
    decided: "Decided | None"


def supervision(site: Site, device: Device) -> list[Input]:
    """Return the supervision inputs of a panel.

    A panel fed over its network cable has neither mains nor battery to watch. What somebody decided otherwise stands
    under `x-inputs` of the panel, with the reason and the day to look again.
    """
    over_cable = feeder_of(site, device) is not None
    found = []
    for name, label in _INPUTS:
        decided = input_decided(device, name)
        if decided is not None:
            found.append(Input(name, label, decided.on, decided.reason or "No reason is written down.", decided))
        elif name == "lid":
            found.append(Input(name, label, True, _LID, None))
        else:
            found.append(Input(name, label, not over_cable, _FED if over_cable else _WATCHED, None))
    return found


def _inputs(site: Site, device: Device) -> Iterator[Line]:
    for item in supervision(site, device):
        again = ""
        if item.decided is not None:
            day = item.decided.review
            again = f" Look again on {day}." if day else " No day is set to look again."
        yield Line(f"supervise-{item.name}", item.label, "On" if item.on else "Off", f"{item.why}{again}")


_FED = (
    "It is fed over its network cable: this input would alarm for ever. Off knowingly; look again when it is fed "
    "otherwise."
)
_WATCHED = "It tells of a failure before the doors do."
_LID = "Off on the bench only; on as soon as the lid is closed for good."


class Decided(NamedTuple):
    """An input switched on or off by decision: why, and the day on which it is looked at again."""

    on: bool
    reason: str
    review: str


def input_decided(device: Device, name: str) -> Decided | None:
    """Return what somebody decided of a supervision input, None where it is as usual."""
    said = ((device.model_extra or {}).get(INPUTS) or {}).get(name)
    if not isinstance(said, dict) or not isinstance(said.get("on"), bool):
        return None
    return Decided(bool(said["on"]), str(said.get("reason") or ""), str(said.get("review") or ""))


def hub_lines(site: Site, device: Device) -> Iterator[Line]:
    """Yield what is typed into an alarm hub: its areas, zones and users."""
    found = next((item for item in hub_standings(site) if item.hub.key == device.key), None)
    if found is None or site.alarm is None:
        return
    for area in found.said.areas:
        yield Line(f"area-{area.key}", "Area", area.name or area.key, "A part that is armed for itself.")
    for zone in found.zones:
        label = f"Zone {zone.number}" if zone.number is not None else "Zone"
        where = f", {zone.place}" if zone.place else ""
        yield Line(f"zone-{zone.device}", label, f"{zone.name}{where}", "By this name the station calls it.")
    rights = {"arm": "arm and disarm", "manage": "manage users", "install": "install"}
    for user in found.said.users:
        why = "The least that the person needs."
        yield Line(f"user-{user.name}", "User", f"{user.name}: {rights[user.rights]}", why)


def keypad_lines(site: Site, device: Device) -> Iterator[Line]:
    """Yield what is typed at a keypad's own page, which is opened in its own network only."""
    if site.family_of(device) != "keypad" or not site.services_of(device):
        return
    why = "Its page asks for an account of the hub: make that first."
    yield Line("keypad-account", "Account", "At the hub first", why)
    seen = device.certificate
    value = f"Compare with {seen[:23]}…" if seen else "Write it down at first contact"
    why = "Its page is signed by itself: only the fingerprint tells it from a stranger."
    yield Line("keypad-certificate", "Certificate", value, why, "certificate")
    yield Line("keypad-local", "Reached from", "Its own network only", "No forward and no relay leads to it.")
