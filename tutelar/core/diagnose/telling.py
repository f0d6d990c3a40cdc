"""A diagnosis in words: answers, what was seen, how likely in tenths, and the way to what is silent."""

from collections.abc import Sequence
from typing import Literal, NamedTuple

from tutelar.core.diagnose.causes import LAPTOP, NOTHING, Cause, Hypothesis
from tutelar.core.diagnose.checks import CHECKS, LAPTOP_WORDS, canonical
from tutelar.core.diagnose.ground import Ground
from tutelar.core.diagnose.observations import Seen
from tutelar.core.diagnose.verdict import Diagnosis
from tutelar.core.wording import count, listed

_YES = {"pass": "Yes", "fail": "No"}
_BACK = {"pass": "It answers", "fail": "Still nothing"}
ANSWERS: dict[str, dict[str, str]] = {
    "answers": {"pass": "It answers", "silent": "Nothing answers", "fail": "Something refuses"},
    "page": {"pass": "It opens", "silent": "Nothing comes", "fail": "Something else opens"},
    "login": {"pass": "It is taken", "fail": "It is refused", "silent": "Nothing comes"},
    "stream": {"pass": "The picture comes", "fail": "It is refused", "silent": "Nothing comes"},
    "clock": {"pass": "It is right", "fail": "It is wrong", "silent": "It cannot be read"},
    "linked": {"pass": "Yes", "fail": "Refused, or not recorded", "silent": "No answer"},
    "relay": {"pass": "Online", "fail": "Offline", "silent": "It cannot be read"},
    "light": {"on": "It is lit", "off": "It is dark"},
    "power": {"pass": "It is lit", "fail": "It is dark"},
    "swap-cable": _BACK,
    "other-port": _BACK,
    "address": {
        "pass": "The planned one",
        "link-local": "One that begins with 169.254",
        "fail": "Another one",
        "silent": "It says none",
    },
    "neighbour": {"pass": "The right one", "fail": "Another one", "silent": "None"},
    "vlan": _YES,
    "gateway": _YES,
    "name": _YES,
    "outside": _YES,
    "elsewhere": {"pass": "Online there", "fail": "Offline there too"},
    "reset": _BACK,
}
SHORT: dict[str, str] = {
    "answers": "Answers",
    "page": "Page",
    "login": "Login",
    "stream": "Picture",
    "clock": "Clock",
    "linked": "Shown, recorded, registered",
    "relay": "Remote access",
    "light": "Link lamp",
    "power": "Power lamp",
    "swap-cable": "Another cable",
    "other-port": "Another port",
    "address": "Address it says",
    "neighbour": "Hardware address",
    "vlan": "Network of its port",
    "gateway": "Gateway",
    "name": "Names (DNS)",
    "outside": "Host outside",
    "elsewhere": "Another connection",
    "reset": "Reset and set up anew",
}


def asked(ground: Ground, check: str, at: str) -> str:
    """Return the question of a check at a device."""
    return CHECKS[check].asks.replace("{at}", ground.names.get(at, at))


def answered(seen: Seen) -> str:
    """Return what was answered, as the button says it; an address as it is."""
    word = canonical(seen.check, seen.result)
    return ANSWERS[seen.check].get(word) or ANSWERS[seen.check].get(seen.result) or seen.result


def chances(share: float) -> str:
    """Return a likelihood as people say it: "9 in 10", "1 in 15"."""
    if share >= 0.95:
        return "nearly sure"
    if share >= 0.095:
        return f"{round(share * 10)} in 10"
    if share >= 0.02:
        return f"1 in {5 * round(1 / share / 5)}" if share < 0.08 else f"1 in {round(1 / share)}"
    return "less than 1 in 50"


def said(ground: Ground, faults: Hypothesis) -> list[str]:
    """Return a cause as sentences without full stops; nothing wrong is one too."""
    return [cause.said(ground.names) for cause in faults or (Cause(NOTHING, ""),)]


def meaning(ground: Ground, found: Diagnosis) -> str:
    """Return the likeliest cause of a verdict with its chances, in one sentence."""
    top = found.causes[0]
    return f"{'; '.join(said(ground, top.faults))}: {chances(top.likelihood)}."


def titled(ground: Ground, complaint: Sequence[Seen]) -> str:
    """Return what a complaint is about: "Pier gangway, answers: nothing answers", "3 devices: …"."""
    names = list(dict.fromkeys(ground.names.get(item.at, item.at) for item in complaint))
    if not names:
        return "Something is offline"
    if len(names) > 1:
        return f"{count(len(names), 'device')}: {listed(names, 3)}"
    return f"{names[0]}, {SHORT[complaint[0].check].lower()}: {answered(complaint[0]).lower()}"


State = Literal["answers", "silent", "unknown"]


class Place(NamedTuple):
    """A place on the way from the laptop to a device: whether it answers, the port above it and its cable in m."""

    key: str
    name: str
    state: State
    port: int | None
    cable_m: float | None


def way_to(ground: Ground, key: str, seen: Sequence[Seen]) -> list[Place]:
    """Return the places from the laptop to a device, the laptop first, with what was seen of each: what answers shows
    that everything before it is passed."""
    chain = ground.chain(key)[::-1]
    states: dict[str, State] = {}
    for item in seen:
        if item.check in LAPTOP_WORDS and item.check != "linked":
            states[item.at] = "silent" if item.result == "silent" else "answers"
    through = {above for at, state in states.items() if state == "answers" for above in ground.chain(at)}
    found = [Place(LAPTOP, "Laptop", "answers", None, None)]
    for one in chain:
        device = ground.devices[one]
        end = device.plugged_into or device.powered_by
        state: State = "answers" if one in through else states.get(one, "unknown")
        found.append(Place(one, device.label, state, end.port if end is not None else None, device.cable_m))
    return found


def stop_of(way: Sequence[Place]) -> int | None:
    """Return the number of the first place on the way that does not answer, None where the last one answers."""
    last = max((number for number, place in enumerate(way) if place.state == "answers"), default=0)
    return last + 1 if last + 1 < len(way) else None


def for_the_supplier(ground: Ground, seen: Sequence[Seen], focus: Sequence[str]) -> list[str]:
    """Return what to write down before the unit is blamed: what is known is filled in, the rest has a dash
    (handbook, schools: capture before blaming the unit)."""
    lines = []
    for key in focus[:3]:
        device = ground.devices[key]
        model = ground.site.model_of(device)
        end = device.plugged_into or device.powered_by
        told = {item.check: answered(item) for item in seen if item.at == key}
        address = ground.ends.of(key).address
        lines += [
            f"{device.label}: {model.label if model else device.model}, serial {device.serial or '–'}, "
            f"hardware address {device.network_mac or '–'}",
            f"Address planned {address or '–'}, says {told.get('address', '–')}; firmware "
            f"{(device.firmware.left or device.firmware.found) if device.firmware else '–'}",
            f"Power lamp {told.get('power', '–')}; link lamp {told.get('light', '–')}; plugged into "
            f"{f'{ground.names.get(end.device, end.device)}, port {end.port}' if end else '–'}",
            f"With a good cable {told.get('swap-cable', '–')}; at another port {told.get('other-port', '–')}; "
            f"on another connection {told.get('elsewhere', '–')}",
        ]
    return lines
