"""Fault finding in a real browser: from a failed cell to measured again, a drill, and the phone."""

import re

from playwright.sync_api import Page, expect

from tests.browser.base import Browsing
from tests.browser.driving import PHONE, Visit
from tests.browser.test_proof import gate_site
from tests.samples import demo, read
from tutelar.core.diagnose import Cause, Ground, Wrong, shown
from tutelar.core.planning import plan


def played(page: Page, key: str, faults: list[dict[str, str]]) -> None:
    """Keep the pretend site up with these faults."""
    asked = """async ([url, body]) => (await fetch(url, {method: "PUT", body: JSON.stringify(body), headers: {
        "Content-Type": "application/json", "X-CSRFToken": document.cookie.match(/csrftoken=([^;]+)/)[1]}})).status"""
    assert page.evaluate(asked, [f"/api/sites/{key}/pretend", {"faults": faults, "fresh": False}]) == 204


class FaultFinding(Browsing):
    def test_from_a_failed_cell_to_measured_again(self) -> None:
        visit = Visit.start(self.browser, self.server)
        visit.store(gate_site("fault-cell"))
        page = visit.go("/sites/fault-cell/proof?device=d-2&check=login")
        played(page, "fault-cell", [{"kind": "wrong-password", "device": "d-2"}])
        page.reload()
        page.locator("footer").get_by_role("button", name="Measure").click()
        slip = page.get_by_role("region", name="Selected reading")
        expect(slip).to_contain_text("another password is set")
        slip.get_by_role("button", name="Find the fault").click()
        bar = page.locator("footer")
        expect(page.get_by_role("heading", level=1)).to_contain_text("Device 2, login: it is refused")
        for _ in range(8):
            visit.quiet()  # no key is heard while something is measured
            if bar.get_by_role("button", name="Measure it").count() == 0:
                break
            so_far = page.get_by_role("list", name="What was seen").get_by_role("listitem")
            number = so_far.count()
            page.keyboard.press(" ")
            expect(so_far).to_have_count(number + 1)
        expect(page.get_by_role("region", name="Why, most likely first").get_by_role("listitem").first).to_contain_text(
            "has another password than was noted"
        )
        self.assertEqual(visit.violations(), [])
        page.keyboard.press("c" if bar.get_by_role("button", name="Measure it").count() else " ")
        page.get_by_role("button", name="This was it").click()
        expect(bar).to_contain_text("Put it right, then say so.")
        page.keyboard.press(" ")
        again = page.get_by_role("region", name="Measure again")
        again.get_by_role("button", name="Measure it").click()
        expect(page.get_by_role("main")).to_contain_text("Still not as it should be.")
        page.get_by_role("heading", level=1).click()
        played(page, "fault-cell", [])
        expect(bar.get_by_role("button", name="Name the cause")).to_be_visible()
        page.keyboard.press("c" if bar.get_by_role("button", name="Measure it").count() else " ")
        page.get_by_role("button", name="This was it").click()
        bar.get_by_role("button", name="It is put right").click()
        again.get_by_role("button", name="Measure it").click()
        expect(bar).to_contain_text("The case is closed.")
        self.assertEqual(visit.violations(), [])

    def test_a_drill_from_start_to_score(self) -> None:
        key = self.ready("fault-drill")
        visit = Visit.start(self.browser, self.server)
        page = visit.go(f"/sites/{key}/faults")
        page.get_by_role("button", name="Easy").click()
        expect(page.locator("footer")).to_contain_text("Ask what tells most for its minutes")
        expect(page.get_by_text("Why, most likely first")).to_have_count(0)
        page.get_by_role("button", name="Reset and set up anew").click()
        expect(page.locator("footer")).to_contain_text("25 min so far.")
        self.assertEqual(visit.violations(), [])
        page.locator("footer").get_by_role("button", name="Name the cause").click()
        page.get_by_role("combobox", name="fault").select_option("laptop-wrong")
        page.get_by_role("main").get_by_role("button", name="Name the cause").click()
        expect(page.locator("footer")).to_contain_text("Put right what you named")
        page.keyboard.press(" ")
        page.get_by_role("region", name="Measure again").get_by_role("button", name="Measure it").first.click()
        expect(page.locator("footer")).to_contain_text("Ask what tells most for its minutes")  # it still shows
        page.locator("footer").get_by_role("button", name="Name the cause").click()
        page.get_by_label("I give up").check()
        page.get_by_role("button", name="Give up").click()
        score = page.get_by_role("region", name="How the drill went")
        expect(score).to_contain_text("Not found at once")
        expect(score).to_contain_text("Check 1, reset and set up anew")
        expect(page.get_by_text("Why, most likely first")).to_be_visible()
        self.assertEqual(visit.violations(), [])
        page.keyboard.press(" ")
        expect(page.get_by_role("link", name="Drill, easy")).to_be_visible()
        self.assertEqual(visit.violations(), [])

    def test_lessons_on_the_settings_of_the_site(self) -> None:
        key = self.ready("lessons")
        visit = Visit.start(self.browser, self.server)
        page = visit.go(f"/sites/{key}/faults")
        page.get_by_role("button", name="What does this do?").click()
        questions = page.get_by_role("list", name="Questions")
        expect(page.locator("footer")).to_contain_text("8 questions are open")
        for number in range(8):
            questions.get_by_role("group").nth(number).get_by_role("radio").first.check()
        self.assertEqual(visit.violations(), [])
        page.get_by_role("button", name="Show what is right").click()
        expect(page.locator("footer")).to_contain_text("of 8 right")
        expect(questions.get_by_text("right", exact=True)).to_have_count(8)
        page = visit.go(f"/sites/{key}/faults")
        page.get_by_role("button", name="Find the mistakes").click()
        page.get_by_role("checkbox").nth(1).check()
        page.get_by_role("button", name="Show what is right").click()
        expect(page.get_by_text("right is")).to_have_count(4)
        self.assertEqual(visit.violations(), [])

    def test_on_the_phone_three_silent_cameras_are_one_case(self) -> None:
        key = self.ready("fault-phone")
        visit = Visit.start(self.browser, self.server, PHONE, True)
        page = visit.go(f"/sites/{key}/faults?device=cam-15")
        for other in ("cam-16", "cam-17"):
            page.get_by_role("button", name="Another device is offline too").click()
            page.get_by_role("combobox", name="device").last.select_option(other)
        self.assertEqual(visit.violations(), [])
        page.get_by_role("button", name="Find the fault").click()
        slip = page.get_by_role("complementary", name="Check this next")
        expect(slip).to_be_visible()
        raw = demo()
        raw["site"]["key"] = key
        site = read(raw)
        ground = Ground(site, plan(site))
        truth = Wrong(ground, [Cause("switch-off", "switch-2")])
        seen = page.get_by_role("list", name="What was seen").get_by_role("listitem")
        for number in range(3, 20):
            expect(seen).to_have_count(number)
            case = page.evaluate("async (url) => (await fetch(url)).json()", f"/api/sites/{key}/faults/1")
            if case["next"] is None:
                break
            told = shown(ground, truth, case["next"]["check"], case["next"]["at"])
            words = {row["result"]: row["word"] for row in case["next"]["answers"]}
            slip.get_by_role("button", name=words[told]).click()
        causes = page.get_by_role("region", name="Why, most likely first").get_by_role("listitem")
        expect(causes.first).to_contain_text("Switch 2 is switched off or has no power")
        self.assertEqual(visit.violations(), [])
        page.get_by_role("button", name="Take the last one back").click()
        expect(slip).to_be_visible()


