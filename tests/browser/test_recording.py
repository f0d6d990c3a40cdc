"""The week of recordings as a technician draws it, by keyboard and by pointer, and what the disks make of it."""

import re

from playwright.sync_api import expect

from tests.browser.base import Browsing
from tests.browser.driving import PHONE, Visit
from tests.samples import shipped


class Weeks(Browsing):
    def test_a_week_is_mended_moved_copied_and_kept(self) -> None:
        key = self.ready("weeks", whole=True)
        visit = Visit.start(self.browser, self.server)
        page = visit.go(f"/sites/{key}/recording")
        bar, storage = page.locator("footer"), page.get_by_role("complementary", name="Storage")
        expect(bar).to_contain_text("records nothing on Monday from 12:30 to 13:00")
        expect(storage).to_contain_text("keeps 20.7 days")
        page.keyboard.press(" ")  # the gap is closed, but nothing is stored yet
        expect(bar).to_contain_text("Save what you changed. Adds 14.5 GB a day")
        edge = page.get_by_role("slider", name="Friday, motion ends, continuous begins")
        edge.focus()
        page.keyboard.press("ArrowRight")
        page.keyboard.press("Shift+ArrowLeft")
        expect(edge).to_have_attribute("aria-valuetext", "05:44")
        page.reload()  # what is not saved is still there
        expect(edge).to_have_attribute("aria-valuetext", "05:44")

        # by pointer: an edge is dragged from 06:30 to 12:00
        edge = page.get_by_role("slider", name="Saturday, motion ends, continuous begins")
        at = edge.bounding_box()
        lane = page.get_by_role("button", name="Saturday, 06:30 to 20:15, continuous").bounding_box()
        assert at and lane
        minute = lane["width"] / (20.25 - 6.5) / 60
        y = at["y"] + at["height"] / 2
        page.mouse.move(at["x"] + at["width"] / 2, y)
        page.mouse.down()
        page.mouse.move(lane["x"] + 200 * minute, y, steps=4)
        page.mouse.move(lane["x"] + 330 * minute, y, steps=4)
        page.mouse.up()
        expect(edge).to_have_attribute("aria-valuetext", "12:00")

        # one period is typed, and its day copied
        page.get_by_role("button", name="Sunday, 08:00 to 18:00, continuous").click()
        slip = page.get_by_role("region", name="Period of Sunday")
        slip.get_by_label("Sunday, from").fill("25:10")
        slip.get_by_role("button", name="Set the times").click()
        expect(slip.get_by_role("alert")).to_contain_text("“25:10” is no time of a day")
        slip.get_by_label("Sunday, from").fill("9.30")
        slip.get_by_label("Sunday, from").press("Enter")
        expect(page.get_by_role("button", name="Sunday, 09:30 to 18:00, continuous")).to_be_visible()
        expect(page.get_by_text("Sunday and Holidays, 08:00 to 09:30: nothing is recorded")).to_be_visible()
        page.get_by_role("button", name=re.compile("Run motion on to 09:30")).click()
        page.get_by_role("button", name="Sunday, 09:30 to 18:00, continuous").click()
        page.get_by_role("group", name="Copy Sunday to other days").get_by_label("Saturday").check()
        page.get_by_role("button", name="Copy", exact=True).click()
        expect(page.get_by_role("button", name="Saturday, 09:30 to 18:00, continuous")).to_be_visible()
        page.get_by_label("Friday is recorded").select_option("as Monday")
        expect(page.get_by_role("slider", name=re.compile("^Friday"))).to_have_count(0)
        self.assertEqual(visit.violations(), [])
        page.get_by_role("button", name="Save").click()
        expect(bar).to_contain_text("Recorder quay holds")
        visit.go(f"/sites/{key}/log?search=Recording+changed")
        expect(page.get_by_text("Recording changed: patterns.")).to_be_visible()
        visit.go(f"/sites/{key}/devices/rec-1")
        expect(page.get_by_role("region", name="Recording")).to_contain_text("09:30–18:00 continuous")

    def test_levers_disks_and_channels_show_their_effect_before_anything_is_kept(self) -> None:
        key = self.ready("levers", whole=True)
        visit = Visit.start(self.browser, self.server)
        page = visit.go(f"/sites/{key}/recording?part=channels")
        storage = page.get_by_role("complementary", name="Storage")
        lever = storage.get_by_role("listitem").filter(has_text="2 × 14 TB")
        expect(lever).to_contain_text("36.3 days keeps it")
        lever.get_by_role("button").click()
        expect(storage).to_contain_text("keeps 36.3 days")
        recorder = page.get_by_role("region", name="Recorder quay")
        recorder.get_by_role("button", name="Pier", exact=True).click()
        expect(page.get_by_text("5 chosen:")).to_be_visible()
        page.get_by_label("follow").select_option("Safe and tills")
        expect(recorder.get_by_role("listitem").filter(has_text="Pier gangway")).to_contain_text("88.5 GB")
        storage.get_by_text("Change", exact=True).click()
        storage.get_by_label("TB as sold").first.fill("x")
        storage.get_by_label("TB as sold").first.press("Enter")
        expect(storage.get_by_role("alert")).to_contain_text("Bay 1: “x” is no size of a disk")
        other = Visit.start(self.browser, self.server)  # somebody else keeps something else meanwhile
        other.go(f"/sites/{key}/recording?part=rules")
        other.page.get_by_label("File length").select_option("30 min")
        other.page.get_by_role("button", name="Save").click()
        expect(other.page.locator("footer")).not_to_contain_text("Save what you changed")
        page.locator("h1").click()
        page.keyboard.press(" ")
        expect(page.get_by_role("alert").first).to_contain_text("changed by somebody else meanwhile")
        page.get_by_role("button", name="Keep mine").click()
        expect(page.locator("footer")).not_to_contain_text("Save what you changed")
        expect(storage).to_contain_text("2 × 14 TB")

    def test_on_the_phone_a_period_is_found_and_changed(self) -> None:
        key = self.ready("pocket-week", whole=True)
        visit = Visit.start(self.browser, self.server, PHONE, dark=True)
        page = visit.go(f"/sites/{key}/recording")
        page.get_by_role("button", name="Friday, 05:30 to 24:00, continuous").click()
        page.get_by_role("region", name="Period of Friday").get_by_label("Recorded").select_option("alarm contact")
        expect(page.get_by_role("button", name="Friday, 05:30 to 24:00, alarm contact")).to_be_visible()
        self.assertEqual(page.evaluate("document.documentElement.scrollWidth"), PHONE["width"])
        page.get_by_role("button", name="Leave it as it was").click()
        page.get_by_role("button", name="Drop it").click()
        expect(page.get_by_role("button", name="Friday, 05:30 to 24:00, continuous")).to_be_visible()
        self.assertEqual(visit.violations(), [])


