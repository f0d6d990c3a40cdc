"""The diary of a site: what comes due and when. Clock changes, clocks that drift, certificates, yearly looks,
exceptions that end, batteries by age, answers that others owe."""

import re
from collections import Counter
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from datetime import UTC, date, datetime, time, timedelta

from tutelar.core.cards.card import VALUE
from tutelar.core.clock import UnknownZone, coming, drift, zone_of
from tutelar.core.later.footage import Look, looks_of
from tutelar.core.site.closing import WHOM
from tutelar.core.site.types import Site
from tutelar.core.wording import capital

YEARS = 3
BATTERY_YEARS = 4  # sealed lead batteries of panels and hubs last three to five
YEARLY = (
    "Every clock against a trusted one, and after each change of the clocks.",
    "Playback of every camera, one export on the customer's own computer.",
    "Escape doors from inside by hand, seen by a named person; local fire code decides.",
    "Batteries of panels, hubs and back-up supplies by their age.",
    "Accounts that nobody needs any more, and the exceptions that end.",
)
_BATTERIES = ("battery-in", "battery-age")
_DAY = re.compile(r"(20\d\d)(?:[-./ ](\d\d?))?(?:[-./ ](\d\d?))?")
_MONTH_FIRST = re.compile(r"(\d\d?)[-./ ](20\d\d)")


@dataclass(frozen=True, slots=True)
class Entry:
    """A day of the diary: its key, the moment, what it is, more about it, and the device it is about ("" the site)."""

    key: str
    at: datetime
    title: str
    about: str
    subject: str = ""


def diary(
    site: Site, today: date, years: int = YEARS, looks: Mapping[str, Sequence[Look]] | None = None
) -> list[Entry]:
    """Return what comes due within the years to come, in order; what is overdue stands at today.

    `looks` are those at each device's clock (None: the document's).
    """
    seen = {device.key: looks_of(site, device.key) for device in site.devices} if looks is None else looks
    found = [*_clocks(site, today, years), *_yearly(today, years), *_exceptions(site), *_drift(site, today, seen)]
    found += [*_certificates(site, today), *_batteries(site, today), *_asked(site, today)]
    until = _morning(today + timedelta(days=366 * years))
    return sorted((entry for entry in found if entry.at <= until), key=lambda entry: (entry.at, entry.key))


def _morning(day: date) -> datetime:
    return datetime.combine(day, time(9), UTC)


def _clocks(site: Site, today: date, years: int) -> Iterator[Entry]:
    try:
        turns = coming(site, _morning(today), years) if site.about.time_zone is not None else []
    except UnknownZone:
        turns = []
    for turn in turns:
        looks = "\n".join(f"{site.label_of(look.device)}: {look.why}" for look in turn.looks)
        yield Entry(f"clocks-{turn.at:%Y%m%dT%H%M%S}", turn.at, turn.sentence.rstrip("."), looks)


def _yearly(today: date, years: int) -> Iterator[Entry]:
    for year in range(1, years + 1):
        yield Entry(f"yearly-{year}", _morning(today + timedelta(days=365 * year)), "Yearly look", "\n".join(YEARLY))


def _exceptions(site: Site) -> Iterator[Entry]:
    for number, item in enumerate(site.exceptions):
        if item.until is not None:
            title = f"Exception ends: {site.label_of(item.device)}"
            yield Entry(f"exception-{number}", _morning(item.until), title, item.reason, item.device)


def _drift(site: Site, today: date, looks: Mapping[str, Sequence[Look]]) -> Iterator[Entry]:
    for key, seen in looks.items():
        found = drift([(look.at, look.offset_s) for look in seen], zone_of(site))
        if found is not None and found.due is not None:
            due = max(found.due.date(), today)
            yield Entry(f"clock-{key}", _morning(due), f"Clock of {site.label_of(key)} is due", found.sentence, key)


def _certificates(site: Site, today: date) -> Iterator[Entry]:
    for tick in site.checklist:
        if tick.item == "certificate-ending" and tick.state == "open":
            day = day_in(tick.note or "")
            name = site.label_of(tick.subject) if tick.subject != "site" else site.about.name
            yield Entry(
                f"certificate-{tick.subject}",
                _morning(max(day - timedelta(days=30), today) if day is not None else today),
                f"Renew the certificate of {name}",
                tick.note or "",
                tick.subject if tick.subject != "site" else "",
            )


def _batteries(site: Site, today: date) -> Iterator[Entry]:
    last: dict[str, date] = {}
    for tick in site.checklist:
        if tick.item in _BATTERIES and tick.state == "done":
            day = day_in(str((tick.model_extra or {}).get(VALUE) or ""))
            if day is not None:
                last[tick.subject] = max(day, last.get(tick.subject, day))
    for key, day in last.items():
        due = max(_in_years(day, BATTERY_YEARS), today)
        about = f"It is of {day:%B %Y}; such batteries last three to five years. Batteries: polarity, fumes."
        yield Entry(f"battery-{key}", _morning(due), f"Battery of {site.label_of(key)}", about, key)


def _asked(site: Site, today: date) -> Iterator[Entry]:
    keys: Counter[str] = Counter()  # two questions of one key are an error that `check` names; each has its entry
    for item in site.asked:
        keys[item.key] += 1
        again = f"-{keys[item.key]}" if keys[item.key] > 1 else ""
        if item.open and item.due is not None:
            title = f"{capital(WHOM[item.of])} owes an answer: {item.question}"
            holds = f"It holds up {item.holds}." if item.holds else ""
            yield Entry(f"asked-{item.key}{again}", _morning(max(item.due, today)), title, holds)


def _in_years(day: date, years: int) -> date:
    try:
        return day.replace(year=day.year + years)
    except ValueError:  # 29 February
        return day.replace(year=day.year + years, day=28)


def day_in(text: str) -> date | None:
    """Return the day that a text names, "2026-03-14", "2026-03", "03/2026" or "2026", None where it names none."""
    found, reverse = _DAY.search(text), _MONTH_FIRST.search(text)
    parts: Sequence[str | None] = found.groups() if found else ()
    if reverse and (found is None or found[2] is None):
        parts = (reverse[2], reverse[1], None)
    if not parts:
        return None
    year, month, day = (int(part) if part else 1 for part in parts)
    try:
        return date(year, month, day)
    except ValueError:
        return None