class RemoteAccess(Browsing):
    def test_one_step_holds_the_next_and_the_account_is_the_customers(self) -> None:
        key = self.ready("remote-steps")
        visit = Visit.start(self.browser, self.server, PHONE)
        page = visit.go(f"/sites/{key}/remote")
        steps = page.get_by_role("list", name="Steps").get_by_role("listitem")
        expect(steps.nth(1)).to_contain_text("to do now")
        expect(steps.nth(2)).to_contain_text("waits: first relay switched on")
        steps.nth(1).get_by_role("button", name="Done").click()
        expect(steps.nth(2).get_by_role("button", name="Done")).to_be_disabled()
        steps.nth(2).get_by_label("who accepted, for whom").fill("Tomas Okerlund, for the harbour")
        steps.nth(2).get_by_role("button", name="Done").click()
        expect(steps.nth(3)).to_contain_text("to do now")
        self.assertEqual(visit.violations(), [])
        owner = page.get_by_role("form", name="Whose it is at the relay")
        owner.get_by_label("at the relay it is").select_option("ours")
        owner.get_by_label("in the account of").select_option("customer")
        owner.get_by_role("button", name="Write it down").click()
        expect(steps.nth(6)).to_contain_text("done")
        page.get_by_role("combobox", name="way").select_option("forwarding")
        page.get_by_role("button", name="Choose this way").click()
        expect(page.get_by_role("alert")).to_contain_text("Forwarding needs a reason")
        page.get_by_label("reason here").fill("An old recorder, until March; the customer's IT decided.")
        page.get_by_role("button", name="Choose this way").click()
        expect(page.get_by_text("Chosen by demo.")).to_be_visible()
        self.assertEqual(visit.violations(), [])


class LeavingTheSite(Browsing):
    def test_what_is_open_is_left_open_by_name_and_then_it_is_signed(self) -> None:
        raw = gate_site("leave-site")
        raw["devices"] = raw["devices"][:1]
        visit = Visit.start(self.browser, self.server)
        visit.store(raw)
        page = visit.go("/sites/leave-site/leaving")
        expect(page.get_by_role("button", name="Sign it off")).to_be_disabled()
        self.assertEqual(visit.violations(), [])
        ends = page.get_by_role("main").get_by_role("listitem")
        expect(ends.first).to_contain_text("Hall gate is not proven")
        page.keyboard.press(" ")
        expect(page).to_have_url(re.compile("/sites/leave-site/proof"))
        page.go_back()
        expect(ends.first).to_be_visible()
        noting = page.get_by_role("form", name="Something else is open")
        noting.get_by_role("combobox", name="what").select_option("debug-log-on")
        noting.get_by_role("combobox", name="where").select_option("d-1")
        noting.get_by_role("button", name="Note it").click()
        page.get_by_role("button", name="Done: Debug logging of Hall gate is on.").click()
        expect(page.get_by_text("Debug logging of Hall gate")).to_have_count(0)
        for number in range(ends.count()):
            ends.nth(number).get_by_role("button", name="Leave open").click()
            ends.nth(number).get_by_label("why it stays open").fill("The painter comes on Monday")
            ends.nth(number).get_by_role("button", name="Leave it open").click()
            expect(ends.nth(number)).to_contain_text("Left open by demo: The painter comes on Monday.")
        page.get_by_label("for whom it is signed").fill("Tomas Okerlund")
        page.get_by_role("button", name="Sign it off").click()
        expect(page.locator("footer")).to_contain_text("Signed off for Tomas Okerlund.")
        self.assertEqual(visit.violations(), [])
        page.get_by_role("button", name="Take the signature back").click()
        expect(page.get_by_role("button", name="Sign it off")).to_be_visible()
