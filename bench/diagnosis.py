"""How often is the true cause named first, in how many minutes against the usual order, and how fast?

Hidden cases on the demo site, answered by the pretend site: a fault (or two) at random, the first thing that shows it
as the complaint, then check after check until no further one is worth it. "Named" counts causes that no check tells
apart as one. `python -m bench.diagnosis [CASES]` also times 300 devices against reading and checking the same file.
"""

import json
import math
import random
import statistics
import sys
import time
from pathlib import Path
from typing import NamedTuple

from bench.sites import site_text
from tutelar.core.check import check
from tutelar.core.diagnose import Diagnoser, Ground, Seen, Wrong, diagnose, drill
from tutelar.core.planning import placed
from tutelar.core.site import read_site

DEMO = Path(__file__).parents[1] / "tutelar" / "server" / "demo" / "brackwater.json"
ROUNDS, DEVICES, GOAL = 3, 300, 2.0


class Case(NamedTuple):
    """How a hidden case went: whether its cause was named first, minutes so, minutes in the usual order."""

    named: bool
    minutes: float
    usual: float


class Cases:
    """Hidden cases on a site."""

    def __init__(self, ground: Ground, seed: int) -> None:
        self._diagnoser = Diagnoser(ground)
        self._dice = random.Random(seed)

    def play(self, level: drill.Level) -> Case | None:
        """Play a case, None where nothing shows its faults."""
        ground = self._diagnoser.ground
        causes = drill.hide(ground, self._dice, level)
        wrong = Wrong(ground, causes)
        said = [drill.complaint(ground, wrong, cause, self._dice) for cause in causes]
        first = [seen for seen in said if seen is not None]
        if not first:
            return None
        ours = drill.play(self._diagnoser, wrong, first)
        usual = drill.play(self._diagnoser, wrong, first, drill.USUAL_ORDER)
        return Case(drill.is_named(ours.found, causes), ours.minutes, usual.minutes)


def interval(hits: int, tries: int) -> tuple[float, float]:
    """Return the 95 % confidence interval of a share (Wilson 1927)."""
    z, share = 1.96, hits / tries
    middle = (share + z * z / (2 * tries)) / (1 + z * z / tries)
    half = z * math.sqrt(share * (1 - share) / tries + z * z / (4 * tries * tries)) / (1 + z * z / tries)
    return middle - half, middle + half


def _hidden(cases: int) -> None:
    site = read_site(DEMO.read_bytes())
    levels: tuple[tuple[drill.Level, float], ...] = (("hard", 0.90), ("double", 0.75))
    for level, goal in levels:
        played = Cases(Ground(site, placed(site)), 1)
        found = [case for _ in range(cases) if (case := played.play(level)) is not None]
        hits = sum(case.named for case in found)
        low, high = interval(hits, len(found))
        ratios = [case.minutes - 0.6 * case.usual for case in found]
        ours, usual = statistics.mean(case.minutes for case in found), statistics.mean(case.usual for case in found)
        spread = 1.96 * statistics.stdev(ratios) / math.sqrt(len(found))
        print(
            f"{'two faults' if level == 'double' else 'one fault'}: named first {hits / len(found):.0%} "
            f"({low:.0%} to {high:.0%}, goal {goal:.0%}) of {len(found)}; {ours:.1f} min against {usual:.1f} in the "
            f"usual order: {ours / usual:.2f} (plus or minus {spread / usual:.2f}, goal 0.60)"
        )


def _large() -> None:
    """Time a verdict on 300 devices with switches, of which those on one switch are silent."""
    raw = json.loads(site_text(DEVICES, 3))
    raw["models"].append({"key": "tarn-48", "family": "switch", "services": {"web": 80}, "ports": 48})
    switches = [
        {"key": f"sw-{n}", "model": "tarn-48", "network": f"net-{n % 3 + 1:02}", "name": f"Switch {n}"}
        for n in range(9)
    ]
    for number, device in enumerate(raw["devices"]):
        device["powered_by"] = {"device": f"sw-{number % 9}", "port": number // 9 + 1}
    raw["devices"] += switches
    text = json.dumps(raw)
    bases, verdicts, following = [], [], []
    for _ in range(ROUNDS):
        start = time.perf_counter()
        site = read_site(text)
        check(site)
        based = time.perf_counter()
        ground = Ground(site, placed(site))
        silent = [Seen(check="answers", at=item, result="silent") for item in ground.below["sw-4"]]
        diagnose(ground, silent)
        told = time.perf_counter()
        asked = Diagnoser(ground)
        asked.verdict(silent[:1])
        again = time.perf_counter()
        asked.verdict(silent[:2])
        following.append(time.perf_counter() - again)
        bases.append(based - start)
        verdicts.append(told - based)
    base, verdict = statistics.median(bases), statistics.median(verdicts)
    print(
        f"{DEVICES} devices, {len(silent)} silent: {verdict:.3f} s, {verdict / base:.2f} times reading and checking "
        f"(goal {GOAL}); a following answer {statistics.median(following) * 1000:.0f} ms (goal 150)"
    )


def main() -> None:
    _large()
    _hidden(int(sys.argv[1]) if len(sys.argv) > 1 else 200)


if __name__ == "__main__":
    main()
