"""The commands that talk to devices: the pretend site, measuring, and a search."""

import argparse
import asyncio
import contextlib
import json
import sys
import time
from collections.abc import Iterator

from tutelar.cli.outcome import DONE, PROBLEMS, Unreadable
from tutelar.cli.shared import fault_lines, print_json, read_file, read_the_site
from tutelar.core.planning import plan
from tutelar.core.proof import Observation, all_expectations, as_row, check_title
from tutelar.core.sightings import findings
from tutelar.core.site import Reading, Site, UnreadableSite
from tutelar.core.wording import count, listed
from tutelar.field.guard import Forbidden, Guard
from tutelar.field.interface import DISCOVERY_PORT, Found
from tutelar.field.look import Target
from tutelar.field.neighbours import LaptopTable, known
from tutelar.field.prove import LIVE_MANNERS, Keep, Prover, targets_of
from tutelar.field.search import Answers, search_at, search_live
from tutelar.standin.faults import Fault, read_faults
from tutelar.standin.loopback import NoRoomError, loopback_port
from tutelar.standin.site import CannotListen, StandIn


@contextlib.contextmanager
def _refusals_said() -> Iterator[None]:
    """Turn what the guard and the pretend site refuse into one line."""
    try:
        yield
    except (Forbidden, CannotListen, NoRoomError) as error:
        raise Unreadable([str(error)]) from error


def faults_of(path: str | None, site: Site) -> tuple[Fault, ...]:
    """Return the faults of a file, none without one. Raises Unreadable."""
    if path is None:
        return ()
    try:
        return read_faults(read_file(path), site)
    except UnreadableSite as error:
        raise Unreadable(fault_lines(path, error)) from None


@_refusals_said()
def standin(options: argparse.Namespace) -> int:
    """Run the pretend site on loopback until stopped."""
    site = read_the_site(options.site)
    pretend = StandIn(site, faults_of(options.faults, site))

    async def stay() -> None:
        async with pretend:
            print(json.dumps(pretend.map.as_dict() | {"relay": pretend.relay}, ensure_ascii=False), flush=True)
            if not options.json:
                for line in pretend.map.moved:
                    print(f"{line}, because its usual place is taken.")
                print(f"{count(len(pretend.devices), 'device')} answer on loopback. Ctrl+C stops them.", flush=True)
            await asyncio.Event().wait()

    try:
        asyncio.run(stay())
    except KeyboardInterrupt:
        return DONE
    return DONE


@_refusals_said()
def prove(options: argparse.Namespace) -> int:
    """Measure every device."""
    site = read_the_site(options.site)
    if options.faults and not options.stand_in:
        raise Unreadable(["--faults needs --stand-in: only the pretend site plays faults."])
    evidence: dict[str, dict[str, str]] = {}

    def note(device: str, seen: Observation) -> None:
        evidence[device] = dict(seen.evidence)

    keep = note if options.evidence else None
    start = time.perf_counter()
    if options.stand_in:
        faults = faults_of(options.faults, site)
        readings = asyncio.run(_prove_standin(site, faults, keep))
    else:
        guard = _live(site, options)
        targets = {item.key: Target(str(item.address)) for item in site.devices if item.address and item.behind is None}
        readings = asyncio.run(_collect(site, Prover(guard, neighbours=LaptopTable(), **LIVE_MANNERS), targets, keep))
    took = (time.perf_counter() - start) * 1000
    order = {device.key: at for at, device in enumerate(site.devices)}
    readings.sort(key=lambda reading: order[reading.device])
    if options.json:
        more = {"evidence": evidence} if options.evidence else {}
        print_json({"readings": [as_row(reading) for reading in readings], "took_ms": round(took, 1), **more})
    else:
        _print_readings(site, readings)
    if all(reading.result == "skipped" for reading in readings):
        why = "no device has an address" if not any(item.address for item in site.devices) else "nothing was asked"
        print(f"Nothing could be measured: {why}.", file=sys.stderr)
        return PROBLEMS
    return PROBLEMS if any(reading.result in ("fail", "silent") for reading in readings) else DONE


async def _prove_standin(site: Site, faults: tuple[Fault, ...], keep: Keep | None) -> list[Reading]:
    async with StandIn(site, faults, yields=True) as pretend:
        targets = targets_of(pretend.targets(), loopback_port, site)
        return await _collect(site, Prover(Guard(), neighbours=known(pretend.neighbours())), targets, keep)


async def _collect(site: Site, prover: Prover, targets: dict[str, Target], keep: Keep | None) -> list[Reading]:
    wanted = all_expectations(site, plan(site).assignments)
    batches = prover.readings(site, wanted, targets, keep=keep)
    return [reading async for batch in batches for reading in batch]


def _print_readings(site: Site, readings: list[Reading]) -> None:
    for reading in readings:
        if reading.result != "pass":
            title = check_title(reading.check, site.about.date_order)
            print(
                f"{reading.result:8} {site.label_of(reading.device)}: {title}: {reading.measured} "
                f"(expected {reading.expected})"
            )
    passed = sum(1 for reading in readings if reading.result == "pass")
    print(f"{passed} of {count(len(readings), 'reading')} passed.")


@_refusals_said()
def search(options: argparse.Namespace) -> int:
    """Ask who is there over the shared device interface."""
    site = read_the_site(options.site)

    async def pretend() -> Answers:
        async with StandIn(site, faults_of(options.faults, site), yields=True) as played:
            return await search_at(played.searched(), loopback_port(DISCOVERY_PORT), played.world.neighbours())

    if options.stand_in:
        seen, rest = asyncio.run(pretend())
    else:
        seen, rest = asyncio.run(search_live(_live(site, options)))
    found = findings(site, plan(site), seen)
    if options.json:
        rows = [
            {
                "address": row.address,
                "mac": row.mac,
                "name": row.name,
                "device": row.device,
                "kind": row.kind,
                "sentence": row.sentence,
            }
            for row in found.rows
        ]
        rows += [
            {
                "address": item.address,
                "mac": None,
                "name": item.name,
                "device": None,
                "kind": "unread",
                "sentence": _unknown(item),
            }
            for item in rest
        ]
        print_json({"found": rows, "unseen": list(found.unseen)})
    else:
        for line in [*(row.sentence for row in found.rows), *map(_unknown, rest)]:
            print(line)
        print(f"{count(len(seen) + len(rest), 'device')} answered.")
    return DONE


def _live(site: Site, options: argparse.Namespace) -> Guard:
    networks = [network.cidr for network in site.networks]
    if not options.authorised:
        raise Unreadable(
            [
                "Real devices are measured only with --authorised, by whom it is allowed on these networks: "
                f"{listed([str(item) for item in networks], 6)}. With --stand-in the pretend site is measured."
            ]
        )
    return Guard.for_live_work(networks, switched_on=options.authorised, authorised=options.authorised)


def _unknown(item: Found) -> str:
    return f"{item.name or item.hardware or 'Something'} answers at {item.address}; its hardware address is not known."
