"""Planning against parsing and validating the same file: python -m bench.planning [devices] [networks]."""

import statistics
import sys
import time
from collections.abc import Callable

from bench.sites import site_text
from tutelar.core.addressing import plan
from tutelar.core.check import check
from tutelar.core.site import read_site, write_site


def median_seconds(work: Callable[[], object], rounds: int = 5) -> float:
    took = []
    for _ in range(rounds):
        start = time.perf_counter()
        work()
        took.append(time.perf_counter() - start)
    return statistics.median(took)


def main() -> None:
    devices, networks = (int(value) for value in (*sys.argv[1:3], *("10000", "60")[len(sys.argv) - 1 :]))
    text = site_text(devices, networks)
    site = read_site(text)
    result = plan(site)
    errors = [item for item in result.problems if item.level == "error"]
    assert len(result.assignments) == devices and not errors, errors[:3]
    reference = median_seconds(lambda: read_site(text))
    print(f"planning: {devices} devices, {networks} networks, {len(text) / 1e6:.1f} MB of JSON")
    print(f"  parse and validate   {reference * 1000:8.0f} ms   1.00")
    for name, work, aim in (
        ("plan", lambda: plan(site), 1.0),
        ("check", lambda: check(site), 1.5),
        ("write", lambda: write_site(site), None),
    ):
        took = median_seconds(work)
        goal = f"(aim at most {aim})" if aim else ""
        print(f"  {name:20} {took * 1000:8.0f} ms   {took / reference:.2f} {goal}")


if __name__ == "__main__":
    main()
