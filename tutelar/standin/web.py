"""The own page of a pretend device: who it is for anybody, how it is set for whoever logs in, and a form on which that
is changed, so that the bench can be practised."""

import html
import json
import secrets
from datetime import UTC
from email.utils import format_datetime
from http.cookies import CookieError, SimpleCookie
from ipaddress import AddressValueError, IPv4Address
from urllib.parse import parse_qs

import h11

from tutelar.core.site.values import dotted
from tutelar.standin.device import PretendDevice
from tutelar.standin.login import accepts, challenge
from tutelar.standin.protocols import MOST, Clock, Quiet, utc_now
from tutelar.standin.world import World

_TEXT, _HTML = "text/plain; charset=utf-8", "text/html; charset=utf-8"
Fields = list[tuple[str, str]]


class Web(Quiet):
    """`/` and `/login` for people, `/identity` for anybody, `/state` for whoever logs in (Digest or session),
    `/settings` to change it, and on a router `/leases`. Where it is `secure_only`, the open page sends one on."""

    secure = False

    def __init__(self, device: PretendDevice, world: World, now: Clock = utc_now) -> None:
        super().__init__(device, world, now)
        self.http = h11.Connection(h11.SERVER, max_incomplete_event_size=MOST)
        self.request: h11.Request | None = None
        self.body = b""

    def data_received(self, data: bytes) -> None:
        if self.device.mute:
            return
        self.http.receive_data(data)
        try:
            self._advance()
        except h11.RemoteProtocolError:
            self.close()

    def _advance(self) -> None:
        while True:
            event = self.http.next_event()
            if isinstance(event, h11.Request):
                self.request, self.body = event, b""
            elif isinstance(event, h11.Data):
                self.body = (self.body + event.data)[:MOST]
            elif isinstance(event, h11.EndOfMessage) and self.request is not None:
                self.answer(self.request)
                if self.http.our_state is h11.MUST_CLOSE:
                    self.close()
                    return
                self.http.start_next_cycle()
            elif event is h11.NEED_DATA or event is h11.PAUSED:
                return
            else:
                self.close()
                return

    def answer(self, request: h11.Request) -> None:
        """Answer one request whose body is in `self.body`."""
        path = request.target.split(b"?", 1)[0].decode("ascii", "replace")
        get, post = request.method == b"GET", request.method == b"POST"
        if self.device.secure_only and not self.secure and "web-tls" in self.device.services:
            host = self._header("host").partition(":")[0]
            to = f"https://{host}:{self.device.services['web-tls']}{path}"
            self.reply(307, b"", _TEXT, [("Location", to)])
        elif path == "/identity" and get:
            self.reply(200, json.dumps(self.device.identity(self.now())).encode(), "application/json")
        elif path == "/" and get:
            self._page("" if not self._session() else "Signed in.", form=self._session())
        elif path == "/login" and post:
            self._log_in()
        elif path == "/state" and get:
            if self._let_in("GET"):
                self.reply(200, json.dumps(self.world.state_of(self.device)).encode(), "application/json")
        elif path == "/settings" and post:
            if self._let_in("POST"):
                self._change()
        elif path == "/leases" and get and self.device.family == "router":
            if self._let_in("GET"):
                self.reply(200, self.world.leases().encode(), _TEXT)
        else:
            self.reply(404, b"There is no such page on this device.\n", _TEXT)

    def _header(self, name: str) -> str:
        headers = self.request.headers if self.request is not None else []
        return next((value.decode("latin-1") for key, value in headers if key == name.encode()), "")

    def _session(self) -> bool:
        try:
            cookie = SimpleCookie(self._header("cookie")).get("session")
        except CookieError:
            return False
        return cookie is not None and cookie.value in self.device.sessions

    def _let_in(self, method: str) -> bool:
        """Return whether the request carries a login, or answer that it needs one."""
        said = self._header("authorization")
        if self.device.locked:
            self.reply(423, b"Too many tries.\n", _TEXT)
        elif self._session() or (said and accepts(self.device, said, method)):
            return True
        else:
            ask = [("WWW-Authenticate", value) for value in challenge(self.device)]
            self.reply(401, b"Log in first.\n", _TEXT, ask)
        return False

    def _form(self) -> dict[str, str]:
        return {name: values[0].strip() for name, values in parse_qs(self.body.decode("utf-8", "replace")).items()}

    def _log_in(self) -> None:
        form = self._form()
        user = form.get("user", "")
        if self.device.takes(user, form.get("password", "") in self.device.passwords(user)):
            session = secrets.token_hex(8)
            self.device.sessions.add(session)
            cookie = [("Set-Cookie", f"session={session}; HttpOnly; SameSite=Strict; Path=/")]
            self._page(f"Signed in as {user}.", form=True, more=cookie)
        else:
            said = "Too many tries." if self.device.locked else "User or password refused."
            self._page(said, status=401)

    def _change(self) -> None:
        """Set what the form holds, all or nothing; new address settings are taken up by a restart."""
        wrong = change(self.device, self._form())
        if wrong is not None:
            self._page(wrong, status=422, form=True)
            return
        restarts = self.world.restart is not None and self.device.restarting
        self._page("Kept. The device restarts now." if restarts else "Kept.", form=True)
        if restarts and self.world.restart is not None:
            self.world.restart(self.device)

    def _page(self, notice: str, *, status: int = 200, form: bool = False, more: Fields | None = None) -> None:
        self.reply(status, page(self.device, notice, form=form).encode(), _HTML, more)

    def reply(self, status: int, body: bytes, kind: str, more: Fields | None = None) -> None:
        """Send one answer with the device's own date."""
        date = format_datetime(self.device.clock(self.now()).astimezone(UTC), usegmt=True)
        headers = [("Date", date), ("Content-Type", kind), ("Content-Length", str(len(body))), *(more or [])]
        self.send(
            (self.http.send(h11.Response(status_code=status, headers=headers)) or b"")
            + (self.http.send(h11.Data(data=body)) or b"")
            + (self.http.send(h11.EndOfMessage()) or b"")
        )


