"""The pretend relay: what a customer's phone asks when it is not on the site. It knows devices by registration code."""

import html
import json
from urllib.parse import parse_qs, unquote, urlsplit

import h11

from tutelar.standin.device import PretendDevice
from tutelar.standin.settings_page import STYLE
from tutelar.standin.web import Web
from tutelar.standin.world import World

_ORDER = (
    "address with gateway and DNS",
    "relay on",
    "registration code chosen",
    "state online",
    "not bound to another owner",
)


def relay_device() -> PretendDevice:
    """Return the relay itself, as a machine with a page."""
    return PretendDevice("relay", "Pretend relay", "relay service", "other", None, None, "DMY", "", 0, {"web": 80})


def answer_for(world: World, code: str) -> dict[str, str]:
    """Return {"state", "name"} of the device with a registration code: "online", or why a phone does not see it."""
    device = next((item for item in world.devices.values() if code and item.code == code), None)
    if device is None:
        return {"state": "unknown: no device has registered with this code", "name": ""}
    if not device.reachable:
        return {"state": "offline: it has not been heard of", "name": device.name}
    return {"state": world.online(device), "name": device.name}


class Relay(Web):
    """`/` asks for a registration code and says what a phone would see; `/devices/CODE` says the same as JSON."""

    def answer(self, request: h11.Request) -> None:
        """Return what the relay answers to one request."""
        target = urlsplit(request.target.decode("ascii", "replace"))
        if request.method != b"GET":
            self.reply(405, b"Only asking is possible here.\n", "text/plain; charset=utf-8")
        elif target.path.startswith("/devices/"):
            found = answer_for(self.world, unquote(target.path.removeprefix("/devices/")))
            status = 404 if found["state"].startswith("unknown") else 200
            self.reply(status, json.dumps(found).encode(), "application/json")
        elif target.path == "/":
            code = parse_qs(target.query).get("code", [""])[0].strip()
            said = _said(answer_for(self.world, code)) if code else ""
            self.reply(200, _page(said, code).encode(), "text/html; charset=utf-8")
        else:
            self.reply(404, b"There is no such page here.\n", "text/plain; charset=utf-8")


def _said(found: dict[str, str]) -> str:
    if found["state"] == "online":
        return f"{found['name']} is online. The phone shows its picture."
    order = ", ".join(_ORDER)
    return f"{found['name'] or 'No picture'}: {found['state']}. Look at it in this order: {order}."


def _page(said: str, code: str) -> str:
    notice = f"<p role='status'>{html.escape(said)}</p>" if said else ""
    return (
        f"<!doctype html><html lang='en'><meta charset='utf-8'><title>Pretend relay</title><style>{STYLE}</style>"
        "<h1>Pretend relay</h1><p><small>What a phone on mobile data would see</small></p>"
        f"{notice}<form><label>Registration code <input name='code' value='{html.escape(code, quote=True)}'></label>"
        "<button>Ask</button></form></html>"
    )
