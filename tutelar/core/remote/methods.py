"""The ways of looking at a site from outside: why one takes it, and what it risks (handbook 3.7, 3.11, 4)."""

from collections.abc import Mapping
from typing import NamedTuple

from tutelar.core.site.types import Site

CHOSEN = "x-remote"  # of a site: {"method", "why", "by", "at"}


class Method(NamedTuple):
    """A way of remote access: its name, why one takes it, what it risks."""

    title: str
    reason: str
    risk: str


METHODS: dict[str, Method] = {
    "relay": Method(
        "The maker's relay",
        "The device calls out by itself: nothing is opened in the router, and a shared outside address will do.",
        "The maker carries the pictures; when his service or account is gone, so is remote access. The account is the "
        "customer's own.",
    ),
    "vpn": Method(
        "A VPN into the site",
        "Everything on site is reached as if one stood there, and nothing of it is visible outside.",
        "IT keeps it and its keys; whoever has a key is inside. It needs an own outside address or a meeting point.",
    ),
    "hosted": Method(
        "Hosted management",
        "Many sites under one login, updates and states in one place.",
        "A subscription that ends, and pictures or settings with a third party: the customer agrees in writing.",
    ),
    "forwarding": Method(
        "Ports forwarded from the internet",
        "Only where nothing else can be: an old device, a program that asks for it.",
        "The device stands on the internet with its own faults. Discouraged; never for a web page of administration; "
        "with an owner and a day on which it ends.",
    ),
    "local": Method(
        "On site only",
        "Nobody needs it from outside, or nobody may.",
        "Help from afar is not possible; alarms go by their own paths.",
    ),
}


def method_of(site: Site) -> tuple[str, Mapping[str, str]] | None:
    """Return the way that was chosen for a site, with why, by whom and when; None where nobody chose."""
    said = (site.model_extra or {}).get(CHOSEN)
    if not isinstance(said, Mapping) or said.get("method") not in METHODS:
        return None
    return str(said["method"]), {name: str(said.get(name) or "") for name in ("why", "by", "at")}
