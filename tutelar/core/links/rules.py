"""Links as the document holds them: do both ends exist, is the slot free, does it fit, can the ends talk?"""

from collections import defaultdict
from collections.abc import Iterator
from operator import attrgetter

from tutelar.core.problems import Problem, problem
from tutelar.core.site.base import OUTSIDE_ENDS
from tutelar.core.site.types import Device, Link, Site
from tutelar.core.wording import count, listed

SLOT_WORD = {
    "records": "channel", "registers-at": "number", "extends": "number", "steers": "short number",
    "reads-for": "door", "shows-on": "tile", "reports-to": "zone", "pages": "zone",
}  # fmt: skip
_NEEDS_SLOT = frozenset({"records", "registers-at", "extends", "steers", "reads-for"})
_RECORDERS = frozenset({"recorder", "software-recorder"})
_PICTURES = frozenset({"camera", "encoder", "door-station", "doorbell"})


_ENDS = attrgetter("kind", "from_", "to", "slot")  # several at once: a site has thousands of links
_STANDS = attrgetter("model", "network", "behind", "addressing")
_Recorded = tuple[str, int | None, str]  # device key, channel, model key


def slot_word(kind: str) -> str:
    return SLOT_WORD.get(kind, "slot")


def link_problems(site: Site) -> Iterator[Problem]:
    """Yield what is wrong with the links and with what they ask of their targets."""
    devices, families = site.device_by_key, site.family_by_model
    get = devices.get
    seats: dict[tuple[str, str], dict[int, Link]] = defaultdict(dict)
    shared: dict[tuple[str, str, int], list[Link]] = {}
    recorded: dict[str, list[_Recorded]] = defaultdict(list)
    ends: dict[str, tuple[str, str | None, str | None, str]] = {}
    for link, (kind, from_key, to_key, slot) in zip(site.links, map(_ENDS, site.links), strict=True):
        start, end = get(from_key), get(to_key)
        if start is None or (end is None and to_key not in OUTSIDE_ENDS):
            missing = from_key if start is None else to_key
            yield problem(
                "link.unknown-device", (missing,),
                f"The link '{kind}' from '{from_key}' to '{to_key}' names '{missing}', which the file does not have.",
                "Add the device or remove the link.",
            )  # fmt: skip
            continue
        if slot is not None:
            holder = seats[to_key, kind].setdefault(slot, link)
            if holder is not link:
                shared.setdefault((to_key, kind, slot), [holder]).append(link)
        elif kind in _NEEDS_SLOT:
            word = slot_word(kind)
            yield problem(
                "link.no-slot", (from_key, to_key),
                f"{start.label} has no {word} at {site.label_of(to_key)} yet.",
                f"Choose a free {word}.",
            )  # fmt: skip
        model, network, behind, addressing = _STANDS(start)
        if end is not None:
            if to_key not in ends:
                ends[to_key] = _STANDS(end)
            end_model, end_network, end_behind, end_addressing = ends[to_key]
            if kind == "records":
                if families.get(model) not in _PICTURES or families.get(end_model) not in _RECORDERS:
                    yield from _wrong_family(site, start, end)
                recorded[to_key].append((from_key, slot, model))
            if network != end_network or behind != end_behind:
                yield from _apart(site, link, start, end)
            if end_addressing == "leased":
                addressing = end_addressing
        if addressing == "leased":
            yield from _leased(link, start, end)
    for (to, kind, slot), group in shared.items():
        word = slot_word(kind)
        names = listed([site.label_of(link.from_) for link in group])
        number = "both" if len(group) == 2 else "all"
        yield problem(
            "link.slot-taken", [*(link.from_ for link in group), to],
            f"{names} are {number} on {word} {slot} of {site.label_of(to)}.",
            f"Give all but one of them another {word}.",
        )  # fmt: skip
    for key, links in recorded.items():
        yield from _capacity(site, devices[key], links)
    yield from _camera_ports(site)


def _wrong_family(site: Site, start: Device, end: Device) -> Iterator[Problem]:
    if site.model_of(end) and site.family_of(end) not in _RECORDERS:
        yield problem(
            "link.wrong-family", (start.key, end.key),
            f"{start.label} is to be recorded by {end.label}, which is no recorder but a {site.family_of(end)}.",
            "Choose a recorder.",
        )  # fmt: skip
    if site.model_of(start) and site.family_of(start) not in _PICTURES:
        yield problem(
            "link.wrong-family", (start.key, end.key),
            f"{start.label} is to be recorded by {end.label}, but a {site.family_of(start)} has no picture.",
            "Remove the link or choose a camera.",
        )  # fmt: skip


