"""The run against what a long search finds: python -m bench.running [seconds of the long search [devices ...]].

For the demo site and invented ones: how long the run is, what it saves against one device after the other, the proved
bound, and the best that a search of a minute or more finds from three seeds. Then how long planning the rest again
takes in the middle of a run.
"""

import json
import random
import sys
import time
from pathlib import Path
from typing import Any

import tutelar
from tutelar.core.run import PIECES_A_SECOND, run
from tutelar.core.run.live import RunState, StepOutcome, live_run, planned_again, with_started_steps
from tutelar.core.site import Site, read_site

DEMO_FILE = Path(tutelar.__file__).parent / "server" / "demo" / "brackwater.json"
DEMO: dict[str, Any] = json.loads(DEMO_FILE.read_text())


def invented(devices: int, seed: int) -> Site:
    """Return a site of so many devices of the demo's models, on a bench drawn by the seed."""
    dice = random.Random(seed)
    raw = json.loads(json.dumps(DEMO))
    family = {model["key"]: model["family"] for model in raw["models"]}
    models = dice.sample(sorted(family), dice.randint(3, len(family)))
    often = [dice.random() * (4 if family[model] == "camera" else 1) for model in models]
    network = raw["networks"][0] | {"cidr": "10.62.8.0/22"}
    rows = [
        {"key": f"d-{number}", "model": model, "name": f"Device {number}", "network": network["key"]}
        for number, model in enumerate(dice.choices(models, often, k=devices))
    ]
    recorders = [row["key"] for row in rows if family[row["model"]] == "recorder"]
    stations = [row["key"] for row in rows if family[row["model"]] == "door-station"]
    links = [
        {"kind": "records", "from": row["key"], "to": dice.choice(recorders), "slot": number + 1}
        for number, row in enumerate(rows)
        if recorders and family[row["model"]] == "camera"
    ]
    links += [
        {"kind": "extends", "from": key, "to": stations[0], "slot": at + 1} for at, key in enumerate(stations[1:])
    ]
    bench = {"ports": dice.choice([4, 8, 8, 16, 24]), "leases": dice.random() < 0.6}
    policy = {"bench": bench, "passwords": dice.choice(["device", "family"])}
    return read_site(json.dumps(raw | {"networks": [network], "devices": rows, "links": links, "policy": policy}))


def main() -> None:
    seconds = float(sys.argv[1]) if len(sys.argv) > 1 else 60.0
    print(f"the run: usual search against {seconds:.0f} s from three seeds (aim: at most 1.03 of the best known)")
    print("  site        hands    run  bound    gap  one by one  saved    took  of the best known")
    sizes = [int(value) for value in sys.argv[2:]] or [10, 20, 40, 60, 300]
    cases = [] if sys.argv[2:] else [("demo", read_site(json.dumps(DEMO)))]
    cases += [(f"{devices} devices", invented(devices, devices)) for devices in sizes]
    for name, site in cases:
        for technicians in (1, 2):
            start = time.perf_counter()
            usual = run(site, technicians)
            took = time.perf_counter() - start
            effort = round(seconds * PIECES_A_SECOND)
            best = min([usual.total_s, *(run(site, technicians, effort, seed).total_s for seed in (1, 2, 3))])
            print(
                f"  {name:12} {technicians:4} {usual.total_s:6.0f} {usual.lower_bound_s:6.0f} {usual.gap:6.1%} "
                f"{usual.one_by_one_s:11.0f} {1 - usual.total_s / usual.one_by_one_s:6.0%} {took:6.1f} s "
                f"{usual.total_s / best:8.3f}",
                flush=True,
            )
    for devices in sizes:
        times = sorted(_again(invented(devices, devices)))
        print(
            f"  planning again, {devices} devices: median {times[len(times) // 2] * 1000:.0f} ms, "
            f"longest {times[-1] * 1000:.0f} ms (aim for 60: at most 200)"
        )


def _again(site: Site) -> list[float]:
    """Return how long planning again takes after each of the first steps of a run for two."""
    planned = run(site, 2, 20_000)
    live, now, took = RunState(2, planned.order), 0.0, []
    for _ in range(30):
        live = with_started_steps(site, live, now)
        doing = [fact for fact in live.facts if fact.state == "doing"]
        steps = {step.id: step for step in live_run(site, live, now).steps}
        if not doing:
            now = min(step.start_s for step in steps.values() if step.manual and step.start_s > now)
            continue
        end, fact = min(((steps[fact.step].end_s, fact) for fact in doing), key=lambda item: item[0])
        now = max(now, end) + 7  # a little later than planned
        done = StepOutcome(
            fact.step, fact.device, fact.kind, "done", fact.hand, fact.start_s, now, fact.adapter, fact.port
        )
        live = RunState(2, live.order, (*(item for item in live.facts if item is not fact), done), since_s=now)
        start = time.perf_counter()
        live = planned_again(site, live, now)
        took.append(time.perf_counter() - start)
    return took


if __name__ == "__main__":
    main()
