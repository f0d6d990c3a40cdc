"""What every kind of link says of itself, and one link looked at with all that is known of its site.

A kind is data and small functions: which families it ties, what it needs, which number it takes, what is typed at
each end, which readings prove it, and what it sends through a firewall. Everything that asks about links asks these.
"""

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from typing import TYPE_CHECKING, Literal

from tutelar.core.line import Line
from tutelar.core.site.base import LinkKind
from tutelar.core.site.types import Device, Link, Site

if TYPE_CHECKING:
    from tutelar.core.links.index import LinkIndex

End = Literal["from", "to"]
Span = tuple[int, int | None]  # the first number of a target, and the last where its model says so
Protocol = Literal["tcp", "udp"]

OUTSIDE_WORDS = {
    "relay": "the makers' relay",
    "monitoring-station": "the monitoring station",
    "call-server": "the call server",
    "management": "the management program",
}
# Who has to move where something is missing.
YOU, IT, CUSTOMER, STATION, PROVIDER = "you", "IT", "the customer", "the monitoring station", "the provider"


LIMITED_LOGINS = frozenset({"recorder", "software-recorder", "camera", "encoder", "door-station", "doorbell"})


def login_slot(site: Site, device: Device) -> str:
    """Return the slot of a device that others log in with: an account with few rights where its family has one and
    the site's school of passwords leaves room for it, else the administrator's."""
    limited = site.policy.passwords == "device" and site.family_of(device) in LIMITED_LOGINS
    return "login" if limited else "administrator"


@dataclass(frozen=True, slots=True)
class Gap:
    """What is missing for a link, without a full stop; the stage where it is put right; whose turn it is.

    `never`: as it stands the link cannot be made; `nearest` is then the nearest thing that can.
    """

    need: str
    what: str
    where: str = "links"
    whose: str = YOU
    never: bool = False
    nearest: str | None = None


@dataclass(frozen=True, slots=True)
class Need:
    """Something that a link needs: `met` says so in words where nothing is missing, `gap` what is missing or None.

    `alike`: links of devices of one model that stand and are fed alike, to one target, all have it or all lack it.
    """

    key: str
    met: Callable[["ResolvedLink"], str]
    gap: Callable[["ResolvedLink"], Gap | None]
    alike: bool = False
    placed: bool = False  # never missing between devices that have an address and went over the bench
    idle: Callable[["LinkIndex"], bool] | None = None  # whether nothing on the whole site lacks it


@dataclass(frozen=True, slots=True)
class EndValue:
    """A value to type at one end. `elsewhere`: the device's own settings hold it already, under the same key."""

    end: End
    line: Line
    elsewhere: bool = False


@dataclass(frozen=True, slots=True)
class Test:
    """A reading that proves a part of a link: what has to happen, in the words of who stands there."""

    key: str
    title: str
    expects: Callable[["ResolvedLink"], str]


@dataclass(frozen=True, slots=True)
class Number:
    """The number that a link takes at its target."""

    word: str
    limit: Callable[["ResolvedLink"], Span]
    required: bool = True


@dataclass(frozen=True, slots=True)
class Sent:
    """What a link sends: device key or outside end, the same for the other side, protocol, port (None: unknown)."""

    source: str
    destination: str
    protocol: Protocol
    port: int | None
    why: str


def _sends_nothing(_: "ResolvedLink") -> Iterator[Sent]:
    return iter(())


@dataclass(frozen=True, slots=True, eq=False)
class Kind:
    """One kind of link.

    `word` is its kind in the document; `starts`, `ends`, `outside` and `behind` tell it from others of that word
    (ends None: any device; behind None: either way). `holder` is the end that has the other's address typed in,
    `asks` the services it asks there, in this order of preference, `logs_in` what it does once it is logged in.
    """

    key: str
    word: LinkKind
    title: str
    says: str  # "{from} is recorded by {to}"
    group: str
    starts: frozenset[str]
    needs: tuple[Need, ...]
    values: Callable[["ResolvedLink"], Iterator[EndValue]]
    tests: tuple[Test, ...]
    renumbered: str  # the setting that holds the other's address
    ends: frozenset[str] | None = frozenset()
    outside: frozenset[str] = frozenset()
    behind: bool | None = None
    number: Number | None = None
    holder: End = "from"
    asks: tuple[str, ...] = ()
    logs_in: str | None = None
    sends: Callable[["ResolvedLink"], Iterator[Sent]] = _sends_nothing
    caution: str | None = None
    expected: frozenset[str] = frozenset()  # families of which a device without any such link is not finished
    part: str = "its channel"  # what `from_channel` picks of the start
    rank: int = 50  # of several that fit the lowest is taken

    def takes(self, start: str, end: str | None, outside: str, *, behind: bool) -> bool:
        """Return whether ends of these families (outside: "" or the outside end) make a link of this kind."""
        if start not in self.starts or (self.behind is not None and self.behind != behind):
            return False
        if end is None:
            return outside in self.outside
        return self.ends is None or end in self.ends


@dataclass(slots=True, eq=False)  # thousands are made at once: not frozen, which would double their cost
class ResolvedLink:
    """One link with its kind, its ends (end None: outside, or not in the file) and what is known of the site."""

    site: Site
    kind: Kind
    link: Link
    start: Device
    end: Device | None
    known: "LinkIndex"
    fits: bool = True  # whether devices of these families make such a link

    @property
    def to(self) -> str:
        """The name of the end, a device's or an outside one's."""
        return self.end.label if self.end is not None else OUTSIDE_WORDS.get(self.link.to, self.link.to)

    @property
    def holder(self) -> Device | None:
        """The end that has the other's address typed in, None where that end is outside."""
        return self.end if self.kind.holder == "to" else self.start

    @property
    def held(self) -> Device | None:
        """The end whose address is typed in at the other one, None where it is outside."""
        return self.start if self.kind.holder == "to" else self.end

    @property
    def numbers_of(self) -> str:
        """The name of the device whose numbers the link takes one of: short numbers are the desk's."""
        return self.start.label if self.link.kind == "steers" else self.to

    @property
    def follows(self) -> bool:
        """Whether the start follows the end: a secondary panel its primary, a further station its main one."""
        return self.fits and any(need.key == "circle" for need in self.kind.needs)

    def address(self, device: Device | None) -> str | None:
        """Return the address that a device has or will have, None where there is none yet."""
        return self.known.addresses.get(device.key) if device is not None else None

    def port(self) -> tuple[str, int] | None:
        """Return the first service that the holder asks for at the other end, with its port."""
        services = self.site.services_of(self.held) if self.held is not None else {}
        return next(((name, services[name]) for name in self.kind.asks if name in services), None)

    @property
    def channel(self) -> str:
        """Which channel of the start is meant, in words; "" where it has only one."""
        return f", {self.kind.part} {self.link.from_channel}" if self.link.from_channel is not None else ""

    def said(self) -> str:
        """Return the link as a sentence without a full stop: "Pier gate is recorded by Recorder quay"."""
        start = f"{self.start.label}{self.channel}"
        return self.kind.says.replace("{from}", start).replace("{to}", self.to)
