"""A model as frozen types: what the maker fixes of every device of one kind."""

from typing import Annotated, Literal

from pydantic import Field, JsonValue

from tutelar.core.site.base import (
    Address,
    Amount,
    Cidr,
    Count,
    FactoryMode,
    Family,
    Line,
    Name,
    Part,
    Port,
    Prefix,
    Seconds,
    Slug,
    Text,
)


class Factory(Part):
    """How a device is when it leaves the factory: its address, first user and login."""

    mode: FactoryMode
    address: Address | None = None
    prefix: Prefix | None = None
    user: Text | None = None
    login: Text | None = None


class PasswordRule(Part):
    """What a model takes as a password; `tries` refused ones lock it for `lock_min` minutes."""

    min: Count = 0
    max: Count | None = None
    classes: Count = 1
    symbols: Text = ""
    digits_only: bool = False
    tries: Count | None = None  # refused passwords after which the device locks the account
    lock_min: Count | None = None


class ClockSupport(Part):
    """Where a model takes its time from, and how its daylight saving is set."""

    time: Literal["network", "linked", "hand"] = "network"
    daylight_saving: Literal["rule", "zone", "hand"] = "rule"


class LockSupply(Part):
    """What a panel that is fed over the network cable gives to locks: volts, the share that arrives, its own watts."""

    volts: Annotated[float, Field(gt=0, le=1000)]
    efficiency: Annotated[float, Field(gt=0, le=1)] = 0.85
    own_w: Amount = 0


class Power(Part):
    """What it draws in watts, and the direct supply it takes in volts."""

    poe_class: Annotated[int, Field(ge=0, le=8)] | None = None
    draw_w: Amount | None = None
    peak_w: Amount | None = None
    dc_v: Amount | None = None
    dc_min_v: Amount | None = None
    amps: Amount | None = None  # of a load of constant current
    va: Amount | None = None
    lock_supply: LockSupply | None = None


CODECS = {"h264": "H.264", "h265": "H.265", "mjpeg": "MJPEG"}  # as the document and as people write them


class Stream(Part):
    """A stream as the model sends it: pixels, frames a second, kbit/s."""

    width: Count
    height: Count
    fps: Amount
    codec: Text
    kbps: Amount


class StreamChoice(Part):
    """What a site sets of a stream instead of what the model sends; what is absent stays as the model has it."""

    width: Count | None = None
    height: Count | None = None
    fps: Amount | None = None
    codec: Text | None = None
    kbps: Amount | None = None

    def of(self, stream: Stream) -> Stream:
        """Return the stream with what is chosen here."""
        return stream.model_copy(update=self.model_dump(exclude_none=True, include=set(StreamChoice.model_fields)))


class Timings(Part):
    """How long it takes, in seconds: by itself and by hand."""

    boot_s: Seconds | None = None
    activate_s: Seconds | None = None
    configure_s: Seconds | None = None
    restart_s: Seconds | None = None
    firmware_s: Seconds | None = None
    format_s: Seconds | None = None


class Capacity(Part):
    """How much it holds or takes in; what is absent is not known."""

    channels: Count | None = None
    incoming_mbps: Amount | None = None
    playback_channels: Count | None = None
    bays: Count | None = None
    logins: Count | None = None
    licences: Count | None = None
    lines: Count | None = None
    doors: Count | None = None
    inputs: Count | None = None
    devices: Count | None = None
    users: Count | None = None
    rooms: Count | None = None
    stations: Count | None = None
    paths: tuple[Text, ...] | None = None
    periods_a_day: Count | None = None
    decode_mpx_s: Amount | None = None


class CameraPorts(Part):
    """A recorder's own ports for cameras, with their own range; `finds_makers` are those other than its own whose
    cameras it takes in by itself."""

    count: Count
    poe_budget_w: Amount | None = None
    cidr: Cidr
    finds_makers: tuple[Text, ...] | None = None


class NameRule(Part):
    """How long a name may be, and which letters it shows."""

    max: Annotated[int, Field(ge=1, le=1000)] | None = None
    charset: Literal["ascii", "latin-1", "any"] = "any"


class Sign(Part):
    """What a lamp or a beeper shows, and what that means; `seconds` how long it lasts."""

    sign: Text
    means: Text
    seconds: Seconds | None = None


class App(Part):
    """A program that somebody needs for it, on which system and from where."""

    for_: Text = Field(alias="for")
    system: Text | None = None
    from_: Text | None = Field(default=None, alias="from")


USUALLY_WIRED = frozenset({"reader", "keypad", "injector", "other"})


class Model(Part):
    """A model as the site or the catalogue knows it."""

    key: Slug
    family: Family
    maker: Line | None = None
    name: Name | None = None
    factory: Factory | None = None
    services: dict[Slug, Port] = Field(default_factory=dict)
    password_rule: PasswordRule | None = None
    clock: ClockSupport | None = None
    power: Power | None = None
    streams: dict[Slug, Stream] | None = None
    timings: Timings | None = None
    capacity: Capacity | None = None
    camera_ports: CameraPorts | None = None
    ports: Count | None = None
    poe_budget_w: Amount | None = None
    poe_reserves: Literal["class", "draw"] = "class"
    uplink_mbps: Annotated[float, Field(gt=0, le=10_000_000)] = 1000
    name_rule: NameRule | None = None
    numbering: dict[Slug, JsonValue] | None = None
    codecs: tuple[Text, ...] | None = None  # what it takes in; absent: not known
    card_bits: tuple[Count, ...] | None = None  # lengths of card numbers that it reads or understands
    outdoor: bool | None = None  # it is made to stand outdoors; None: not known
    stream_paths: dict[Slug, Text] | None = None  # the part behind the address at which each stream is asked for
    licence_per: Literal["channel", "device"] | None = None  # what one licence of it counts
    signs: tuple[Sign, ...] | None = None
    apps: tuple[App, ...] | None = None
    wired: bool | None = None  # it hangs on wires of another device and has no network; absent: as its family has it

    def stream_path(self, name: str) -> str | None:
        """Return the path at which a stream is asked for, with its slash; None where the profile does not say."""
        path = (self.stream_paths or {}).get(name)
        return None if path is None else f"/{path.lstrip('/')}"

    @property
    def is_wired(self) -> bool:
        """Whether its devices have no network at all: readers, keypads, detectors, injectors, chimes."""
        if self.wired is not None:
            return self.wired
        address = self.factory.address if self.factory is not None else None
        return self.family in USUALLY_WIRED and not self.services and address is None

    @property
    def label(self) -> str:
        """Maker and name, else its key."""
        return " ".join(filter(None, (self.maker, self.name or self.key)))
