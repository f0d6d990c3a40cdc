"""The proof in a real browser: one check again, what came over the wire, what is left open, and the walk with the phone."""

from typing import Any

from playwright.sync_api import expect

from tests.browser.base import Browsing
from tests.browser.driving import PHONE, Visit
from tests.samples import device, document

SITE = [{"key": "n", "cidr": "10.251.60.0/24", "gateway": "10.251.60.1", "dns": ["10.251.60.1"]}]


def gate_site(key: str) -> dict[str, Any]:
    raw = document(
        [
            device(1, "pellgrave-gate-1", address="10.251.60.50", network="n", name="Hall gate"),
            device(2, address="10.251.60.51", network="n", place="Yard"),
            device(3, address="10.251.60.52", network="n", place="Yard", name="A very long name for a camera " * 3),
        ],
        networks=SITE,
        survey={"escape_doors": ["Hall door"]},
    )
    raw["site"]["key"] = key
    raw["models"][0]["services"]["web-tls"] = 443
    return raw


class Proofs(Browsing):
    def test_on_a_real_site_practice_proves_nothing_and_a_copy_is_there_to_practise_on(self) -> None:
        raw = gate_site("no-practice")
        raw["site"]["practice"] = False
        visit = Visit.start(self.browser, self.server)
        visit.store(raw)
        page = visit.go("/sites/no-practice/proof?device=d-2&check=answers")
        page.get_by_role("button", name="Measure the pretend site").click()
        said = page.get_by_role("region", name="Practice is no proof")
        expect(said).to_contain_text("nothing here is proven by it")
        expect(page.get_by_role("region", name="Selected reading")).to_contain_text("passed: answered in")
        expect(page.locator("footer")).to_contain_text("3 devices not proven yet.")
        self.assertEqual(visit.violations(), [])
        said.get_by_role("button", name="Practise on a copy").click()
        expect(page.locator("header")).to_contain_text("Practice site")
        expect(page.locator("footer").get_by_role("button", name="Measure")).to_be_visible()

    def measured(self, key: str, viewport: Any = None, *, dark: bool = False) -> Visit:
        first = Visit.start(self.browser, self.server)
        first.store(gate_site(key))
        page = first.go(f"/sites/{key}/proof")
        page.locator("footer").get_by_role("button", name="Measure").click()
        expect(page.locator("footer")).to_contain_text("See for yourself: Hall gate, door opens and locks.")
        if viewport is None:
            return first
        visit = Visit.start(self.browser, self.server, viewport, dark)
        visit.go(f"/sites/{key}/proof")
        return visit

    def ended(self, visit: Visit, message: str) -> None:
        """Wait until the server says that the last measuring has ended, with this result."""
        last = "async () => (await (await fetch('/api/sites/proof-slip/proof')).json()).last"
        for _ in range(200):
            run = visit.page.evaluate(last)
            if (run["state"], run["message"]) == ("done", message):
                break
            visit.page.wait_for_timeout(100)
        else:
            self.fail(f"not '{message}' but {run}")
        expect(visit.page.locator("footer")).to_contain_text("See for yourself")

    def test_a_reading_is_looked_into_measured_alone_and_left_open(self) -> None:
        visit = self.measured("proof-slip")
        page = visit.page
        page.get_by_role("button", name="Settings: ").click()  # nothing of it failed, so it stands in one row
        page.get_by_role("button", name="Device 2, Subnet mask is right: proven").click()
        slip = page.get_by_role("region", name="Selected reading")
        slip.get_by_role("button", name="Show what came over the wire").click()
        expect(slip).to_contain_text('"prefix": 24')
        self.assertEqual(visit.violations(), [])
        slip.get_by_role("button", name="Measure this check again").click()
        self.ended(visit, "1 of 1 reading passed.")
        page.get_by_role("button", name="Identity: ").click()
        page.get_by_role("button", name="Measure again everywhere: Clock is right").click()
        self.ended(visit, "3 of 3 readings passed.")

        practice = page.get_by_role("region", name="Practice")
        practice.get_by_label("Device").select_option("d-2")
        practice.get_by_label("What is wrong").select_option("wrong-name")
        practice.get_by_role("button", name="Add this fault").click()
        with page.expect_response(lambda answer: answer.url.endswith("/proofs")) as started:
            page.locator("footer").get_by_role("button", name="Measure again").click()
        self.assertEqual(started.value.status, 202, started.value.text())
        self.assertIn("wrong-name", str(started.value.json()["faults"]))
        expect(page.locator("footer")).to_contain_text("Device 2 is broken.")
        page.get_by_role("button", name="Device 2, Carries its name: broken").click()
        slip.get_by_role("button", name="Leave it open").click()
        slip.get_by_label("Why it is left open").fill("The customer names them himself")
        slip.get_by_label("Until, if it ends").fill("2020-01-01")
        slip.get_by_role("button", name="Leave it open").click()
        expect(slip.get_by_role("alert")).to_contain_text("1 January 2020 is past")
        slip.get_by_label("Until, if it ends").fill("2099-12-31")
        slip.get_by_role("button", name="Leave it open").click()
        expect(slip).to_contain_text("The customer names them himself")
        expect(slip).to_contain_text("until 31 December 2099")
        expect(page.get_by_text("1 check left open by decision.")).to_be_visible()
        page.get_by_role("combobox", name="Show").select_option("excepted")
        expect(page.get_by_role("button", name="Device 2, Carries its name: left open by decision")).to_be_visible()
        expect(page.get_by_role("button", name="Hall gate, Web page opens: proven")).to_have_count(0)

    def test_the_walk_with_the_phone_ends_with_everything_seen(self) -> None:
        visit = self.measured("proof-walk", PHONE, dark=True)
        page = visit.page
        walk = page.get_by_role("region", name="To be seen with your own eyes")
        expect(walk).to_contain_text("0 of 2 done")
        self.assertEqual(visit.violations(), [])
        egress = walk.get_by_role("listitem", name="Hall gate, Escape door hall-door opens from inside")
        expect(egress).to_contain_text("Local fire code and licensed people decide")
        expect(egress.get_by_role("button", name="seen")).to_be_disabled()
        page.get_by_role("button", name="Show it").click()
        expect(page.get_by_role("button", name="Hall gate, Door opens and locks: seen")).to_be_focused()
        page.keyboard.press("Enter")
        expect(walk).to_contain_text("1 of 2 done")
        egress.get_by_role("button", name="failed").click()
        egress.get_by_label("What was seen instead").fill("it sticks")
        egress.get_by_label("Who tried the door").fill("Tove Lind")
        egress.get_by_role("button", name="Keep as failed").click()
        expect(page.locator("footer")).to_contain_text("Hall gate is broken.")
        expect(egress).to_contain_text("it sticks, Tove Lind")
        egress.get_by_label("Who tried the door").fill("Tove Lind")
        egress.get_by_role("button", name="seen").click()
        expect(walk).to_contain_text("Everything has been seen.")
        expect(page.locator("footer")).to_contain_text("Every device is proven.")

    def test_a_device_is_plugged_in_and_set_on_its_page_as_at_the_bench(self) -> None:
        visit = Visit.start(self.browser, self.server)
        raw = gate_site("from-the-box")
        raw["models"][0]["timings"] = {"boot_s": 5, "restart_s": 5}
        visit.store(raw)
        page = visit.go("/sites/from-the-box/proof")
        bench = page.get_by_role("region", name="A site to practise on")
        bench.get_by_role("button", name="Keep the pretend site running").click()
        row = bench.get_by_role("row", name="Device 2")
        expect(row).to_contain_text("in its box")
        row.get_by_role("button", name="Plug it in").click()
        expect(row).to_contain_text("answers at 192.168.64.20")
        self.assertEqual(visit.violations(), [])
        word = row.get_by_role("cell").nth(3).inner_text()
        device = page.context.new_page()
        device.goto(row.get_by_role("link").nth(1).get_attribute("href") or "")
        device.get_by_label("Password").fill(word)
        device.get_by_role("button", name="Keep").click()
        for label, text in (
            ("Device name", "Device 2"),
            ("Address", "10.251.60.51"),
            ("Prefix", "24"),
            ("Gateway", "10.251.60.1"),
            ("DNS server", "10.251.60.1"),
        ):
            device.get_by_label(label).fill(text)
        device.get_by_label("Date order").select_option("DMY")
        device.get_by_label("Clock").select_option("now")
        device.get_by_role("button", name="Keep").click()
        expect(device.get_by_role("status")).to_have_text("Kept. The device restarts now.")
        expect(row).to_contain_text("answers at 10.251.60.51")
        page.locator("footer").get_by_role("button", name="Measure").click()
        page.get_by_role("button", name="Settings: ").click()
        expect(page.get_by_role("button", name="Device 2, Subnet mask is right: proven")).to_be_visible()
        bench.get_by_role("row", name="Device 2").get_by_role("button", name="Back into its box").click()
        expect(bench.get_by_role("row", name="Device 2")).to_contain_text("in its box")
