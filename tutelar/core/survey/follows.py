"""What follows from the answers, said beside the question it concerns.

Watts a port reserves by
class: IEEE 802.3. A day of video: kbit/s x 86,400 s / 8.
"""

from collections import defaultdict
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Literal

from tutelar.core.addressing import Plan
from tutelar.core.addressing.ranges import size
from tutelar.core.addressing.subnet import SubnetMembers, subnet_members
from tutelar.core.loads.budget import reserved_watts
from tutelar.core.ports import outside_kind
from tutelar.core.problems import Problem
from tutelar.core.recording import channels_of, storage_of
from tutelar.core.recording.storage import TB
from tutelar.core.site.types import Device, Site
from tutelar.core.site.values import packet_sum
from tutelar.core.survey.questions import pools_known
from tutelar.core.wording import count, listed

UPSTREAM_SHARE = 0.8  # of the line, so that other traffic passes too

_BLANK_OF_CODE = {
    "network.pool-outside": "pools",
    "pool.overlaps-reserved": "pools",
    "pool.holds-gateway": "pools",
    "network.full": "pools",
    "network.reserved-outside": "reserved",
}


@dataclass(frozen=True, slots=True)
class Follow:
    """One consequence: a sentence, and what could be done. "good" = nothing in the way."""

    level: Literal["good", "note", "warning", "error"]
    message: str
    fix: str | None = None


def follows(site: Site, planned: Plan) -> dict[str, list[Follow]]:
    """Return the consequences by question key, worst first. `planned` is the plan of the site."""
    found: dict[str, list[Follow]] = defaultdict(list)
    for item in planned.problems:
        key = _question_of(site, item)
        if key:
            found[key].append(Follow(item.level, item.message, item.fix))
    for standing in subnet_members(site):
        if standing.ground.recorder is None:
            for key, follow in _of_network(site, standing, planned):
                found[key].append(follow)
    for key, follow in (*_internet(site), *_power(site), *_method(site), *_people(site)):
        found[key].append(follow)
    order = {"error": 0, "warning": 1, "note": 2, "good": 3}
    return {key: sorted(dict.fromkeys(items), key=lambda item: order[item.level]) for key, items in found.items()}


def _question_of(site: Site, item: Problem) -> str | None:
    if item.code == "device.leased-but-linked":
        return "addressing"
    if item.code == "device.unknown-place":
        return "names"
    if item.code == "switch.over-budget":
        return "power"
    network = next((subject for subject in item.subjects if subject in site.network_by_key), None)
    if network is None or item.code.split(".")[0] not in ("network", "pool", "range", "address"):
        return None
    return f"networks.{network}.{_BLANK_OF_CODE.get(item.code, 'range')}"


def _of_network(site: Site, standing: SubnetMembers, planned: Plan) -> Iterator[tuple[str, Follow]]:
    ground, network = standing.ground, site.network_by_key[standing.ground.key]
    path = f"networks.{network.key}"
    room = next(item for item in planned.networks if item["key"] == network.key)
    free, wanted = int(room["fixed_free"]), int(room["fixed_wanted"])
    yield f"{path}.range", Follow("good", f"{count(ground.usable_count, 'address', 'addresses')} in all.")
    if pools_known(site, network):
        if free >= wanted:
            said = (
                f"{free} stay free for us; {wanted} {'is' if wanted == 1 else 'are'} wanted."
                if wanted
                else f"{free} stay free for us."
            )
            yield f"{path}.pools", Follow("good", said)
    else:
        yield (
            f"{path}.pools",
            Follow(
                "warning",
                "Until this is known a fixed address may lie in the DHCP pool and be leased to a phone.",
                "Ask before any address is set.",
            ),
        )
    kept = size([(first, last) for first, last, _ in ground.reserved])
    if kept:
        yield f"{path}.reserved", Follow("good", f"{count(kept, 'address', 'addresses')} that Tutelar never uses.")
    yield from _time(site, standing)
    if site.survey.taken_over:
        yield (
            f"{path}.range",
            Follow(
                "note",
                "Devices work here already: import the router's lease table before the plan is set.",
                "The address stage takes lease and neighbour tables.",
            ),
        )


