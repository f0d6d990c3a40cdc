"""What a site decided where practitioners differ."""

from ipaddress import IPv4Address
from typing import Annotated, Literal

from pydantic import Field

from tutelar.core.site.base import Address, Addressing, Amount, Count, Family, Part, Port, Seconds, Slug, Text
from tutelar.core.site.model import StreamChoice


class BlockRule(Part):
    """Which offsets of a network a family's addresses come from."""

    families: tuple[Family, ...]
    first: Annotated[int, Field(ge=0, le=2**32 - 1)]
    last: Annotated[int, Field(ge=0, le=2**32 - 1)]


class Bench(Part):
    """What stands at the bench: ports, leases, the laptop."""

    ports: Annotated[int, Field(ge=1, le=1000)] = 8
    leases: bool = True
    several_addresses: bool = False
    connect_s: Seconds = 20
    adapter_s: Seconds = 40
    confirm_s: Seconds = 30
    update_firmware: bool = False


class Paging(Part):
    """Where paging zones begin: zone n has the n-th address after `base`, all on one port unless it steps on."""

    base: Address = IPv4Address("239.192.0.0")
    port: Port = 5004
    port_step: Annotated[int, Field(ge=0, le=100)] = 0


class Ring(Part):
    """The ring chain in seconds: the monitors ring, the call is forwarded, a person comes; the station outlasts it."""

    station_s: Seconds = 60
    monitor_s: Seconds = 20
    forward_s: Seconds = 6
    person_s: Seconds = 15


class Numbering(Part):
    """How this site numbers its stations, zones and rings."""

    first_extension: Count = 201
    paging: Paging = Paging()
    ring: Ring = Ring()


Witness = Literal["plays-back", "test-call", "door-opens", "phone-picture"]


class ProofRules(Part):
    """What this site asks of a device before it counts as proven, where it is not the usual.

    `witnessed` by family: what somebody has to see with his own eyes; `left_out`: checks that nobody makes here;
    `clock_s`: how far a clock may be off. The egress test of an escape door cannot be left out.
    """

    clock_s: Annotated[float, Field(ge=0.5, le=3600)] = 2.0
    witnessed: dict[Family, tuple[Witness, ...]] = Field(default_factory=dict)
    left_out: tuple[Slug, ...] = ()


class Policy(Part):
    """What this site decided where practitioners differ."""

    addressing: Addressing | None = None
    growth: Annotated[float, Field(ge=0, le=10)] = 0.25
    match_channel: bool = False
    blocks: Literal["auto"] | tuple[BlockRule, ...] = "auto"
    power_margin: Amount = 0.2  # of what is drawn at most, on top of it
    upstream_share: Annotated[float, Field(gt=0, le=1)] = 0.8  # of the line's upstream, for pictures
    bench: Bench = Bench()
    passwords: Literal["device", "family"] = "device"
    choices: dict[Family, dict[Slug, Text]] = Field(default_factory=dict)  # the site's own word for a setting
    streams: dict[Family, dict[Literal["main", "sub"], StreamChoice]] = Field(default_factory=dict)
    numbering: Numbering = Numbering()
    proof: ProofRules = ProofRules()
