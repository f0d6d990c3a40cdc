"""What links to the outside need: an address there, a gateway, an internet connection, names that can be asked for."""

from tutelar.core.links.base import IT, Gap, Need, ResolvedLink
from tutelar.core.site.types import Link


def outside_end(link: Link) -> tuple[str | None, int | None]:
    """Return (address or name, port) of a link's outside end as far as they are known: "203.0.113.9:5060" says both.

    What stands at our own device is its port, never that of whoever is asked outside.
    """
    host, colon, port = (link.at or "").rpartition(":")
    if colon and host and ":" not in host and port.isdigit() and 0 < int(port) < 65536:
        return host, int(port)
    return link.at, link.port


def _where_outside(case: ResolvedLink) -> Gap | None:
    if case.end is not None or case.link.at:
        return None
    whose = {"monitoring-station": "the monitoring station", "call-server": "the customer"}.get(case.link.to, IT)
    return Gap("outside", f"{case.to} gave no address yet", "links", whose)


where_outside = Need(
    "outside", lambda case: f"{case.to.capitalize()} is at {case.link.at or case.address(case.end)}", _where_outside
)


def _outbound(case: ResolvedLink) -> Gap | None:
    """Something outside is reached through a gateway and an internet connection."""
    if case.end is not None:
        return None
    start, site = case.start, case.site
    if start.behind is not None:
        recorder = site.label_of(start.behind)
        return Gap(
            "outbound",
            f"{start.label} is behind {recorder} and has no way out of its own",
            "links",
            never=True,
            nearest=f"Let {recorder} do it",
        )
    network = site.network_by_key.get(start.network or "")
    if network is None:
        return None
    if network.gateway is None:
        return Gap(
            "outbound",
            f"{network.label} has no gateway",
            "survey",
            IT,
            never=True,
            nearest="Ask IT for a gateway, or put it into a network that has one",
        )
    if site.internet is not None and site.internet.connection == "none":
        return Gap(
            "outbound",
            "this site has no internet",
            "survey",
            "the customer",
            never=True,
            nearest="Use a mobile connection",
        )
    if not network.dns and not _is_address(outside_end(case.link)[0]):
        return Gap("outbound", f"{network.label} has no DNS server to ask for {case.to}", "survey", IT)
    return None


def _is_address(text: str | None) -> bool:
    return bool(text) and all(part.isdigit() for part in (text or "").split("."))


def _outbound_met(case: ResolvedLink) -> str:
    network = case.site.network_by_key.get(case.start.network or "")
    gateway = f" through {network.gateway}" if network and network.gateway else ""
    return f"The way out leads{gateway}; IT lets it pass outbound"


outbound = Need("outbound", _outbound_met, _outbound)
