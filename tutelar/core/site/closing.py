"""What is known of the end of a job: who owns what, what was ticked, who signed; and what IT said of routing."""

from datetime import date
from typing import Annotated, Literal

from pydantic import Field

from tutelar.core.site.base import Address, Line, Part, Port, Prefix, Slug, Text

Whom = Literal["it", "provider", "station", "carrier", "distributor", "owner"]
WHOM: dict[Whom, str] = {
    "it": "IT",
    "provider": "the internet provider",
    "station": "the monitoring station",
    "carrier": "the telephone carrier",
    "distributor": "the distributor",
    "owner": "the owner of the building",
}


class Ownership(Part):
    """Whose a device is at its maker's relay: unknown, released by its former owner, ours, or bound to somebody."""

    device: Slug
    state: Literal["unknown", "released", "ours", "bound"]
    account: Literal["customer", "installer", "former"] | None = None
    by: Line | None = None
    at: Text | None = None
    note: Text | None = None


class Ticked(Part):
    """An item of a job card: of a device, a door, or "site"."""

    subject: Slug
    item: Slug
    state: Literal["done", "not-needed", "open"]
    by: Line | None = None
    at: Text | None = None
    note: Text | None = None


class Asked(Part):
    """A question to somebody else: to whom, what, what it holds up, since when and until when it is asked, the
    answer."""

    key: Slug
    of: Whom
    question: Annotated[Text, Field(min_length=1)]
    holds: Text | None = None
    person: Line | None = None
    asked: date | None = None
    due: date | None = None
    answer: Text | None = None
    answered: date | None = None
    by: Line | None = None

    @property
    def open(self) -> bool:
        """Whether there is no answer yet; an empty one is none."""
        return not (self.answer or "").strip()


class SignOff(Part):
    """Who signed the site off, for whom, when, and which ends were open then, as "code:subject"."""

    by: Line
    for_: Line | None = Field(default=None, alias="for")
    at: Text | None = None
    open: tuple[Text, ...] = ()


class RoutingRule(Part):
    """What IT lets through or not: between networks, devices, "outside" or "any"; ports None = all of them."""

    from_: Slug = Field(alias="from")
    to: Slug
    protocol: Literal["tcp", "udp"] | None = None
    ports: tuple[Port, ...] | None = None
    allow: bool


class Routing(Part):
    """What IT said of the ways between networks; the first rule that fits decides, else `between`."""

    between: Literal["open", "closed"] = "open"
    rules: tuple[RoutingRule, ...] = ()


Unset = Annotated[Address, Field(description="0.0.0.0 = none is set")]


class Found(Part):
    """What is set in a device really, where that is known to differ from the plan."""

    address: Unset | None = None
    prefix: Prefix | None = None
    gateway: Unset | None = None
