"""A model's profile as people fill it in: what is asked, in groups, and the profile made of the answers."""

import copy
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any, get_args

from tutelar.core.answers import Kind, Untypable, read, shown
from tutelar.core.site.base import Family
from tutelar.core.site.model import CODECS
from tutelar.core.wording import sentence


@dataclass(frozen=True, slots=True)
class ModelField:
    """One value of a profile: where it stands ("factory.address"), what it is called, what stands in it."""

    group: str
    path: str
    label: str
    kind: Kind
    options: tuple[tuple[str, str], ...] = ()
    value: str = ""


DEFAULT_PASSWORD = "factory.default_password"  # noqa: S105 - the name of a field; it stands in `factory.login` instead of one of its words
LOGIN_WORDS = ("default", "blank", "set-at-first-contact")
_SAME = tuple((word, word.replace("-", " ")) for word in get_args(Family))
_FIELDS = (
    ("What it is", "maker", "Maker", "text", ()),
    ("What it is", "name", "Name of the model", "text", ()),
    ("What it is", "family", "Family", "choice", _SAME),
    ("What it is", "wired", "Hangs on wires, has no network", "yes-no", ()),
    ("What it is", "outdoor", "Made to stand outdoors", "yes-no", ()),
    (
        "From the factory",
        "factory.mode",
        "Addressing",
        "choice",
        (
            ("leased", "takes a lease"),
            ("fixed", "fixed address"),
            ("link-local", "link-local"),
            ("leased-then-fixed", "takes a lease, else fixed"),
        ),
    ),
    ("From the factory", "factory.address", "Factory address", "address", ()),
    ("From the factory", "factory.prefix", "Prefix length", "whole", ()),
    ("From the factory", "factory.user", "First user", "text", ()),
    (
        "From the factory",
        "factory.login",
        "First login",
        "choice",
        (("default", "a default password"), ("blank", "no password"), ("set-at-first-contact", "set at first contact")),
    ),
    ("From the factory", DEFAULT_PASSWORD, "Default password, if it is known", "text", ()),
    ("Services", "services", "Services and ports, a line each", "services", ()),
    ("Password", "password_rule.min", "Shortest", "whole", ()),
    ("Password", "password_rule.max", "Longest", "whole", ()),
    ("Password", "password_rule.classes", "Kinds of characters", "whole", ()),
    ("Password", "password_rule.symbols", "Symbols it takes", "text", ()),
    ("Password", "password_rule.digits_only", "Digits only", "yes-no", ()),
    ("Password", "password_rule.tries", "Refused ones before it locks", "whole", ()),
    ("Password", "password_rule.lock_min", "Then locked for, min", "whole", ()),
    (
        "Clock",
        "clock.time",
        "Takes its time from",
        "choice",
        (("network", "a time server"), ("linked", "the device it is linked to"), ("hand", "itself, set by hand")),
    ),
    (
        "Clock",
        "clock.daylight_saving",
        "Daylight saving",
        "choice",
        (("rule", "as a rule with two days"), ("zone", "by the time zone"), ("hand", "turned by hand")),
    ),
    ("Name", "name_rule.max", "Longest name", "whole", ()),
    (
        "Name",
        "name_rule.charset",
        "Letters it shows",
        "choice",
        (("ascii", "plain letters"), ("latin-1", "western letters"), ("any", "any letters")),
    ),
    *(
        ("Streams", f"streams.{key}.{name}", f"{word} stream, {what}", kind, options)
        for key, word in (("main", "Main"), ("sub", "Sub"))
        for name, what, kind, options in (
            ("width", "px wide", "whole", ()),
            ("height", "px high", "whole", ()),
            ("fps", "pictures a second", "number", ()),
            ("codec", "codec", "choice", tuple(CODECS.items())),
            ("kbps", "kbit/s", "number", ()),
        )
    ),
    ("Streams", "stream_paths.main", "Main stream is asked for at", "text", ()),
    ("Streams", "stream_paths.sub", "Sub stream is asked for at", "text", ()),
    ("Streams", "codecs", "Takes in the codecs", "people", ()),
    ("Cards", "card_bits", "Lengths of card numbers, bits", "wholes", ()),
    ("Numbers", "numbering", "Numbers it takes, a line each", "limits", ()),
    ("Power", "power.poe_class", "Class on the network cable", "whole", ()),
    ("Power", "power.draw_w", "Draws, W", "number", ()),
    ("Power", "power.peak_w", "At most, W", "number", ()),
    ("Power", "power.dc_v", "Direct supply, V", "number", ()),
    ("Power", "power.dc_min_v", "At least, V", "number", ()),
    ("Power", "power.amps", "A, where it draws the same current at any voltage", "number", ()),
    ("Power", "power.va", "VA on a transformer", "number", ()),
    ("Power", "power.lock_supply.volts", "Gives its locks, V", "number", ()),
    ("Power", "power.lock_supply.efficiency", "Share of the power that arrives, 0 to 1", "number", ()),
    ("Power", "power.lock_supply.own_w", "Keeps for itself, W", "number", ()),
    ("Signs and programs", "signs", "Lamps and tones: sign | what it means | seconds", "signs", ()),
    ("Signs and programs", "apps", "Programs: for what | system | from where", "apps", ()),
    ("Waits", "timings.boot_s", "Boots, s", "number", ()),
    ("Waits", "timings.activate_s", "First contact, s", "number", ()),
    ("Waits", "timings.configure_s", "Setting it up, s", "number", ()),
    ("Waits", "timings.restart_s", "Restarts, s", "number", ()),
    ("Waits", "timings.firmware_s", "Firmware, s", "number", ()),
    ("Waits", "timings.format_s", "Formats disks, s", "number", ()),
    ("Holds", "capacity.channels", "Channels", "whole", ()),
    ("Holds", "capacity.incoming_mbps", "Takes in, Mbit/s", "number", ()),
    ("Holds", "capacity.playback_channels", "Plays back at once", "whole", ()),
    ("Holds", "capacity.decode_mpx_s", "Decodes for playback, Mpx/s", "number", ()),
    ("Holds", "capacity.periods_a_day", "Recording periods a day", "whole", ()),
    ("Holds", "capacity.bays", "Disk bays", "whole", ()),
    ("Holds", "capacity.licences", "Licences", "whole", ()),
    ("Holds", "licence_per", "A licence counts", "choice", (("channel", "a channel"), ("device", "a device"))),
    ("Holds", "capacity.logins", "Logins at once", "whole", ()),
    ("Holds", "capacity.doors", "Doors", "whole", ()),
    ("Holds", "capacity.inputs", "Inputs", "whole", ()),
    ("Holds", "capacity.devices", "Devices", "whole", ()),
    ("Holds", "capacity.users", "Users", "whole", ()),
    ("Holds", "capacity.rooms", "Rooms", "whole", ()),
    ("Holds", "capacity.stations", "Door stations", "whole", ()),
    ("Holds", "capacity.lines", "Lines of a call server", "whole", ()),
    ("Holds", "capacity.paths", "Ways to the monitoring station", "people", ()),
    ("Ports", "camera_ports.count", "Own camera ports", "whole", ()),
    ("Ports", "camera_ports.cidr", "Range behind them", "network", ()),
    ("Ports", "camera_ports.poe_budget_w", "Watts for cameras", "number", ()),
    ("Ports", "camera_ports.finds_makers", "Finds cameras of other makers", "people", ()),
    ("Ports", "ports", "Switch ports", "whole", ()),
    ("Ports", "poe_budget_w", "Watts for powered ports", "number", ()),
    (
        "Ports",
        "poe_reserves",
        "Counts its watts",
        "choice",
        (("class", "by the class of each device"), ("draw", "by what is drawn")),
    ),
    ("Ports", "uplink_mbps", "Uplink, Mbit/s", "number", ()),
)


