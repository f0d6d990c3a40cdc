"""The site document as frozen types. Keys, defaults and units are those of the published schema."""

from collections.abc import Mapping
from datetime import date
from functools import cached_property
from ipaddress import IPv4Address
from typing import Annotated, Any, Literal

from pydantic import Field, model_validator

from tutelar.core.site.access import Access
from tutelar.core.site.alarm import Alarm
from tutelar.core.site.base import (
    Address,
    Addressing,
    Amount,
    CheckName,
    Cidr,
    Count,
    DateOrder,
    Family,
    Line,
    LinkKind,
    Mac,
    Name,
    Part,
    Port,
    Result,
    Slug,
    Text,
)
from tutelar.core.site.closing import Asked, Found, Ownership, Routing, SignOff, Ticked
from tutelar.core.site.connection import Firmware, Medium, Numbers, PoweredBy, Wifi
from tutelar.core.site.doors import Door
from tutelar.core.site.feeding import Disk, Fed, PluggedInto, Raid, Supply
from tutelar.core.site.internet import Internet
from tutelar.core.site.model import Model, Stream
from tutelar.core.site.policy import Policy
from tutelar.core.site.recording import Recording
from tutelar.core.site.survey import Survey


class About(Part):
    """The site itself: its name, time, units and places in walking order."""

    key: Slug
    name: Name
    time_zone: Text | None = None
    date_order: DateOrder = "DMY"
    clock: Literal["12h", "24h"] = "24h"
    mains_hz: Literal[50, 60] | None = None
    units: Literal["metric", "imperial"] = "metric"
    places: tuple[Name, ...] = ()
    practice: bool = False  # a site to practise on: what the pretend site shows counts as proof here, and only here

    @property
    def title(self) -> str:
        """The name for pages and papers, which says where nothing is real."""
        return f"{self.name} (practice site)" if self.practice else self.name


class Pool(Part):
    """A range that is lent."""

    first: Address
    last: Address


class Reserved(Part):
    """A range that is kept free for others."""

    first: Address
    last: Address
    why: Text | None = None


class Network(Part):
    """A network with its range, gateway, servers and ranges."""

    key: Slug
    name: Name | None = None
    cidr: Cidr
    vlan: Annotated[int, Field(ge=0, le=4094)] | None = None
    gateway: Address | None = None
    dns: tuple[Address, ...] = ()
    time_source: Line | None = None
    pools: tuple[Pool, ...] = ()
    reserved: tuple[Reserved, ...] = ()

    @property
    def label(self) -> str:
        """The name people use, else the key."""
        return self.name or self.key


class Device(Part):
    """A device of the kit: where it hangs, what it is called, by which address it is found."""

    key: Slug
    model: Slug
    name: Name | None = None
    place: Line | None = None
    network: Slug | None = None
    mac: Mac | None = None
    serial: Line | None = None
    addressing: Addressing = "fixed"  # where it is not given, the policy's
    address: Address | None = None
    locked: bool = False
    powered_by: PoweredBy | None = None
    cable_m: Amount | None = None
    behind: Slug | None = None
    used: bool = False
    services: dict[Slug, Port] | None = None  # ports that were changed on this device
    numbers: Numbers | None = None
    certificate: Text | None = None  # SHA-256 fingerprint of the one it showed at first contact
    medium: Medium = "cable"
    wifi_mac: Mac | None = None  # it has another one there than at its cable
    wifi: Wifi | None = None
    outdoors: bool | None = None
    firmware: Firmware | None = None
    disks: tuple[Disk, ...] | None = None
    raid: Raid = "none"
    fed: Fed | None = None
    plugged_into: PluggedInto | None = None
    found: Found | None = None

    @property
    def label(self) -> str:
        """The name people use, else the key."""
        return self.name or self.key

    @property
    def network_mac(self) -> str | None:
        """The hardware address by which its network knows it: on Wi-Fi not that of its cable."""
        return self.wifi_mac if self.medium == "wifi" else self.mac

    @property
    def unit(self) -> str | None:
        """What tells this unit from another one that takes its place: hardware address, else serial number."""
        return self.network_mac or self.serial

    @property
    def macs(self) -> tuple[str, ...]:
        """The hardware addresses that are its own, the one that its network knows first."""
        return tuple(dict.fromkeys(filter(None, (self.network_mac, self.mac, self.wifi_mac))))


class Link(Part):
    """What reports to what. `to_channel` picks one channel of a recorder that a desk steers through; `at` is the
    address or name of an outside end, `account` the number it knows us by; `address`, `port` and `priority` are a
    paging zone's; `side` tells the reader outside a door from the one inside; `wanted` says that somebody knows that
    it cannot be made as it stands, and keeps it as a wish."""

    kind: LinkKind
    from_: Slug = Field(alias="from")
    to: Slug
    slot: Count | None = None
    from_channel: Count | None = None
    to_channel: Count | None = None
    side: Literal["in", "out"] | None = None
    at: Text | None = None
    account: Text | None = None
    address: Address | None = None
    port: Port | None = None
    priority: Annotated[int, Field(ge=0, le=99)] | None = None
    wanted: bool | None = None


class Reading(Part):
    """What was measured or witnessed: `expected` and `measured` are what a person would read aloud."""

    device: Slug
    check: CheckName
    expected: Text | None = None
    measured: Text | None = None
    result: Result
    took_ms: Amount | None = None
    offset_s: Annotated[float, Field(ge=-1e11, le=1e11)] | None = None  # a clock's difference, ahead is positive
    at: Text | None = None
    by: Text | None = None
    basis: dict[Text, Text] | None = None  # what it was judged by and depends on, as it was when this was seen
    code: Slug | None = None  # how it came out, as its check calls it; None: kept by somebody else, in words only
    values: dict[Text, Text | float] | None = None  # what was seen, for the sentence of that code
    from_: Literal["site", "pretend", "hand"] = Field(default="hand", alias="from")  # where it was measured


