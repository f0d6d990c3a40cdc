"""What may be wrong: faults at devices, switches, networks and the provider, and how often each is met.

The weights follow the order of likelihood of the trade (docs/diagnosis.md): what the site does to a device comes far
before the device itself. They are data: an observations file may name others under `prior`.
"""

from collections.abc import Mapping
from dataclasses import dataclass
from ipaddress import IPv4Address
from typing import Literal, NamedTuple

NOTHING = "nothing"
INTERNET = "internet"
LAPTOP = "laptop"
Scope = Literal["device", "switch", "network", "internet", "laptop"]


class Sort(NamedTuple):
    """A sort of fault: where it may be, how often it is met against the others, and what it is in words."""

    scope: Scope
    weight: float
    says: str  # "{at}" stands for the name of the device or network


SORTS: dict[str, Sort] = {
    "power-off": Sort("device", 2.0, "{at} has no power"),
    "cable": Sort("device", 2.0, "The cable of {at} is cut or badly made"),
    "port-dead": Sort("device", 0.6, "The switch port of {at} has failed"),
    "wrong-vlan": Sort("device", 1.2, "The switch port of {at} is in another network"),
    "wrong-address": Sort("device", 2.0, "{at} is set to another address"),
    "leased-moved": Sort("device", 0.2, "{at} was given another address by the router"),
    "duplicate-address": Sort("device", 1.5, "Something else has the address of {at}"),
    "wrong-prefix": Sort("device", 1.0, "{at} has a wrong subnet mask"),
    "wrong-gateway": Sort("device", 2.0, "{at} has no gateway or a wrong one"),
    "wrong-dns": Sort("device", 1.5, "{at} has no name server (DNS) or a wrong one"),
    "port-changed": Sort("device", 0.8, "A port of {at} is not as planned"),
    "wrong-password": Sort("device", 2.0, "{at} has another password than was noted"),
    "clock-offset": Sort("device", 2.0, "The clock of {at} is wrong"),
    "wrong-date-order": Sort("device", 0.8, "{at} shows day and month the wrong way round"),
    "wrong-slot": Sort("device", 0.7, "{at} is on another channel or number than planned"),
    "not-recording": Sort("device", 1.0, "{at} is shown and not recorded"),
    "recorder-full": Sort("device", 0.5, "There is no room on the disk for {at}"),
    "relay-blocked": Sort("device", 2.5, "The router or firewall blocks remote access of {at} on the way out"),
    "relay-off": Sort("device", 1.0, "Remote access of {at} is switched off"),
    "relay-bound-elsewhere": Sort("device", 0.7, "{at} belongs to another owner's account"),
    "device-dead": Sort("device", 0.3, "{at} itself is broken"),
    "switch-off": Sort("switch", 1.5, "{at} is switched off or has no power"),
    "uplink-cut": Sort("switch", 1.0, "The uplink of {at} is cut"),
    "gateway-down": Sort("network", 1.0, "The gateway of {at} does not answer"),
    "dns-down": Sort("network", 0.8, "The name server (DNS) of {at} does not answer"),
    "provider-down": Sort("internet", 1.2, "The internet provider's line is down"),
    "laptop-wrong": Sort("laptop", 0.5, "The laptop is in another network, or its own address is wrong"),
}
UNSEEN: dict[str, str] = {  # no check of the list shows these by itself
    "wrong-name": "{at} carries another name than planned",
    NOTHING: "Nothing is wrong that these checks would show",
}
SWITCH_FAULTS = frozenset({"switch-off", "uplink-cut"})
WEIGHT_OF_NOTHING = 0.3  # where something strange was seen
NOTHING_STRANGE = 0.5  # of nothing being wrong against all faults together, where nothing strange was seen
LEASED_MOVED = 2.5  # weight of it at devices that take a lease
UNTIED = 0.3  # of a relay's fault at a device that nobody planned remote access for
OF_A_SWITCH = 0.3  # of power and cable at a switch: it is called "switch off" and "uplink cut" there
PAIR = 0.05  # weight of a second fault against its weight alone, where something seen calls for it
PAIR_UNCALLED = 0.006  # the same over all strange places, where everything seen is explained without it


@dataclass(frozen=True, slots=True)
class Cause:
    """One fault at one place; values only where somebody gave them, else the usual ones of its sort."""

    fault: str
    at: str
    address: IPv4Address | None = None
    prefix: int | None = None
    gateway: IPv4Address | None = None
    service: str | None = None
    other: str | None = None  # whose address it took (`with`), or into which network it is plugged
    loss: float | None = None

    @property
    def name(self) -> tuple[str, str]:
        """What it is called: the sort of fault and the place."""
        return self.fault, self.at

    def said(self, names: Mapping[str, str]) -> str:
        """Return it as a sentence without a full stop; `names` has devices and networks by key."""
        words = SORTS[self.fault].says if self.fault in SORTS else UNSEEN.get(self.fault, "{at}: " + self.fault)
        said = words.replace("{at}", names.get(self.at, self.at))
        return said[:1].upper() + said[1:]


Hypothesis = tuple[Cause, ...]  # of none, one or two faults at once
