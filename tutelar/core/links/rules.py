"""Links as the document holds them: do both ends exist, is the slot free, does it fit, can the ends talk?"""

from collections import defaultdict
from collections.abc import Iterator
from operator import attrgetter

from tutelar.core.links.index import circles
from tutelar.core.links.needs import channel_behind, why_apart
from tutelar.core.links.numbering import number_problems
from tutelar.core.links.registry import slot_word
from tutelar.core.problems import Problem, problem
from tutelar.core.recording.channels import rate_of, said_of_channels
from tutelar.core.site.base import OUTSIDE_ENDS, RECORDERS
from tutelar.core.site.model import Model
from tutelar.core.site.types import Device, Link, Site
from tutelar.core.wording import count, listed, one_of_family

_NEEDS_SLOT = frozenset({"records", "registers-at", "extends", "steers", "reads-for"})
_NEVER_BEHIND = frozenset(
    {"joystick-desk", "panel", "recorder", "software-recorder", "indoor-monitor", "call-server", "alarm-hub"}
)
_PICTURES = frozenset({"camera", "encoder", "door-station", "doorbell"})


_ENDS = attrgetter("kind", "from_", "to", "slot", "side")  # several at once: a site has thousands of links
_STANDS = attrgetter("model", "network", "behind", "addressing")
_Recorded = tuple[str, int | None, str]  # device key, channel, model key


def link_problems(site: Site) -> Iterator[Problem]:
    """Yield what is wrong with the links and with what they ask of their targets."""
    devices, families = site.device_by_key, site.family_by_model
    get = devices.get
    seats: dict[tuple[str, str, str | None], dict[int, Link]] = defaultdict(dict)
    shared: dict[tuple[str, str, int, str | None], list[Link]] = {}
    primaries: dict[str, list[tuple[str, str, str]]] = defaultdict(list)
    ends: dict[str, tuple[str, str | None, str | None, str]] = {}
    for link, (kind, from_key, to_key, slot, side) in zip(site.links, map(_ENDS, site.links), strict=True):
        start, end = get(from_key), get(to_key)
        if start is None or (end is None and to_key not in OUTSIDE_ENDS):
            missing = from_key if start is None else to_key
            yield problem(
                "link.unknown-device",
                (missing,),
                f"The link '{kind}' from '{from_key}' to '{to_key}' names '{missing}', which the file does not have.",
                "Add the device or remove the link.",
            )
            continue
        if from_key == to_key:
            yield problem(
                "link.itself",
                (from_key,),
                f"{start.label} is tied to itself by '{kind}'.",
                "Choose the device at the other end, or remove the link.",
            )
            continue
        if slot is not None:
            holder = seats[to_key, kind, side].setdefault(slot, link)
            if holder is not link:
                shared.setdefault((to_key, kind, slot, side), [holder]).append(link)
        elif kind in _NEEDS_SLOT and not link.wanted:  # a wish takes no number
            word = slot_word(kind)
            yield problem(
                "link.no-slot",
                (from_key, to_key),
                f"{start.label} has no {word} at {site.label_of(to_key)} yet.",
                f"Choose a free {word}.",
            )
        model, network, behind, addressing = _STANDS(start)
        if end is not None:
            if to_key not in ends:
                ends[to_key] = _STANDS(end)
            end_model, end_network, end_behind, end_addressing = ends[to_key]
            if kind == "records":
                if families.get(model) not in _PICTURES or families.get(end_model) not in RECORDERS:
                    yield from _wrong_family(site, start, end)
            if network != end_network or behind != end_behind:
                yield from _apart(site, link, start, end)
            if kind == "manages":
                primaries[from_key].append((model, end_model, to_key))
            if end_addressing == "leased":
                addressing = end_addressing
        if addressing == "leased":
            yield from _leased(link, start, end)
    for (to, kind, slot, _), group in shared.items():
        word = slot_word(kind)
        names = listed([site.label_of(link.from_) for link in group])
        number = "both" if len(group) == 2 else "all"
        yield problem(
            "link.slot-taken",
            [*(link.from_ for link in group), to],
            f"{names} are {number} on {word} {slot} of {site.label_of(to)}.",
            f"Give all but one of them another {word}.",
        )
    yield from over_capacity(site)
    yield from _two_primaries(site, primaries)
    yield from _camera_ports(site)
    yield from number_problems(site)
    yield from _circle_problems(site)


