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
            visit.quiet()
            page.screenshot(path=FOLDER / f"{name}.png")

        shot("sites")
        visit.go("/sites/brackwater/survey?ask=networks.security.pools")
        page.get_by_label("DHCP pools").fill("10.62.8.20–10.62.8.240")
        expect(page.get_by_text("24 free outside the pool")).to_be_visible()
        shot("survey")
        page.get_by_role("button", name="Leave as it was").click()
        visit.go("/sites/brackwater/kit")
        page.get_by_role("gridcell", name="Name of Ticket hall tills").click()
        for _ in range(3):
            page.keyboard.press("Shift+ArrowDown")
        shot("kit")
        _examples(visit)
        visit.go("/sites/brackwater/addresses")
        page.keyboard.press("Space")
        expect(page.locator("footer")).to_contain_text("Every device has its address")
        visit.go("/sites/brackwater/proof")
        practice = page.get_by_role("region", name="Practice")
        for device, kind in (("cam-13", "power-off"), ("gate-2", "clock-offset")):
            practice.get_by_label("Device").select_option(device)
            practice.get_by_label("What is wrong").select_option(kind)
            practice.get_by_role("button", name="Add this fault").click()
        page.locator("footer").get_by_role("button", name="Measure").click()
        expect(page.locator("footer")).to_contain_text("is broken")
        visit.go("/sites/brackwater/proof?device=gate-2&check=clock")
        shot("proof")
        visit.go("/sites/brackwater/addresses?net=security&device=cam-14")
        shot("addresses")
        _some_links(visit)
        visit.go("/sites/brackwater/links")
        shot("links")
        visit.go("/sites/brackwater/recording")
        shot("recording")
        visit.go("/sites/brackwater/kit?part=loads")
        shot("loads")
        visit.go("/sites/brackwater/doors?door=staff-door")
        shot("doors")
        _passwords(visit)
        _a_case(visit)
        shot("faults")
        visit.go("/sites/brackwater/devices/cam-12")
        shot("device")
        visit.go("/sites/brackwater/cards?part=mounting&of=cam-07")
        shot("cards")
        visit.go("/sites/ferrow-depot/later?device=rec-1")
        page.get_by_role("button", name="Show the steps").click()
        shot("later")
        visit.go("/sites/brackwater/handover")
        shot("handover")
        visit.go("/people")
        page.get_by_role("button", name="Change: tomas.lind").click()
        shot("people")
        _walk_to_the_first_camera(visit)
        shot("bench")
        visit.go("/sites/brackwater/logbook?search=ticket")
        shot("logbook")
        phone = Visit.start(browser, server, PHONE, dark=True)
        phone.go("/sites/brackwater/bench")
        phone.page.screenshot(path=FOLDER / "bench-phone.png")


def _some_links(visit: Visit) -> None:
    """Keep what is needed for links, prove some, and let one fail, so that every state has something to show."""
    visit.page.evaluate(
        """async () => {
          const token = document.cookie.match(/csrftoken=([^;]+)/)[1];
          const send = (method, path, body) => fetch(`/api/sites/brackwater/${path}`, {
            method, body: JSON.stringify(body), headers: {"X-CSRFToken": token, "Content-Type": "application/json"},
          });
          const keys = [...Array(12).keys()].map((at) => `cam-${String(at + 1).padStart(2, "0")}`);
          for (const key of [...keys, "enc-1"]) await send("PUT", `devices/${key}/secrets/login`, {version: 0});
          await send("PUT", "devices/gate-1/secrets/registration", {version: 0});
          const loom = await (await fetch("/api/sites/brackwater/links")).json();
          const threads = loom.beams.flatMap((beam) => beam.threads);
          for (const thread of threads) {
            if (!["cam-01", "cam-02", "cam-03", "cam-04", "view-1", "gate-2"].includes(thread.start)) continue;
            const card = await (await fetch(`/api/sites/brackwater/links/${thread.id}`)).json();
            for (const test of card.tests)
              await send("POST", `links/${thread.id}/readings`, {test: test.key, result: "pass"});
          }
          const bad = threads.find((thread) => thread.start === "view-3");
          await send("POST", `links/${bad.id}/readings`, {test: "sound", result: "fail", words: "one way only"});
        }"""
    )


def _passwords(visit: Visit) -> None:
    """Make some passwords; change one that two other devices log in with."""
    for key in ("cam-01", "cam-02", "cam-12"):
        page = visit.go(f"/sites/brackwater/devices/{key}")
        for slot in ("Administrator password", "Login for recorders and desks"):
            if page.get_by_role("button", name=f"Make {slot}").count() == 0:
                continue
            page.get_by_role("button", name=f"Make {slot}").click()
            page.get_by_role("button", name=f"Hide {slot}").click()
    page.get_by_role("button", name="Change Login for recorders and desks").click()
    page.get_by_role("form").get_by_role("button", name="Make one").click()
    expect(page.get_by_role("region", name="To be told")).to_be_visible()


def _a_case(visit: Visit) -> None:
    """Three cameras of the second switch are silent; the first switch answers."""
    page = visit.go("/sites/brackwater/faults?device=cam-16")
    for other in ("cam-17", "cam-18"):
        page.get_by_role("button", name="Another device is offline too").click()
        page.get_by_role("combobox", name="device").last.select_option(other)
    page.get_by_role("button", name="Find the fault").click()
    slip = page.get_by_role("complementary", name="Check this next")
    slip.get_by_role("button", name="It answers").click()
    expect(page.get_by_role("list", name="What was seen").get_by_role("listitem")).to_have_count(4)


def _examples(visit: Visit) -> None:
    """The worked example of the planning page."""
    page = visit.page
    visit.bring(FOLDER.parent / "examples" / "old-vault.json")
    page.wait_for_url("**/sites/old-vault/**")
    visit.go("/sites/old-vault/addresses")
    visit.quiet()
    page.screenshot(path=FOLDER / "planning-full.png")


def _walk_to_the_first_camera(visit: Visit) -> None:
    """Finish bench steps by the API until the third camera gets its address, then tick two of its values."""
    visit.go("/sites/brackwater/bench")
    visit.page.evaluate(
        """async () => {
          const token = document.cookie.match(/csrftoken=([^;]+)/)[1];
          const send = (path, body) => fetch(`/api/sites/brackwater/${path}`, {
            method: "POST", body: JSON.stringify(body),
            headers: {"X-CSRFToken": token, "Content-Type": "application/json"},
          });
          await send("run", {hands: 1});
          for (let most = 0; most < 200; most += 1) {
            const bench = await (await fetch("/api/sites/brackwater/bench")).json();
            const step = bench.current.step;
            if (step === "cam-03:configure") {
              const lines = bench.current.groups.flatMap((group) => group.lines);
              for (const line of lines.slice(0, 2))
                await send("typed", {subject: "cam-03", line: line.key, value: line.mark, done: true});
              return;
            }
            await send(`bench/${encodeURIComponent(step)}`, {revision: 0, state: "done"});
          }
        }"""
    )
    visit.page.wait_for_timeout(45_000)  # so that the lanes have something to show
    visit.go("/sites/brackwater/bench")


if __name__ == "__main__":
    main()
