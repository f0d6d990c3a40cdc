"""How a site reaches the internet, and what is let in from there."""

from typing import Annotated, Literal

from pydantic import Field

from tutelar.core.site.base import Address, Amount, Part, Port, Slug, Text


class Forward(Part):
    """A port of the outside address that leads to a device: a decision with its reason and who took it."""

    outside: Port
    device: Slug
    service: Slug
    decided_by: Text | None = None
    why: Text | None = None
    at: Text | None = None


class Internet(Part):
    """How the site reaches the internet; ports, rates in Mbit/s, the largest packet in bytes."""

    connection: Literal["line", "mobile", "none"] | None = None
    outside_address: Address | None = None
    upstream_mbps: Amount | None = None
    router_ports: tuple[Port, ...] = ()
    blocked_ports: tuple[Port, ...] = ()
    forwards: tuple[Forward, ...] = ()
    mtu: Annotated[int, Field(ge=576, le=9216)] | None = None  # the largest packet that passes whole, in bytes
