"""When are the clocks turned next, and which devices are looked at then?"""

from collections.abc import Collection
from dataclasses import dataclass
from datetime import datetime, timedelta

from tutelar.core.clock.rules import clock_rule
from tutelar.core.clock.sources import has_clock
from tutelar.core.clock.zones import Transition, transitions, zone_named
from tutelar.core.site.types import Device, Site


@dataclass(frozen=True, slots=True)
class Look:
    """A device to look at after the clocks were turned, and why."""

    device: str
    why: str


@dataclass(frozen=True, slots=True)
class Coming:
    """One turn of the clocks: the instant, the wall clock before and after it, a sentence, and what to look at."""

    at: datetime
    before: str
    after: str
    sentence: str
    looks: tuple[Look, ...]


def coming(site: Site, now: datetime, years: int = 2, doubted: Collection[str] = ()) -> list[Coming]:
    """Return the turns of the site's clocks within the years to come; [] where the zone has none, or is not known.

    `doubted` are keys of devices whose clock was found wrong. Raises UnknownZone.
    """
    if site.about.time_zone is None:
        return []
    zone = zone_named(site.about.time_zone)
    until = now + timedelta(days=365.25 * years)
    turns = [turn for year in range(now.year - 1, until.year + 2) for turn in transitions(zone, year)]
    return [_coming(site, turn, doubted) for turn in turns if now <= turn.at <= until]


def _coming(site: Site, turn: Transition, doubted: Collection[str]) -> Coming:
    before = (turn.at + timedelta(minutes=turn.before)).strftime("%H:%M")
    after = (turn.at + timedelta(minutes=turn.after)).strftime("%H:%M")
    way = "forward" if turn.after > turn.before else "back"
    return Coming(
        turn.at,
        before,
        after,
        f"The clocks of {site.about.name} go {way} from {before} to {after}.",
        tuple(_looks(site, turn, doubted)),
    )


def _looks(site: Site, turn: Transition, doubted: Collection[str]) -> list[Look]:
    """Return every device that may not follow by itself, and one of each model that should."""
    year = turn.at.year
    rule = clock_rule(site.about.time_zone or "", year, 1)
    found, sampled = [], set()
    for device in site.walking_order([item for item in site.devices if has_clock(site, item)]):
        why = _doubt(site, device, formless=rule.start is None)
        if why is None and device.key in doubted:
            why = "Its clock was found wrong at the last look."
        if why is None and device.model not in sampled:
            model = site.model_of(device)
            why = f"One of each model: {model.label if model else device.model} should have followed by itself."
        if why is not None:
            sampled.add(device.model)
            found.append(Look(device.key, why))
    return found


def _doubt(site: Site, device: Device, *, formless: bool) -> str | None:
    model = site.model_of(device)
    clock = model.clock if model else None
    if clock is None:
        return None
    if clock.time == "hand" or clock.daylight_saving == "hand":
        return "It is turned by hand."
    if clock.time == "linked":
        return "It takes the time from another device, but not its rule for daylight saving."
    if formless and clock.daylight_saving == "rule":
        return "No rule form fits this year; it cannot know of the change."
    return None
