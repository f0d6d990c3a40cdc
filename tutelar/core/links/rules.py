"""Links as the document holds them: do both ends exist, is the slot free, does it fit, can the ends talk?"""

from collections import defaultdict
from collections.abc import Iterator

from tutelar.core.problems import Problem, problem
from tutelar.core.site.types import OUTSIDE_ENDS, Device, Link, Site
from tutelar.core.wording import count, listed

SLOT_WORD = {
    "records": "channel", "registers-at": "number", "extends": "number", "steers": "short number",
    "reads-for": "door", "shows-on": "tile", "reports-to": "zone", "pages": "zone",
}  # fmt: skip
_NEEDS_SLOT = frozenset({"records", "registers-at", "extends", "steers", "reads-for"})
_RECORDERS = frozenset({"recorder", "software-recorder"})
_PICTURES = frozenset({"camera", "encoder", "door-station", "doorbell"})


def slot_word(kind: str) -> str:
    return SLOT_WORD.get(kind, "slot")


def link_problems(site: Site) -> Iterator[Problem]:
    """Yield what is wrong with the links and with what they ask of their targets."""
    devices, families = site.device_by_key, site.family_by_model
    seats: dict[tuple[str, str], dict[int, Link]] = defaultdict(dict)
    shared: dict[tuple[str, str, int], list[Link]] = {}
    at_recorder: dict[str, list[Link]] = defaultdict(list)
    for link in site.links:
        start, end = devices.get(link.from_), devices.get(link.to)
        if start is None or (end is None and link.to not in OUTSIDE_ENDS):
            missing = link.from_ if start is None else link.to
            yield problem(
                "link.unknown-device", (missing,),
                f"The link '{link.kind}' from '{link.from_}' to '{link.to}' names '{missing}', which the file does "
                "not have.",
                "Add the device or remove the link.",
            )  # fmt: skip
            continue
        if link.slot is not None:
            holder = seats[link.to, link.kind].setdefault(link.slot, link)
            if holder is not link:
                shared.setdefault((link.to, link.kind, link.slot), [holder]).append(link)
        elif link.kind in _NEEDS_SLOT:
            word = slot_word(link.kind)
            yield problem(
                "link.no-slot", (link.from_, link.to),
                f"{start.label} has no {word} at {site.label_of(link.to)} yet.",
                f"Choose a free {word}.",
            )  # fmt: skip
        if end is not None:
            if link.kind == "records":
                if families.get(start.model) not in _PICTURES or families.get(end.model) not in _RECORDERS:
                    yield from _wrong_family(site, start, end)
                at_recorder[end.key].append(link)
            if start.network != end.network or start.behind != end.behind:
                yield from _apart(site, link, start, end)
        if start.addressing == "leased" or (end is not None and end.addressing == "leased"):
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
    for key, links in at_recorder.items():
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


def _capacity(site: Site, recorder: Device, links: list[Link]) -> Iterator[Problem]:
    model = site.model_of(recorder)
    capacity = model.capacity if model else None
    if capacity is None:
        return
    name, key = recorder.label, (recorder.key,)
    if capacity.channels is not None:
        if len(links) > capacity.channels:
            yield problem(
                "recorder.over-capacity", key,
                f"{count(len(links), 'channel')} wanted at {name}, which has {capacity.channels}.",
                f"Move {len(links) - capacity.channels} of them to another recorder.",
            )  # fmt: skip
        high = [link for link in links if link.slot is not None and not 1 <= link.slot <= capacity.channels]
        for link in high:
            yield problem(
                "recorder.over-capacity", (link.from_, recorder.key),
                f"{site.label_of(link.from_)} is on channel {link.slot} of {name}, which has the channels 1 to "
                f"{capacity.channels}.",
                "Choose a channel that the recorder has.",
            )  # fmt: skip
    wanted = incoming_mbps(site, links)
    if capacity.incoming_mbps is not None and wanted > capacity.incoming_mbps:
        yield problem(
            "recorder.over-capacity", key,
            f"{wanted:.1f} Mbit/s wanted at {name}, which takes in {capacity.incoming_mbps:g} Mbit/s.",
            "Lower a stream's rate or move cameras to another recorder.",
        )  # fmt: skip


def incoming_mbps(site: Site, links: list[Link]) -> float:
    """Return the Mbit/s that a recorder must take in for these recording links."""
    kbps = {model.key: model.streams["main"].kbps for model in site.models if model.streams and "main" in model.streams}
    devices = site.device_by_key
    return sum(kbps.get(devices[link.from_].model, 0.0) for link in links if link.from_ in devices) / 1000


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
