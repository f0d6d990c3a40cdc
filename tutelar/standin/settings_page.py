"""The page of a pretend device on which it is set, so that the bench and the links can be practised."""

import html
from dataclasses import dataclass
from ipaddress import AddressValueError, IPv4Address

from tutelar.core.credentials import fails
from tutelar.core.ports import SERVICE_WORDS
from tutelar.core.site.values import dotted
from tutelar.standin.device import PretendDevice
from tutelar.standin.world import Entry, World

_ORDERS = (("DMY", "day-month-year"), ("MDY", "month-day-year"), ("YMD", "year-month-day"))
_ADDRESSES = {
    "address": "192.168.1.20",
    "gateway": "192.168.1.1",
    "dns": "192.168.1.1",
    "camera": "192.168.1.30",
    "station": "192.168.1.40",
}


@dataclass(frozen=True)
class _Given:
    """What a form holds, read: nothing that is blank."""

    texts: dict[str, str]
    numbers: dict[str, int]
    ports: dict[str, int]


def change(device: PretendDevice, form: dict[str, str], world: World) -> str | None:
    """Set a device as a form says; return what is wrong with it, and then nothing was set. Blanks stay as they are."""
    given = _read(device, form)
    if isinstance(given, str):
        return given
    texts, numbers = given.texts, given.numbers
    if texts.get("armed") == "no":
        device.armed = False
    if device.armed:
        return "The hub is armed and takes no settings: have it disarmed first, by whoever may."
    wrong = _type_channel(device, given, world)
    if wrong is not None:
        return wrong
    before = _restarting(device)
    device.name = texts.get("name", device.name)[:200]
    device.date_order = texts.get("date_order", device.date_order)
    device.code = texts.get("registration_code", device.code)
    device.leased &= numbers.get("address") in (None, device.site_address)
    device.site_address = numbers.get("address", device.site_address)
    device.prefix = numbers.get("prefix", device.prefix)
    device.gateway = texts.get("gateway", device.gateway)
    device.dns = (texts["dns"],) if "dns" in texts else device.dns
    device.services |= given.ports
    device.restarting = before != _restarting(device)
    device.time_source = texts.get("time_source", device.time_source)
    device.number = numbers.get("number", device.number)
    if "password" in texts:
        device.password, device.factory = texts["password"], None
    if texts.get("clock") == "now":
        device.clock_offset_s = 0.0
    if "secure_only" in texts:
        device.secure_only = texts["secure_only"] == "yes"
    if device.relay in ("online", "off") and "remote" in texts:
        device.relay = "online" if texts["remote"] == "on" else "off"
    _type_station(device, given, world)
    return None


def _restarting(device: PretendDevice) -> tuple[object, ...]:
    """Return what is taken up by a restart only."""
    return device.site_address, device.prefix, device.gateway, device.dns, tuple(device.services.items())


def _read(device: PretendDevice, form: dict[str, str]) -> _Given | str:
    """Return what a form holds, or what is wrong with it."""
    texts = {name: text for name, text in form.items() if text}
    numbers: dict[str, int] = {}
    for name in _ADDRESSES.keys() & texts.keys():
        try:
            numbers[name] = int(IPv4Address(texts[name]))
        except AddressValueError:
            return f"'{texts[name]}' is not an IPv4 address; {name} is like {_ADDRESSES[name]}."
    ports = {f"port_{service}": 65535 for service in device.services}
    for name, most in {"prefix": 30, "number": 9999, "channel": 999, "camera_port": 65535, **ports}.items():
        text = texts.get(name, "")
        if text and not (text.isascii() and text.isdigit() and len(text) < 6 and 1 <= int(text) <= most):
            return f"'{text}' is not a {name.split('_')[0]}; it is a number from 1 to {most}."
        if text:
            numbers[name] = int(text)
    changed = {service: numbers[f"port_{service}"] for service in device.services if f"port_{service}" in numbers}
    services = device.services | changed
    twice = next((port for port in services.values() if list(services.values()).count(port) > 1), None)
    if changed and twice is not None:
        return f"The port {twice} is wanted by two services; each has its own."
    if texts.get("date_order", "DMY") not in dict(_ORDERS):
        return f"'{texts['date_order']}' is not a date order; choose DMY, MDY or YMD."
    if "password" in texts and device.rule is not None and (wrong := fails(device.rule, texts["password"])):
        return f"The password is not taken. {wrong[0]}"
    return _Given(texts, numbers, changed)


def _type_channel(recorder: PretendDevice, given: _Given, world: World) -> str | None:
    """Type a camera into a channel of a recorder; return what is missing for that. Without an address it is freed."""
    if recorder.key not in world.recorders:
        return None
    number = given.numbers.get("channel")
    if number is None:
        return "The channel is missing; it is a number from 1 on." if "camera" in given.numbers else None
    entries = [entry for entry in world.entries.get(recorder.key, []) if entry.number != number]
    if "camera" in given.numbers:
        address, ports = given.numbers["camera"], given.numbers
        of, source, ground, port = world.planned_at(recorder, address, number)
        password = given.texts.get("camera_password", "")
        asked = ports.get("camera_port", port)
        week = next((item.week for item in world.entries.get(recorder.key, []) if item.number == number), "")
        week = week or world.planned_week(of, recorder.key)
        typed = Entry(number, of, recorder.key, source, ground, address, asked, password, week=week)
        entries = sorted([*entries, typed], key=lambda entry: entry.number)
    world.entries[recorder.key] = entries
    return None