def model_fields(part: Mapping[str, Any]) -> list[ModelField]:
    """Return every field of a profile with what stands in it, as in the document's models."""
    return [
        ModelField(group, path, label, kind, _with_own(options, value := _at(part, path)), shown(value, kind))  # type: ignore[arg-type]
        for group, path, label, kind, options in _FIELDS
    ]


def _with_own(options: tuple[tuple[str, str], ...], value: Any) -> tuple[tuple[str, str], ...]:
    """Return the options with the value that stands there, should it be none of them."""
    return options if not options or value is None or value in dict(options) else (*options, (value, value))


def with_fields(part: Mapping[str, Any], typed: Mapping[str, str]) -> dict[str, Any]:
    """Return the profile with these fields as typed; an empty one is taken away, others stay. Raises Untypable."""
    kinds: dict[str, Kind] = {path: kind for _, path, _, kind, _ in _FIELDS}  # type: ignore[misc]
    result = copy.deepcopy(dict(part))
    stood = _at(part, DEFAULT_PASSWORD)
    for path, text in typed.items():
        if path not in kinds:
            raise Untypable(path, f"A profile has no field '{path}'.")
        try:
            value = read(text, kinds[path])
        except ValueError as error:
            raise Untypable(path, sentence(error)) from None
        *sections, name = path.split(".")
        holder = result
        for section in sections:
            if holder.get(section) is None:
                holder[section] = {}
            holder = holder[section]
        if value is None:
            holder.pop(name, None)
        else:
            holder[name] = value
    _set_login(result, stood, typed)
    return _without_empty(result)


def _without_empty(part: dict[str, Any]) -> dict[str, Any]:
    """Return a profile without sections in which nothing stands."""
    inner = {name: _without_empty(value) if isinstance(value, dict) else value for name, value in part.items()}
    return {name: value for name, value in inner.items() if value != {}}


def _set_login(part: dict[str, Any], stood: str | None, typed: Mapping[str, str]) -> None:
    """Put a known default password where the document has it: in the place of the word for the first login."""
    factory = part.get("factory") or {}
    known = factory.pop("default_password", None) if DEFAULT_PASSWORD in typed else stood
    login = factory.get("login")
    if known is None:
        if login not in (None, *LOGIN_WORDS):
            factory["login"] = "default"
    elif login in (None, "default") or login not in LOGIN_WORDS:
        factory["login"] = known
    elif DEFAULT_PASSWORD in typed:
        said = "A default password goes with the first login “a default password”; choose that, or leave this empty."
        raise Untypable(DEFAULT_PASSWORD, said)


def _at(part: Mapping[str, Any], path: str) -> Any:
    *sections, name = path.split(".")
    holder = part
    for section in sections:
        holder = holder.get(section) or {}
    if path in (DEFAULT_PASSWORD, "factory.login"):
        login = holder.get("login")
        known = login not in (None, *LOGIN_WORDS)
        return (login if known else None) if path == DEFAULT_PASSWORD else ("default" if known else login)
    return holder.get(name)
