"""A panel, recorder or camera at a management program: it is registered there by its hardware address."""

from collections.abc import Iterator

from tutelar.core.line import Line
from tutelar.core.links.base import EndValue, Kind, ResolvedLink, Sent, Test
from tutelar.core.links.needs import address, hardware, login, logins, route, set_up
from tutelar.core.links.outward import where_outside
from tutelar.core.links.partner_values import entry_key
from tutelar.core.links.reached import reached


def values(case: ResolvedLink) -> Iterator[EndValue]:
    """Yield where the manager is, and by what it knows the managed one."""
    at = case.address(case.end) if case.end is not None else case.link.at
    if at:
        yield EndValue("from", Line(entry_key(case), f"Managed by {case.to}", at, "Where it asks and reports."))
    identity = case.start.mac or case.start.serial
    if identity:
        yield EndValue(
            "to",
            Line(
                f"listed-manages-{case.start.key}",
                f"{case.start.label}, hardware address or serial",
                identity,
                "The program registers it by this.",
            ),
        )
    if own := case.address(case.start):
        yield EndValue(
            "to",
            Line(
                f"listed-manages-{case.start.key}-address",
                f"{case.start.label}, address",
                own,
                "Where the program reaches it.",
            ),
        )


def sends(case: ResolvedLink) -> Iterator[Sent]:
    """Yield what goes over the network: the program's conversation with the panel."""
    services = case.site.services_of(case.end) if case.end else case.site.services_of(case.start)
    yield Sent(case.start.key, case.link.to, "tcp", services.get("control"), "doors and their management program")


KIND = Kind(
    key="management-program",
    word="manages",
    title="Panel at its management program",
    says="{from} is managed by {to}",
    group="Doors",
    starts=frozenset(
        {
            "panel",
            "camera",
            "recorder",
            "software-recorder",
            "encoder",
            "alarm-hub",
            "door-station",
            "doorbell",
            "indoor-monitor",
            "reader",
            "keypad",
            "switch",
            "call-server",
            "joystick-desk",
            "other",
        }
    ),
    ends=frozenset({"software-recorder", "recorder", "call-server", "alarm-hub", "other"}),
    outside=frozenset({"management"}),
    needs=(where_outside, route, reached, address, set_up, login, logins, hardware),
    asks=("control", "web-tls", "web"),
    logs_in="manages",
    values=values,
    tests=(
        Test(
            "registered",
            "Online and registered",
            lambda case: f"{case.to} shows {case.start.label} online, by {case.start.mac or case.start.serial}",
        ),
        Test("sent", "Changes are sent", lambda case: f"a change made in {case.to} has arrived at {case.start.label}"),
    ),
    renumbered="address of the manager",
    sends=sends,
    rank=60,
)
