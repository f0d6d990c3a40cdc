"""Questions to others: who has to be asked what before the van leaves, and what each answer holds up.

Source: docs/sources.md, survey. What is suggested is data with the words of the job cards; what was asked stands in the
document, with its day, the day it is due, and its answer.
"""

from collections.abc import Iterable
from datetime import date
from typing import NamedTuple

from tutelar.core.cards.facts import device_facts, site_facts
from tutelar.core.site.closing import Asked, Whom
from tutelar.core.site.types import Site
from tutelar.core.wording import spoken_date


class Suggested(NamedTuple):
    """A question that is usual: to whom, what, what it holds up, and the words of a site or device that call for it."""

    key: str
    of: Whom
    question: str
    holds: str
    when: str


SUGGESTED: tuple[Suggested, ...] = (
    Suggested(
        "range",
        "it",
        "Which range, lease pool and reserved addresses hold for our devices?",
        "every address",
        "kit",
    ),
    Suggested(
        "patching",
        "it",
        "Which sockets and switch ports are ours, in which VLAN, and who patches them?",
        "wiring",
        "kit",
    ),
    Suggested(
        "outbound",
        "it",
        "What is let out to the internet, and may the flows of our list pass?",
        "remote access",
        "relayed",
    ),
    Suggested(
        "on-the-day",
        "it",
        "Who is there on the day, and on which number?",
        "the day itself",
        "others-network",
    ),
    Suggested(
        "wifi-key",
        "it",
        "Which Wi-Fi network is meant, who holds its key, and how often is it changed?",
        "Wi-Fi",
        "wifi",
    ),
    Suggested(
        "blocked",
        "provider",
        "Which ports are blocked, and who may have them opened?",
        "remote access",
        "forwards",
    ),
    Suggested(
        "own-address",
        "provider",
        "Has the line an outside address of its own?",
        "forwarded ports",
        "forwards",
    ),
    Suggested(
        "line-hours",
        "provider",
        "In which hours is the line looked after, and on which number?",
        "faults",
        "internet",
    ),
    Suggested(
        "receiver",
        "station",
        "Does the receiver read this maker's signals, and under which account?",
        "the alarm",
        "reports",
    ),
    Suggested(
        "test-procedure",
        "station",
        "How is the system put on test, for how long, and who calls back?",
        "the test",
        "reports",
    ),
    Suggested(
        "sim",
        "station",
        "Which SIM cards, of which networks, come from whom?",
        "the second path",
        "mobile-paths",
    ),
    Suggested(
        "account",
        "carrier",
        "Which account, extension, transport and certificate does the exchange want?",
        "calls",
        "call-server",
    ),
    Suggested(
        "compatible",
        "distributor",
        "Does this recorder take these cameras, and do they come up by themselves?",
        "channels",
        "any-recorder",
    ),
    Suggested(
        "stock",
        "distributor",
        "When do drives and licences arrive?",
        "recording",
        "bays",
    ),
    Suggested(
        "drilling",
        "owner",
        "Where may be drilled, and what lies behind the walls?",
        "mounting",
        "camera|door-station|panel",
    ),
    Suggested(
        "access-times",
        "owner",
        "At which times may ladders stand, and who opens the doors?",
        "mounting",
        "kit",
    ),
    Suggested(
        "escape",
        "owner",
        "Who decides about escape doors and the fire panel's contact?",
        "doors",
        "escape-doors",
    ),
)


def suggested(site: Site) -> list[Suggested]:
    """Return the usual questions that this site calls for and nobody wrote down yet."""
    of_site = site_facts(site)
    facts = of_site.union(*(device_facts(site, device, of_site) for device in site.devices))
    there = {item.key for item in site.asked}
    return [item for item in SUGGESTED if item.key not in there and any(word in facts for word in item.when.split("|"))]


def state_of(item: Asked, today: date) -> str:
    """Return how a question stands: "answered", "overdue", "asked", or "not asked"."""
    if not item.open:
        return "answered"
    if item.due is not None and item.due < today:
        return "overdue"
    return "asked" if item.asked is not None else "not asked"


def next_of(questions: Iterable[Asked], today: date) -> Asked | None:
    """Return the question whose turn it is: one that is overdue, one that nobody asked yet, or one that waits."""
    by_state = {state_of(item, today): item for item in reversed([*questions])}
    return next((by_state[state] for state in ("overdue", "not asked", "asked") if state in by_state), None)


def letter_line(item: Asked) -> str:
    """Return a question as a letter asks it: with what it holds up, and until when it is wanted."""
    why = f" It holds up {item.holds.rstrip('.')}." if item.holds else ""
    until = f" Wanted by {spoken_date(item.due)}." if item.due is not None and item.open else ""
    return f"{item.question}{why}{until}"
