"""What goes over the uplinks of switches: every stream whose camera and recorder are on different sides of one."""

from collections.abc import Iterator, Sequence
from typing import NamedTuple

from tutelar.core import graphs
from tutelar.core.loads.budget import plugged_at
from tutelar.core.problems import Problem, problem
from tutelar.core.recording.channels import channels_of
from tutelar.core.site.once import once_a_site
from tutelar.core.site.types import Device, Site

FULL = 0.8  # of an uplink, beyond which bursts are lost


class Uplink(NamedTuple):
    """A switch, where its uplink ends, and Mbit/s on it against what it carries."""

    device: str
    into: str
    mbps: float
    limit_mbps: float

    def as_dict(self) -> dict[str, object]:
        """Return the uplink as the contract prints it."""
        return self._asdict()


def uplinks(site: Site) -> list[Uplink]:
    """Return the uplink of every switch that has one and stands in no circle, in the order of the document."""
    switches = _plugged_switches(site)
    if not switches:
        return []
    round_and_round = {key for circle in uplink_circles(site) for key in circle}
    above: dict[str, set[str]] = {}
    loads: dict[str, float] = {}
    for channel in channels_of(site):
        for key in (channel.device, channel.recorder):
            if key not in above:
                above[key] = _above(site, key)
        for switch in above[channel.device] ^ above[channel.recorder]:
            loads[switch] = loads.get(switch, 0.0) + (channel.kbps or 0.0) / 1000
    found = []
    for device, into in switches:
        if device.key in round_and_round:
            continue
        model = site.model_of(device)
        limit = model.uplink_mbps if model else 1000.0
        found.append(Uplink(device.key, into, loads.get(device.key, 0.0), limit))
    return found


@once_a_site
def _plugged(site: Site) -> dict[str, str]:
    """Return where the data cable of each device ends, by its key, where somebody says."""
    devices = site.device_by_key.items()
    return {key: into for key, device in devices if (into := plugged_at(device)) is not None}


def _plugged_switches(site: Site) -> list[tuple[Device, str]]:
    """Return the switches that are plugged into something, and into what, in the order of the document."""
    switches = {key for key, family in site.family_by_model.items() if family == "switch"}
    mine = (device for device in site.devices if device.model in switches)
    return [(device, into) for device in mine if (into := plugged_at(device)) is not None]


def _above(site: Site, key: str) -> set[str]:
    """Return the devices that one passes from a device towards the top."""
    ends, found, at = _plugged(site), set[str](), key
    while (into := ends.get(at)) is not None and into not in found and into != key:
        found.add(into)
        at = into
    return found


@once_a_site
def uplink_circles(site: Site) -> list[list[str]]:
    """Return the circles of switches that are plugged into each other."""
    return graphs.circles({device.key: [into] for device, into in _plugged_switches(site)})


def uplink_problems(site: Site, rows: Sequence[Uplink]) -> Iterator[Problem]:
    """Yield uplinks that are nearly full, switches in a circle, and cables that end at nothing."""
    for circle in uplink_circles(site):
        names = ", ".join(site.label_of(key) for key in circle)
        yield problem(
            "uplink.circle",
            circle,
            f"{names} are plugged into each other in a circle.",
            "Take one of these cables out: pictures and everything else stop in such a circle.",
        )
    for row in rows:
        if row.mbps > FULL * row.limit_mbps:
            yield problem(
                "uplink.over",
                (row.device,),
                f"{row.mbps:.1f} Mbit/s of pictures go over the uplink of {site.label_of(row.device)}, which carries "
                f"{row.limit_mbps:g}; more than {FULL:.0%} is too much.",
                "Put the recorder beside its cameras, or take a faster uplink.",
            )
    for device in site.devices:
        if device.plugged_into is not None and device.plugged_into.device not in site.device_by_key:
            yield problem(
                "device.unknown-supply",
                (device.key,),
                f"{device.label} is plugged into '{device.plugged_into.device}', which the file does not have.",
                "Add that device or correct the key.",
            )
