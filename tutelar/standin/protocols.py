"""What the ports of a pretend device speak: web pages with a login and an identity, streams, and silence."""

import asyncio
import html
import json
import secrets
from collections.abc import Callable
from datetime import UTC, datetime
from email.utils import format_datetime
from urllib.parse import parse_qs

import h11

from tutelar.standin.device import PretendDevice
from tutelar.standin.login import accepts, challenge
from tutelar.standin.world import World

Clock = Callable[[], datetime]
_MOST = 65536  # bytes of one request that are read before the connection is closed


def utc_now() -> datetime:
    return datetime.now(UTC)


class Quiet(asyncio.Protocol):
    """A port that takes connections and says nothing until it is spoken to in its own protocol."""

    def __init__(self, device: PretendDevice, world: World, now: Clock = utc_now) -> None:
        self.device, self.world, self.now = device, world, now
        self.transport: asyncio.Transport | None = None

    def connection_made(self, transport: asyncio.BaseTransport) -> None:
        if isinstance(transport, asyncio.Transport):
            self.transport = transport
            port = transport.get_extra_info("sockname")[1]
            if self.device.drops and self.device.breaks_off(port):
                transport.abort()

    def send(self, data: bytes) -> None:
        if self.transport is not None and not self.transport.is_closing():
            self.transport.write(data)

    def close(self) -> None:
        if self.transport is not None:
            self.transport.close()


class Web(Quiet):
    """The device's own page: `/` with a login, `/identity` for anybody, `/state` for whoever logs in (Digest)."""

    def __init__(self, device: PretendDevice, world: World, now: Clock = utc_now) -> None:
        super().__init__(device, world, now)
        self.http = h11.Connection(h11.SERVER, max_incomplete_event_size=_MOST)
        self.request: h11.Request | None = None
        self.body = b""

    def data_received(self, data: bytes) -> None:
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
                self.body = (self.body + event.data)[:_MOST]
            elif isinstance(event, h11.EndOfMessage) and self.request is not None:
                self._answer(self.request)
                if self.http.our_state is h11.MUST_CLOSE:
                    self.close()
                    return
                self.http.start_next_cycle()
            elif event is h11.NEED_DATA or event is h11.PAUSED:
                return
            else:
                self.close()
                return

    def _answer(self, request: h11.Request) -> None:
        path = request.target.split(b"?", 1)[0].decode("ascii", "replace")
        if path == "/identity" and request.method == b"GET":
            body = json.dumps(self.device.identity(self.now())).encode()
            self._reply(200, body, "application/json")
        elif path == "/" and request.method == b"GET":
            self._reply(200, _page(self.device, "").encode(), "text/html; charset=utf-8")
        elif path == "/login" and request.method == b"POST":
            self._log_in()
        elif path == "/state" and request.method == b"GET":
            self._state(request)
        else:
            self._reply(404, b"There is no such page on this device.\n", "text/plain; charset=utf-8")

    def _state(self, request: h11.Request) -> None:
        said = next((value.decode("latin-1") for name, value in request.headers if name == b"authorization"), None)
        if self.device.locked:
            self._reply(423, b"Too many tries.\n", "text/plain; charset=utf-8")
        elif said is not None and accepts(self.device, said, "GET"):
            self._reply(200, json.dumps(self.world.state_of(self.device)).encode(), "application/json")
        else:
            ask = [("WWW-Authenticate", value) for value in challenge(self.device)]
            self._reply(401, b"Log in first.\n", "text/plain; charset=utf-8", ask)

    def _log_in(self) -> None:
        form = parse_qs(self.body.decode("utf-8", "replace"))
        user, password = form.get("user", [""])[0], form.get("password", [""])[0]
        if self.device.takes(user, password == self.device.password):
            cookie = [("Set-Cookie", f"session={secrets.token_hex(8)}; HttpOnly; Path=/")]
            self._reply(200, _page(self.device, f"Signed in as {user}.").encode(), "text/html; charset=utf-8", cookie)
        else:
            page = _page(self.device, "User or password refused.")
            self._reply(401, page.encode(), "text/html; charset=utf-8")

    def _reply(self, status: int, body: bytes, kind: str, more: list[tuple[str, str]] | None = None) -> None:
        date = format_datetime(self.device.clock(self.now()).astimezone(UTC), usegmt=True)
        headers = [("Date", date), ("Content-Type", kind), ("Content-Length", str(len(body))), *(more or [])]
        self.send(
            (self.http.send(h11.Response(status_code=status, headers=headers)) or b"")
            + (self.http.send(h11.Data(data=body)) or b"")
            + (self.http.send(h11.EndOfMessage()) or b"")
        )


