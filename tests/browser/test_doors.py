"""Doors as a technician tries them, who may pass as a lead sets it, and an alarm hub from found to left."""

import re

from playwright.sync_api import expect

from tests.browser.base import Browsing
from tests.browser.driving import PHONE, Visit


class Doors(Browsing):
    def test_a_door_is_tried_against_the_pretend_one_wrong_wiring_included(self) -> None:
        key = self.ready("door-tests", whole=True)
        visit = Visit.start(self.browser, self.server)
        page = visit.go(f"/sites/{key}/doors?door=staff-door")
        tests = page.get_by_role("list", name="Tests of Staff door")
        expect(tests.get_by_role("button", name=re.compile("^Unlocks from its page")).first).to_have_attribute(
            "aria-expanded", "true"
        )
        page.get_by_label("with").select_option("relay wired the wrong way")
        page.get_by_role("button", name="Do it there").click()
        expect(tests).to_contain_text("Seen: held 5 s, then free.")
        page.get_by_role("button", name="Unlocks from its page: failed").click()
        page.get_by_label("What was seen instead").fill("held 5 s, then free: relay on NO")
        page.get_by_role("button", name="Keep as failed").click()
        row = tests.get_by_role("listitem").filter(has_text="Unlocks from its page")
        expect(row).to_contain_text("demo")
        row.get_by_role("button").first.click()
        expect(row).to_contain_text("Seen: held 5 s, then free: relay on NO.")
        page.get_by_label("with").select_option("nothing wrong")
        page.get_by_role("button", name="Do it there").click()
        expect(tests).to_contain_text("Seen: free 5 s, then held.")
        page.get_by_role("button", name="Unlocks from its page: seen").click()
        for title in (
            "Card that may",
            "Card that may not",
            "Exit button",
            "Contact",
            "Network cable out",
            "Panel without power",
            "Lock supply out",
            "Fire alarm",
        ):
            expect(page.get_by_role("button", name=f"{title}: seen", exact=True)).to_be_visible()
            page.get_by_role("button", name="Do it there").click()
            expect(tests).to_contain_text("Seen: ")
            page.get_by_role("button", name=f"{title}: seen", exact=True).click()
        expect(page.get_by_role("button", name="From inside, by hand: seen")).to_be_disabled()
        self.assertEqual(visit.violations(), [])
        page.get_by_label("Who tried it").fill("Maren Aldous")
        page.get_by_role("button", name="From inside, by hand: seen").click()
        page.get_by_role("button", name="Left as usual: seen").click()
        expect(page.get_by_role("button", name="Staff door tried")).to_be_visible()

        # held open for set-up: the other tests tell nothing until it is locked
        page.get_by_role("button", name=re.compile("^Pier exit")).click()
        expect(page.get_by_role("list", name="Tests of Pier exit")).to_be_visible()
        page.get_by_label("Held open for set-up?").fill("Tomas Okerlund")
        page.get_by_role("button", name="Hold it open for 30 min").click()
        expect(page.get_by_text("Tomas Okerlund stands at the door.")).to_be_visible()
        expect(page.get_by_text("The door is held open for set-up; lock it first")).to_be_visible()
        page.get_by_role("button", name="It is locked again").click()
        expect(page.get_by_role("button", name="Unlocks from its page: seen")).to_be_visible()
        page.get_by_role("button", name="Change the door").click()
        page.get_by_label("Relay sits on").select_option("C and NC: the relay cuts the current")
        page.get_by_role("button", name="Save").click()
        expect(page.get_by_text("A fail-secure strike at Pier exit opens while current flows").first).to_be_visible()

    def test_who_may_pass_is_asked_changed_and_sent(self) -> None:
        key = self.ready("passing", whole=True)
        visit = Visit.start(self.browser, self.server)
        page = visit.go(f"/sites/{key}/doors?part=access")
        ask = page.get_by_role("region", name="Ask")
        ask.get_by_label("May", exact=True).fill("Lena Orsk")
        ask.get_by_role("combobox").nth(1).select_option("Staff door")
        ask.get_by_label("on", exact=True).fill("2027-03-16T17:45")
        expect(ask).to_contain_text("Lena Orsk may open Staff door then, by cleaning; the panel was not sent this yet")
        sent = page.get_by_role("region", name="Sent to the panels")
        sent.get_by_role("button", name="It was sent now").click()
        expect(ask).to_contain_text("Lena Orsk may open Staff door then, by cleaning.")
        page.get_by_role("button", name="installers, pier-doors: no rule").click()
        rule = page.get_by_role("form", name="New rule")
        rule.get_by_label("When").select_option("Shifts")
        rule.get_by_role("button", name="Add the rule").click()
        expect(page.get_by_role("button", name="installers, pier-doors: Shifts")).to_be_visible()
        expect(sent).to_contain_text("changed since it was last sent: it still opens as before")
        page.get_by_role("button", name=re.compile("^Lena Orsk")).click()
        people = page.get_by_role("complementary", name="People")
        expect(people.get_by_role("region", name="Staff door")).to_contain_text("17:30 to 20:30")
        people.get_by_label("Facility code").fill("114")
        people.get_by_label("Card number").fill("20518")
        expect(people).to_contain_text("It is the card of Davi Moss already.")
        people.get_by_label("Card number").fill("86054")
        expect(people).to_contain_text(
            "at most 65535; cut to its bits it becomes 20518. That is the card of Davi Moss."
        )
        expect(people.get_by_role("button", name="Give this card")).to_be_disabled()
        people.get_by_role("button", name="It is lost").click()
        expect(ask).to_contain_text("every card of Lena Orsk is lost")
        self.assertEqual(visit.violations(), [])
        people.get_by_role("button", name="All people").click()
        people.get_by_text("From a table").click()
        people.get_by_label("Or pasted").fill("Name,Group,Card number\nNiels Aar,crew,77\nJory Penn,crew,x\n")
        people.get_by_role("button", name="Read it").click()
        expect(people).to_contain_text("1 new, 0 changed, 0 as they stand, 1 wrong")
        people.get_by_role("button", name="Bring 1 in").click()
        expect(people).to_contain_text("9 of 9")

    def test_an_input_of_the_panel_is_switched_on_by_decision_and_given_back(self) -> None:
        key = self.ready("inputs", whole=True)
        visit = Visit.start(self.browser, self.server)
        page = visit.go(f"/sites/{key}/doors")
        inputs = page.get_by_role("region", name="Inputs of Door panel")
        expect(inputs).to_contain_text("Mains input: off")
        inputs.get_by_role("button", name="Change Mains input").click()
        form = inputs.get_by_role("form", name="Decide Mains input")
        expect(form.get_by_role("button", name="Switch it on")).to_be_disabled()
        form.get_by_label("Why it is on").fill("A supply with its own battery stands beside it.")
        form.get_by_label("Look again on").fill("2020-05-01")
        self.assertEqual(visit.violations(), [])
        form.get_by_role("button", name="Switch it on").click()
        expect(inputs).to_contain_text("Mains input: on, by decision")
        expect(inputs).to_contain_text("To be looked at again since 2020-05-01")
        inputs.get_by_role("button", name="Change Mains input").click()
        inputs.get_by_role("button", name="As usual again").click()
        expect(inputs).to_contain_text("Mains input: off")

    def test_a_hub_goes_on_test_is_tried_and_left_as_found(self) -> None:
        key = self.ready("hub-tests", whole=True)
        visit = Visit.start(self.browser, self.server, PHONE)
        page = visit.go(f"/sites/{key}/doors?part=alarm")
        hub = page.get_by_role("region", name="Alarm hub", exact=True)
        expect(hub.get_by_role("button", name="Tried alone, confirmed").first).to_be_disabled()
        hub.get_by_label("Who at the station was told").fill("Desk 4")
        hub.get_by_role("button", name="On test for 2 h").click()
        expect(page.get_by_title("The station takes the signals of Alarm hub as tests")).to_be_visible()
        for _ in range(4):
            hub.get_by_role("button", name="Tried alone, confirmed").first.click()
            visit.quiet()
        hub.get_by_label("How it is left").select_option("armed, at home")
        expect(hub).to_contain_text("It was found armed, away.")
        hub.get_by_label("How it is left").select_option("armed, away")
        hub.get_by_role("button", name="Off test, the station confirmed it").click()
        expect(hub.get_by_text("Still open")).to_have_count(0)
        hub.get_by_label("What it answered").fill("All four seen, Desk 4")
        hub.get_by_label("Name of the user").click()
        visit.quiet()
        page.reload()
        expect(hub.get_by_label("What it answered")).to_have_value("All four seen, Desk 4")
        self.assertEqual(visit.violations(), [])
        self.assertEqual(page.evaluate("document.documentElement.scrollWidth"), PHONE["width"])
