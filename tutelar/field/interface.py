"""The device interface that many makers share: SOAP 1.2 over HTTP as in the ONVIF core and media specifications, with a
user name token (WS-Security UsernameToken profile 1.0) or Digest; and its discovery (WS-Discovery, April 2005).

Only a few questions are asked; everything may be missing. XML is read with entities and document types forbidden.
"""

import base64
import hashlib
import re
import secrets
import uuid
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from xml.etree.ElementTree import Element, ParseError

from defusedxml import DefusedXmlException
from defusedxml.ElementTree import fromstring

from tutelar.core.proof import Identity, LoginAnswer, ReportedState
from tutelar.field.datagram import gather
from tutelar.field.guard import SEARCHED, Guard
from tutelar.field.http import HttpAnswer, Page, ProtocolError, request
from tutelar.field.login import Account, answer

PATH = "/onvif/device_service"
DEVICE, MEDIA = "http://www.onvif.org/ver10/device/wsdl", "http://www.onvif.org/ver10/media/wsdl"
_SCHEMA = "http://www.onvif.org/ver10/schema"
_ENVELOPE = "http://www.w3.org/2003/05/soap-envelope"
_SECURITY = "http://docs.oasis-open.org/wss/2004/01/oasis-200401-wss-wssecurity-secext-1.0.xsd"
_UTILITY = "http://docs.oasis-open.org/wss/2004/01/oasis-200401-wss-wssecurity-utility-1.0.xsd"
_PASSWORD = "http://docs.oasis-open.org/wss/2004/01/oasis-200401-wss-username-token-profile-1.0#PasswordDigest"  # noqa: S105
_ADDRESSING = "http://schemas.xmlsoap.org/ws/2004/08/addressing"
_DISCOVERY = "http://schemas.xmlsoap.org/ws/2005/04/discovery"
_KIND = "application/soap+xml; charset=utf-8"
GROUP, DISCOVERY_PORT = str(SEARCHED), 3702
_MOST_TEXT = 200


@dataclass(frozen=True)
class InterfaceSeen:
    """What the device interface said: who it is, its clock minus ours in seconds, its settings, where its main stream
    is, what became of the login (None: it was not asked for one), its answers as text."""

    identity: Identity
    offset_s: float | None
    give_s: float  # by how much that may be off either way
    told: ReportedState
    stream: str | None
    login: LoginAnswer | None
    shown: str


@dataclass(frozen=True)
class Found:
    """A device that answered a search: its address as it says, what it calls itself and its hardware."""

    address: str
    name: str | None
    hardware: str | None


def envelope(body: str, header: str = "") -> bytes:
    """Return a SOAP 1.2 message."""
    return (
        f'<?xml version="1.0" encoding="UTF-8"?><s:Envelope xmlns:s="{_ENVELOPE}" xmlns:tds="{DEVICE}" '
        f'xmlns:trt="{MEDIA}" xmlns:tt="{_SCHEMA}"><s:Header>{header}</s:Header><s:Body>{body}</s:Body></s:Envelope>'
    ).encode()


def token(account: Account, at: datetime, nonce: bytes) -> str:
    """Return a user name token: Base64(SHA-1(nonce + created + password)) with the device's own time."""
    created = at.strftime("%Y-%m-%dT%H:%M:%SZ")
    proof = hashlib.sha1(nonce + created.encode() + account.password.encode()).digest()  # noqa: S324 - the profile's
    return (
        f'<w:Security xmlns:w="{_SECURITY}" xmlns:u="{_UTILITY}"><w:UsernameToken><w:Username>{_escaped(account.user)}'
        f'</w:Username><w:Password Type="{_PASSWORD}">{base64.b64encode(proof).decode()}</w:Password><w:Nonce>'
        f"{base64.b64encode(nonce).decode()}</w:Nonce><u:Created>{created}</u:Created></w:UsernameToken></w:Security>"
    )


def _escaped(text: str) -> str:
    return re.sub(r"[^\x20-\x7e]|[<>&]", lambda found: f"&#{ord(found[0])};", text)