class SecureWeb(Web):
    secure = True


def change(device: PretendDevice, form: dict[str, str]) -> str | None:
    """Set a device as a form says; return what is wrong with it, and then nothing was set. Blanks stay as they are."""
    given = {name: text for name, text in form.items() if text}
    numbers: dict[str, int] = {}
    for name in ("address", "gateway", "dns"):
        if name in given:
            try:
                numbers[name] = int(IPv4Address(given[name]))
            except AddressValueError:
                return f"'{given[name]}' is not an IPv4 address; {name} is like 192.168.1.20."
    prefix = given.get("prefix", "")
    if prefix and not (prefix.isascii() and prefix.isdigit() and 1 <= int(prefix) <= 30):
        return f"'{prefix}' is not a prefix; it is a number from 1 to 30."
    if given.get("date_order", "DMY") not in ("DMY", "MDY", "YMD"):
        return f"'{given['date_order']}' is not a date order; choose DMY, MDY or YMD."
    if "password" in given and len(given["password"]) < 8:
        return "The password is too short; it has at least 8 characters."
    before = (device.site_address, device.prefix, device.gateway, device.dns)
    device.name = given.get("name", device.name)[:200]
    device.date_order = given.get("date_order", device.date_order)
    device.password = given.get("password", device.password)
    device.code = given.get("registration_code", device.code)
    device.site_address = numbers.get("address", device.site_address)
    device.prefix = int(prefix) if prefix else device.prefix
    device.gateway = given.get("gateway", device.gateway)
    device.dns = (given["dns"],) if "dns" in given else device.dns
    device.restarting = before != (device.site_address, device.prefix, device.gateway, device.dns)
    device.time_source = given.get("time_source", device.time_source)
    if "password" in given:
        device.factory = None
    if given.get("clock") == "now":
        device.clock_offset_s = 0.0
    if "secure_only" in given:
        device.secure_only = given["secure_only"] == "yes"
    return None


_ORDERS = (("DMY", "day-month-year"), ("MDY", "month-day-year"), ("YMD", "year-month-day"))
STYLE = (
    "body{font:16px/1.5 sans-serif;max-width:38rem;margin:2rem auto;padding:0 1rem;color:#1b2430;background:#fff}"
    "h1{font-size:1.4rem;margin:0}label{display:grid;grid-template-columns:12rem 1fr;gap:1rem;margin:.5rem 0}"
    "input,select,button{font:inherit;padding:.4rem;border:1px solid #5b6470;border-radius:2px;background:#fff}"
    "input[type=checkbox]{justify-self:start}button{padding:.5rem 1.5rem;margin-top:1rem;font-weight:600}"
    "[role=status]{border-left:4px solid #1b2430;padding-left:.75rem}small{color:#4a5361}"
)


def page(device: PretendDevice, notice: str, *, form: bool = False) -> str:
    """Return the device's page; with the form where somebody is signed in, else with the login."""
    name, model = html.escape(device.name), html.escape(device.model_name)
    said = f"<p role='status'>{html.escape(notice)}</p>" if notice else ""
    body = _settings(device) if form else _LOGIN
    return (
        f"<!doctype html><html lang='en'><meta charset='utf-8'><title>{name}</title><style>{STYLE}</style>"
        f"<h1>{name}</h1><p><small>{model}, a pretend device to practise on</small></p>{said}{body}</html>"
    )


_LOGIN = (
    "<form method='post' action='/login'><label>User <input name='user' autocomplete='off'></label>"
    "<label>Password <input name='password' type='password'></label><button>Sign in</button></form>"
)


def _settings(device: PretendDevice) -> str:
    """Return the form with what is set now; the password is not shown."""
    shown = (
        ("name", "Device name", device.name), ("address", "Address", dotted(device.site_address)),
        ("prefix", "Prefix", device.prefix), ("gateway", "Gateway", device.gateway),
        ("dns", "DNS server", device.dns[0] if device.dns else None),
        ("time_source", "Time source", device.time_source), ("registration_code", "Registration code", device.code),
    )  # fmt: skip
    fields = "".join(
        f"<label>{title} <input name='{key}' value='{html.escape(str(value or ''))}'></label>"
        for key, title, value in shown
    )
    chosen = "".join(
        f"<option value='{key}'{' selected' if key == device.date_order else ''}>{words}</option>"
        for key, words in _ORDERS
    )
    secure = " selected" if device.secure_only else ""
    return (
        f"<form method='post' action='/settings'>{fields}<label>Date order <select name='date_order'>{chosen}</select>"
        "</label><label>Clock <select name='clock'><option value=''>leave it</option><option value='now'>set it to now"
        "</option></select></label><label>Pages <select name='secure_only'><option value='no'>open and secure</option>"
        f"<option value='yes'{secure}>secure only</option></select></label><label>New password "
        "<input name='password' type='password' autocomplete='new-password'></label><button>Keep</button></form>"
    )
