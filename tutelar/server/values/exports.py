"""Coming changes of the clocks, for a calendar."""

from datetime import timedelta
from urllib.parse import urlsplit

from django.utils import timezone
from icalendar import Alarm, Calendar, Event

from tutelar.core.clock import UnknownZone, coming
from tutelar.core.wording import sentence
from tutelar.server import models
from tutelar.server.files import Asked, Export
from tutelar.server.store import documents
from tutelar.server.store.writes import WriteRejected

YEARS = 3


def _knows_its_zone(row: models.Site) -> bool:
    return documents.document(row).about.time_zone is not None


def _is_here_only(base: str) -> bool:
    """Whether an address leads to the machine that opens it: on anybody else's it leads nowhere."""
    host = urlsplit(base).hostname or ""
    return host == "localhost" or host.startswith("127.")


def clock_changes(row: models.Site, asked: Asked) -> bytes:
    """Return the coming changes of the site's clocks as iCalendar (RFC 5545): an hour after each, what to look at.

    Raises Rejected where there are none to come.
    """
    site, now = documents.document(row), timezone.now()
    if site.about.time_zone is None:
        raise WriteRejected("The site's time zone is not known yet; ask for it in the survey.")
    try:
        turns = coming(site, now, YEARS)
    except UnknownZone as error:
        raise WriteRejected(sentence(error)) from None
    if not turns:
        raise WriteRejected(f"The clocks of {site.about.time_zone} are not turned in the next {YEARS} years.")
    calendar = Calendar()
    calendar.add("prodid", "-//Tutelar//Clock changes//EN")
    calendar.add("version", "2.0")
    for turn in turns:
        event = Event()
        event.add("uid", f"{row.key}-{turn.at:%Y%m%dT%H%M%S}@tutelar")
        event.add("dtstamp", now)
        event.add("dtstart", turn.at)
        event.add("dtend", turn.at + timedelta(hours=1))
        event.add("summary", turn.sentence.rstrip("."))
        looks = [f"{site.label_of(look.device)} ({look.device}): {look.why}" for look in turn.looks]
        event.add("description", "\n".join([turn.sentence, "Look at:", *looks]))
        if not _is_here_only(asked.base):
            event.add("url", f"{asked.base}sites/{row.key}/settings?part=clocks")
        alarm = Alarm()
        alarm.add("action", "DISPLAY")
        alarm.add("description", turn.sentence)
        alarm.add("trigger", timedelta(days=-1))
        event.add_component(alarm)
        calendar.add_component(event)
    return bytes(calendar.to_ical())


EXPORTS = (Export("clocks", "Coming changes of the clocks", {"ics": clock_changes}, offered=_knows_its_zone),)
