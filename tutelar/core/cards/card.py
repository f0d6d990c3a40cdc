"""The cards of a site: what applies to each device now, what was ticked, what waits, what is open (handbook 3.14)."""

from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass
from typing import Any, Literal

from tutelar.core.access.digest import UNIT
from tutelar.core.cards.facts import device_facts, site_facts
from tutelar.core.cards.item import PHASES, Item, Phase, items_of
from tutelar.core.cards.judging import JUDGES, Verdict, listing
from tutelar.core.site.closing import Ticked
from tutelar.core.site.types import Device, Site

AT_ONCE = 7  # more open items are not read
SITE = "site"
VALUE, OF_ALL, PHOTO = "x-value", "x-of", "x-photo"  # what a tick shows
State = Literal["open", "done", "not-needed", "waits"]


@dataclass(frozen=True, slots=True)
class Row:
    """An item of a card: its state, the first item that it waits for, its tick, what is judged of it, and what is
    listed below it."""

    item: Item
    state: State
    waits_for: str | None
    tick: Ticked | None
    verdict: Verdict | None
    listed: tuple[str, ...]

    @property
    def open(self) -> bool:
        """Whether somebody has to do it yet."""
        return self.state in ("open", "waits")


@dataclass(frozen=True, slots=True)
class Card:
    """The card of a device, or of the site (None), in the order of the work."""

    device: Device | None
    rows: tuple[Row, ...]

    @property
    def subject(self) -> str:
        """The device's key, or "site"."""
        return SITE if self.device is None else self.device.key

    def open_in(self, phase: str) -> int:
        """Return how many items of a phase are open."""
        return sum(1 for row in self.rows if row.open and row.item.phase == phase)

    @property
    def now(self) -> tuple[Row, ...]:
        """The items that matter now: the open ones of the first phase that has any which can be done, seven at most."""
        ready = [row for row in self.rows if row.state == "open" and row.item.phase != "yearly"]
        phase = ready[0].item.phase if ready else None
        return tuple(row for row in ready if row.item.phase == phase)[:AT_ONCE]


def card_of(site: Site, device: Device | None, items: Iterable[Item] | None = None) -> Card:
    """Return the card of one device, or of the site (None)."""
    of_site = site_facts(site)
    return next(_cards(site, [device], tuple(items_of() if items is None else items), of_site))


def cards_of(site: Site, items: Iterable[Item] | None = None) -> list[Card]:
    """Return every card that has an item: the site's first, then the devices' in walking order."""
    devices: list[Device | None] = [None, *site.walking_order(list(site.devices))]
    found = _cards(site, devices, tuple(items_of() if items is None else items), site_facts(site))
    return [card for card in found if card.rows]


def _cards(
    site: Site, devices: Iterable[Device | None], items: tuple[Item, ...], of_site: frozenset[str]
) -> Iterator[Card]:
    ticks = {(tick.subject, tick.item): tick for tick in site.checklist}
    for device in devices:
        if device is None:
            every = [of_site, *(device_facts(site, one, of_site) for one in site.devices)]
            wanted = [item for item in items if item.of == "site" and any(map(item.applies, every))]
        else:
            facts = device_facts(site, device, of_site)
            wanted = [item for item in items if item.of == "device" and item.applies(facts)]
        yield Card(device, tuple(_rows(site, device, wanted, ticks)))


def _rows(
    site: Site, device: Device | None, items: list[Item], ticks: Mapping[tuple[str, str], Ticked]
) -> Iterator[Row]:
    subject = SITE if device is None else device.key
    counted = {item.key: _tick(device, ticks.get((subject, item.key))) for item in items}
    for item in items:
        tick = counted[item.key]
        state: State = tick.state if tick is not None else "open"
        waits = None
        if state == "open":
            waits = next((one.text for one in items if one.key in item.after and not _settled(counted[one.key])), None)
            state = "open" if waits is None else "waits"
        verdict = _judged(site, device, item, tick)
        yield Row(item, state, waits, tick, verdict, tuple(listing(site, device, item.lists)))


def _settled(tick: Ticked | None) -> bool:
    return tick is not None and tick.state != "open"


def _tick(device: Device | None, tick: Ticked | None) -> Ticked | None:
    """Return a tick that counts: that of another unit, which stood there before, does not."""
    if tick is None or device is None:
        return tick
    unit = (tick.model_extra or {}).get(UNIT)
    return tick if unit in (None, device.unit) else None


def _judged(site: Site, device: Device | None, item: Item, tick: Ticked | None) -> Verdict | None:
    shown: Mapping[str, Any] = (tick.model_extra or {}) if tick is not None else {}
    return judged(site, device, item, shown.get(VALUE), shown.get(OF_ALL))


def judged(site: Site, device: Device | None, item: Item, value: Any, of: Any) -> Verdict | None:
    """Return what is judged of an item with a value, None where nothing can be."""
    if item.judge is not None:
        return JUDGES[item.judge](site, device, value, of)
    low, high = item.evidence.least, item.evidence.most
    if not isinstance(value, int | float) or (low is None and high is None):
        return None
    unit = f" {item.evidence.unit}" if item.evidence.unit else ""
    if low is not None and value < low:
        return Verdict(False, f"{value:g}{unit}; at least {low:g}{unit} is wanted.")
    if high is not None and value > high:
        return Verdict(False, f"{value:g}{unit}; at most {high:g}{unit} is wanted.")
    return Verdict(True, f"{value:g}{unit} is within its limits.")


def first_phase(cards: Iterable[Card]) -> Phase:
    """Return the phase whose turn it is: the first with an open item, else the last one."""
    open_ = {row.item.phase for card in cards for row in card.rows if row.state == "open"}
    return next((phase for phase in PHASES if phase in open_), "yearly")
