"""What comes later in the browser: a device replaced, the diary, a recording put right, one search over all sites."""

import re

from playwright.sync_api import expect

from tests.browser.base import Browsing
from tests.browser.driving import PHONE, Visit


class Later(Browsing):
    def test_a_camera_is_replaced_step_by_step_and_its_card_begins_anew(self) -> None:
        key = self.ready("later")
        visit = Visit.start(self.browser, self.server)
        page = visit.go(f"/sites/{key}/devices/cam-01")
        page.get_by_role("link", name="Replace or retire it").click()
        page.get_by_role("button", name="Show the steps").click()
        change = page.get_by_role("region", name="The change")
        identity = change.get_by_role("button", name=re.compile("Done: Write down hardware address"))
        identity.click()
        expect(page.get_by_role("alert")).to_contain_text("Write hardware address or serial number of the new unit")
        page.get_by_label("new hardware address").fill("02:00:00:00:66:01")
        change.get_by_role("button", name="Write it down").click()
        expect(change).to_contain_text("Now 02:00:00:00:66:01")
        identity.click()
        visit.quiet()
        while (done := change.get_by_role("button", name=re.compile("^Done: "))).count():
            name = done.first.get_attribute("aria-label") or ""
            done.first.click()
            expect(change.get_by_role("button", name=name, exact=True)).to_have_count(0)
            visit.quiet()
        expect(change).to_contain_text("Every step is done.")
        self.assertEqual(visit.violations(), [])
        page.get_by_role("button", name="Diary").click()
        expect(page.get_by_role("list", name="Diary")).to_contain_text("Yearly look")
        page.get_by_role("button", name="When was it recorded?").click()
        page.get_by_label("the time that it shows").fill("2026-06-10T14:10:00")
        page.get_by_role("button", name="When was it made?").click()
        expect(page.get_by_role("region", name="When it was made")).to_contain_text("Nobody looked at the clock")
        self.assertEqual(visit.violations(), [])

    def test_a_pack_is_made_and_a_sealed_sheet_printed_once(self) -> None:
        key = self.ready("packed")
        visit = Visit.start(self.browser, self.server)
        page = visit.go(f"/sites/{key}/handover")
        page.get_by_role("button", name="Make the pack").click()
        take = page.get_by_role("link", name="Take the pack")
        expect(take).to_be_visible(timeout=60_000)
        with page.expect_download() as download:
            take.click()
        self.assertEqual(download.value.suggested_filename, f"{key}-handover.zip")
        self.assertEqual(visit.violations(), [])
        page.get_by_text("Sealed sheet of credentials").click()
        page.get_by_label("for whom").fill("Tomas Okerlund")
        expect(page.get_by_role("button", name="Print it (PDF)")).to_be_disabled()  # nothing is kept yet

    def test_on_the_phone_one_search_finds_the_device_by_its_hardware_address(self) -> None:
        self.ready("found")
        phone = Visit.start(self.browser, self.server, PHONE)
        page = phone.go("/log?search=02-1a-4b-00-00-c9")
        found = page.get_by_role("region", name="Devices found")
        expect(found.get_by_role("link").first).to_contain_text("Staff gate")
        self.assertEqual(phone.violations(), [])
