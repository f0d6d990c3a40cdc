"""Remote access through a maker's relay: registered from inside, owned by nobody else, seen on mobile data."""

from collections.abc import Iterator

from tutelar.core.line import Line
from tutelar.core.links.base import EndValue, Gap, Kind, Need, ResolvedLink, Sent, Test
from tutelar.core.links.needs import hardware, set_up
from tutelar.core.links.outward import outbound
from tutelar.core.links.reached import reached
from tutelar.core.site.base import FAMILIES

RELAY_PORT = 443


def _released(case: ResolvedLink) -> Gap | None:
    if not case.start.used:
        return None
    said = f"{case.start.label} was bought used and may still belong to its former owner's account"
    return Gap("released", said, "kit", "the former owner", nearest="Let the former owner release it, then reset it")


released = Need("released", lambda case: "It belongs to nobody else's account", _released)


def _values(case: ResolvedLink) -> Iterator[EndValue]:
    network = case.site.network_by_key.get(case.start.network or "")
    if network is not None and network.gateway is not None:
        yield EndValue("from", Line("gateway", "Default gateway", str(network.gateway), "The way out."), elsewhere=True)
    if network is not None and network.dns:
        yield EndValue(
            "from", Line("dns", "DNS server", ", ".join(map(str, network.dns)), "Finds the relay."), elsewhere=True
        )
    yield EndValue("from", Line("relay-on", "Remote access through the relay", "On", "Switched off as delivered."))
    if case.start.serial:
        yield EndValue(
            "to",
            Line(
                f"relay-{case.start.key}",
                "Serial in the customer's account",
                case.start.serial,
                "Registered by its QR code, in the customer's own account.",
            ),
        )


def _sends(case: ResolvedLink) -> Iterator[Sent]:
    who = case.start.behind or case.start.key
    port = case.site.services_of(case.start).get("relay", RELAY_PORT)
    yield Sent(who, case.link.to, "tcp", port, "remote access through the relay, opened from inside")


KIND = Kind(
    key="relay-registration",
    word="relays",
    title="Remote access through the relay",
    says="{from} is reached from outside through {to}",
    group="Remote access",
    starts=FAMILIES,
    ends=None,
    outside=frozenset({"relay", "management", "monitoring-station", "call-server"}),
    needs=(outbound, reached, set_up, released, hardware),
    values=_values,
    tests=(
        Test("online", "Online at the device", lambda case: f"{case.start.label} itself says it is online"),
        Test("mobile", "Picture on mobile data", lambda case: f"{case.start.label} on a phone with Wi-Fi switched off"),
    ),
    renumbered="address of the relay",
    sends=_sends,
)
