"""The commands about sums: what is recorded and kept, and what is used of everything that has a limit."""

import argparse
from collections.abc import Sequence

from tutelar.cli.shared import print_json, print_problems, read_the_site, status_of
from tutelar.core.links.rules import over_capacity
from tutelar.core.loads.whole import Loads, load_problems, loads_of
from tutelar.core.problems import in_order
from tutelar.core.recording import Channel, Storage, channels_of, recording_problems, storage_of
from tutelar.core.site import Site
from tutelar.core.wording import count

TIB = 2**40


def recording(options: argparse.Namespace) -> int:
    """Say what every channel writes, how long the disks hold it, and which disks would."""
    site = read_the_site(options.site)
    channels = channels_of(site)
    storage = storage_of(site, channels)
    problems = in_order(recording_problems(site, channels, storage))
    if options.json:
        print_json(
            {
                "channels": [item.as_dict() for item in channels],
                "recorders": [item.as_dict() for item in storage],
                "problems": [item.as_dict() for item in problems],
            }
        )
    else:
        _print_recording(site, channels, storage)
        print_problems(problems)
    return status_of(problems)


def _print_recording(site: Site, channels: Sequence[Channel], storage: list[Storage]) -> None:
    for item in channels:
        daily = (
            "rate or pattern not known" if item.bytes_per_day is None else f"{item.bytes_per_day / 1e9:.1f} GB a day"
        )
        where = f"{site.label_of(item.recorder)} {item.slot}"
        print(f"{where:24} {site.label_of(item.device):28} {item.pattern or 'all day':16} {daily}")
    for row in storage:
        days = "nothing is recorded" if row.days is None else f"{row.days:.1f} days"
        wanted = f" of {row.wanted_days} wanted" if row.wanted_days is not None else ""
        label = f"{row.label_bytes / 1e12:g} TB (shown as {row.label_bytes / TIB:.2f} TiB)"
        print(f"{site.label_of(row.device)}: {row.bytes_per_day / 1e12:.3f} TB a day on {label}: {days}{wanted}.")
        if row.propose is not None:
            disks = f"{len(row.propose.disks)} × {row.propose.disks[0]} TB"
            print(f"  {disks}, RAID {row.propose.raid}, hold {row.propose.days:.1f} days.")


def loads(options: argparse.Namespace) -> int:
    """Say what is used of recorders, switches, uplinks, the line, cables, supplies and locks."""
    site = read_the_site(options.site)
    found = loads_of(site, options.viewers)
    problems = in_order([*over_capacity(site), *load_problems(site, found)])
    if options.json:
        print_json(found.as_dict() | {"problems": [item.as_dict() for item in problems]})
    else:
        _print_loads(site, found)
        print_problems(problems)
    return status_of(problems)


def _print_loads(site: Site, found: Loads) -> None:
    for row in found.recorders:
        limit = "" if row["incoming_limit_mbps"] is None else f" of {row['incoming_limit_mbps']:g}"
        used = count(row["channels_used"], "channel")
        print(f"{site.label_of(row['device'])}: {used}, {row['incoming_mbps']:.1f}{limit} Mbit/s.")
    for item in found.switches:
        budget = "" if item.budget_w is None else f" of {item.budget_w:g}"
        ports = "" if item.ports is None else f" of {item.ports}"
        print(f"{site.label_of(item.device)}: {item.counts_w:.1f}{budget} W, {item.ports_used}{ports} ports.")
    for up in found.uplinks:
        print(f"Uplink of {site.label_of(up.device)}: {up.mbps:.1f} of {up.limit_mbps:g} Mbit/s.")
    if (line := found.internet) is not None:
        seen = f"{line.main_viewers} main or {line.sub_viewers} sub streams at once"
        print(f"Line: {line.usable_mbps:g} of {line.upstream_mbps:g} Mbit/s for pictures: {seen}.")
    for cable in found.cables:
        if cable.kind == "supply":
            volts = "does not run" if cable.volts is None else f"{cable.volts:.2f} V"
            print(f"Supply cable of {site.label_of(cable.device)}, {cable.length_m:g} m: {volts}.")
    for supply in found.supplies:
        lasts = "" if supply.minutes is None else f", lasts {count(round(supply.minutes), 'minute')}"
        print(f"{supply.key}: {supply.load:.1f} {supply.unit.upper()}{lasts}.")
    for panel in found.panels:
        print(f"{site.label_of(panel.device)}: {panel.lock_a_wanted:.2f} of {panel.lock_a_free:.2f} A for locks.")
