"""The diary of a site as a calendar (iCalendar, RFC 5545)."""

from collections.abc import Mapping, Sequence
from datetime import UTC, date, datetime, time, timedelta

from icalendar import Calendar, Event

from tutelar.core.later.diary import diary
from tutelar.core.later.footage import Look
from tutelar.core.site.types import Site


def calendar_ics(site: Site, today: date, looks: Mapping[str, Sequence[Look]] | None = None) -> bytes:
    """Return the diary as a calendar. Same state and day, same bytes."""
    calendar = Calendar()
    calendar.add("prodid", "-//Tutelar//Handover//EN")
    calendar.add("version", "2.0")
    morning = datetime.combine(today, time(9), UTC)
    for entry in diary(site, today, looks=looks):
        event = Event()
        event.add("uid", f"{site.about.key}-{entry.key}@tutelar")
        event.add("dtstamp", morning)
        event.add("dtstart", entry.at)
        event.add("dtend", entry.at + timedelta(hours=1))
        event.add("summary", entry.title)
        event.add("description", entry.about)
        calendar.add_component(event)
    return bytes(calendar.to_ical())
