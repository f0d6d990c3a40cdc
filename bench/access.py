"""How long do questions about doors and the digests of all panels take? 2,000 people, 200 doors, 100 rules.

A question, a person's week at every door, and all digests against reading and checking the same file.
"""

import json
import random
import statistics
import time
from collections.abc import Callable
from datetime import datetime, timedelta
from typing import Any

from bench.sites import site_text
from tutelar.core.access import AccessIndex, may, standings
from tutelar.core.access.digest import Telling
from tutelar.core.check import check
from tutelar.core.site import read_site

ROUNDS = 5
QUESTION_MS, WEEK_MS, SHARE = 20.0, 200.0, 0.5


def main() -> None:
    text = json.dumps(_site())
    reading, checking, digesting = [], [], []
    for _ in range(ROUNDS):
        start = time.perf_counter()
        site = read_site(text)
        read = time.perf_counter()
        check(site)
        checked = time.perf_counter()
        standings(AccessIndex(site))
        reading.append(read - start)
        checking.append(checked - read)
        digesting.append(time.perf_counter() - checked)
    read_s, check_s, tell_s = (statistics.median(times) for times in (reading, checking, digesting))
    share = tell_s / (read_s + check_s)
    print(f"digests of all panels {tell_s:.2f} s: {share:.2f} times reading and checking the file (goal {SHARE})")
    known, dice = AccessIndex(site), random.Random(18)
    people, doors = list(known.people.values()), list(known.doors.values())
    monday = datetime.fromisoformat("2027-03-15T00:00")

    telling = Telling(known)

    def ask() -> None:
        may(known, dice.choice(people), dice.choice(doors), monday + timedelta(minutes=dice.randrange(10_080)), telling)

    asked = _ms(ask, 200)
    print(f"a question {asked:.1f} ms: {asked / QUESTION_MS:.2f} of the goal {QUESTION_MS:g} ms")


def _ms(work: Callable[[], None], times: int) -> float:
    found = []
    for _ in range(times):
        start = time.perf_counter()
        work()
        found.append((time.perf_counter() - start) * 1000)
    return statistics.median(found)


def _site() -> dict[str, Any]:
    dice = random.Random(17)
    raw: dict[str, Any] = json.loads(site_text(100, 2))
    panels = [device["key"] for device in raw["devices"]][:50]
    week = {"mon": [["07:30", "18:00"]], "sat": [["08:00", "12:00"]], "sun": []}
    teams, areas = [f"team-{at}" for at in range(40)], [f"area-{at}" for at in range(30)]
    raw["doors"] = [
        {"key": f"door-{at}", "panel": panels[at % 50], "number": at // 50 + 1, "groups": dice.sample(areas, 2)}
        for at in range(200)
    ]
    raw["access"] = {
        "frames": [{"key": f"frame-{at}", "week": week} for at in range(10)],
        "holidays": [{"date": "2027-03-17"}],
        "people": [
            {
                "key": f"person-{at}",
                "groups": dice.sample(teams, 2),
                "cards": [{"format": "w26", "facility": 7, "number": at}],
            }
            for at in range(2_000)
        ],
        "rules": [
            {
                "key": f"rule-{at}",
                "people": dice.sample(teams, 3),
                "doors": dice.sample(areas, 3),
                "frame": f"frame-{at % 10}",
            }
            for at in range(100)
        ],
    }
    return raw


if __name__ == "__main__":
    main()
