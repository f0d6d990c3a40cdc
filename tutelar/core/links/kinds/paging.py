"""A paging zone: whoever speaks sends to one multicast address and port, and all of the zone listen there.

Multicast addresses of a site lie in 239.0.0.0/8 (RFC 2365); the last 23 bits tell them apart on the cable (RFC 1112).
"""

from collections.abc import Iterator

from tutelar.core.line import Line
from tutelar.core.links.base import IT, End, EndValue, Gap, Kind, Need, Number, ResolvedLink, Sent, Test
from tutelar.core.links.needs import limit_of, set_up
from tutelar.core.links.zones import zone_address, zone_problem


def _zones(case: ResolvedLink) -> tuple[int, int | None]:
    first, last = limit_of(case.site, case.end, "zones")
    return first if first is not None else 1, last


def _zone(case: ResolvedLink) -> Gap | None:
    if case.link.slot is None:
        return Gap("number", "no zone yet")
    first, last = _zones(case)
    if case.link.slot < first or (last is not None and case.link.slot > last):
        span = f"{first} to {last}" if last is not None else f"{first} and up"
        return Gap("number", f"{case.to} has the zones {span}, not {case.link.slot}", never=True)
    said = zone_problem(case.known, case.link)
    return Gap("multicast", said, never=True, nearest="Give each zone an address and port of its own") if said else None


zone = Need("multicast", lambda case: f"Zone {case.link.slot} has {_ground_words(case)} to itself", _zone)


def _ground_words(case: ResolvedLink) -> str:
    address, port = zone_address(case.site, case.link)
    return f"{address} port {port}"


def _hears(case: ResolvedLink) -> Gap | None:
    start, end = case.start, case.end
    if end is None or start.network == end.network:
        return None
    said = f"{case.to} is in another network, and multicast stops at its edge"
    return Gap("hears", said, "survey", IT, nearest="Ask IT to route multicast, or move one of the two")


hears = Need("hears", lambda case: "Both hear the same multicast", _hears)


def _values(case: ResolvedLink) -> Iterator[EndValue]:
    if case.link.slot is None:
        return
    address, port = zone_address(case.site, case.link)
    what = f"Zone {case.link.slot}"
    both: tuple[tuple[End, str], ...] = (("from", "speaks"), ("to", "listens"))
    for end, word in both:
        key = f"zone-{case.link.slot}-{word}"
        yield EndValue(end, Line(key, f"{what}, multicast address", str(address), f"It {word} there."))
        yield EndValue(end, Line(f"{key}-port", f"{what}, port", str(port), "The same on all of the zone."))
        if case.link.priority is not None:
            yield EndValue(
                end, Line(f"{key}-priority", f"{what}, priority", str(case.link.priority), "The higher interrupts.")
            )


def _sends(case: ResolvedLink) -> Iterator[Sent]:
    yield Sent(case.start.key, case.link.to, "udp", case.site.services_of(case.start).get("paging"), "announcements")


KIND = Kind(
    key="paging",
    word="pages",
    title="Paging zone",
    says="{from} is heard on {to}",
    group="Announcements",
    starts=frozenset(
        {
            "door-station",
            "doorbell",
            "indoor-monitor",
            "call-server",
            "panel",
            "alarm-hub",
            "joystick-desk",
            "recorder",
            "software-recorder",
            "other",
        }
    ),
    ends=None,
    needs=(zone, hears, set_up),
    number=Number("zone", _zones),
    values=_values,
    tests=(Test("heard", "Page heard", lambda case: f"a page to zone {case.link.slot} is heard at {case.to}"),),
    renumbered="address of the paged station",
    sends=_sends,
)
