"""When was a recording really made? The time that a picture shows, put right by the clock differences that were kept.

Method: a device's difference (device less reference, seconds) at two looks is a straight line between them as long as
the line is a drift; where it jumps, somebody set the clock in between, and both sides are possible. Before the first
look and after the last one the nearest line goes on, and that is said. Wall clocks are read in the site's zone (IANA
database); a shown time that exists twice has two answers.
"""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from itertools import pairwise
from zoneinfo import ZoneInfo

from tutelar.core.clock import zone_of
from tutelar.core.clock.difference import spoken_offset
from tutelar.core.clock.drift import reckonable
from tutelar.core.site.types import Site
from tutelar.core.wording import listed

_DRIFT_MOST = 3.0  # seconds a day; a clock that went further off was set in between
_JUMP_S = 5.0
_QUARTER_S, _NEAR_S = 900, 10  # zones and daylight saving go by whole quarters of an hour


@dataclass(frozen=True, slots=True)
class Look:
    """A look at a clock: when, and how many seconds it was ahead of the reference."""

    at: datetime
    offset_s: float


@dataclass(frozen=True, slots=True)
class Footage:
    """What a shown time means: the moments at which the recording may have been made (aware, in the site's zone), a
    sentence, and whether a look before and one after it agree."""

    shown: datetime
    made: tuple[datetime, ...]
    sentence: str
    certain: bool


def looks_of(site: Site, device: str) -> list[Look]:
    """Return the looks at a device's clock that the document holds, in order of time; those of the pretend site count
    on a practice site only."""
    found = {}
    for item in site.readings:
        if item.device != device or item.check != "clock" or item.offset_s is None or item.at is None:
            continue
        if item.from_ == "pretend" and not site.about.practice:
            continue
        try:
            at = datetime.fromisoformat(item.at)
        except ValueError:
            continue
        if at.tzinfo is not None and reckonable(at, item.offset_s):
            found[at] = Look(at, item.offset_s)
    return [found[at] for at in sorted(found)]


@dataclass(frozen=True, slots=True)
class _Line:
    """A stretch of time in which the difference is a straight line; `until` None: from the last look on."""

    begin: Look
    end: Look
    since: datetime | None  # before which it does not hold
    until: datetime | None
    told: str

    def offset(self, at: datetime) -> float:
        span = (self.end.at - self.begin.at).total_seconds()
        if span == 0:
            return self.begin.offset_s
        return self.begin.offset_s + (self.end.offset_s - self.begin.offset_s) * (
            (at - self.begin.at).total_seconds() / span
        )


def _lines(looks: Sequence[Look]) -> Iterator[_Line]:
    first, last = looks[0], looks[-1]
    lead = looks[1] if len(looks) > 1 and _drifts(first, looks[1]) else first
    yield _Line(first, lead, None, first.at, "before the first look")
    for one, next_ in pairwise(looks):
        if _drifts(one, next_):
            yield _Line(one, next_, one.at, next_.at, "between two looks")
        else:
            yield _Line(one, one, one.at, next_.at, "before the clock was set")
            yield _Line(next_, next_, one.at, next_.at, "after the clock was set")
    trail = looks[-2] if len(looks) > 1 and _drifts(looks[-2], last) else last
    yield _Line(trail, last, last.at, None, "after the last look")


def _drifts(one: Look, other: Look) -> bool:
    days, apart = (other.at - one.at).total_seconds() / 86400, abs(other.offset_s - one.offset_s)
    quarters = abs(apart - round(apart / _QUARTER_S) * _QUARTER_S) <= _NEAR_S and apart > _QUARTER_S / 2
    return apart <= max(_JUMP_S, days * _DRIFT_MOST) and not quarters


def footage(site: Site, device: str, shown: datetime, looks: Sequence[Look]) -> Footage:
    """Return when a recording was made on which `shown` (naive, the site's wall clock) is read.

    `looks` are the differences of the clock that made it, in order of time. The sentence names what it rests on.
    """
    name = site.label_of(device)
    zone = zone_of(site) or ZoneInfo("UTC")
    if not looks:
        said = f"Nobody looked at the clock of {name}: what it shows is all that is known."
        return Footage(shown, (), said, certain=False)
    found: list[tuple[datetime, _Line]] = []
    for instant in _instants(shown, zone):
        for line in _lines(looks):
            at = _true(line, instant)
            inside = (line.since is None or at >= line.since) and (line.until is None or at <= line.until)
            if inside and all(abs((at - other).total_seconds()) > 1 for other, _ in found):
                found.append((at, line))
    found.sort(key=lambda item: item[0])
    made = tuple(at.astimezone(zone) for at, _ in found)
    if not made:
        said = f"No recording of {name} can show {_clock(shown, shown)}: its clock was set past that time."
        return Footage(shown, (), said, certain=False)
    rests = [f"{name} was {spoken_offset(line.offset(at))} {_around(line, zone)}" for at, line in found]
    times = listed([_clock(at, shown) for at in made])
    said = f"{'; '.join(dict.fromkeys(rests))}: the recording that shows {_clock(shown, shown)} was made at {times}."
    if len(made) > 1:
        said += " Which of them cannot be told from the clock alone."
    certain = len(made) == 1 and found[0][1].told == "between two looks"
    return Footage(shown, made, said, certain)


def _instants(shown: datetime, zone: ZoneInfo) -> list[datetime]:
    """Return the moments at which a right clock of the zone shows a time: one, or two where clocks went back."""
    both = [shown.replace(tzinfo=zone, fold=fold).astimezone(UTC) for fold in (0, 1)]
    there = [at for at in both if at.astimezone(zone).replace(tzinfo=None) == shown]
    return sorted(set(there)) or both[:1]  # inside the spring gap a right clock never shows it: as before the turn


def _true(line: _Line, instant: datetime) -> datetime:
    """Return the moment whose difference makes it look like `instant`."""
    at = instant
    for _ in range(8):  # the line is flat: each turn is thousands of times nearer
        at = instant - timedelta(seconds=line.offset(at))
    return at


def _around(line: _Line, zone: ZoneInfo) -> str:
    since, until = _day(line.since or line.begin.at, zone), _day(line.until or line.end.at, zone)
    return {
        "before the clock was set": f"until it was set, by {until} at the latest",
        "after the clock was set": f"from when it was set, after {since}",
        "before the first look": f"at the first look, {until}",
        "after the last look": f"at the last look, {since}, and nobody looked since",
    }.get(line.told, f"between {since} and {until}")


def _day(at: datetime, zone: ZoneInfo) -> str:
    there = at.astimezone(zone)
    return f"{there.day} {there:%B %Y}"


def _clock(at: datetime, shown: datetime) -> str:
    text = f"{at:%H:%M:%S}" if at.second or shown.second else f"{at:%H:%M}"
    return text if at.date() == shown.date() else f"{text} on {at.day} {at:%B %Y}"
