"""The questions to the customer and the IT person, as they are spoken, and their answers so far.

Source: docs/sources.md, survey.

A question has blanks; each blank is one value of the document, or "there is none". What is not known stays
unknown: a default that the document would use is never shown as an answer.
"""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, replace
from typing import Any

from tutelar.core.answers import Kind, shown, value_at
from tutelar.core.site.once import once_a_site
from tutelar.core.site.survey import AnswerSource
from tutelar.core.site.types import Network, Site
from tutelar.core.site.writing import as_document


@dataclass(frozen=True, slots=True)
class Blank:
    """One value that is asked for. `before` and `after` are the words around it when the answer is read aloud;
    `asks` names it where it is missing ("the time source of Office"); blanks without it may stay empty."""

    path: str
    label: str
    kind: Kind
    before: str = ""
    after: str = ""
    asks: str = ""
    options: tuple[tuple[str, str], ...] = ()
    can_be_none: bool = False
    none: bool = False
    value: str = ""
    example: str = ""
    overtaken: str | None = None  # what was said here, where the site has another value by now; "": there is none

    @property
    def open(self) -> bool:
        """Whether it is asked for and not answered yet."""
        return bool(self.asks) and not self.value and not self.none


@dataclass(frozen=True, slots=True)
class Question:
    """One question: `about` is what its consequences concern ("site", "internet", "power", "people" or a
    network's key), `caution` what has to be said where the answer can hurt somebody."""

    key: str
    about: str
    margin: str
    words: str
    blanks: tuple[Blank, ...]
    told: AnswerSource
    caution: str = ""

    @property
    def open(self) -> tuple[Blank, ...]:
        """The blanks that still have to be asked for."""
        return tuple(blank for blank in self.blanks if blank.open)


def pools_known(site: Site, network: Network) -> bool:
    """Return whether anybody said which addresses a network leases, or that it leases none."""
    return "pools" in network.model_fields_set or f"networks.{network.key}.pools" in site.survey.none


@once_a_site
def questions(site: Site) -> tuple[Question, ...]:
    """Return all questions in the order of the conversation, with what is known of each answer."""
    document = as_document(site)
    none = frozenset(site.survey.none)
    found = []
    for key, about, margin, words, caution, blanks in _asked(site):
        told = site.survey.told.get(key, AnswerSource())
        filled = tuple(_filled(blank, document, none, told.said or {}) for blank in blanks)
        found.append(Question(key, about, margin, words, filled, told, caution))
    return tuple(found)


def _filled(blank: Blank, document: Mapping[str, Any], none: frozenset[str], said: Mapping[str, str]) -> Blank:
    value = value_at(document, blank.path)
    words = shown(value, blank.kind)
    then = said.get(blank.path, "" if blank.path in none else None)
    return replace(
        blank,
        none=not words and (blank.path in none or (blank.can_be_none and value == [])),
        value=words,
        overtaken=then if then is not None and then != words else None,
    )


_Asked = tuple[str, str, str, str, str, tuple[Blank, ...]]


def _asked(site: Site) -> Iterator[_Asked]:
    yield from _SITE
    for network in site.networks:
        yield from _of_network(network.key, network.label)
    yield from _OUTSIDE
    yield from _PEOPLE


_SITE: tuple[_Asked, ...] = (
    ("names", "site", "Site", "What is this site called, and which places does it have?", "", (
        Blank("site.name", "Name", "text", "it is called", asks="the name of the site"),
        Blank("site.places", "Places in walking order, a line each", "lines", "places:",
              asks="the places in walking order", example="Ticket hall"),
    )),
    ("installer", "site", "Installer", "Who installs, and under which telephone number?", "", (
        Blank("survey.installer", "Installer", "text", "installed by"),
        Blank("survey.installer_telephone", "Telephone", "text", "telephone"),
    )),
    ("network-people", "site", "Who", "Who runs the network, and what is on it already?", "", (
        Blank("survey.network_run_by", "Who runs the network", "text", "the network is run by",
              asks="who runs the network"),
        Blank("survey.taken_over", "Devices in use that are taken over", "yes-no", "devices to take over:",
              asks="whether devices in use are taken over"),
    )),
)  # fmt: skip


def _of_network(key: str, label: str) -> Iterator[_Asked]:
    path = f"networks.{key}"
    yield (f"{path}.range", key, label, "Which network do our devices go on?", "", (
        Blank(f"{path}.cidr", "Range", "network", "it is", asks=f"the range of {label}", example="10.62.8.0/24"),
        Blank(f"{path}.name", "What people call it", "text", "we call it"),
        Blank(f"{path}.vlan", "VLAN", "number", "VLAN"),
        Blank(f"{path}.gateway", "Gateway", "address", "gateway", asks=f"the gateway of {label}",
              can_be_none=True, example="10.62.8.1"),
        Blank(f"{path}.dns", "DNS servers", "addresses", "DNS server", asks=f"the DNS servers of {label}",
              can_be_none=True, example="10.62.8.1"),
    ))  # fmt: skip
    yield (f"{path}.pools", key, "DHCP", f"Which addresses of {label} are the DHCP pool?", "", (
        Blank(f"{path}.pools", "DHCP pools, first–last, a line each", "ranges", "DHCP pool",
              asks=f"the DHCP pool of {label}", can_be_none=True, example="10.62.8.150–10.62.8.199"),
    ))  # fmt: skip
    yield (f"{path}.reserved", key, "Kept", f"Which addresses of {label} does IT keep for its own devices?", "", (
        Blank(f"{path}.reserved", "Kept by IT, first–last and why, a line each", "kept", "IT keeps",
              asks=f"the addresses that IT keeps in {label}", can_be_none=True, example="10.62.8.2–10.62.8.9 switches"),
    ))  # fmt: skip
    yield (f"{path}.time", key, "Clock", f"Which time server do our devices in {label} use?", "", (
        Blank(f"{path}.time_source", "Time server", "source", "time server", asks=f"the time server of {label}",
              can_be_none=True, example="10.62.8.1"),
    ))  # fmt: skip


