"""A set-up drill: a device as somebody has set it up from the box, with planted mistakes that have to be found."""

from collections.abc import Callable, Collection, Mapping, Sequence
from dataclasses import dataclass
from ipaddress import IPv4Address

from tutelar.core.addressing.assignment import Plan
from tutelar.core.diagnose.drill import Dice
from tutelar.core.line import Line
from tutelar.core.setting import DeviceSettings
from tutelar.core.site.types import Device, Site
from tutelar.core.wording import DATE_ORDERS, capital

MISTAKES = 4
_SHOWN = 24  # values of a device; more are not read
_Plant = Callable[[str, Site, Dice], str]


@dataclass(frozen=True, slots=True)
class Found:
    """A value as it is found in the device, the one that is right, and why that one."""

    key: str
    label: str
    value: str
    right: str
    why: str

    @property
    def wrong(self) -> bool:
        """Whether it is a planted mistake."""
        return self.value != self.right


@dataclass(frozen=True, slots=True)
class SetUp:
    """A device as it was set up, value by value, in the order in which it asks for them."""

    device: str
    lines: tuple[Found, ...]


@dataclass(frozen=True, slots=True)
class SetUpScore:
    """Which mistakes were found, which were missed, and which right values were taken for mistakes."""

    found: tuple[str, ...]
    missed: tuple[str, ...]
    mistaken: tuple[str, ...]

    @property
    def right(self) -> bool:
        """Whether just the mistakes were marked."""
        return not self.missed and not self.mistaken


def _other(choices: Sequence[str]) -> _Plant:
    def plant(value: str, _site: Site, dice: Dice) -> str:
        return dice.choice([choice for choice in choices if choice != value] or ["not set"])

    return plant


def _address(value: str, site: Site, dice: Dice) -> str:
    """Return another device's address, or one that lies elsewhere."""
    held = [str(device.address) for device in site.devices if device.address is not None]
    others = [address for address in held if address != value]
    return dice.choice([*others[:20], str(IPv4Address((int(IPv4Address(value)) + 256) % 2**32))])


def _neighbour(value: str, _site: Site, dice: Dice) -> str:
    """Return an address beside the right one, or none."""
    number = int(IPv4Address(value))
    return dice.choice([str(IPv4Address(number ^ 3)), "0.0.0.0"])  # noqa: S104 - none is set


def _name(value: str, site: Site, dice: Dice) -> str:
    others = [device.label for device in site.devices if device.label != value]
    return dice.choice([*others[:20], "Camera 01" if value != "Camera 01" else "Camera 02"])


def _port(value: str, _site: Site, _dice: Dice) -> str:
    moved = 8000 + int(value) % 1000
    return str(moved if moved != int(value) else moved + 1)


PLANTS: Mapping[str, _Plant] = {
    "address": _address,
    "mask": _other(("255.255.255.0", "255.255.0.0", "255.255.255.128")),
    "gateway": _neighbour,
    "dns": _other(("none", "0.0.0.0")),  # noqa: S104 - none is set
    "name": _name,
    "time-server": _other(("none set", "the maker's, on the internet")),
    "interval": _other(("1 min",)),
    "time-zone": _other(("Asia/Tokyo", "America/New_York", "Europe/Helsinki")),
    "daylight-start": _other(("off",)),
    "date-order": _other(tuple(capital(words) for words in DATE_ORDERS.values())),
    "clock-face": _other(("12 hours", "24 hours")),
    "mains": _other(("50 Hz", "60 Hz")),
    "main-stream": _other(("1280 × 720, 12 a second, H.264, 1024 kbit/s",)),
    "on-picture": _other(("off",)),
    "unused-channels": _other(("Shown",)),
    "effects": _other(("On",)),
    "relay-on": _other(("Off",)),
    "login-user": _other(("admin",)),
    "login-rights": _other(("Everything",)),
    "ring-time": _other(("15 s",)),
    "disk-full": _other(("Stop recording",)),
    "port-web": _port,
    "port-stream": _port,
    "port-control": _port,
}


def set_up(site: Site, planned: Plan, dice: Dice, year: int = 0, mistakes: int = MISTAKES) -> SetUp | None:
    """Return a device of the site with so many planted mistakes; None where no device has values enough."""
    settings = DeviceSettings(site, planned, year)
    fitting = [device for device in site.devices if len(_plantable(_lines(settings, device))) >= mistakes]
    if not fitting:
        return None
    device = dice.choice(fitting)
    lines = _lines(settings, device)
    keys = set(dice.sample([line.key for line in _plantable(lines)], mistakes))
    found = [Found(line.key, line.label, _found(line, keys, site, dice), line.value, line.why) for line in lines]
    return SetUp(device.key, tuple(found))


def _found(line: Line, wrong: Collection[str], site: Site, dice: Dice) -> str:
    return PLANTS[line.key](line.value, site, dice) if line.key in wrong else line.value


def _lines(settings: DeviceSettings, device: Device) -> list[Line]:
    found = [line for group in settings.groups(device) for line in group.lines]
    shown = [line for line in found if line.value and line.slot is None and not line.key.startswith("factory-")]
    return shown[:_SHOWN]


def _plantable(lines: Sequence[Line]) -> list[Line]:
    return [line for line in lines if line.key in PLANTS and _possible(line)]


def _possible(line: Line) -> bool:
    """Return whether a value is of the kind that its mistake is made of."""
    if line.key in ("address", "gateway"):
        return line.value.count(".") == 3 and line.value.replace(".", "").isdigit()
    return line.value.isdigit() if line.key.startswith("port-") else True


def marked(laid: SetUp, marks: Collection[str]) -> SetUpScore:
    """Return what of the mistakes was found by marking these lines."""
    wrong = [line.key for line in laid.lines if line.wrong]
    return SetUpScore(
        tuple(key for key in wrong if key in marks),
        tuple(key for key in wrong if key not in marks),
        tuple(line.key for line in laid.lines if line.key in marks and not line.wrong),
    )
