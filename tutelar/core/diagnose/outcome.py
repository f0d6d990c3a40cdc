"""What each check shows at a device under given faults. A check on what a device does not have is silent."""

from collections.abc import Callable

from tutelar.core.diagnose.causes import INTERNET
from tutelar.core.diagnose.causes import LAPTOP as LAPTOP_ITSELF
from tutelar.core.diagnose.checks import CHECKS
from tutelar.core.diagnose.ground import Ground
from tutelar.core.diagnose.wrong import FAIL, PASS, SILENT, Wrong
from tutelar.core.reach.ends import LAPTOP, OUTSIDE

LINK_LOCAL = "link-local"
NEEDS_LAPTOP = frozenset(CHECKS) - {"light", "power", "address", "vlan", "elsewhere"}
_TELLERS = ("web", "web-tls", "control", "device-interface")
_TAKEN_ALONG = frozenset(
    {"device-dead", "relay-off", "relay-bound-elsewhere", "wrong-address", "wrong-prefix", "wrong-gateway", "wrong-dns"}
)
_LOST_IN_A_RESET = frozenset(
    {
        *("wrong-address", "leased-moved", "wrong-prefix", "wrong-gateway", "wrong-dns", "port-changed"),
        *("wrong-password", "clock-offset", "wrong-date-order", "wrong-slot", "relay-off"),
    }
)


def shown(ground: Ground, wrong: Wrong, check: str, key: str) -> str:
    """Return what a check shows at a device in the words of the contract (an address where another one is set)."""
    if wrong.has(LAPTOP_ITSELF, "laptop-wrong") and check in NEEDS_LAPTOP:
        return SILENT
    return _SHOWN[check](ground, wrong, key)


def _said(good: bool, otherwise: str = FAIL) -> str:
    return PASS if good else otherwise


def _answers(_: Ground, wrong: Wrong, key: str) -> str:
    return _said(wrong.talks(key), SILENT)


def _page(_: Ground, wrong: Wrong, key: str) -> str:
    return _said(wrong.talks(key, ("web", "web-tls")), SILENT)


def _login(_: Ground, wrong: Wrong, key: str) -> str:
    if not wrong.talks(key, _TELLERS):
        return SILENT
    return _said(wrong.answering(key) == key and not wrong.has(key, "wrong-password"))


def _stream(_: Ground, wrong: Wrong, key: str) -> str:
    if not wrong.talks(key, ("stream",)):
        return SILENT
    return _said(wrong.answering(key) == key)


def _clock(_: Ground, wrong: Wrong, key: str) -> str:
    if not wrong.talks(key, _TELLERS):
        return SILENT
    return _said(wrong.answering(key) != key or not wrong.has(key, "clock-offset", "wrong-date-order"))


def _linked(ground: Ground, wrong: Wrong, key: str) -> str:
    ties = ground.tied_by(key)
    if not ties:
        return SILENT
    states = [wrong.holds(tie) for tie in ties]
    if all(tie.start == key for tie in ties):
        return next((state for state in states if state != PASS), PASS)
    return PASS if PASS in states else FAIL if FAIL in states else SILENT


def _relay(_: Ground, wrong: Wrong, key: str) -> str:
    if wrong.online(key):
        return PASS
    return FAIL if wrong.talks(key) else SILENT


def _light(_: Ground, wrong: Wrong, key: str) -> str:
    return "on" if wrong.linked_up(key) else "off"


def _power(_: Ground, wrong: Wrong, key: str) -> str:
    return _said(wrong.powered(key))


_CABLE, _PORT = frozenset({"cable", "uplink-cut"}), frozenset({"port-dead", "wrong-vlan"})


def _swapped(_: Ground, wrong: Wrong, key: str) -> str:
    return _said(wrong.without(key, _CABLE).talks(key))


def _replugged(_: Ground, wrong: Wrong, key: str) -> str:
    return _said(wrong.without(key, _PORT).talks(key))


def _reset(_: Ground, wrong: Wrong, key: str) -> str:
    back = wrong.without(key, _LOST_IN_A_RESET)
    doubled = frozenset({"duplicate-address"}) if any(c.at == key and c.other for c in back.causes) else frozenset()
    return _said(back.without(key, doubled).talks(key))


def _elsewhere(_: Ground, wrong: Wrong, key: str) -> str:
    return _said(not wrong.has(key, *_TAKEN_ALONG))


def _own_address(ground: Ground, wrong: Wrong, key: str) -> str:
    planned = ground.ends.of(key).address
    if key in ground.site.wired or not wrong.running(key):
        return SILENT
    if ground.leases(key) and not wrong.has(key, "wrong-address"):
        if wrong.has(key, "wrong-vlan"):
            return _lease_elsewhere(ground, wrong, key)
        if not all(wrong.linked_up(one) for one in ground.chain(key)):
            return LINK_LOCAL
    address = wrong.address(key)
    return PASS if address == planned or address is None else str(address)


def _lease_elsewhere(ground: Ground, wrong: Wrong, key: str) -> str:
    """Return the address that a device takes in the network it was plugged into by mistake."""
    cause = next(item for item in wrong.causes if item.name == ("wrong-vlan", key))
    network = ground.site.network_by_key.get(cause.other or "")
    if network is None or not network.pools:
        return LINK_LOCAL
    return str(network.pools[0].first)


def _neighbour(ground: Ground, wrong: Wrong, key: str) -> str:
    who = wrong.answering(key) if key not in ground.site.wired else None
    return SILENT if who is None else _said(who == key)


def _vlan(ground: Ground, wrong: Wrong, key: str) -> str:
    parent = ground.parent[key]
    if parent is not None and not wrong.running(parent):
        return SILENT
    return _said(not wrong.has(key, "wrong-vlan"))


def _gateway(ground: Ground, wrong: Wrong, key: str) -> str:
    network = ground.network(key)
    up = network is not None and network.gateway is not None and not wrong.has(network.key, "gateway-down")
    return _said(up, SILENT)


def _name(ground: Ground, wrong: Wrong, key: str) -> str:
    network = ground.network(key)
    if network is None or wrong.has(network.key, "dns-down"):
        return FAIL
    server = network.dns[0] if network.dns else network.gateway
    if server is None:
        return FAIL
    if server in network.cidr and server != network.gateway:
        return PASS
    if _gateway(ground, wrong, key) != PASS:
        return FAIL
    if any(server in other.cidr for other in ground.site.networks):
        return PASS
    return _said(_online(ground) and not wrong.has(INTERNET, "provider-down"))


def _outside(ground: Ground, wrong: Wrong, key: str) -> str:
    network = ground.network(key)
    if network is None or _gateway(ground, wrong, key) != PASS or wrong.has(INTERNET, "provider-down"):
        return SILENT
    laptop = f"{LAPTOP}{network.key}"
    known = ground.ends.of(laptop).address is not None
    return _said(ground.passes(laptop, OUTSIDE) if known else _online(ground), SILENT)


def _online(ground: Ground) -> bool:
    internet = ground.site.internet
    return internet is not None and internet.connection != "none"


_SHOWN: dict[str, Callable[[Ground, Wrong, str], str]] = {
    "answers": _answers,
    "page": _page,
    "login": _login,
    "stream": _stream,
    "clock": _clock,
    "linked": _linked,
    "relay": _relay,
    "light": _light,
    "power": _power,
    "swap-cable": _swapped,
    "other-port": _replugged,
    "address": _own_address,
    "neighbour": _neighbour,
    "vlan": _vlan,
    "gateway": _gateway,
    "name": _name,
    "outside": _outside,
    "elsewhere": _elsewhere,
    "reset": _reset,
}
