"""The device interface of a pretend device: SOAP 1.2 with a user name token, and its answer to a search."""

import base64
import hashlib
import hmac
import re
import uuid
from datetime import UTC
from xml.sax.saxutils import escape

import h11

from tutelar.core.site.values import dotted
from tutelar.standin.device import PretendDevice
from tutelar.standin.web import Web

_NAMES = (
    'xmlns:s="http://www.w3.org/2003/05/soap-envelope" xmlns:tds="http://www.onvif.org/ver10/device/wsdl" '
    'xmlns:trt="http://www.onvif.org/ver10/media/wsdl" xmlns:tt="http://www.onvif.org/ver10/schema" '
    'xmlns:ter="http://www.onvif.org/ver10/error" xmlns:a="http://schemas.xmlsoap.org/ws/2004/08/addressing" '
    'xmlns:d="http://schemas.xmlsoap.org/ws/2005/04/discovery"'
)
_ASKED = re.compile(rb"<(?:\w+:)?Body[^>]*>\s*<(?:\w+:)?(\w+)")
_PART = re.compile(rb"<(?:\w+:)?(Username|Password|Nonce|Created)(?:\s[^>]*)?>([^<]*)<")
_MESSAGE = re.compile(rb"MessageID[^>]*>\s*([^<\s]{1,100})\s*<")
KIND = "application/soap+xml; charset=utf-8"


def message(body: str, header: str = "") -> bytes:
    """Return a SOAP envelope around a body."""
    top = f"<s:Header>{header}</s:Header>" if header else ""
    return (
        f'<?xml version="1.0" encoding="UTF-8"?><s:Envelope {_NAMES}>{top}<s:Body>{body}</s:Body></s:Envelope>'.encode()
    )


def fault(whose: str, what: str) -> bytes:
    """Return a SOAP fault with its reason."""
    why = f"<s:Subcode><s:Value>ter:{what}</s:Value></s:Subcode>"
    return message(f"<s:Fault><s:Code><s:Value>s:{whose}</s:Value>{why}</s:Code></s:Fault>")


class Interface(Web):
    """The port of the device interface: date and time for anybody, everything else for whoever logs in."""

    def answer(self, request: h11.Request) -> None:
        """Return the answer to one question."""
        asked = _ASKED.search(self.body)
        name = asked[1].decode("ascii", "replace") if asked else ""
        if request.method != b"POST" or not name:
            self.reply(400, b"This port speaks SOAP.\n", "text/plain; charset=utf-8")
        elif name == "GetSystemDateAndTime":
            self.reply(200, message(self._date()), KIND)
        elif not token_holds(self.device, self.body):
            self.reply(400, fault("Sender", "NotAuthorized"), KIND)
        else:
            self._tell(name)

    def _tell(self, name: str) -> None:
        device = self.device
        own = dotted(device.site_address)
        dns = "".join(f"<tt:DNSManual><tt:Type>IPv4</tt:Type>{_v4(item)}</tt:DNSManual>" for item in device.dns)
        body = {
            "GetDeviceInformation": f"<tds:Model>{escape(device.model_name)}</tds:Model><tds:SerialNumber>"
            f"{escape(device.serial or '')}</tds:SerialNumber>",
            "GetNetworkInterfaces": f"<tds:NetworkInterfaces token='eth0'><tt:Info><tt:HwAddress>{device.mac or ''}"
            f"</tt:HwAddress></tt:Info><tt:IPv4><tt:Config><tt:Manual><tt:Address>{own}"
            f"</tt:Address><tt:PrefixLength>{device.prefix}</tt:PrefixLength></tt:Manual>"
            "</tt:Config></tt:IPv4></tds:NetworkInterfaces>",
            "GetHostname": f"<tds:HostnameInformation><tt:Name>{escape(device.name)}</tt:Name>"
            "</tds:HostnameInformation>",
            "GetNetworkDefaultGateway": f"<tds:NetworkGateway>{_v4(device.gateway)}</tds:NetworkGateway>",
            "GetDNS": f"<tds:DNSInformation>{dns}</tds:DNSInformation>",
            "GetNTP": f"<tds:NTPInformation><tt:NTPManual>{_time_source(device)}</tt:NTPManual></tds:NTPInformation>",
            "GetProfiles": "<trt:Profiles token='main'/>" if device.stream else "",
            "GetStreamUri": f"<trt:MediaUri><tt:Uri>rtsp://{own}:{device.services.get('stream', 554)}"
            f"{escape(next(iter(device.streams), '/main'))}</tt:Uri>"
            "</trt:MediaUri>",
        }.get(name)
        if body is None:
            self.reply(500, fault("Receiver", "ActionNotSupported"), KIND)
            return
        space = "trt" if name in ("GetProfiles", "GetStreamUri") else "tds"
        self.reply(200, message(f"<{space}:{name}Response>{body}</{space}:{name}Response>"), KIND)

    def _date(self) -> str:
        now = self.device.clock(self.now()).astimezone(UTC)
        clock = f"<tt:Hour>{now.hour}</tt:Hour><tt:Minute>{now.minute}</tt:Minute><tt:Second>{now.second}</tt:Second>"
        day = f"<tt:Year>{now.year}</tt:Year><tt:Month>{now.month}</tt:Month><tt:Day>{now.day}</tt:Day>"
        shown = f"<tt:UTCDateTime><tt:Time>{clock}</tt:Time><tt:Date>{day}</tt:Date></tt:UTCDateTime>"
        return (
            "<tds:GetSystemDateAndTimeResponse><tds:SystemDateAndTime><tt:DateTimeType>NTP</tt:DateTimeType>"
            f"{shown}</tds:SystemDateAndTime></tds:GetSystemDateAndTimeResponse>"
        )