_OUTSIDE: tuple[_Asked, ...] = (
    ("internet", "internet", "Outside", "How is this site connected to the internet?", "", (
        Blank("internet.connection", "Connection", "choice", "through", asks="the internet connection",
              options=(("line", "a line"), ("mobile", "a mobile connection"), ("none", "nothing: no internet"))),
        Blank("internet.outside_address", "Router's public address", "address", "public address",
              asks="the router's public address", example="100.72.4.9"),
        Blank("internet.upstream_mbps", "Upstream, Mbit/s", "number", "upstream", "Mbit/s",
              asks="the upstream speed"),
        Blank("internet.mtu", "Largest packet (MTU), bytes", "whole", "packets of up to", "bytes", example="1492"),
        Blank("survey.router_changed_by", "Who may change the router", "text", "changed by",
              asks="who may change the router"),
        Blank("internet.router_ports", "Ports the router uses itself", "ports", "its own ports are"),
        Blank("internet.blocked_ports", "Ports that are blocked", "ports", "blocked are"),
    )),
    ("clock", "site", "Clock", "Which time zone, date format and mains frequency does the site use?", "", (
        Blank("site.time_zone", "Time zone", "text", "time zone", asks="the time zone", example="Europe/Dublin"),
        Blank("site.date_order", "Date order", "choice", "dates as", asks="the date order",
              options=(("DMY", "day month year"), ("MDY", "month day year"), ("YMD", "year month day"))),
        Blank("site.clock", "Clock", "choice", "clock of", asks="whether the clock has 12 or 24 hours",
              options=(("24h", "24 hours"), ("12h", "12 hours"))),
        Blank("site.mains_hz", "Mains", "hertz", "mains at", "Hz", asks="the mains frequency",
              options=(("50", "50 Hz"), ("60", "60 Hz"))),
        Blank("site.units", "Units", "choice", "lengths in", asks="the units",
              options=(("metric", "metres"), ("imperial", "feet"))),
    )),
    ("power", "power", "Power", "Which powered switch ports are free, and how are cables and cabinets?",
     "Mains work, earthing and fixed wiring are for licensed people under the local code.", (
        Blank("survey.powered_ports", "Free powered ports", "number", "there are", "free powered ports",
              asks="the free powered ports"),
        Blank("survey.powered_w", "Watts left for them", "number", "with", "W left", asks="the watts left for them"),
        Blank("survey.cable_runs", "Cable runs and their lengths", "text", "cables:",
              asks="the cable runs and their lengths"),
        Blank("survey.mains_outlets", "Mains outlets", "text", "outlets:", asks="the mains outlets"),
        Blank("survey.earthing", "Earthing point", "text", "earth:", asks="the earthing point"),
        Blank("survey.cabinets", "Cabinets", "text", "cabinets:", asks="the cabinets"),
    )),
    ("addressing", "addressing", "Method", "How do our devices get their addresses?", "", (
        Blank("policy.addressing", "Addresses are", "choice", "they are", asks="how the devices get their addresses",
              options=(("fixed", "set by hand on each device"), ("reserved", "reserved in the router"),
                       ("leased", "leased by DHCP"))),
    )),
)  # fmt: skip

_PEOPLE: tuple[_Asked, ...] = (
    ("remote", "remote", "Remote viewing", "Who needs remote viewing?", "", (
        Blank("survey.remote_viewing", "Who, separated by commas", "people", "remote viewing for",
              asks="who needs remote viewing", can_be_none=True),
    )),
    ("retention", "retention", "Retention", "How many days must recordings be kept?", "", (
        Blank("survey.retention_days", "Days", "number", "for", "days", asks="the retention wanted"),
    )),
    ("audio", "audio", "Sound", "May sound be recorded?",
     "Recording sound is lawful only where local privacy law allows it; the customer answers for it.", (
        Blank("survey.audio", "Sound", "choice", "sound is", asks="whether sound may be recorded",
              options=(("allowed", "allowed"), ("forbidden", "not allowed"))),
    )),
    ("escape", "escape", "Escape", "Which doors are on an escape route?",
     "Escape doors open from inside without power, credential or network. Local fire code and licensed people decide.",
     (
        Blank("survey.escape_doors", "Doors, separated by commas", "people", "on an escape route:",
              asks="the doors on escape routes", can_be_none=True),
    )),
    ("alarms", "alarms", "Alarms", "Who monitors the alarms?", "", (
        Blank("survey.alarms_watched_by", "Who", "text", "alarms are monitored by", asks="who monitors the alarms",
              can_be_none=True),
    )),
)  # fmt: skip