class _Talk:
    """One conversation with a device interface; a refused login ends what needs one."""

    def __init__(self, guard: Guard, address: str, port: int, account: Account | None, timeout_s: float) -> None:
        self.guard, self.address, self.port, self.timeout_s = guard, address, port, timeout_s
        self.account, self.login = account, None if account is None else "taken"
        self.offset = timedelta(0)
        self.shown: list[str] = []
        self.asks: tuple[str, ...] = ()
        self.said: HttpAnswer  # the last answer

    async def ask(self, question: str, path: str = PATH, *, login: bool = True) -> Element | None:
        """Return the body of the answer, None for a fault or where the login is refused."""
        if login and (self.account is None or self.login != "taken"):
            return None
        header = ""
        if login and not self.asks and self.account is not None:
            header = token(self.account, datetime.now(UTC) + self.offset, secrets.token_bytes(16))
        said = await self._post(path, envelope(question, header))
        if said.status == 401 and said.asks and login and not self.asks:
            self.asks = said.asks  # it wants Digest: the token was not looked at
            said = await self._post(path, envelope(question))
        self.shown.append(said.body.decode("utf-8", "replace"))
        body = read(said.body)
        refused = said.status in (401, 403) or (body is not None and "NotAuthorized" in _all_text(body))
        if login and refused:
            self.login = "refused"
            return None
        return None if body is None or _find(body, "Fault") is not None else body

    async def _post(self, path: str, message: bytes) -> HttpAnswer:
        said = None
        if self.asks and self.account is not None:
            said = answer(self.asks, self.account, "POST", path)
        page = Page(self.port, path)
        self.said = await request(
            self.guard, self.address, page, timeout_s=self.timeout_s, authorization=said, body=(_KIND, message)
        )
        return self.said


async def interface(
    guard: Guard, address: str, port: int, account: Account | None = None, *, timeout_s: float = 3.0
) -> InterfaceSeen:
    """Return what a device tells at its device interface; with an `account` what it tells to whoever logs in.

    Raises Refused, NoAnswer, Mute, BrokenOff, or StrangeAnswer for what does not speak SOAP.
    """
    talk = _Talk(guard, address, port, account, timeout_s)
    date = await talk.ask("<tds:GetSystemDateAndTime/>", login=False)
    if date is None and not any("Envelope" in text for text in talk.shown):
        raise ProtocolError("open, but does not speak the device interface")
    offset = None if date is None else _offset(date, talk.said)
    talk.offset = timedelta(seconds=offset or 0)
    give = talk.said.give_s
    about = await talk.ask("<tds:GetDeviceInformation/>")
    cards = await talk.ask("<tds:GetNetworkInterfaces/>")
    name = await talk.ask("<tds:GetHostname/>")
    gateway = await talk.ask("<tds:GetNetworkDefaultGateway/>")
    dns = await talk.ask("<tds:GetDNS/>")
    time = await talk.ask("<tds:GetNTP/>")
    who = Identity(_text(name, "Name"), _text(cards, "HwAddress"), _text(about, "SerialNumber"))
    told = ReportedState(
        prefix=_prefix(cards),
        gateway=_text(gateway, "IPv4Address"),
        dns=None if dns is None else _addresses(dns),
        time_source=None if time is None else next(iter(_addresses(time)), _text(time, "DNSname")),
    )
    stream = await _stream(talk)
    return InterfaceSeen(who, offset, give, told, stream, talk.login, "\n".join(talk.shown))  # type: ignore[arg-type]


async def _stream(talk: _Talk) -> str | None:
    """Return the address of the first profile's stream (RTSP), None where it tells none."""
    profiles = await talk.ask("<trt:GetProfiles/>", "/onvif/media_service")
    first = None if profiles is None else _find(profiles, "Profiles")
    key = None if first is None else first.get("token")
    if key is None:
        return None
    setup = (
        "<trt:StreamSetup><tt:Stream>RTP-Unicast</tt:Stream><tt:Transport><tt:Protocol>RTSP</tt:Protocol>"
        f"</tt:Transport></trt:StreamSetup><trt:ProfileToken>{_escaped(key[:64])}</trt:ProfileToken>"
    )
    return _text(await talk.ask(f"<trt:GetStreamUri>{setup}</trt:GetStreamUri>", "/onvif/media_service"), "Uri")


