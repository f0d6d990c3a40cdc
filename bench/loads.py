"""How long do all loads and their problems take, against reading and checking the same file? Medians of the rounds."""

import json
import statistics
import time

from bench.sites import site_text
from tutelar.core.check import check
from tutelar.core.loads.whole import load_problems, loads_of
from tutelar.core.site import read_site

ROUNDS = 5
GOAL = 1.0
HOURS = {
    "mon": [{"from": "00:00", "to": "12:00", "mode": "motion"}, {"from": "12:00", "to": "24:00", "mode": "continuous"}]
}


def main() -> None:
    raw = json.loads(site_text(10_000, 20))
    for row in raw["devices"]:
        row |= {"cable_m": 30, "fed": {"supply": "psu", "m": 20, "mm2": 1.5}}
    raw["supplies"] = [{"key": "psu", "kind": "dc", "volts": 24, "rated_w": 60}]
    raw["recording"] = {"patterns": [{"key": "hours", "week": HOURS}], "usual": "hours"}
    text = json.dumps(raw)
    reading, checking, summing = [], [], []
    for _ in range(ROUNDS):
        start = time.perf_counter()
        site = read_site(text)
        read = time.perf_counter()
        check(site)
        checked = time.perf_counter()
        list(load_problems(site, loads_of(site)))
        reading.append(read - start)
        checking.append(checked - read)
        summing.append(time.perf_counter() - checked)
    read_s, check_s, sum_s = (statistics.median(times) for times in (reading, checking, summing))
    print(
        f"loads of 10,000 devices {sum_s:.2f} s: {sum_s / (read_s + check_s):.2f} times reading and checking the file "
        f"({read_s:.2f} + {check_s:.2f} s, goal {GOAL}), {sum_s / read_s:.2f} times reading it alone"
    )


if __name__ == "__main__":
    main()