class Exemption(Part):
    """A check that somebody decided to leave open (None: every check of the device), with the reason; `until`: the
    last day on which that holds (None: for good)."""

    device: Slug
    check: Slug | None = None
    reason: Text
    by: Text | None = None
    at: Text | None = None
    until: date | None = None


class Site(Part):
    """One whole site document. Look-ups by key answer with the first entry that bears the key."""

    format: Literal["tutelar-site"]
    version: Literal[1]
    about: About = Field(alias="site")
    internet: Internet | None = None
    networks: tuple[Network, ...] = ()
    models: tuple[Model, ...] = ()
    devices: tuple[Device, ...] = ()
    links: tuple[Link, ...] = ()
    policy: Policy = Policy()
    survey: Survey = Survey()
    readings: tuple[Reading, ...] = ()
    exceptions: tuple[Exemption, ...] = ()
    doors: tuple[Door, ...] = ()
    recording: Recording | None = None
    supplies: tuple[Supply, ...] = ()
    access: Access | None = None
    alarm: Alarm | None = None
    routing: Routing | None = None
    ownership: tuple[Ownership, ...] = ()
    checklist: tuple[Ticked, ...] = ()
    asked: tuple[Asked, ...] = ()
    sign_off: SignOff | None = None

    @model_validator(mode="after")
    def _addressing_as_the_policy_says(self) -> "Site":
        """Give devices without a word of their own the site's addressing; it is not written back with them."""
        if self.policy.addressing is not None:
            for device in self.devices:
                if "addressing" not in device.model_fields_set:
                    device.__dict__["addressing"] = self.policy.addressing
        return self

    def model_copy(self, *, update: Mapping[str, Any] | None = None, deep: bool = False) -> "Site":
        """Return a copy with other parts; look-ups made from the old parts are not taken along."""
        copy = super().model_copy(update=update, deep=deep)
        for name in [name for name in copy.__dict__ if name not in Site.model_fields]:
            del copy.__dict__[name]
        return copy

    @cached_property
    def network_by_key(self) -> dict[str, Network]:
        """The networks by key; of two with one key the first."""
        return first_by_key(self.networks)

    @cached_property
    def model_by_key(self) -> dict[str, Model]:
        """The models by key; of two with one key the first."""
        return first_by_key(self.models)

    @cached_property
    def device_by_key(self) -> dict[str, Device]:
        """The devices by key; of two with one key the first."""
        return first_by_key(self.devices)

    @cached_property
    def family_by_model(self) -> dict[str, Family]:
        """The family of each model by its key."""
        return {model.key: model.family for model in self.models}

    @cached_property
    def wired(self) -> frozenset[str]:
        """Keys of the devices without a network: they get no address, no bench step, no flow."""
        models = {model.key for model in self.models if model.is_wired}
        return frozenset(device.key for device in self.devices if device.model in models) if models else frozenset()

    @cached_property
    def links_by_device(self) -> dict[str, list[Link]]:
        """Device key to its links in the order of the file, those that leave it and those that reach it."""
        found: dict[str, list[Link]] = {}
        for link in self.links:
            for end in dict.fromkeys((link.from_, link.to)):
                found.setdefault(end, []).append(link)
        return found

    def links_of(self, key: str) -> list[Link]:
        """Return the links that a device is an end of."""
        return self.links_by_device.get(key, [])

    def network_of(self, address: IPv4Address) -> Network | None:
        """Return the first network whose range holds the address."""
        return next((network for network in self.networks if address in network.cidr), None)

    def model_of(self, device: Device) -> Model | None:
        """Return the model of a device, None where it is not in the file."""
        return self.model_by_key.get(device.model)

    @cached_property
    def streams_by_model(self) -> dict[str, dict[str, Stream]]:
        """The streams of each model by its key: as it sends them, with what the site chose for its family."""
        chosen = self.policy.streams
        return {
            model.key: {
                name: own.of(stream) if (own := chosen.get(model.family, {}).get(name)) else stream  # type: ignore[call-overload]
                for name, stream in (model.streams or {}).items()
            }
            for model in self.models
        }

    def main_stream_of(self, device: Device) -> Stream | None:
        """Return the main stream of the device as this site sets it, None where its model names none."""
        return self.streams_by_model.get(device.model, {}).get("main")

    def services_of(self, device: Device) -> dict[str, int]:
        """Return the ports of a device by service: its model's, with those that were changed on it."""
        model = self.model_by_key.get(device.model)
        usual = model.services if model else {}
        return usual if device.services is None else {**usual, **device.services}

    def family_of(self, device: Device) -> Family:
        """Return the family of the device's model, "other" where the model is unknown."""
        return self.family_by_model.get(device.model, "other")

    def label_of(self, key: str) -> str:
        """Return the name people use for a device key, or the key itself."""
        device = self.device_by_key.get(key)
        return device.label if device else key

    @cached_property
    def place_order(self) -> dict[str, int]:
        """Place name to its position on the walk; a place that is not listed comes after all that are."""
        return {name: position for position, name in enumerate(self.about.places)}

    def walking_order(self, devices: list[Device]) -> list[Device]:
        """Return the devices as one walks past them: by place, then as they stand in the file."""
        order, last = self.place_order, len(self.about.places)
        return sorted(devices, key=lambda device: order.get(device.place or "", last))


def first_by_key(parts: tuple[Any, ...]) -> dict[str, Any]:
    """Return the parts by key in the order of the document; of two with one key the first."""
    found: dict[str, Any] = {}
    for part in parts:
        found.setdefault(part.key, part)
    return found
