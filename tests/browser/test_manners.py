"""How the application behaves towards people: signing in, finding, settings, losing the server, small screens."""

import json

from playwright.sync_api import expect

from tests.browser.base import Browsing
from tests.browser.driving import PHONE, Visit
from tests.samples import device, document


class Manners(Browsing):
    def test_a_wrong_password_is_said_and_nothing_is_shown(self) -> None:
        page = self.browser.new_context().new_page()
        page.goto(f"{self.server.address}/sites/brackwater/kit")
        page.get_by_label("Name").fill("demo")
        page.get_by_label("Password").fill("wrong")
        page.get_by_role("button", name="Sign in").click()
        expect(page.get_by_role("alert")).to_contain_text("do not belong together")
        expect(page.get_by_text("Brackwater")).to_have_count(0)

    def test_the_code_on_a_label_leads_to_the_device_after_signing_in(self) -> None:
        page = self.browser.new_context(viewport=PHONE).new_page()
        page.goto(f"{self.server.address}/sites/brackwater/devices/cam-12")
        page.get_by_label("Name").fill(self.server.user)
        page.get_by_label("Password").fill(self.server.password)
        page.get_by_role("button", name="Sign in").click()
        expect(page.get_by_role("heading", level=1, name="Pier mast")).to_be_visible()
        page.go_back()
        expect(page.get_by_label("Password")).to_have_count(0)  # the way back does not ask again

    def test_finding_and_settings_that_stay(self) -> None:
        visit = Visit.start(self.browser, self.server)
        page = visit.go("/sites/brackwater/kit")
        page.keyboard.press("/")
        dialog = page.get_by_role("dialog")
        dialog.get_by_label("Name, place or address").fill("nobody here")
        expect(dialog).to_contain_text("Nothing here is called “nobody here”")
        dialog.get_by_label("Name, place or address").fill("21")
        expect(dialog.get_by_role("option").first).to_contain_text("10.62.8.21")
        page.keyboard.press("Escape")
        expect(dialog).to_have_count(0)
        page.get_by_role("button", name=self.server.user).click()
        page.get_by_label("Theme").select_option("dark")
        page.get_by_label("Single keys").uncheck()
        visit.load("/sites/brackwater/kit")
        self.assertEqual(page.evaluate("document.documentElement.dataset.theme"), "dark")
        page.keyboard.press(" ")
        page.keyboard.press("/")
        page.wait_for_timeout(300)
        expect(page.get_by_role("dialog")).to_have_count(0)
        self.assertTrue(page.url.endswith("/kit"))

    def test_what_is_ticked_after_the_session_ended_waits_for_the_next(self) -> None:
        visit = Visit.start(self.browser, self.server)
        page = visit.go("/sites/brackwater/devices/cam-03")
        values = page.get_by_role("region", name="First contact")
        page.context.clear_cookies(name="sessionid")
        page.get_by_role("button", name="All of First contact typed").click()
        expect(page.get_by_role("button", name="Sign in")).to_be_visible()
        page.get_by_label("Name").fill(self.server.user)
        page.get_by_label("Password").fill(self.server.password)
        page.get_by_role("button", name="Sign in").click()
        expect(values.get_by_role("button", pressed=True)).to_have_count(3)  # recovery is open
        visit.saved()
        page.reload()
        expect(values.get_by_role("button", pressed=True)).to_have_count(3)  # recovery is open
        self.expected = ("401",)

    def test_a_site_goes_and_comes_back_and_its_log_is_found_among_all(self) -> None:
        raw = document([device(1, name="Slipway cam"), device(2)], site={"key": "slipway", "name": "Old slipway"})
        self.server.store(raw)
        visit = Visit.start(self.browser, self.server)
        page = visit.load("/")
        page.get_by_role("button", name="Remove Old slipway").click()
        expect(page.get_by_role("dialog")).to_contain_text("put back for 30 days")
        self.assertEqual(visit.violations(), [])
        page.get_by_role("button", name="Remove it").click()
        gone = page.get_by_role("region", name="Removed sites")
        expect(gone).to_contain_text("Old slipway")
        self.assertEqual(visit.violations(), [])
        gone.get_by_role("button", name="Put Old slipway back").click()
        expect(gone).to_have_count(0)
        page.get_by_role("link", name="Find in every site").click()
        page.get_by_label("An address, a serial number").fill("02-1A-4B-00-00-01 slipway")
        lines = page.get_by_role("list", name="Lines found")
        expect(lines).to_contain_text("Slipway cam added: serial")
        self.assertEqual(visit.violations(), [])
        lines.get_by_role("link", name="Old slipway").first.click()
        page.goto(f"{self.server.address}/sites/slipway/logbook")
        page.get_by_role("button", name="Show the 2 lines under it").click()
        expect(page.get_by_text("added: serial S2")).to_be_visible()
        self.assertEqual(visit.violations(), [])

    def test_a_lost_server_is_said_and_what_was_typed_stays(self) -> None:
        visit = Visit.start(self.browser, self.server)
        page = visit.go("/sites/brackwater/survey?ask=retention")
        form = page.get_by_role("form", name="How many days must recordings be kept?")
        form.get_by_label("Days").fill("14")
        self.expected = ("ERR_FAILED",)
        page.route("**/api/**", lambda route: route.abort())
        form.get_by_role("button", name="Write it down").click()
        expect(form.get_by_role("alert")).to_contain_text("The server does not answer")
        expect(form.get_by_label("Days")).to_have_value("14")
        page.unroute("**/api/**")
        form.get_by_role("button", name="Write it down").click()
        expect(page.get_by_text("the disks hold 20 days, 14 days are wanted")).to_be_visible()

    def test_a_stage_that_cannot_be_fetched_offers_another_try(self) -> None:
        visit = Visit.start(self.browser, self.server)
        self.expected = ("status of 500",)
        broken = {
            "status": 500,
            "content_type": "application/json",
            "body": json.dumps({"message": "The disk is full."}),
        }
        visit.page.route("**/api/sites/brackwater/links", lambda route: route.fulfill(**broken))  # type: ignore[arg-type]
        page = visit.go("/sites/brackwater/links")
        expect(page.get_by_role("alert")).to_contain_text("The disk is full.")
        page.unroute("**/api/sites/brackwater/links")
        page.get_by_role("button", name="Try again").click()
        expect(page.get_by_role("button", name="6 to Recorder quay")).to_be_visible()

    def test_a_broken_site_file_is_refused_with_its_faults(self) -> None:
        visit = Visit.start(self.browser, self.server)
        visit.bring(self.file("broken.json", json.dumps(document([device(1), device(1)]))))
        alert = visit.page.get_by_role("alert")
        expect(alert).to_contain_text("must be put right first")
        expect(alert).to_contain_text("The device key 'd-1' is used more than once.")
        visit.bring(self.file("noise.json", "no site at all"))
        expect(alert).to_contain_text("The file is not JSON")

    def test_on_the_phone_the_stages_stand_behind_the_current_one(self) -> None:
        visit = Visit.start(self.browser, self.server, PHONE)
        site = self.ready("by-phone")
        page = visit.go(f"/sites/{site}/bench")
        page.get_by_role("button", name="Bench").click()
        page.get_by_role("menuitem", name="Handover").click()
        expect(page.get_by_role("heading", name="Handover", exact=True)).to_be_visible()
        visit.go(f"/sites/{site}/bench")
        page.get_by_role("button", name="Start the run").click()
        button = page.get_by_role("button", name="Same")
        box = button.bounding_box()
        assert box is not None
        self.assertGreaterEqual(box["height"], 44)
        self.assertGreaterEqual(box["width"], 200)

    def test_each_of_the_three_demo_sites_is_one_press_away_and_shows_its_morning(self) -> None:
        visit = Visit.start(self.browser, self.server)
        page = visit.page
        mornings = (
            ("brackwater", "/", "Sites"),
            ("larch-court", "/bench", "Bench"),
            ("ferrow-depot", "/proof", "Proof"),
        )
        for key, stage, heading in mornings:
            visit.go("/")
            page.locator(f'a[href="/sites/{key}"]').click()
            if stage != "/":
                page.wait_for_url(f"**{stage}")
                expect(page.get_by_role("heading", level=1)).to_have_text(heading)
            else:
                expect(page.get_by_role("heading", level=1)).not_to_have_text(heading)
        expect(page.locator("footer")).to_contain_text("Yard gate is broken.")
        expect(page.get_by_role("button", name="Yard gate, Answers at its address: broken")).to_be_visible()
        page.get_by_role("button", name="Settings: ").click()
        expect(page.get_by_role("button", name="Office recorder, Subnet mask is right: proven")).to_be_visible()
        visit.go("/sites/ferrow-depot/log")
        expect(page.get_by_text("The yard gate rings nobody since this morning")).to_be_visible()

    def test_on_the_phone_a_finger_hits_what_it_means(self) -> None:
        visit = Visit.start(self.browser, self.server, PHONE)
        page = visit.go("/sites/larch-court/bench")
        value = page.locator('[aria-current="step"]').bounding_box()
        bar = page.locator("footer").bounding_box()
        assert value is not None
        assert bar is not None
        self.assertGreaterEqual(value["y"], 0)
        self.assertLessEqual(value["y"] + value["height"], bar["y"], "the value in turn is hidden when the page opens")
        for path in ("ferrow-depot/proof", "brackwater/kit", "brackwater/links", *LATER):
            visit.follow(f"/sites/{path}")
            self.assertEqual(page.evaluate(TOO_SMALL), [], path)


LATER = ("brackwater/faults", "brackwater/remote", "brackwater/leaving")
TOO_SMALL = """() => [...document.querySelectorAll('button, a, input, select, summary, [role=gridcell][tabindex]')]
  .map((item) => [item, (item.closest('label') ?? item).getBoundingClientRect(), item.getBoundingClientRect()])
  .filter(([item, label, own]) => own.width > 0 && getComputedStyle(item).visibility !== 'hidden'
    && (Math.max(label.width, own.width) < 43.5 || Math.max(label.height, own.height) < 43.5))
  .map(([item, , own]) => `${item.tagName} ${own.width}x${own.height} ${item.ariaLabel ?? item.textContent}`)"""
