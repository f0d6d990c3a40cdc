"""Planning against parsing and validating the same file: python -m bench.planning [devices] [networks]."""

import gc
import statistics
import sys
import time
from collections.abc import Callable
from ipaddress import IPv4Network

from bench.sites import site_text
from tutelar.core.check import check
from tutelar.core.planning import plan
from tutelar.core.planning.renumber import renumber
from tutelar.core.site import read_site, with_addresses, write_site


def median_seconds(works: dict[str, Callable[[], object]], *, rested: bool, rounds: int = 9) -> dict[str, float]:
    """Return the median time of each, measured in turn so that a busy machine slows all of them alike.

    `rested`: the garbage collector has just run before each, so that none of them pays for the one before.
    """
    took: dict[str, list[float]] = {name: [] for name in works}
    for _ in range(rounds):
        for name, work in works.items():
            if rested:
                gc.collect()
            start = time.perf_counter()
            work()
            took[name].append(time.perf_counter() - start)
    return {name: statistics.median(times) for name, times in took.items()}


def main() -> None:
    given = [int(value) for value in sys.argv[1:3]]
    devices, networks = given if len(given) == 2 else (10_000, 60)
    text = site_text(devices, networks)
    site = read_site(text)
    result = plan(site)
    errors = [item for item in result.problems if item.level == "error"]
    assert len(result.assignments) == devices and not errors, errors[:3]
    filled = with_addresses(site, result.addresses())
    works: dict[str, Callable[[], object]] = {
        "parse and validate": lambda: read_site(text),
        "plan": lambda: plan(site.model_copy()),  # a copy knows nothing of what was worked out before
        "check": lambda: check(site.model_copy()),
        "renumber": lambda: renumber(filled.model_copy(), filled.networks[0], IPv4Network("172.16.0.0/16"), None),
        "write": lambda: write_site(site),
    }
    aims = {"plan": 1.0, "check": 1.5, "renumber": 2.0}
    print(f"planning: {devices} devices, {networks} networks, {len(text) / 1e6:.1f} MB of JSON")
    for rested in (False, True):
        print("  with the collector at rest before each" if rested else "  as they come")
        took = median_seconds(works, rested=rested)
        for name, seconds in took.items():
            goal = f"(aim at most {aims[name]})" if name in aims else ""
            print(f"    {name:20} {seconds * 1000:8.0f} ms   {seconds / took['parse and validate']:.2f} {goal}")


if __name__ == "__main__":
    main()