class Fitting(Browsing):
    def test_a_switch_over_its_budget_is_helped_with_one_press_and_a_cable_with_another(self) -> None:
        raw = shipped()
        raw["site"] |= {"key": "fitting", "units": "imperial"}
        next(item for item in raw["models"] if item["key"] == "tarn-switch-24p")["poe_budget_w"] = 222
        desk = next(item for item in raw["devices"] if item["key"] == "desk-1")
        desk["fed"] = {"supply": "desk-supply", "m": 30, "awg": 20}
        self.server.store(raw)
        visit = Visit.start(self.browser, self.server)
        page = visit.go("/sites/fitting/kit?part=loads")
        bar = page.locator("footer")
        expect(page.get_by_text("Three things do not: days, supply cable, switch.")).to_be_visible()
        expect(page.get_by_role("region", name="Power from Switch 2")).to_contain_text("over by 5.4 W")
        expect(bar).to_contain_text("Feed Car lanes lane 3 from Switch 1, port 15.")
        page.keyboard.press(" ")
        cable = page.get_by_role("region", name="Camera desk")
        expect(cable).to_contain_text("AWG 20 brings 10.24 V, 0.56 V too little")
        cable.get_by_role("button", name=re.compile("Take AWG 18")).click()
        expect(cable).to_contain_text("AWG 18 brings 10.97 V")
        cable.get_by_role("button", name="Change the cable").click()
        cable.get_by_label("one way, ft").fill("far")
        expect(cable.get_by_role("alert")).to_contain_text("“far” is no length; feet one way")
        cable.get_by_label("one way, ft").fill("100")
        cable.get_by_role("button", name="Reckon with it").click()
        expect(cable).to_contain_text("100 ft from Desk supply")
        page.get_by_role("button", name="Add a supply").click()
        form = page.get_by_role("form", name="New supply")
        form.get_by_label("name").fill("Lamp transformer")
        form.get_by_label("kind").select_option("transformer")
        form.get_by_label("rated, VA").fill("40")
        form.get_by_role("button", name="Add it").click()
        expect(page.get_by_role("region", name="Supplies")).to_contain_text("0.0 VA of 40 VA")
        self.assertEqual(visit.violations(), [])
        page.get_by_role("button", name="Save").click()
        expect(bar).not_to_contain_text("Save what you changed")
        page.goto(f"{self.server.address}/sites/fitting/devices/cam-15")
        expect(page.get_by_role("region", name="Facts")).to_contain_text("Switch 1, port 15")
        expect(page.get_by_label("Cable length, ft")).to_have_value("213.3")

    def test_a_plug_is_pulled_and_put_elsewhere_on_the_map_of_ports(self) -> None:
        key = self.ready("plugs", whole=True)
        visit = Visit.start(self.browser, self.server, PHONE)
        page = visit.go(f"/sites/{key}/kit?part=ports")
        first = page.get_by_role("region", name="Switch 1")
        first.get_by_role("button", name="Port 14: Car lanes lane 2, fed and data").click()
        first.get_by_role("button", name="Pull Car lanes lane 2").click()
        expect(first.get_by_role("button", name="Port 14: empty")).to_be_visible()
        first.get_by_role("button", name="Port 20: empty").click()
        first.get_by_label("plug in").select_option("Alarm hub")
        first.get_by_label("it is fed over this cable").uncheck()
        first.get_by_role("button", name="Plug it in").click()
        expect(first.get_by_role("button", name="Port 20: Alarm hub, data only")).to_be_visible()
        self.assertEqual(visit.violations(), [])
        self.assertEqual(page.evaluate("document.documentElement.scrollWidth"), PHONE["width"])
        page.get_by_role("button", name="Save").click()
        expect(page.locator("footer")).not_to_contain_text("Save what you changed")
        page.reload()
        expect(first.get_by_role("button", name="Port 20: Alarm hub, data only")).to_be_visible()
