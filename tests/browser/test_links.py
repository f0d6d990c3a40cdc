"""The loom in a real browser: proposed, tied, typed at both ends, witnessed, untied, filtered, numbered."""

import json

from playwright.sync_api import expect

from tests.browser.base import Browsing
from tests.browser.driving import PHONE, Visit
from tests.link_examples import document as every_kind
from tests.samples import device, document


class Loom(Browsing):
    def bring(self, key: str, raw: dict) -> Visit:  # type: ignore[type-arg]
        raw["site"]["key"] = key
        visit = Visit.start(self.browser, self.server)
        visit.bring(self.file(f"{key}.json", json.dumps(raw)))
        visit.page.wait_for_url(f"**/sites/{key}/**")
        visit.go(f"/sites/{key}/addresses")
        visit.page.keyboard.press("Space")
        expect(visit.page.locator("footer")).to_contain_text("Every device has its address")
        return visit

    def test_what_is_not_tied_is_proposed_tied_untied_and_tied_again(self) -> None:
        rows = [device(1, "larkmoor-rec-8", name="Recorder"), device(2, name="Gate"), device(3, name="Yard")]
        visit = self.bring("untied", document(rows, links=[{"kind": "records", "from": "d-2", "to": "d-1", "slot": 1}]))
        page = visit.go("/sites/untied/links")
        expect(page.locator("footer")).to_contain_text("Yard is not tied to anything yet")
        page.keyboard.press("Space")
        dialog = page.get_by_role("dialog")
        expect(dialog).to_contain_text("channel 2")
        dialog.get_by_role("button", name="Tie 1 as proposed").click()
        expect(dialog).to_have_count(0)
        page.get_by_role("button", name="Gate: channel 1 of Recorder").focus()
        page.keyboard.press("ArrowDown")
        expect(page.get_by_role("button", name="Yard: channel 2 of Recorder")).to_be_focused()
        page.keyboard.press("Enter")
        slip = page.get_by_role("complementary", name="Selected link")
        slip.get_by_text("Change or untie it").click()
        slip.get_by_label("Channel").select_option("7")
        slip.get_by_role("button", name="Save the change").click()
        expect(page.get_by_role("button", name="Yard: channel 7 of Recorder")).to_be_visible()
        slip.get_by_role("button", name="Untie it").click()
        expect(page.get_by_role("region", name="Not tied to anything").get_by_role("button")).to_have_text("Yard")
        page.get_by_role("button", name="Tie it again").click()
        expect(page.get_by_role("button", name="Yard: channel 7 of Recorder")).to_be_visible()
        page.get_by_role("button", name="New link").click()
        dialog.get_by_role("combobox", name="From").select_option("d-3")
        dialog.get_by_role("combobox", name="To").select_option("d-1")
        dialog.get_by_label("Channel (may stay open)").fill("1")
        dialog.get_by_role("button", name="Add the link").click()
        expect(dialog.get_by_role("alert")).to_contain_text("Channel 1 is taken by Gate; choose a free one.")
        page.keyboard.press("Escape")

    def test_both_ends_are_typed_and_what_was_seen_proves_it(self) -> None:
        visit = self.bring("every-kind", every_kind())
        page = visit.go("/sites/every-kind/links?state=waiting&to=gate-1")
        page.get_by_role("button", name="View 1: monitor number 1 of Gate 1, waiting").click()
        slip = page.get_by_role("complementary", name="Selected link")
        expect(slip).to_contain_text("Gate 1 is not set up yet")
        slip.get_by_role("button", name="Type its values").click()
        dialog = page.get_by_role("dialog")
        expect(dialog).to_contain_text("Escape doors must open from inside without power")
        ends = dialog.get_by_role("region", name="At Gate 1")
        ends.get_by_role("button", name="Monitor 1: View 1 done").click()
        expect(ends.get_by_role("button", name="Monitor 1: View 1 done")).to_have_attribute("aria-pressed", "true")
        proofs = dialog.get_by_role("region", name="What proves it")
        proofs.get_by_role("button", name="Test call: seen").click()
        expect(proofs.get_by_role("listitem", name="Test call")).to_contain_text("seen so, demo")
        proofs.get_by_role("button", name="Unlocks: failed").click()
        proofs.get_by_label("What was seen instead").fill("the lock hums")
        page.keyboard.press("Enter")
        expect(proofs.get_by_role("listitem", name="Unlocks")).to_contain_text("the lock hums, demo")
        visit.quiet()
        self.assertEqual(visit.violations(), [])
        page.keyboard.press("Escape")
        expect(slip).to_contain_text("Unlocks: the lock hums.")
        visit.go("/sites/every-kind/links?state=broken")
        expect(page.get_by_role("button", name="View 1: monitor number 1 of Gate 1, broken")).to_be_visible()
        page.get_by_role("button", name="1 of 19: show all").click()
        page.get_by_role("button", name="Numbers").click()
        ring = page.get_by_role("region", name="Ring times")
        ring.get_by_label("A person comes, s").fill("60")
        ring.get_by_role("button", name="Save the ring times").click()
        expect(ring).to_contain_text("must ring at least 86 s")
        expect(ring).to_contain_text("too short")
        self.assertEqual(visit.violations(), [])

    def test_links_come_from_a_table_and_show_on_the_phone_by_night(self) -> None:
        raw = every_kind()
        raw["links"] = []
        visit = self.bring("tabled", raw)
        page = visit.go("/sites/tabled/links?open=table")
        rows = ["Link;From;To;Number", "records;Eye 1;Disk 1;1", "records;Eye 9;Disk 1;2", "steers;Stick 1;Eye 1;1"]
        page.get_by_label("Or the table, pasted").fill("\n".join(rows))
        page.get_by_role("button", name="Read the table").click()
        expect(page.get_by_role("dialog")).to_contain_text("the kit has no “Eye 9”")
        self.assertEqual(visit.violations(), [])
        page.get_by_role("button", name="Import 2, leave 1 out").click()
        expect(page.get_by_text("2 added, 0 changed, 1 left out.")).to_be_visible()
        phone = Visit.start(self.browser, self.server, PHONE, dark=True)
        small = phone.go("/sites/tabled/links")
        small.get_by_role("button", name="Eye 1").first.click()
        expect(small.get_by_role("dialog")).to_contain_text("What proves it")
        phone.quiet()
        self.assertEqual(phone.violations(), [])
        small.keyboard.press("Escape")
        self.assertLessEqual(small.evaluate("document.documentElement.scrollWidth - window.innerWidth"), 0)
        self.assertEqual(phone.violations(), [])
