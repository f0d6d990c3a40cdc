"""How long do all pairs of 300 devices take on their usual ports, against reading and checking the same file?"""

import statistics
import time

from bench.sites import site_text
from tutelar.core.check import check
from tutelar.core.planning import placed
from tutelar.core.reach import Ends, matrix
from tutelar.core.site import read_site

ROUNDS, DEVICES, GOAL = 3, 300, 1.0


def main() -> None:
    text = site_text(DEVICES, 3)
    bases, walks = [], []
    for _ in range(ROUNDS):
        start = time.perf_counter()
        site = read_site(text)
        check(site)
        based = time.perf_counter()
        ends = Ends(site, placed(site))
        usual = {device.key: next(iter(site.services_of(device).values()), 0) for device in site.devices}
        found = matrix(ends, usual, usual)
        reached = sum(len(found.reached(one)) for one in usual)
        bases.append(based - start)
        walks.append(time.perf_counter() - based)
    base, walk = statistics.median(bases), statistics.median(walks)
    share = f"{walk / base:.2f} times reading and checking (goal {GOAL})"
    print(f"all pairs of {DEVICES} devices {walk:.3f} s: {share}; {reached} of {DEVICES**2} reach")


if __name__ == "__main__":
    main()