def _leased(link: Link, start: Device, end: Device | None) -> Iterator[Problem]:
    if link.kind == "relays":  # found through the relay, not by address
        return
    for device, other in ((start, end), (end, start)):
        if device is not None and device.addressing == "leased" and device.behind is None:
            name = other.label if other else link.to
            yield problem(
                "device.leased-but-linked", (device.key, *((other.key,) if other else ())),
                f"{device.label} gets its address from the router as it comes, but {name} finds it by its address.",
                f"Make {device.label} fixed, or reserve its address in the router.",
            )  # fmt: skip


def _apart(site: Site, link: Link, start: Device, end: Device) -> Iterator[Problem]:
    """Yield a problem where the two ends stand in networks that cannot reach each other."""
    reason = why_apart(site, start, end)
    if reason:
        yield problem(
            "link.not-reachable", (link.from_, link.to),
            f"{start.label} and {end.label} cannot talk: {reason}.",
            "Put both into one network, or ask IT for a route between the two.",
        )  # fmt: skip


def why_apart(site: Site, start: Device, end: Device) -> str | None:
    """Return why two devices cannot reach each other as far as the document tells, else None."""
    for hidden, other in ((start, end), (end, start)):
        if hidden.behind is not None and hidden.behind not in (other.key, other.behind):
            recorder = site.label_of(hidden.behind)
            return f"{hidden.label} is behind {recorder} and is reached only through that recorder"
    if start.behind is not None or end.behind is not None or start.network == end.network:
        return None
    for key in (start.network, end.network):
        network = site.network_by_key.get(key or "")
        if network is None:
            return None
        if network.gateway is None:
            return f"they are in different networks, and {network.label} has no gateway"
    return None


def _capacity(site: Site, recorder: Device, links: list[_Recorded]) -> Iterator[Problem]:
    model = site.model_of(recorder)
    capacity = model.capacity if model else None
    if capacity is None:
        return
    name, key, channels = recorder.label, (recorder.key,), capacity.channels
    if channels is not None:
        if len(links) > channels:
            yield problem(
                "recorder.over-capacity", key,
                f"{count(len(links), 'channel')} wanted at {name}, which has {channels}.",
                f"Move {len(links) - channels} of them to another recorder.",
            )  # fmt: skip
        for start, slot, _ in links:
            if slot is not None and not 1 <= slot <= channels:
                yield problem(
                    "recorder.over-capacity", (start, recorder.key),
                    f"{site.label_of(start)} is on channel {slot} of {name}, which has the channels 1 to {channels}.",
                    "Choose a channel that the recorder has.",
                )  # fmt: skip
    rates = _main_mbps(site)
    wanted = sum([rates.get(start_model, 0.0) for _, _, start_model in links])
    if capacity.incoming_mbps is not None and wanted > capacity.incoming_mbps:
        yield problem(
            "recorder.over-capacity", key,
            f"{wanted:.1f} Mbit/s wanted at {name}, which takes in {capacity.incoming_mbps:g} Mbit/s.",
            "Lower a stream's rate or move cameras to another recorder.",
        )  # fmt: skip


def _main_mbps(site: Site) -> dict[str, float]:
    """Return the main stream's Mbit/s by model key."""
    streams = ((model.key, (model.streams or {}).get("main")) for model in site.models)
    return {key: stream.kbps / 1000 for key, stream in streams if stream}


def incoming_mbps(site: Site, links: list[Link]) -> float:
    """Return the Mbit/s that a recorder must take in for these recording links; 0.0 for models without streams."""
    rates, devices = _main_mbps(site), site.device_by_key
    return sum(rates.get(devices[link.from_].model, 0.0) for link in links if link.from_ in devices)


def _camera_ports(site: Site) -> Iterator[Problem]:
    behind: dict[str, int] = defaultdict(int)
    for key in filter(None, (device.behind for device in site.devices)):
        behind[key] += 1
    for key, number in behind.items():
        recorder = site.device_by_key.get(key)
        model = site.model_of(recorder) if recorder else None
        if recorder and model and model.camera_ports and number > model.camera_ports.count:
            yield problem(
                "recorder.over-capacity", (key,),
                f"{count(number, 'device')} wanted behind {recorder.label}, which has {model.camera_ports.count} "
                "camera ports.",
                "Plug the others into a switch of the site.",
            )  # fmt: skip
