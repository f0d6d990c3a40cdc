"""How soon does a lever of the recordings show its effect? From the press to the new days, in the browser.

On the demo and on a site of 1,000 devices, against pressing nothing: a request for a picture alone.
"""

import json
import statistics

from bench.sites import site_text
from tests.browser.driving import DESK, Server, Visit, chromium, demo_server

ROUNDS = 7
GOALS = {"brackwater": 100, "large": 300}
PRESS = """() => new Promise((done) => {
  const slip = document.querySelector('aside[aria-label="Storage"]');
  const held = () => slip.querySelector('svg[role="img"]')?.getAttribute("aria-label");
  const before = held(), start = performance.now();
  const seen = () => (held() !== before ? done(performance.now() - start) : requestAnimationFrame(seen));
  slip.querySelector("ol button").click();
  requestAnimationFrame(seen);
})"""
BARE = """async () => { const start = performance.now(); await fetch("/favicon.svg", { cache: "no-store" });
  return performance.now() - start; }"""


def main() -> None:
    with demo_server() as server, chromium() as browser:
        first = Visit.start(browser, server)
        first.store(_large())
        bare = statistics.median(float(first.page.evaluate(BARE)) for _ in range(ROUNDS))
        print(f"a picture alone: {bare:.0f} ms")
        for key, goal in GOALS.items():
            found = statistics.median(_pressed(browser, server, key) for _ in range(ROUNDS))
            over = "" if found <= goal else "  OVER"
            print(f"{key}: a lever answers in {found:.0f} ms, {found / goal:.2f} of the goal {goal} ms{over}")


def _pressed(browser: object, server: Server, key: str) -> float:
    visit = Visit.start(browser, server, DESK)  # type: ignore[arg-type]
    page = visit.go(f"/sites/{key}/recording")
    page.locator('aside[aria-label="Storage"] ol button').first.wait_for()
    visit.quiet()
    took = float(page.evaluate(PRESS))
    page.context.close()
    return took


def _large() -> dict[str, object]:
    """Return a site of 1,000 devices whose recorders have a pattern and too little room."""
    raw = json.loads(site_text(1_000, 4))
    hours = [{"from": "00:00", "to": "12:00", "mode": "motion"}, {"from": "12:00", "to": "24:00", "mode": "continuous"}]
    raw["site"]["key"] = "large"
    raw["survey"] = {"retention_days": 90}
    raw["recording"] = {"patterns": [{"key": "hours", "week": {"mon": hours}}], "usual": "hours"}
    for model in raw["models"]:
        if model["family"] == "recorder":
            model["capacity"] |= {"bays": 8}
    recorders = {model["key"] for model in raw["models"] if model["family"] == "recorder"}
    for device in raw["devices"]:
        if device["model"] in recorders:
            device["disks"] = [{"bay": bay, "tb": 8} for bay in range(1, 5)]
    return raw  # type: ignore[no-any-return]


if __name__ == "__main__":
    main()
