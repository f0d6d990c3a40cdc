"""The web service of a pretend device: who it is for anybody, how it is set for whoever logs in."""

import json
import secrets
from datetime import UTC
from email.utils import format_datetime
from http.cookies import CookieError, SimpleCookie
from urllib.parse import parse_qs

import h11

from tutelar.standin.device import PretendDevice
from tutelar.standin.login import accepts, challenge
from tutelar.standin.protocols import MOST, Clock, Quiet, utc_now
from tutelar.standin.settings_page import change, page
from tutelar.standin.world import World

_TEXT, _HTML = "text/plain; charset=utf-8", "text/html; charset=utf-8"
Fields = list[tuple[str, str]]


class Web(Quiet):
    """`/` and `/login` for people, `/identity` for anybody, `/state` for whoever logs in (Digest or session),
    `/settings` to change it, on a router `/leases`, on a panel `/events` and `/doors/NUMBER/DEED`. Where it is
    `secure_only`, the open page sends one on."""

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
        elif path == "/password" and post and self.device.new:
            self._choose_password()
        elif path == "/state" and get:
            if self._let_in("GET"):
                self.reply(200, json.dumps(self.world.state_of(self.device)).encode(), "application/json")
        elif path == "/settings" and post:
            if self._let_in("POST"):
                self._change()
        elif path == "/events" and get and self.device.doors.doors:
            if self._let_in("GET"):
                self.reply(200, json.dumps({"events": self.device.doors.events}).encode(), "application/json")
        elif path.startswith("/doors/") and get:
            if self._let_in("GET"):
                self._try_door(path.split("/")[2:])
        elif path == "/leases" and get and self.device.family == "router":
            if self._let_in("GET"):
                self.reply(200, self.world.leases().encode(), _TEXT)
        else:
            self.reply(404, b"There is no such page on this device.\n", _TEXT)

    def _try_door(self, parts: list[str]) -> None:
        """Do something at a door, as somebody standing there would: `/doors/2/card-granted`."""
        number = int(parts[0]) if parts[0].isdecimal() and len(parts[0]) < 5 else 0
        told = self.device.doors.tried(number, parts[1], self.now()) if len(parts) == 2 else None
        if told is None:
            self.reply(404, b"There is no such door here, or nothing of the kind is done at one.\n", _TEXT)
        else:
            self.reply(200, json.dumps(told).encode(), "application/json")

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
            self._sign_in(f"Signed in as {user}.")
        else:
            said = "Too many tries." if self.device.locked else "User or password refused."
            self._page(said, status=401)

    def _sign_in(self, notice: str) -> None:
        session = secrets.token_hex(8)
        self.device.sessions.add(session)
        self._page(notice, form=True, more=[("Set-Cookie", f"session={session}; HttpOnly; SameSite=Strict; Path=/")])

    def _choose_password(self) -> None:
        """Take the first password of a device that has none yet."""
        wrong = change(self.device, {"password": self._form().get("password") or "-"}, self.world)
        if wrong is not None:
            self._page(wrong, status=422)
        else:
            self._sign_in(f"The password of {self.device.user} is saved.")

    def _change(self) -> None:
        """Set what the form holds, all or nothing; new address settings are taken up by a restart."""
        wrong = change(self.device, self._form(), self.world)
        if wrong is not None:
            self._page(wrong, status=422, form=True)
            return
        restarts = self.world.restart is not None and self.device.restarting
        self._page("Kept. The device restarts now." if restarts else "Kept.", form=True)
        if restarts and self.world.restart is not None:
            self.world.restart(self.device)

    def _page(self, notice: str, *, status: int = 200, form: bool = False, more: Fields | None = None) -> None:
        self.reply(status, page(self.device, self.world, notice, form=form).encode(), _HTML, more)

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
    """The same page behind TLS."""

    secure = True
