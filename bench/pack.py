"""How long does the handover pack take, of the demo and of 300 devices with 10,000 lines of log, in how much memory?

Against reading and checking the same file; the memory is the process's highest.
"""

import io
import resource
import time
from datetime import date
from pathlib import Path

from bench.sites import site_text
from tutelar.core.check import check
from tutelar.core.loose_ends import loose_ends
from tutelar.core.planning import plan
from tutelar.core.site import read_site
from tutelar.paper.pack import pieces, write_zip

DEMO = Path(__file__).parents[1] / "tutelar" / "server" / "demo" / "brackwater.json"
GOALS = {"demo": 2.0, "300 devices": 15.0}
MEMORY_MB, LINES = 300, 10_000
TODAY = date(2027, 5, 3)


def main() -> None:
    for name, text in (("demo", DEMO.read_text("utf-8")), ("300 devices", site_text(300, 6))):
        start = time.perf_counter()
        site = read_site(text)
        check(site)
        read_s = time.perf_counter() - start
        many = name != "demo"
        log = [
            ("2027-05-03T09:00:00", "Ines", "note", "d-1", f"Line {at} of the log.")
            for at in range(LINES if many else 100)
        ]
        start = time.perf_counter()
        planned = plan(site)
        out = io.BytesIO()
        write_zip(pieces(site, planned, loose_ends(site, planned, TODAY), TODAY, log), out)
        took = time.perf_counter() - start
        goal = GOALS[name]
        print(
            f"pack of {name}: {took:.1f} s, {took / read_s:.0f} times reading and checking, "
            f"{took / goal:.2f} of the goal {goal:g} s, {len(out.getvalue()) / 1e6:.1f} MB"
        )
    peak = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024
    print(f"highest memory {peak:.0f} MB: {peak / MEMORY_MB:.2f} of the goal {MEMORY_MB} MB")


if __name__ == "__main__":
    main()
