"""Large networks, small screens and the keyboard alone."""

import json

from playwright.sync_api import expect

from bench.sites import site_text
from tests.browser.base import Browsing
from tests.browser.driving import PHONE, Visit
from tests.samples import device, document


class Large(Browsing):
    def test_a_sixteen_is_walked_by_its_atlas_and_its_cells(self) -> None:
        raw = json.loads(site_text(600, 1))
        raw["site"]["key"] = "wide"
        raw["networks"][0] |= {"cidr": "10.20.0.0/16", "pools": [{"first": "10.20.200.0", "last": "10.20.201.255"}]}
        raw["devices"][7]["address"] = "10.20.90.14"
        visit = Visit.start(self.browser, self.server)
        visit.bring(self.file("wide.json", json.dumps(raw)))
        page = visit.page
        page.wait_for_url("**/wide/addresses")
        atlas = page.get_by_role("region", name="Parts of Hall 1, 256 addresses each")
        expect(atlas.get_by_role("button")).to_have_count(256)
        expect(atlas.get_by_role("button", name="10.20.200.0 to 10.20.200.255")).to_have_accessible_name(
            "10.20.200.0 to 10.20.200.255: 256 in the DHCP pool"
        )
        atlas.get_by_role("button", name="10.20.0.0 to").focus()
        for key in ("ArrowDown", "ArrowDown", "ArrowRight", "ArrowLeft", "ArrowUp"):
            page.keyboard.press(key)
        expect(atlas.get_by_role("button", name="10.20.32.0 to")).to_be_focused()
        atlas.get_by_role("button", name="10.20.90.0 to 10.20.90.255:").click()
        cell = page.get_by_role("gridcell", name="10.20.90.14: Hall 1")
        cell.click()
        slip = page.get_by_role("complementary", name="Selected address")
        expect(slip).to_contain_text("255.255.0.0")
        self.assertEqual(visit.violations(), [])
        page.reload()  # the part and the cell are in the address bar
        expect(slip).to_contain_text("gate-00007")
        expect(cell).to_have_attribute("aria-selected", "true")

    def test_a_network_that_is_too_small_says_so_first(self) -> None:
        raw = document(
            [device(number) for number in range(9)], network={"cidr": "10.20.30.0/29", "pools": [], "reserved": []}
        )
        raw["site"]["key"] = "tight"
        visit = Visit.start(self.browser, self.server)
        visit.bring(self.file("tight.json", json.dumps(raw)))
        page = visit.page
        page.wait_for_url("**/tight/addresses")
        expect(page.locator("footer")).to_contain_text(
            "9 fixed addresses wanted in Halls (10.20.30.0/29), 5 free. Use /28."
        )
        page.get_by_role("button", name="Set the 5 that fit").click()
        expect(page.get_by_role("list", name="Problems")).to_contain_text("9 fixed addresses wanted")
        expect(page.get_by_role("button", name="that fit")).to_have_count(0)


class Keyboard(Browsing):
    def test_a_question_is_answered_without_the_mouse(self) -> None:
        key = self.ready("by-keys")
        visit = Visit.start(self.browser, self.server)
        page = visit.go(f"/sites/{key}/survey")
        page.get_by_role("button", name="How many days must recordings be kept?").focus()
        page.keyboard.press("Enter")
        expect(page.get_by_label("Days", exact=True)).to_be_focused()
        page.keyboard.type("lots")
        expect(page.get_by_text("'lots' is not a number.")).to_be_visible()
        page.keyboard.press("Escape")
        expect(page.get_by_label("Days", exact=True)).to_have_count(0)
        expect(page.get_by_text("not saved yet")).to_be_visible()
        page.get_by_role("button", name="How many days must recordings be kept?").focus()
        page.keyboard.press("Enter")
        expect(page.get_by_label("Days", exact=True)).to_have_value("lots")
        expect(page.get_by_label("Days", exact=True)).to_be_focused()
        page.keyboard.press("Control+A")
        page.keyboard.type("30")
        expect(page.get_by_text("30 days want 39.1 TB")).to_be_visible()
        page.keyboard.press("Enter")
        expect(page.get_by_text("For 30 days.")).to_be_visible()

    def test_the_kit_is_walked_and_chosen_without_the_mouse(self) -> None:
        key = self.ready("walked")
        visit = Visit.start(self.browser, self.server)
        page = visit.go(f"/sites/{key}/kit")
        page.get_by_role("gridcell", name="Name of Switch 1:").focus()
        page.keyboard.press("End")
        expect(page.get_by_role("gridcell", name="Bought of Switch 1:")).to_be_focused()
        page.keyboard.press("Control+End")
        page.keyboard.press("Control+Home")
        page.keyboard.press("Home")
        expect(page.get_by_role("gridcell", name="Sticker of Switch 1:")).to_be_focused()
        page.keyboard.press("Space")
        page.keyboard.press("ArrowDown")
        page.keyboard.press("Space")
        expect(page.get_by_role("region", name="Chosen rows")).to_contain_text("2 devices")
        for _ in range(2):
            page.keyboard.press("ArrowRight")
        page.keyboard.press("Enter")
        page.get_by_label("Place of Switch 2").select_option("Pier")
        page.keyboard.press("Enter")
        expect(page.get_by_role("gridcell", name="Place of Switch 2:")).to_have_text("Pier")
        page.keyboard.press("ArrowUp")
        page.keyboard.press("Control+d")  # what stands here goes into the chosen rows
        expect(page.get_by_role("gridcell", name="Place of Switch 2:")).to_have_text("Pier")
        page.keyboard.press("Escape")
        expect(page.get_by_role("region", name="Chosen rows")).to_have_count(0)
        page.keyboard.press("Control+z")
        visit.saved()


class Small(Browsing):
    def test_the_kit_and_its_labels_on_the_phone_by_night(self) -> None:
        key = self.ready("pocket")
        visit = Visit.start(self.browser, self.server, PHONE, dark=True)
        page = visit.go(f"/sites/{key}/kit")
        expect(page.get_by_role("columnheader")).to_have_count(4)
        page.get_by_role("gridcell", name="Name of Switch 1:").dblclick()
        page.get_by_label("Name of Switch 1").fill("Cupboard switch")
        page.keyboard.press("Enter")
        expect(page.get_by_role("gridcell", name="Name of Cupboard switch:")).to_be_visible()
        page.get_by_role("button", name="Read labels").click()
        dialog = page.get_by_role("dialog")
        dialog.get_by_label("Scan or type a code").fill("no code at all")
        page.keyboard.press("Enter")
        expect(dialog).to_contain_text("is no hardware address and no serial number")
        self.assertEqual(visit.violations(), [])
        for path in (f"/sites/{key}/addresses?open=renumber+security", f"/sites/{key}/addresses?open=table", "/models"):
            visit.follow(path)
            self.assertEqual(visit.violations(), [], path)
            wide = page.evaluate("document.documentElement.scrollWidth - window.innerWidth")
            self.assertLessEqual(wide, 0, path)

    def test_a_name_that_is_taken_is_said_when_a_site_begins(self) -> None:
        visit = Visit.start(self.browser, self.server, PHONE)
        form = visit.go("/").get_by_role("form", name="Start a new site")
        form.get_by_label("A new site").fill("Brackwater")
        form.get_by_role("button").click()
        expect(form.get_by_role("alert")).to_contain_text("There is a site with the key 'brackwater' already")
