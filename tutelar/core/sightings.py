"""What a table from the field says about the plan: who stands where, who is a stranger, who was not seen."""

from collections.abc import Sequence
from dataclasses import dataclass
from ipaddress import IPv4Address
from typing import Any, Literal

from tutelar.core.addressing import Plan
from tutelar.core.addressing.subnet import Subnet, network_ground
from tutelar.core.kit.names import Stickers
from tutelar.core.site.model import Model
from tutelar.core.site.types import Device, Site
from tutelar.core.wording import listed

Kind = Literal[
    "taken", "elsewhere", "stale", "factory", "kin", "stranger", "unread", "leased", "expected", "router", "foreign"
]
ORDER: tuple[Kind, ...] = (
    "taken",
    "elsewhere",
    "stale",
    "factory",
    "unread",
    "kin",
    "stranger",
    "leased",
    "expected",
    "router",
    "foreign",
)
MAKER_DIGITS = 8  # the first three bytes of a hardware address name its maker (IEEE 802, OUI)


@dataclass(frozen=True, slots=True)
class Sighting:
    """One line of a table: an address, the hardware address behind it, the name it gave itself, and whether the table
    calls the address leased (None: it does not say)."""

    address: str
    mac: str
    name: str | None = None
    leased: bool | None = None


@dataclass(frozen=True, slots=True)
class Finding:
    """What one sighting means. `device` is the one it concerns; `set_address` and `set_mac` say that the device
    may be given what was seen; `keep` that the address may be kept free for the stranger; `take` that it is nobody's
    and may be taken over as a device, `leased` that its address is one the DHCP server chose."""

    kind: Kind
    address: str
    mac: str
    name: str | None
    device: str | None
    sentence: str
    network: str | None = None
    set_address: bool = False
    set_mac: bool = False
    keep: bool = False
    take: bool = False
    leased: bool = False


@dataclass(frozen=True, slots=True)
class Findings:
    """All findings, the ones to act on first, and the devices that should have been in the table and were not."""

    rows: tuple[Finding, ...]
    unseen: tuple[str, ...]


def findings(site: Site, planned: Plan, seen: Sequence[Sighting]) -> Findings:
    """Return what the sightings mean for the site with the addresses of its plan."""
    judge = _Judge(site, planned)
    rows = [judge.finding(item) for item in seen]
    rows.sort(key=lambda row: (ORDER.index(row.kind), int(IPv4Address(row.address)), row.mac))
    macs = {item.mac for item in seen}
    grounds = {row.network for row in rows if row.network}
    unseen = [
        device.key
        for device in site.walking_order(list(site.devices))
        if device.network in grounds and device.network_mac and device.network_mac not in macs
    ]
    return Findings(tuple(rows), tuple(unseen))


def taken_over(site: Site, planned: Plan, seen: Sequence[Sighting], model: Model) -> list[dict[str, Any]]:
    """Return the devices, as the document writes them, that the unknown ones among the sightings become: of this model,
    with the names they gave themselves. One whose address the DHCP server chose has none of its own."""
    stickers = Stickers(device.key for device in site.devices)
    parts = []
    for row in findings(site, planned, seen).rows:
        if not row.take:
            continue
        key = stickers.next(model.family)
        stickers.take(key)
        where = {"addressing": "leased"} if row.leased else {"addressing": "fixed", "address": row.address}
        parts.append(
            {"key": key, "model": model.key, "name": row.name, "network": row.network, "mac": row.mac, **where}
        )
    return parts


