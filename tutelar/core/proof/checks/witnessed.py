"""What somebody has to see with his own eyes: by family and links, as the site's policy says otherwise."""

from collections.abc import Callable

from tutelar.core.proof.check import Check, Ending, Outcome, Sight, Subject, Values
from tutelar.core.proof.checks.told_states import way_out
from tutelar.core.proof.witnessed import asked_of

_CALLS = frozenset({"registers-at", "extends", "calls"})
DOORS = frozenset({"registers-at", "reads-for", "manages"})


def _asked(check: str) -> Callable[[Subject], Values | None]:
    def wanted(of: Subject) -> Values | None:
        asked = check in asked_of(of.site, [of.device], of.family) and check not in of.site.policy.proof.left_out
        return {} if asked and _has(check, of) else None

    return wanted


def _has(check: str, of: Subject) -> bool:
    """Return whether there is anything to see: a call needs a partner, a recording a channel."""
    own = of.site.links_of(of.device.key)
    if check == "test-call":
        return any(link.kind in _CALLS for link in own)
    return check != "plays-back" or any(link.kind == "records" and link.to == of.device.key for link in own)


def _channels(of: Subject) -> Values:
    own = of.site.links_of(of.device.key)
    return {"channels": " ".join(sorted(f"{link.from_}:{link.slot}" for link in own if link.kind == "records"))}


def partners(kinds: frozenset[str]) -> Callable[[Subject], Values]:
    """Return what a check hangs on: the devices at the other ends of links of these kinds."""

    def found(of: Subject) -> Values:
        own = of.site.links_of(of.device.key)
        ends = {end for link in own if link.kind in kinds for end in (link.from_, link.to)}
        return {"partners": " ".join(sorted(ends - {of.device.key}))}

    return found


def wired_check(of: Subject) -> str | None:
    """Return the check of a device without a network, None where it has one."""
    if of.device.key not in of.site.wired:
        return None
    if of.family == "reader":
        return "card-read"
    reports = any(link.from_ == of.device.key for link in of.site.links_of(of.device.key))
    return "zone-trips" if of.family == "keypad" or (of.family == "other" and reports) else "lamp"


def _wired(check: str) -> Callable[[Subject], Values | None]:
    return lambda of: {} if wired_check(of) == check else None


_hub = partners(frozenset({"reads-for", "reports-to", "manages"}))


def seen(_: Sight) -> Outcome:
    """Return that nobody measures it: somebody has to see it."""
    return Outcome("not-told")  # nobody measures it


def _check(
    key: str,
    title: str,
    rank: int,
    asked: str,
    says: str,
    hangs: Callable[[Subject], Values],
    *hung: str,
    wants: Callable[[Subject], Values | None] | None = None,
) -> Check:
    return Check(
        key=key,
        title=title,
        rank=rank,
        probe="a person",
        asked=asked,
        wants=wants or _asked(key),
        says=says,
        endings={"seen": Ending("pass", "{words}"), "not-so": Ending("fail", "{words}")},
        judge=seen,
        hangs=hangs,
        witnessed=True,
        hung=hung,
    )


def _on_wifi(of: Subject) -> Values | None:
    return {} if of.device.medium == "wifi" and of.device.key not in of.site.wired else None


def _radio(of: Subject) -> Values:
    return {"radio": of.device.wifi_mac or "", "radio-network": (of.device.wifi and of.device.wifi.network) or ""}


_OF_WIRED = (
    ("card-read", "Card is read", 55, "readers", "{device:label} reads a card, and its number is the printed one"),
    ("zone-trips", "Zone trips", 56, "keypads, detectors", "{device:label} trips, and its hub or panel shows it"),
    ("lamp", "Lamp is as it should be", 57, "others", "the lamp of {device:label} shows what it should"),
)
CHECKS = (
    _check(
        "plays-back",
        "Plays back",
        50,
        "recorders with a channel",
        "a recording of each channel of {device:label} is played back with its right time",
        _channels,
        "channels",
    ),
    _check(
        "test-call",
        "Test call",
        51,
        "door stations and monitors with a partner",
        "a test call of {device:label} is answered, both ends are heard",
        partners(_CALLS),
        "partners",
    ),
    _check(
        "door-opens",
        "Door opens and locks",
        52,
        "door stations and panels",
        "the door of {device:label} unlocks, locks again and is left as before",
        partners(DOORS),
        "partners",
    ),
    _check(
        "phone-picture",
        "Picture on a phone",
        53,
        "what is registered with a relay and has a picture",
        "{device:label} on a phone on mobile data, Wi-Fi switched off",
        way_out,
        "address",
        "way-out",
    ),
    _check(
        "wifi-without-cable",
        "Answers on Wi-Fi with its cable out",
        58,
        "devices on Wi-Fi",
        "{device:label} answers at its address with the cable pulled out",
        _radio,
        "radio",
        "radio-network",
        wants=_on_wifi,
    ),
    *(
        _check(key, title, rank, f"wired devices: {whom}", says, _hub, "partners", wants=_wired(key))
        for key, title, rank, whom, says in _OF_WIRED
    ),
)