def _type_station(device: PretendDevice, given: _Given, world: World) -> None:
    """Type the main station into whoever registers there."""
    home = world.homes.get(device.key)
    if home is None:
        return
    if "station" in given.numbers:
        home.address = given.numbers["station"]
        _, _, home.ground, home.port = world.planned_at(device, home.address)
    home.password = given.texts.get("station_password", home.password)


STYLE = (
    "body{font:16px/1.5 sans-serif;max-width:38rem;margin:2rem auto;padding:0 1rem;color:#1b2430;background:#fff}"
    "h1{font-size:1.4rem;margin:0}h2{font-size:1rem;margin:1.5rem 0 0}table{border-collapse:collapse;width:100%}"
    "td,th{text-align:left;border-bottom:1px solid #c9cfd6;padding:.2rem .5rem .2rem 0}"
    "label{display:grid;grid-template-columns:12rem 1fr;gap:1rem;margin:.5rem 0}"
    "input,select,button{font:inherit;padding:.4rem;border:1px solid #5b6470;border-radius:2px;background:#fff}"
    "input[type=checkbox]{justify-self:start}button{padding:.5rem 1.5rem;margin-top:1rem;font-weight:600}"
    "[role=status]{border-left:4px solid #1b2430;padding-left:.75rem}small{color:#4a5361}"
)


def page(device: PretendDevice, world: World, notice: str, *, form: bool = False) -> str:
    """Return the device's page: the form where somebody is signed in, else the login, or the choice of a password."""
    name, model = html.escape(device.name), html.escape(device.model_name)
    said = f"<p role='status'>{html.escape(notice)}</p>" if notice else ""
    body = _settings(device, world) if form else _first_password(device) if device.new else _LOGIN
    return (
        f"<!doctype html><html lang='en'><meta charset='utf-8'><title>{name}</title><style>{STYLE}</style>"
        f"<h1>{name}</h1><p><small>{model}, a pretend device to practise on</small></p>{said}{body}</html>"
    )


_LOGIN = (
    "<form method='post' action='/login'><label>User <input name='user' autocomplete='off'></label>"
    "<label>Password <input name='password' type='password'></label><button>Sign in</button></form>"
)


def _first_password(device: PretendDevice) -> str:
    wanted = f": {html.escape(device.rule.words)}" if device.rule is not None else ""
    return (
        "<form method='post' action='/password'><p>It has no password yet. Choose the one of "
        f"{html.escape(device.user)}{wanted}.</p>{_password('password', 'Password')}"
        "<button>Keep</button></form>"
    )


def _settings(device: PretendDevice, world: World) -> str:
    """Return the form with what is set now; no password is shown."""
    shown: list[tuple[str, str, object]] = [
        ("name", "Device name", device.name),
        ("address", "Address", dotted(device.site_address)),
        ("prefix", "Prefix", device.prefix),
        ("gateway", "Gateway", device.gateway),
        ("dns", "DNS server", device.dns[0] if device.dns else None),
        ("time_source", "Time source", device.time_source),
        ("registration_code", "Registration code", device.code),
        *((f"port_{name}", f"{SERVICE_WORDS.get(name, name)}, port", port) for name, port in device.services.items()),
    ]
    home = world.homes.get(device.key)
    if home is not None:
        shown += [
            ("number", "Its number", device.number),
            ("station", "Main station", dotted(home.address) if home.address else None),
        ]
    fields = "".join(
        f"<label>{title} <input name='{key}' value='{html.escape(str(value or ''))}'></label>"
        for key, title, value in shown
    )
    if home is not None:
        fields += _password("station_password", "Password of the main station")
    fields += _choice("date_order", "Date order", _ORDERS, device.date_order)
    fields += _choice("clock", "Clock", (("", "leave it"), ("now", "set it to now")), "")
    pages = (("no", "open and secure"), ("yes", "secure only"))
    fields += _choice("secure_only", "Pages", pages, "yes" if device.secure_only else "no")
    if device.relay in ("online", "off"):
        on = "off" if device.relay == "off" else "on"
        fields += _choice("remote", "Remote access", (("off", "off"), ("on", "on")), on)
    fields += _password("password", "New password")
    return f"<form method='post' action='/settings'>{fields}<button>Keep</button></form>{_channels(device, world)}"


def _channels(recorder: PretendDevice, world: World) -> str:
    """Return what is typed into a recorder's channels, and the form to type one."""
    if recorder.key not in world.recorders:
        return ""
    rows = "".join(
        f"<tr><td>{entry.number}<td>{dotted(entry.address)}<td>{entry.port or ''}<td>{html.escape(state)}</tr>"
        for entry, state in world.channels(recorder, world.answering())
    )
    return (
        "<h2>Channels</h2><table><tr><th>Channel<th>Camera<th>Port<th>State</tr>" + rows + "</table>"
        "<form method='post' action='/settings'><label>Channel <input name='channel'></label>"
        "<label>Address of the camera <input name='camera'></label><label>Its port <input name='camera_port'></label>"
        + _password("camera_password", "Its password")
        + "<button>Type it in</button> <small>Without an address the channel is freed.</small></form>"
    )


def _password(name: str, title: str) -> str:
    return f"<label>{title} <input name='{name}' type='password' autocomplete='new-password'></label>"


def _choice(name: str, title: str, choices: tuple[tuple[str, str], ...], chosen: str) -> str:
    options = "".join(
        f"<option value='{key}'{' selected' if key == chosen else ''}>{words}</option>" for key, words in choices
    )
    return f"<label>{title} <select name='{name}'>{options}</select></label>"