def read(data: bytes) -> Element | None:
    """Return the body of a SOAP message, None for what is none."""
    try:
        root = fromstring(data, forbid_dtd=True)
    except (ParseError, DefusedXmlException, ValueError, LookupError, RecursionError):
        return None
    return _find(root, "Body") if _local(root) == "Envelope" else None


def _local(node: Element) -> str:
    return node.tag.rpartition("}")[2] if isinstance(node.tag, str) else ""


def _find(node: Element, name: str) -> Element | None:
    return next((item for item in node.iter() if _local(item) == name), None)


def _text(node: Element | None, name: str) -> str | None:
    found = None if node is None else _find(node, name)
    text = (found.text or "").strip() if found is not None else ""
    return text[:_MOST_TEXT] or None


def _all_text(node: Element) -> str:
    return " ".join((item.text or "") for item in node.iter())


def _addresses(node: Element) -> tuple[str, ...]:
    found = [(item.text or "").strip() for item in node.iter() if _local(item) == "IPv4Address"]
    return tuple(text[:64] for text in found if text)[:8]


def _prefix(node: Element | None) -> int | None:
    text = _text(node, "PrefixLength")
    return int(text) if text is not None and re.fullmatch(r"\d{1,2}", text, re.ASCII) and int(text) <= 32 else None


def _offset(node: Element, said: HttpAnswer) -> float | None:
    """Return the device's clock minus ours in seconds, from its UTC date and time; half a second is added for what a
    whole second leaves out."""
    shown = _find(node, "UTCDateTime")
    if shown is None:
        return None
    parts = [_text(shown, name) for name in ("Year", "Month", "Day", "Hour", "Minute", "Second")]
    try:
        moment = datetime(*(int(text or "") for text in parts), tzinfo=UTC)  # type: ignore[misc,arg-type]
    except (ValueError, OverflowError):
        return None
    return said.offset_of(moment) + 0.5


async def discover(
    guard: Guard,
    address: str = GROUP,
    port: int = DISCOVERY_PORT,
    *,
    wait_s: float = 2.0,
    most: int = 4096,
    out_of: str | None = None,
) -> list[Found]:
    """Return who answers a search (Probe) at an address, in the order of the answers: the group of the standard in
    live work, or one loopback address that stands for it. `out_of` is the own address that it goes out from. Raises
    Refused before anything is sent."""
    key = f"urn:uuid:{uuid.uuid4()}"
    header = (
        f'<a:Action xmlns:a="{_ADDRESSING}">{_DISCOVERY}/Probe</a:Action><a:MessageID xmlns:a="{_ADDRESSING}">{key}'
        f'</a:MessageID><a:To xmlns:a="{_ADDRESSING}">urn:schemas-xmlsoap-org:ws:2005:04:discovery</a:To>'
    )
    probe = envelope(f'<d:Probe xmlns:d="{_DISCOVERY}"/>', header)
    answers = await gather(
        guard, address, port, probe, lambda data: key.encode() in data, wait_s=wait_s, most=most, out_of=out_of
    )
    return list(dict.fromkeys(item for data in answers for item in matches(data)))


def matches(data: bytes) -> list[Found]:
    """Return the devices that an answer to a search names."""
    body = read(data)
    nodes = [] if body is None else [item for item in body.iter() if _local(item) == "ProbeMatch"]
    found = []
    for node in nodes[:64]:
        at = re.search(r"//([0-9.]{7,15})[:/]", (_text(node, "XAddrs") or "") + "/")
        if at is not None:
            scopes = _text_whole(node, "Scopes")
            found.append(Found(at[1], _scope(scopes, "name"), _scope(scopes, "hardware")))
    return found


def _text_whole(node: Element, name: str) -> str:
    item = _find(node, name)
    return (item.text or "")[:4096] if item is not None else ""


def _scope(scopes: str, name: str) -> str | None:
    found = re.search(rf"/{name}/(\S{{1,200}})", scopes)
    return None if found is None else found[1].replace("%20", " ")
