"""Time zones from the pinned tzdata package, never the system's, and when their clocks are turned.

Data: the IANA time-zone database; its last line is the rule for all later years in POSIX form (RFC 8536, 3.3).
"""

from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from difflib import get_close_matches
from functools import cache, lru_cache
from importlib.resources import files
from zoneinfo import ZoneInfo

from tutelar.core.site.types import Site
from tutelar.core.wording import listed

_STEP = timedelta(days=7)  # no zone turns its clock twice within a week


class UnknownZone(ValueError):
    """A time zone that the database does not have."""


@dataclass(frozen=True, slots=True)
class Transition:
    """One turn of the clocks: the instant, and the minutes ahead of UTC before and after it."""

    at: datetime
    before: int
    after: int


@cache
def zone_names() -> tuple[str, ...]:
    """Return the names of all zones, sorted."""
    return tuple(sorted((files("tzdata") / "zones").read_text("utf-8").split()))


def _nearest(name: str) -> str:
    known = {zone.casefold(): zone for zone in zone_names()} | {
        zone.rpartition("/")[2].casefold(): zone for zone in reversed(zone_names())
    }
    near = get_close_matches(name.strip().casefold().replace(" ", "_"), known, 6, 0.7)
    zones = [f"'{zone}'" for zone in dict.fromkeys(known[item] for item in near)][:3]
    if not zones:
        return "; write it like 'Europe/Dublin'"
    return f"; {listed(zones)} {'is the nearest' if len(zones) == 1 else 'are the nearest'}"


def zone_of(site: Site) -> ZoneInfo | None:
    """Return the zone of a site, None where it is not known or does not exist."""
    try:
        return zone_named(site.about.time_zone) if site.about.time_zone else None
    except UnknownZone:
        return None


@cache
def zone_named(name: str) -> ZoneInfo:
    """Return the zone of that name. Raises UnknownZone, with the nearest names where there are any."""
    if name not in zone_names():
        raise UnknownZone(f"'{name}' is no time zone{_nearest(name)}")
    with _resource(name).open("rb") as data:
        return ZoneInfo.from_file(data, key=name)


def _resource(name: str):  # type: ignore[no-untyped-def]
    place = files("tzdata") / "zoneinfo"
    for part in name.split("/"):
        place = place / part
    return place


@cache
def posix_rule(name: str) -> str:
    """Return the zone's rule for later years in POSIX form, e.g. "GMT0BST,M3.5.0/1,M10.5.0"."""
    zone_named(name)
    return str(_resource(name).read_bytes().rstrip(b"\n").rpartition(b"\n")[2].decode("ascii"))


def offset_min(zone: ZoneInfo, at: datetime) -> int:
    """Return how many minutes the zone is ahead of UTC at an instant."""
    ahead = at.astimezone(zone).utcoffset() or timedelta()
    return round(ahead.total_seconds() / 60)


@lru_cache(maxsize=8192)
def transitions(zone: ZoneInfo, year: int) -> tuple[Transition, ...]:
    """Return the turns of the clocks in a year of the zone's own calendar, to the second."""
    start, end = datetime(year, 1, 1, tzinfo=UTC) - timedelta(days=1), datetime(year + 1, 1, 2, tzinfo=UTC)
    found = []
    low, before = start, offset_min(zone, start)
    while low < end:
        high = min(low + _STEP, end)
        after = offset_min(zone, high)
        if after != before:
            instant = _turn_between(zone, low, high, before)
            if (instant + timedelta(minutes=before)).year == year:
                found.append(Transition(instant, before, after))
        low, before = high, after
    return tuple(found)


def _turn_between(zone: ZoneInfo, low: datetime, high: datetime, before: int) -> datetime:
    """Return the first instant after `low` at which the zone is no longer `before` minutes ahead."""
    early, late = int(low.timestamp()), int(high.timestamp())
    while late - early > 1:
        middle = (early + late) // 2
        if offset_min(zone, datetime.fromtimestamp(middle, UTC)) == before:
            early = middle
        else:
            late = middle
    return datetime.fromtimestamp(late, UTC)
