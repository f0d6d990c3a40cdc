"""The run at the bench in a real browser: counting down, two technicians, the phone, and the rehearsal before it."""

import re

from playwright.sync_api import expect

from tests.browser.base import Browsing
from tests.browser.driving import PHONE, Visit
from tests.samples import device, document
from tests.server.test_logbook import picture


class Live(Browsing):
    def test_two_technicians_work_and_each_sees_what_the_other_does(self) -> None:
        visit = Visit.start(self.browser, self.server)
        rows = [device(1), device(2), device(3, "larkmoor-rec-8"), device(4, "pellgrave-gate-1")]
        raw = document(rows)
        raw["site"]["key"] = "two-at-work"
        visit.store(raw)
        page = visit.go("/sites/two-at-work/bench")

        # before: rehearsed, and for two
        page.get_by_role("button", name="2 technicians").click()
        rehearsal = page.get_by_role("region", name="Rehearsal")
        rehearsal.get_by_role("button", name="At once").click()
        expect(rehearsal).to_contain_text(re.compile(r"All \d+ steps went"))
        rehearsal.get_by_role("button", name="Watch it 600 times as fast").click()
        expect(rehearsal).to_contain_text("min into the run")
        self.assertEqual(visit.violations(), [])
        page.evaluate("document.activeElement.blur()")
        page.keyboard.press("Space")
        expect(visit.step).to_contain_text(re.compile(r"step 1 of \d+"))
        expect(visit.step).to_contain_text("Why now:")

        # the other one, on a phone, has another step; what one does shows with the other by itself
        other = Visit.start(self.browser, self.server, PHONE)
        phone = other.go("/sites/two-at-work/bench?hand=2")
        expect(other.step).to_contain_text("step 1 of")
        mine, theirs = (item.page.get_by_role("heading", level=2).first.inner_text() for item in (visit, other))
        self.assertNotEqual(mine, theirs)
        self.assertEqual(other.violations(), [])
        for _ in range(4):
            visit.press("Space")
        expect(other.step).to_contain_text("step 2 of")
        expect(other.page.get_by_role("heading", level=2).first).to_have_text(theirs)

        # a device boots: the bar counts down, and believes who says that it is ready
        footer = page.locator("footer")
        for _ in range(40):
            if footer.get_by_role("button", name="It is ready").count():
                break
            page.keyboard.press("Space")
            visit.saved()
        expect(footer).to_contain_text(
            re.compile(r"Waiting\s*Wait (\d+ s|\d:\d\d min): .* (is booting|is restarting)\.")
        )
        self.assertEqual(visit.violations(), [])
        page.keyboard.press("Space")
        expect(footer).to_contain_text("Your turn")

        # what does not go is set aside with its reason, and taken up again; a rest stops nothing
        page.get_by_role("button", name="Problem").click()
        dialog = page.get_by_role("dialog")
        dialog.get_by_role("button", name="It does not answer").click()
        self.assertEqual(visit.violations(), [])
        dialog.get_by_role("button", name="Set it aside").click()
        aside = page.get_by_role("complementary", name="Beside the step")
        expect(aside).to_contain_text("It does not answer")
        aside.get_by_role("button", name="Take it up").click()
        expect(aside).not_to_contain_text("It does not answer")
        page.get_by_text("The run", exact=True).click()
        page.get_by_role("button", name="Rest", exact=True).click()
        expect(phone.locator("footer")).to_contain_text("The run rests")
        page.get_by_role("button", name="On the phone").click()
        expect(page.get_by_text("tutelar serve --lan")).to_be_visible()
        page.evaluate("document.activeElement.blur()")
        page.keyboard.press("Space")
        expect(phone.locator("footer")).to_contain_text(re.compile("Your turn|Waiting"))


class Notes(Browsing):
    def test_what_is_written_down_is_found_corrected_and_never_lost(self) -> None:
        visit = Visit.start(self.browser, self.server)
        raw = document([device(1), device(2)])
        raw["site"]["key"] = "notes"
        visit.store(raw)
        page = visit.go("/sites/notes/log")
        form = page.get_by_role("form", name="Add a line")
        form.get_by_label("What happened").fill("Voltage at the far end")
        page.reload()  # not written down yet, and not lost
        expect(form.get_by_label("What happened")).to_have_value("Voltage at the far end")
        form.get_by_label("About").select_option("d-2")
        form.get_by_label("Reading").fill("-67,5")
        form.get_by_label("Unit").fill("dBm")
        form.get_by_label("Photograph").set_input_files(
            {"name": "door.jpg", "mimeType": "image/jpeg", "buffer": picture(600, 400)}
        )
        form.get_by_role("button", name="Write it down").click()
        lines = page.get_by_role("region", name="What happened")
        expect(lines.get_by_role("listitem").first).to_contain_text("Voltage at the far end: -67.5 dBm")
        expect(lines.get_by_role("img")).to_have_count(1)
        lines.get_by_role("button", name="Correct: Voltage").click()
        page.get_by_role("form", name="Correct a line").get_by_label("What is right").fill("It was 11.8 V")
        page.get_by_role("button", name="Save the correction").click()
        expect(lines.get_by_role("listitem").nth(1)).to_contain_text("Corrected by demo: It was 11.8 V")
        page.get_by_label("Search: who, what, which device").fill("device 2 voltage")
        expect(lines.get_by_role("listitem")).to_have_count(1)
        self.assertEqual(visit.violations(), [])
        phone = Visit.start(self.browser, self.server, PHONE, dark=True)
        phone.go("/sites/notes/log")
        self.assertEqual(phone.violations(), [])
