"""Readiness of 1,000 links against parsing their site, and proposals against an exact solver: python -m bench.links."""

import json
import random
import statistics
import time
from collections.abc import Callable
from typing import Any

from bench.planning import median_seconds
from bench.sites import site_text
from tutelar.core.links.packing import Bin, Item, pack
from tutelar.core.links.propose import applied, propose
from tutelar.core.links.readiness import basis, check_name, link_statuses
from tutelar.core.links.registry import link_index
from tutelar.core.planning import plan
from tutelar.core.site import read_site
from tutelar.core.site.types import Reading, Site


def readiness() -> None:
    """Print what looking at 1,000 links costs, with nothing seen yet and with every link typed and proven."""
    text = site_text(1065, 6)
    site = read_site(text)
    addresses = plan(site).addresses()
    states = {device.key: "set" for device in site.devices}
    secrets = {(device.key, "login"): "secret 1" for device in site.devices}
    assert len(site.links) >= 1000
    print(f"readiness: {len(site.links)} links of {len(site.devices)} devices")
    ticks: dict[tuple[str, str], str] = {}
    last: dict[tuple[str, str], Reading] = {}
    known = link_index(site, addresses, states, secrets)
    for case in filter(None, map(known.case, site.links)):
        for item in case.kind.values(case):
            end = case.start if item.end == "from" else case.end
            if end is not None:
                ticks[end.key, item.line.key] = "secret 1" if item.line.slot else item.line.value
        for test in case.kind.tests:
            check = check_name(case.link, test)
            last[case.start.key, check] = Reading(device=case.start.key, check=check, result="pass", basis=basis(case))
    works: dict[str, Callable[[], Any]] = {
        "parse and validate": lambda: read_site(text),
        "nothing typed yet": lambda: link_statuses(link_index(site, addresses, states, secrets), {}, {}),
        "all typed": lambda: link_statuses(link_index(site, addresses, states, secrets), {}, ticks),
        "all proven": lambda: link_statuses(link_index(site, addresses, states, secrets), last, ticks),
    }
    assert {item.state for item in works["all proven"]()} == {"proven"}
    assert {item.state for item in works["all typed"]()} == {"tied"}
    took = median_seconds(works, rested=False, rounds=21)
    for name, seconds in took.items():
        aim = "(aim at most 1.0)" if name != "parse and validate" else ""
        print(f"    {name:20} {seconds * 1000:7.1f} ms   {seconds / took['parse and validate']:.2f} {aim}")


def exact(items: list[Item], bins: list[Bin]) -> int:
    """Return the most items that fit: dynamic programming over everything that can be left free."""
    reached = {tuple((item.seats, item.rate) for item in bins): 0}
    for item in items:
        fresh = dict(reached)
        for free, placed in reached.items():
            for at in item.allowed:
                seats, rate = free[at]
                if (seats is not None and seats < 1) or (rate is not None and rate < item.rate):
                    continue
                left = (seats and seats - 1, None if rate is None else rate - item.rate)
                after = (*free[:at], left, *free[at + 1 :])
                fresh[after] = max(fresh.get(after, -1), placed + 1)
        reached = fresh
    return max(reached.values())


def against_exact(rounds: int = 150) -> None:
    """Print in how many small cases the proposal leaves out as few as an exact solver."""
    dice = random.Random(7)
    same = proved = 0
    for _ in range(rounds):
        bins = [
            Bin(dice.randint(2, 5), dice.choice([8_000, 12_000, 16_000, 20_000])) for _ in range(dice.randint(2, 3))
        ]
        items = [
            Item(dice.choice([1500, 2000, 3000, 4096, 6144, 8192]), tuple(range(len(bins))))
            for _ in range(dice.randint(6, 11))
        ]
        found = pack(items, bins)
        best = exact(items, bins)
        same += len(items) - len(found.left) == best
        proved += found.proved
    print(f"proposals: {same} of {rounds} small cases as good as an exact solver, {proved} proved by the search itself")


def large() -> None:
    """Print proposals for 300 cameras over 10 recorders that are filled to within a few percent or a thousandth."""
    print("proposals: 300 cameras over 10 recorders")
    for spare in (1.2, 1.02, 1.001, 0.97):
        took, left, over, unproved = [], 0, 0, 0
        for seed in range(6):
            site = crowded(seed, spare)
            start = time.perf_counter()
            found = propose(link_index(site, {}))
            took.append(time.perf_counter() - start)
            left += len(found.left)
            unproved += not found.proved
            after = link_index(applied(site, found.changes), {})
            over += sum(bool(load.beyond) for load in after.loads.values())
        said = f"{left:3} of {6 * 300} left out, {over} recorders over capacity, {unproved} of 6 not proved"
        print(f"    room for {spare:5.3f} of what is wanted: {said}, {statistics.median(took):.2f} s")


def crowded(seed: int, spare: float) -> Site:
    """Return 300 cameras of five rates and ten equal recorders that take in this share of what they bring."""
    dice = random.Random(seed)
    rates = [2000, 3000, 4096, 6144, 8192]
    stream = {"width": 1920, "height": 1080, "fps": 20, "codec": "h265"}
    models: list[dict[str, Any]] = [
        {"key": f"eye-{rate}", "family": "camera", "streams": {"main": stream | {"kbps": rate}}} for rate in rates
    ]
    devices: list[dict[str, Any]] = [
        {"key": f"cam-{at}", "model": f"eye-{dice.choice(rates)}", "network": "lan", "place": f"Hall {at // 20}"}
        for at in range(300)
    ]
    wanted = sum(int(device["model"][4:]) for device in devices) / 1000
    capacity = {"channels": 32, "incoming_mbps": round(wanted / 10 * spare, 1)}
    models.append({"key": "disk", "family": "recorder", "capacity": capacity})
    devices += [{"key": f"rec-{at}", "model": "disk", "network": "lan"} for at in range(10)]
    document = {
        "format": "tutelar-site",
        "version": 1,
        "site": {"key": "crowded", "name": "Crowded"},
        "networks": [{"key": "lan", "cidr": "10.20.0.0/22"}],
        "models": models,
        "devices": devices,
    }
    return read_site(json.dumps(document))


def main() -> None:
    readiness()
    against_exact()
    large()


if __name__ == "__main__":
    main()
