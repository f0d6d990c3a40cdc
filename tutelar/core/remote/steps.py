"""Remote access of a device, step by step in the trade's order; what is open holds what follows (handbook 3.11).

What the plan, the vault, a reading or the ownership says is taken from there; the rest is ticked by a named person and
kept in the site file's checklist. A device bought used goes through its own steps first: nobody else's account, nobody
else's settings.
"""

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Literal, NamedTuple

from tutelar.core.reach import Ends, reach
from tutelar.core.reach.ends import OUTSIDE
from tutelar.core.site.closing import Ownership, Ticked
from tutelar.core.site.types import Device, Site

State = Literal["done", "open", "waits", "not-needed"]
_RELAY_PORT = 443


class Known(NamedTuple):
    """What is known of a device beside the document: whether its registration code is kept, whether it was seen online,
    and whether a picture of it was seen on mobile data."""

    code: bool = False
    online: bool = False
    picture: bool = False


class Step(NamedTuple):
    """A step: its title, what is done, what is written down with its tick ("" nothing), and what says by itself that it
    is done (None: only a tick does)."""

    item: str
    title: str
    do: str
    asks: str = ""
    by_itself: Callable[["_Case"], bool] | None = None
    only_so: bool = False  # a tick does not do: it is done where it is kept


class _Case(NamedTuple):
    site: Site
    device: Device
    ends: Ends
    owner: Ownership | None
    known: Known


def _way_out(case: _Case) -> bool:
    network = case.site.network_by_key.get(case.device.network or "")
    way = reach(case.ends, case.device.key, OUTSIDE, _RELAY_PORT).reason
    return network is not None and bool(network.dns) and way is None


def _free(case: _Case) -> bool:
    if case.owner is None:
        return not case.device.used
    return case.owner.state in ("released", "ours") or (case.owner.state == "unknown" and not case.device.used)


def _customers(case: _Case) -> bool:
    return case.owner is not None and (case.owner.state, case.owner.account) == ("ours", "customer")


STEPS: tuple[Step, ...] = (
    Step("way-out", "Gateway and DNS", "It has a gateway in its own subnet and a name server.", "", _way_out, True),
    Step("relay-on", "Relay switched on", "Switch remote access on in the device; as delivered it is off."),
    Step("terms", "Terms accepted", "Let the customer accept the terms of the relay.", "who accepted, for whom"),
    Step(
        "code",
        "Registration code",
        "Choose a code, not a row of digits; it is kept sealed among the passwords.",
        "",
        lambda case: case.known.code,
    ),
    Step(
        "online",
        "Online at the device",
        "Leave the page and come back: the device itself says online. If not, it is nearly always the router.",
        "",
        lambda case: case.known.online,
    ),
    Step("unbound", "Not bound to a former owner", "The device says: bound, no.", "", _free, True),
    Step(
        "registered",
        "Registered in the customer's own account",
        "Scan its QR code with the customer's app and account, never with your own.",
        "",
        _customers,
        True,
    ),
    Step("rights", "Rights for others", "Give others no more than to look; the owner alone manages.", "who may look"),
    Step(
        "picture",
        "Picture on mobile data",
        "On a phone with Wi-Fi switched off: the site's own Wi-Fi proves nothing. Low quality at first is normal.",
        "phone system, who saw it",
        lambda case: case.known.picture,
    ),
)
USED: tuple[Step, ...] = (
    Step("purchase", "Proof of purchase", "A bill or letter that says whose it is now.", "number or date of the bill"),
    Step(
        "released",
        "Released by its former owner",
        "Only the former owner or the maker, with the proof of purchase, releases it from the old account.",
        "",
        lambda case: case.owner is not None and case.owner.state in ("released", "ours"),
        True,
    ),
    Step("reset", "Reset to the factory's settings", "Its address, password and zones are somebody else's."),
    Step("firmware", "Firmware", "The present one, before it gets any setting.", "version"),
    Step("administrator", "New administrator", "A password of this site's, kept among the passwords."),
    Step("unowned", "Shown as nobody's", "The device says: bound, no.", "", _free, True),
)


def item_of(step: str, *, used: bool) -> str:
    """Return the item of the checklist that a step is ticked under."""
    return f"{'used' if used else 'remote'}-{step}"


@dataclass(frozen=True, slots=True)
class StepStanding:
    """A step of a device: its state, the first open one that it waits for, and its tick."""

    step: Step
    item: str
    state: State
    waits_for: str | None
    tick: Ticked | None


@dataclass(frozen=True, slots=True)
class Standing:
    """A device's remote access: its steps in their order, and whose it is."""

    device: Device
    steps: tuple[StepStanding, ...]
    owner: Ownership | None

    @property
    def next(self) -> StepStanding | None:
        """The step that is to be done now, None where all are."""
        return next((step for step in self.steps if step.state == "open"), None)


def tied_devices(site: Site) -> list[Device]:
    """Return the devices with remote access through a relay, and those bought used, in walking order."""
    tied = {link.from_ for link in site.links if link.kind == "relays"}
    wanted = [item for item in site.devices if (item.key in tied or item.used) and item.key not in site.wired]
    return site.walking_order(wanted)


def standing_of(site: Site, device: Device, ends: Ends, known: Known) -> Standing:
    """Return how far the remote access of a device is."""
    owner = next((item for item in reversed(site.ownership) if item.device == device.key), None)
    ticks: Mapping[str, Ticked] = {item.item: item for item in site.checklist if item.subject == device.key}
    case = _Case(site, device, ends, owner, known)
    tied = any(link.kind == "relays" for link in site.links_of(device.key))
    chain = [*((step, True) for step in USED if device.used), *((step, False) for step in STEPS if tied)]
    found: list[StepStanding] = []
    waits_for: str | None = None
    for step, used in chain:
        item = item_of(step.item, used=used)
        tick = ticks.get(item)
        state = _state(step, case, tick)
        if state == "open" and waits_for is not None:
            state = "waits"
        found.append(StepStanding(step, item, state, waits_for if state == "waits" else None, tick))
        if state == "open":
            waits_for = step.title
    return Standing(device, tuple(found), owner)


def _state(step: Step, case: _Case, tick: Ticked | None) -> State:
    if step.by_itself is not None and step.by_itself(case):
        return "done"
    if tick is None or tick.state == "open" or step.only_so:
        return "open"
    return "done" if tick.state == "done" else "not-needed"