def _page(device: PretendDevice, notice: str) -> str:
    name, model = html.escape(device.name), html.escape(device.model_name)
    said = f"<p role='status'>{html.escape(notice)}</p>" if notice else ""
    return (
        f"<!doctype html><html lang='en'><meta charset='utf-8'><title>{name}</title><h1>{name}</h1><p>{model}</p>{said}"
        "<form method='post' action='/login'><label>User <input name='user'></label> "
        "<label>Password <input name='password' type='password'></label> <button>Sign in</button></form></html>"
    )


class Headed(Quiet):
    """A port that is spoken to in heads: lines that end with an empty one."""

    def __init__(self, device: PretendDevice, world: World, now: Clock = utc_now) -> None:
        super().__init__(device, world, now)
        self.buffer = b""

    def data_received(self, data: bytes) -> None:
        self.buffer += data
        while b"\r\n\r\n" in self.buffer:
            head, self.buffer = self.buffer.split(b"\r\n\r\n", 1)
            self.heard(head)
        if len(self.buffer) > _MOST:
            self.close()

    def heard(self, head: bytes) -> None:
        """Answer one head, given without its empty line."""
        raise NotImplementedError


class Stream(Headed):
    """A stream port: answers OPTIONS, and DESCRIBE to whoever logs in (RTSP 1.0, RFC 2326; SDP, RFC 8866)."""

    def heard(self, head: bytes) -> None:
        first, *rest = head.decode("utf-8", "replace").split("\r\n")
        fields = {name.strip().lower(): value.strip() for name, _, value in (line.partition(":") for line in rest)}
        method = first.split(" ", 1)[0]
        sequence = fields.get("cseq", "0")
        if not first.endswith("RTSP/1.0"):
            self._reply("400 Bad Request", sequence)
            self.close()
        elif method == "OPTIONS":
            self._reply("200 OK", sequence, "Public: OPTIONS, DESCRIBE\r\n")
        elif method == "DESCRIBE" and not accepts(self.device, fields.get("authorization", ""), "DESCRIBE"):
            ask = "".join(f"WWW-Authenticate: {value}\r\n" for value in challenge(self.device))
            self._reply("401 Unauthorized", sequence, ask)
        elif method == "DESCRIBE":
            body = self._description()
            kind = f"Content-Type: application/sdp\r\nContent-Length: {len(body)}\r\n"
            self._reply("200 OK", sequence, kind, body)
        else:
            self._reply("501 Not Implemented", sequence)

    def _reply(self, status: str, sequence: str, fields: str = "", body: bytes = b"") -> None:
        self.send(f"RTSP/1.0 {status}\r\nCSeq: {sequence}\r\n{fields}\r\n".encode() + body)

    def _description(self) -> bytes:
        main = self.device.stream or {}
        codec = str(main.get("codec", "h264")).upper()
        lines = ["v=0", "o=- 0 0 IN IP4 0.0.0.0", f"s={self.device.name}", "t=0 0", "m=video 0 RTP/AVP 96",
                 f"a=rtpmap:96 {codec}/90000"]  # fmt: skip
        if main:
            lines += [f"a=framesize:96 {main['width']}-{main['height']}", f"a=framerate:{main['fps']:g}"]
        return "\r\n".join([*lines, "a=control:track1", ""]).encode()


SPEAKS: dict[str, type[Quiet]] = {"web": Web, "web-tls": Web, "control": Web, "stream": Stream}
