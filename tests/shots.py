"""Pictures of the main views for the README, made from the demo data: make shots."""

from pathlib import Path

from playwright.sync_api import expect

from tests.browser.driving import DESK, PHONE, Visit, chromium, demo_server

FOLDER = Path(__file__).parents[1] / "docs" / "screenshots"


def main() -> None:
    """Walk the demo a little way and take one picture of each view."""
    FOLDER.mkdir(parents=True, exist_ok=True)
    with demo_server() as server, chromium() as browser:
        visit = Visit.start(browser, server, DESK)
        page = visit.page

        def shot(name: str) -> None:
            page.wait_for_load_state("networkidle")
            page.screenshot(path=FOLDER / f"{name}.png")

        shot("sites")
        for stage in ("survey", "kit"):
            visit.go(f"/sites/brackwater/{stage}")
            shot(stage)
        visit.go("/sites/brackwater/addresses")
        page.keyboard.press("Space")
        expect(page.locator("footer")).to_contain_text("Every device has its address")
        visit.go("/sites/brackwater/proof")
        practice = page.get_by_role("region", name="Practice")
        for device, kind in (("cam-13", "power-off"), ("gate-2", "clock-offset")):
            practice.get_by_label("Device").select_option(device)
            practice.get_by_label("What is wrong").select_option(kind)
            practice.get_by_role("button", name="Add this fault").click()
        page.get_by_role("button", name="Measure").click()
        expect(page.locator("footer")).to_contain_text("is broken")
        visit.go("/sites/brackwater/proof?device=gate-2&check=clock")
        shot("proof")
        visit.go("/sites/brackwater/addresses?net=security&device=cam-14")
        shot("addresses")
        visit.go("/sites/brackwater/links?link=3")
        shot("links")
        visit.go("/sites/brackwater/handover")
        shot("handover")
        _walk_to_the_first_camera(visit)
        shot("bench")
        phone = Visit.start(browser, server, PHONE, dark=True)
        phone.go("/sites/brackwater/bench")
        phone.page.screenshot(path=FOLDER / "bench-phone.png")
        night = Visit.start(browser, server, DESK, dark=True)
        night.go("/sites/brackwater/addresses?net=security&device=cam-13")
        night.page.screenshot(path=FOLDER / "addresses-dark.png")


def _walk_to_the_first_camera(visit: Visit) -> None:
    """Finish bench steps by the API until the first camera gets its address, then tick two of its values."""
    visit.go("/sites/brackwater/bench")
    visit.page.evaluate(
        """async () => {
          const token = document.cookie.match(/csrftoken=([^;]+)/)[1];
          const send = (step, body) => fetch(`/api/sites/brackwater/bench/${encodeURIComponent(step)}`, {
            method: "POST", body: JSON.stringify(body),
            headers: {"X-CSRFToken": token, "Content-Type": "application/json"},
          });
          for (let most = 0; most < 200; most += 1) {
            const bench = await (await fetch("/api/sites/brackwater/bench")).json();
            const step = bench.current.step;
            if (step === "cam-01:configure") {
              const values = bench.steps.find((item) => item.id === step).values;
              await send(step, {revision: 0, ticked: values.slice(0, 2).map((value) => value.label)});
              return;
            }
            await send(step, {revision: 0, state: "done"});
          }
        }"""
    )
    visit.go("/sites/brackwater/bench")


if __name__ == "__main__":
    main()