def _circle_problems(site: Site) -> Iterator[Problem]:
    for keys in circles(site):
        names = " → ".join(site.label_of(key) for key in [*keys, keys[0]])
        yield problem(
            "link.circle",
            keys,
            f"They follow each other in a circle: {names}.",
            "Untie one of them: somebody has to be the first.",
        )


def _two_primaries(site: Site, primaries: dict[str, list[tuple[str, str, str]]]) -> Iterator[Problem]:
    families = site.family_by_model
    for key, links in primaries.items():
        panels = [to for own, other, to in links if families.get(own) == "panel" == families.get(other)]
        if len(panels) > 1:
            names = listed([site.label_of(to) for to in panels])
            yield problem(
                "link.two-primaries",
                (key, *panels),
                f"{site.label_of(key)} is to follow {names} as its primary panel, and a panel follows one.",
                f"Keep one of them; {names} may follow each other in a row.",
            )


def _wrong_family(site: Site, start: Device, end: Device) -> Iterator[Problem]:
    if site.model_of(end) and site.family_of(end) not in RECORDERS:
        yield problem(
            "link.wrong-family",
            (start.key, end.key),
            f"{start.label} is to be recorded by {end.label}, which is no recorder but "
            f"{one_of_family(site.family_of(end))}.",
            "Choose a recorder.",
        )
    if site.model_of(start) and site.family_of(start) not in _PICTURES:
        yield problem(
            "link.wrong-family",
            (start.key, end.key),
            f"{start.label} is to be recorded by {end.label}, but {one_of_family(site.family_of(start))} "
            "has no picture.",
            "Remove the link or choose a camera.",
        )


def _leased(link: Link, start: Device, end: Device | None) -> Iterator[Problem]:
    if link.kind == "relays":  # found through the relay, not by address
        return
    for device, other in ((start, end), (end, start)):
        if device is not None and device.addressing == "leased" and device.behind is None:
            name = other.label if other else link.to
            yield problem(
                "device.leased-but-linked",
                (device.key, *((other.key,) if other else ())),
                f"{device.label} gets its address from the router as it comes, but {name} finds it by its address.",
                f"Make {device.label} fixed, or reserve its address in the router.",
            )


def _apart(site: Site, link: Link, start: Device, end: Device) -> Iterator[Problem]:
    """Yield a problem where the two ends stand in networks that cannot reach each other, with the way that works."""
    reason = why_apart(site, start, end)
    if reason:
        yield problem(
            "link.not-reachable",
            (link.from_, link.to),
            f"{start.label} and {end.label} cannot talk: {reason}.",
            _way_round(site, start, end) or "Put both into one network, or ask IT for a route between the two.",
        )


def _way_round(site: Site, start: Device, end: Device) -> str | None:
    """Return the way to a device on a recorder's camera ports: that recorder's address and channel."""
    for hidden, other in ((start, end), (end, start)):
        recorder = site.device_by_key.get(hidden.behind or "")
        if recorder is None or recorder is other or hidden.behind == other.behind:
            continue
        at = "" if recorder.address is None else f" at {recorder.address}"
        channel = channel_behind(site, hidden)
        which = "its channel there, once it has one" if channel is None else f"channel {channel}"
        return (
            f"Take {hidden.label} through {recorder.label}{at}: {which}. "
            f"Or plug it into a switch of the site instead of the camera port."
        )
    return None


