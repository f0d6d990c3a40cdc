"""How soon does each page stand there on a slow laptop, and does anything jump? The processor slowed four times.

Opened from its address in a fresh tab, nothing cached: the largest paint (Largest Contentful Paint) and what shifted
(Cumulative Layout Shift) until the page rests, each the median of the rounds. Beside them the blank page of the same
server, so that machines can be compared.
"""

import statistics

from playwright.sync_api import Browser

from tests.browser.driving import DESK, Server, Visit, chromium, demo_server

ROUNDS = 5
REST_MS = 3000
SLOWER = 4
GOAL_SITES_MS, GOAL_STAGE_MS, GOAL_SHIFT = 1200, 1600, 0.02
STAGES = ("survey", "kit", "addresses", "settings", "bench", "links", "recording", "proof", "handover", "log")
WATCH = """
  window.__paint = 0; window.__shift = 0;
  new PerformanceObserver((list) => { for (const item of list.getEntries()) window.__paint = item.startTime; })
    .observe({ type: "largest-contentful-paint", buffered: true });
  new PerformanceObserver((list) => {
    for (const item of list.getEntries()) if (!item.hadRecentInput) window.__shift += item.value;
  }).observe({ type: "layout-shift", buffered: true });
"""


def main() -> None:
    with demo_server() as server, chromium() as browser:
        Visit.start(browser, server).page.context.close()  # signed in from here on
        blank = _measured(browser, server, "/favicon.svg", bare=True)[0]
        print(f"a picture alone: {blank:.0f} ms")
        over = 0
        for path, goal in (("/", GOAL_SITES_MS), *((f"/sites/brackwater/{name}", GOAL_STAGE_MS) for name in STAGES)):
            paint, shift = _measured(browser, server, path)
            good = paint <= goal and shift <= GOAL_SHIFT
            over += not good
            print(
                f"{path}: largest paint {paint:.0f} ms ({paint / goal:.2f} of the goal {goal} ms), shift {shift:.3f} "
                f"(goal {GOAL_SHIFT}){'' if good else '  OVER'}"
            )
        print(f"{over} pages over their goal")


def _measured(browser: Browser, server: Server, path: str, *, bare: bool = False) -> tuple[float, float]:
    """Return milliseconds to the largest paint and the sum of shifts, medians of the rounds."""
    paints, shifts = [], []
    for _ in range(ROUNDS):
        visit = Visit.start(browser, server, DESK)
        page = visit.page
        page.add_init_script(WATCH)
        session = page.context.new_cdp_session(page)
        session.send("Emulation.setCPUThrottlingRate", {"rate": SLOWER})
        page.goto(f"{server.address}{path}")
        if bare:
            paints.append(float(page.evaluate("performance.timing.loadEventEnd - performance.timing.navigationStart")))
            shifts.append(0.0)
        else:
            page.wait_for_timeout(REST_MS)  # nobody looks meanwhile: looking costs the page time
            page.locator("h1").first.wait_for()
            visit.quiet()
            paints.append(float(page.evaluate("window.__paint")))
            shifts.append(float(page.evaluate("window.__shift")))
        page.context.close()
    return statistics.median(paints), statistics.median(shifts)


if __name__ == "__main__":
    main()