def _time(site: Site, standing: SubnetMembers) -> Iterator[tuple[str, Follow]]:
    network = site.network_by_key[standing.ground.key]
    key = f"networks.{network.key}.time"
    if network.time_source is not None:
        offline = site.internet is not None and site.internet.connection == "none"
        if standing.ground.time_source is None and offline:
            yield (
                key,
                Follow(
                    "error",
                    f"{network.time_source} lies outside, and this site has no internet.",
                    "Let a recorder or a door station serve the time.",
                ),
            )
        else:
            yield key, Follow("good", "Recordings and door times will agree.")
        return
    servers = [
        site.devices[at].label
        for at, device in standing.devices
        if site.family_of(device) in ("recorder", "door-station")
    ]
    fix = f"{servers[0]} could serve the time to the others." if servers else "Set by hand, and check the drift."
    yield key, Follow("warning", "Without a time server the clocks drift apart, and footage proves nothing.", fix)


def _internet(site: Site) -> Iterator[tuple[str, Follow]]:
    internet = site.internet
    if internet is None:
        return
    if internet.connection == "none":
        relayed = sorted({link.from_ for link in site.links if link.to == "relay"})
        if relayed:
            names = listed([site.label_of(key) for key in relayed])
            yield (
                "internet",
                Follow(
                    "error",
                    f"{names} cannot reach the relay without internet.",
                    "Remove these links, or ask for a line.",
                ),
            )
        yield "internet", Follow("note", "No relay, no time from outside, no updates: bring firmware along.")
        return
    kind = outside_kind(internet.outside_address)
    if kind == "carrier":
        yield (
            "internet",
            Follow(
                "warning",
                f"{internet.outside_address} is the provider's shared address (carrier-grade NAT): nothing "
                "outside can open a connection to this site, and no port can be forwarded.",
                "Use the maker's relay or a tunnel that is opened from inside.",
            ),
        )
    elif kind == "private":
        yield (
            "internet",
            Follow(
                "warning",
                f"{internet.outside_address} is a private address: a second router stands before this one "
                "(double NAT).",
                "Find the outer router, or use the maker's relay.",
            ),
        )
    elif kind == "public":
        yield "internet", Follow("good", "The router has a public address; nothing has to be forwarded all the same.")
    if internet.mtu is not None:
        yield "internet", Follow("note", f"Packets of {packet_sum(internet.mtu)}.")
    if internet.upstream_mbps is not None and internet.upstream_mbps > 0:
        sub = max(
            (
                stream.kbps
                for streams in site.streams_by_model.values()
                for name, stream in streams.items()
                if name == "sub"
            ),
            default=0,
        )
        if sub:
            pictures = int(internet.upstream_mbps * 1000 * UPSTREAM_SHARE // sub)
            yield (
                "internet",
                Follow(
                    "good" if pictures >= 4 else "warning",
                    f"Upstream carries about {count(pictures, 'sub stream')} at once ({sub:g} kbit/s each, a "
                    "fifth left free).",
                ),
            )


def _power(site: Site) -> Iterator[tuple[str, Follow]]:
    fed = [device for device in site.devices if _wants_site_port(site, device)]
    watts = sum(reserved_watts(site.model_of(device)) for device in fed)
    survey = site.survey
    if not fed:
        yield "power", Follow("good", "No device of the kit needs a powered port of the site.")
        return
    need = f"{count(len(fed), 'device')} of the kit {'needs' if len(fed) == 1 else 'need'} a powered port of the site"
    if survey.powered_ports is None:
        yield "power", Follow("warning", f"{need}, {watts:.0f} W by class; how many are free is not known.")
    elif survey.powered_ports < len(fed):
        yield (
            "power",
            Follow(
                "error",
                f"{need}, {survey.powered_ports} are free: {len(fed) - survey.powered_ports} too few.",
                "Bring a switch, or an injector for each of the others.",
            ),
        )
    else:
        yield "power", Follow("good", f"{need}; {survey.powered_ports} are free.")
    if survey.powered_w is not None and survey.powered_w < watts:
        yield (
            "power",
            Follow(
                "error",
                f"They reserve {watts:.0f} W by class; {survey.powered_w:g} W are left.",
                "Bring a switch with a larger budget.",
            ),
        )


def _wants_site_port(site: Site, device: Device) -> bool:
    """Whether the device needs a port of a switch that is not in the kit."""
    return device.powered_by is None and device.behind is None and reserved_watts(site.model_of(device)) > 0


def _method(site: Site) -> Iterator[tuple[str, Follow]]:
    reserved = [device for device in site.devices if device.addressing == "reserved"]
    unread = [device.label for device in reserved if not device.network_mac]
    if reserved:
        yield (
            "addressing",
            Follow(
                "note", f"{count(len(reserved), 'reservation')} for whoever keeps the router; the request lists them."
            ),
        )
    if unread:
        yield (
            "addressing",
            Follow(
                "warning", f"{listed(unread)} cannot be reserved yet: no hardware address.", "Read the labels first."
            ),
        )
    if not reserved and site.policy.addressing == "fixed":
        yield "addressing", Follow("good", "Works without the router; stays outside its pool.")


def _people(site: Site) -> Iterator[tuple[str, Follow]]:
    survey = site.survey
    if survey.remote_viewing:
        relayed = [link for link in site.links if link.kind == "relays"]
        names = listed(list(survey.remote_viewing))
        if site.internet is not None and site.internet.connection == "none":
            yield "remote", Follow("error", f"{names} cannot look in: this site has no internet.")
        elif not relayed:
            yield (
                "remote",
                Follow(
                    "warning",
                    f"{names} cannot look in yet: no device is registered at a relay.",
                    "Link a recorder to the relay.",
                ),
            )
        else:
            yield "remote", Follow("note", "Proven only by a picture on a phone on mobile data.")
    yield from (("retention", item) for item in _retention(site))
    if survey.audio == "forbidden":
        yield (
            "audio",
            Follow(
                "note",
                "Sound is not recorded: the microphones of cameras are off. Door stations keep theirs for talking.",
            ),
        )
    for door in survey.escape_doors or ():
        yield "escape", Follow("note", f"{door} is not proven without the egress test, recorded by a named person.")
    if survey.alarms_watched_by:
        yield "alarms", Follow("note", "Tell them before programming (on test), and end the test afterwards.")


def _retention(site: Site) -> Iterator[Follow]:
    days, channels = site.survey.retention_days, channels_of(site)
    if not channels:
        if any(link.kind == "records" for link in site.links):
            yield Follow("note", "No recorded device has its channel yet, so nobody can say what is written a day.")
        elif days:
            yield Follow(
                "note", f"{count(days, 'day')} wanted; nothing is linked to a recorder yet, so no disk can be named."
            )
        return
    storage = storage_of(site, channels)
    day_tb = sum(row.bytes_per_day for row in storage) / TB
    unknown = {channel.device for channel in channels if channel.bytes_per_day is None}
    if day_tb:
        known = len({channel.device for channel in channels} - unknown)
        said = f"{count(known, 'camera')} write {day_tb:.2f} TB a day"
        held = [row.days for row in storage if row.days is not None]
        if days and any(device.disks for device in site.devices):
            level: Literal["good", "warning"] = "warning" if min(held) < days else "good"
            hold = count(int(min(held)), "day")
            yield Follow(level, f"{said}; the disks hold {hold}, {count(days, 'day')} are wanted.")
        elif days:
            wanted = f"{count(days, 'day')} want {day_tb * days:.1f} TB"
            yield Follow("note", f"{said}; {wanted}. The disks are not known yet.")
        else:
            yield Follow("warning", f"{said}. Without the days nobody can say which disks to bring.")
    if unknown:
        yield Follow("note", f"Of {count(len(unknown), 'recorded device')} the rate or the pattern is not known.")