class _Judge:
    def __init__(self, site: Site, planned: Plan) -> None:
        self.site = site
        self.grounds = {key: network_ground(network) for key, network in site.network_by_key.items()}
        self.by_mac = {mac: device for device in site.devices for mac in device.macs}
        self.planned = {item.device: item.address for item in planned.assignments}
        self.holder = {
            item.address: site.device_by_key[item.device]
            for item in planned.assignments
            if site.device_by_key[item.device].behind is None
        }
        self.makers: dict[str, dict[str, None]] = {}
        for device in site.devices:
            model = site.model_of(device)
            if device.mac and model:
                self.makers.setdefault(device.mac[:MAKER_DIGITS], {})[model.maker or model.label] = None
        self.factory: dict[str, list[str]] = {}
        for model in site.models:
            if model.factory and model.factory.address:
                self.factory.setdefault(str(model.factory.address), []).append(model.label)

    def ground(self, address: str) -> Subnet | None:
        """Return the site network in which an address lies."""
        network = self.site.network_of(IPv4Address(address))
        return self.grounds[network.key] if network else None

    def finding(self, item: Sighting) -> Finding:
        kind, device, sentence, marks = self._judged(item)
        ground = self.ground(item.address)
        return Finding(
            kind,
            item.address,
            item.mac,
            item.name,
            device.key if device else None,
            sentence,
            ground.key if ground else None,
            "address" in marks,
            "mac" in marks,
            "keep" in marks,
            device is None and ground is not None and kind in ("kin", "stranger", "factory"),
            self._is_leased(item),
        )

    def _is_leased(self, item: Sighting) -> bool:
        """Whether the DHCP server chose the address: the table says so, or it lies in a pool and nobody says not."""
        ground = self.ground(item.address)
        in_pool = ground is not None and ground.obstacle(int(IPv4Address(item.address))) == "address.in-pool"
        return in_pool if item.leased is None else item.leased

    def _judged(self, item: Sighting) -> tuple[Kind, Device | None, str, frozenset[str]]:
        device = self.by_mac.get(item.mac)
        if device is None:
            return self._strange(item)
        kind, _, said, marks = self._known(item, device)
        if device.medium != "wifi" and len(device.macs) == 1:
            return kind, device, said, marks
        by = "Wi-Fi" if item.mac == device.wifi_mac else "cable"
        if by == "cable" and device.medium == "wifi":
            said = (
                f"{device.label} held {item.address} by its cable ({item.mac}); it is on Wi-Fi now, so that lease is "
                f"stale: let it go, and look for {device.wifi_mac or 'its Wi-Fi address'}."
            )
            return "stale", device, said, frozenset()
        return kind, device, f"{said[:-1]}, seen by its {by} address.", marks

    def _known(self, item: Sighting, device: Device) -> tuple[Kind, Device | None, str, frozenset[str]]:
        wanted = self.planned.get(device.key)
        if device.addressing == "leased" and device.behind is None:
            return "leased", device, f"{device.label} has a DHCP lease of {item.address}.", frozenset()
        if wanted == item.address:
            return "expected", device, f"{device.label} stands at {item.address}, as planned.", frozenset()
        if item.address in self.factory:
            return (
                "factory",
                device,
                f"{device.label} still stands at its factory address {item.address}; "
                f"{wanted or 'no address'} is planned.",
                frozenset(),
            )
        there = f"; {wanted} is planned" if wanted else ""
        if device.behind is not None:
            recorder = self.site.label_of(device.behind)
            said = f"{device.label} belongs behind {recorder} and is seen at {item.address} in the site's network."
            return "elsewhere", device, said, frozenset()
        free = item.address not in self.holder and not device.locked
        marks = self._marks("address", item.address) if free else frozenset[str]()
        return "elsewhere", device, f"{device.label} is at {item.address}{there}.", marks

    def _strange(self, item: Sighting) -> tuple[Kind, Device | None, str, frozenset[str]]:
        who = f"{item.mac} ({item.name})" if item.name else item.mac
        holder = self.holder.get(item.address)
        if holder is not None and holder.medium == "wifi" and not holder.wifi_mac:
            said = f"{holder.label} may be the one at {item.address}: {who}. Its Wi-Fi address is not known yet."
            return "unread", holder, said, frozenset()
        if holder is not None and not holder.network_mac:
            said = f"{holder.label} may be the one at {item.address}: {who}. Its label is not read yet."
            return "unread", holder, said, frozenset({"mac"})
        if holder is not None:
            said = f"{who} holds {item.address}, which is planned for {holder.label} ({holder.network_mac})."
            return "taken", holder, said, self._marks("keep", item.address)
        ground = self.ground(item.address)
        if item.address in self.factory:
            models = " or ".join(dict.fromkeys(self.factory[item.address]))
            return "factory", None, f"{who} is at {item.address}, the factory address of {models}.", frozenset()
        if ground is None:
            return "foreign", None, f"{who} is at {item.address}, in none of this site's networks.", frozenset()
        obstacle = ground.obstacle(int(IPv4Address(item.address)))
        if obstacle == "address.gateway":
            return "router", None, f"{who} is the router of {ground.label}.", frozenset()
        makers = self.makers.get(item.mac[:MAKER_DIGITS])
        if obstacle == "address.in-pool":
            inside = "in the DHCP pool"
        else:
            inside = "leased by the DHCP server" if item.leased else "set by hand, it seems"
        marks = self._marks("keep", item.address)
        if makers:
            ours = listed(list(makers))
            said = f"{who} at {item.address} is in no kit list, but of the same maker's block as ours ({ours})."
            return "kin", None, said, marks
        return "stranger", None, f"{who} is at {item.address}, {inside}.", marks

    def _marks(self, mark: str, address: str) -> frozenset[str]:
        """Return the mark where the plan might give the address to a device of ours, else none."""
        ground = self.ground(address)
        free = ground is not None and ground.obstacle(int(IPv4Address(address))) is None
        return frozenset({mark}) if free else frozenset()