def _v4(address: str | None) -> str:
    return f"<tt:IPv4Address>{escape(address)}</tt:IPv4Address>" if address else ""


def _time_source(device: PretendDevice) -> str:
    source = device.time_source or ""
    if re.fullmatch(r"[0-9.]+", source):
        return f"<tt:Type>IPv4</tt:Type>{_v4(source)}"
    return f"<tt:Type>DNS</tt:Type><tt:DNSname>{escape(source)}</tt:DNSname>" if source else ""


def token_holds(device: PretendDevice, body: bytes) -> bool:
    """Return whether a message carries a user name token that proves the device's password; a wrong one counts."""
    parts = {name.decode(): value.decode("utf-8", "replace") for name, value in _PART.findall(body)}
    if not {"Username", "Password", "Nonce", "Created"} <= parts.keys():
        return False
    try:
        nonce = base64.b64decode(parts["Nonce"], validate=True)
    except ValueError:
        return False

    def made(password: str) -> str:
        proof = hashlib.sha1(nonce + parts["Created"].encode() + password.encode())  # noqa: S324 - the profile's
        return base64.b64encode(proof.digest()).decode()

    user = parts["Username"]
    return device.takes(
        user, any(hmac.compare_digest(made(item), parts["Password"]) for item in device.passwords(user))
    )


def found(device: PretendDevice, probe: bytes) -> bytes | None:
    """Return a device's answer to a search, None for what is none or where it has no device interface."""
    asked = _MESSAGE.search(probe)
    if asked is None or b"Probe" not in probe or "device-interface" not in device.services:
        return None
    port = device.services["device-interface"]
    at = f"http://{dotted(device.site_address)}:{port}/onvif/device_service"
    name, model = (re.sub(r"[^A-Za-z0-9._-]", "%20", text) for text in (device.name, device.model_name))
    key = uuid.uuid5(uuid.NAMESPACE_OID, device.certificate)
    body = (
        f"<d:ProbeMatches><d:ProbeMatch><a:EndpointReference><a:Address>urn:uuid:{key}</a:Address></a:EndpointReference>"
        f"<d:Scopes>onvif://www.onvif.org/name/{name} onvif://www.onvif.org/hardware/{model}</d:Scopes>"
        f"<d:XAddrs>{at}</d:XAddrs></d:ProbeMatch></d:ProbeMatches>"
    )
    return message(body, f"<a:RelatesTo>{asked[1].decode('ascii', 'replace')}</a:RelatesTo>")