def _licences(recorder: Device, model: Model | None, links: list[_Recorded]) -> Iterator[Problem]:
    """Yield what is wrong with a recorder's licences: they are counted as its model says, else a channel each."""
    most = model.capacity.licences if model and model.capacity else None
    if model is None or most is None:
        return
    devices = len({start for start, _, _ in links})
    wanted, what = (devices, "device") if model.licence_per == "device" else (len(links), "channel")
    if wanted > most:
        yield problem(
            "recorder.over-capacity",
            (recorder.key,),
            f"{count(wanted, what)} wanted at {recorder.label}, which has {count(most, 'licence')}.",
            f"Add {count(wanted - most, 'licence')}, or move channels to another recorder.",
        )
    if model.licence_per is None and devices < len(links):
        yield problem(
            "model.licence-per",
            (model.key,),
            f"{recorder.label} has {count(most, 'licence')} for {count(len(links), 'channel')} of "
            f"{count(devices, 'device')}; the model does not say what one of them counts, so each channel takes one.",
            "Say in the model whether a licence counts a channel or a device.",
        )


def over_capacity(site: Site) -> Iterator[Problem]:
    """Yield recorders that are wanted to take in more channels, licences or Mbit/s than they have."""
    recorded: dict[str, list[_Recorded]] = defaultdict(list)
    devices = site.device_by_key
    for link in site.links:
        if link.kind == "records" and link.from_ != link.to and link.from_ in devices and link.to in devices:
            recorded[link.to].append((link.from_, link.slot, devices[link.from_].model))
    for key, links in recorded.items():
        yield from _capacity(site, devices[key], links)


def _capacity(site: Site, recorder: Device, links: list[_Recorded]) -> Iterator[Problem]:
    model = site.model_of(recorder)
    capacity = model.capacity if model else None
    if capacity is None:
        return
    name, key, channels = recorder.label, (recorder.key,), capacity.channels
    if channels is not None:
        if len(links) > channels:
            yield problem(
                "recorder.over-capacity",
                key,
                f"{count(len(links), 'channel')} wanted at {name}, which has {channels}.",
                f"Move {len(links) - channels} of them to another recorder.",
            )
        for start, slot, _ in links:
            if slot is not None and not 1 <= slot <= channels:
                yield problem(
                    "recorder.over-capacity",
                    (start, recorder.key),
                    f"{site.label_of(start)} is on channel {slot} of {name}, which has the channels 1 to {channels}.",
                    "Choose a channel that the recorder has.",
                )
    yield from _licences(recorder, model, links)
    if capacity.incoming_mbps is None:
        return
    said = said_of_channels(site)
    rates = [rate_of(site, start, said.get((recorder.key, slot or 0))) for start, slot, _ in links]
    wanted = sum(rate or 0.0 for rate in rates) / 1000
    if wanted > capacity.incoming_mbps:
        yield problem(
            "recorder.over-capacity",
            key,
            f"{wanted:.1f} Mbit/s wanted at {name}, which takes in {capacity.incoming_mbps:g} Mbit/s.",
            "Lower a stream's rate or move cameras to another recorder.",
        )


def camera_port_refuses(family: str | None, name: str, recorder: str) -> tuple[str, str] | None:
    """Return (what is wrong, what is right) with a device of a family in a recorder's camera port, None if it may.

    The ports lease addresses of their own and lead to nothing but the recorder, so what others have to reach, and
    what moves, records or manages, is cut off there.
    """
    if family is None or family not in _NEVER_BEHIND:
        return None
    return (
        f"{name} is {one_of_family(family)}, and stands in a camera port of {recorder}, which is for cameras alone.",
        f"Plug {name} into a switch of the site, and give it a network.",
    )


def _camera_ports(site: Site) -> Iterator[Problem]:
    behind: dict[str, int] = defaultdict(int)
    families = site.family_by_model
    for device in site.devices:
        if device.behind is None:
            continue
        behind[device.behind] += 1
        if refused := camera_port_refuses(families.get(device.model), device.label, site.label_of(device.behind)):
            yield problem("device.camera-port", (device.key, device.behind), *refused)
    for key, number in behind.items():
        recorder = site.device_by_key.get(key)
        model = site.model_of(recorder) if recorder else None
        if recorder and model and model.camera_ports and number > model.camera_ports.count:
            yield problem(
                "recorder.over-capacity",
                (key,),
                f"{count(number, 'device')} wanted behind {recorder.label}, which has {model.camera_ports.count} "
                "camera ports.",
                "Plug the others into a switch of the site.",
            )
