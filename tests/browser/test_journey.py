"""A site from survey to proof in a real browser against the real server, its worker and the stand-in."""

import csv
import json
from pathlib import Path

from playwright.sync_api import expect

from bench.sites import site_text
from tests.browser.base import Browsing
from tests.browser.driving import DESK, LONG, PHONE, ViewportSize, Visit
from tests.samples import around, demo, document


class Journey(Browsing):
    def test_from_the_site_file_to_the_proven_schedule(self) -> None:
        visit = Visit.start(self.browser, self.server)
        page = visit.page
        raw = demo()
        raw["policy"]["bench"] = {"ports": 1}  # one device after the other
        visit.bring(self.file("demo.json", json.dumps(raw)))
        expect(page.get_by_role("alert")).to_contain_text("There is a site with the key 'brackwater' already")
        page.get_by_role("button", name="Import it as brackwater-2").click()
        page.wait_for_url("**/sites/brackwater-2/addresses")

        # addresses: planned with one key, one of them locked
        expect(page.locator("footer")).to_contain_text("Give 39 devices the planned address")
        page.keyboard.press("Space")
        expect(page.locator("footer")).to_contain_text("Every device has its address")
        page.get_by_role("gridcell", name="10.62.8.101: Ticket hall east, planned").click()
        slip = page.get_by_role("complementary", name="Selected address")
        expect(slip).to_contain_text("255.255.255.0")
        slip.get_by_role("button", name="Lock").click()
        expect(slip.get_by_role("button", name="Unlock")).to_be_visible()
        expect(slip.get_by_role("button", name="Move it…")).to_be_disabled()

        # bench: three steps with every value; nothing is lost when the page is opened anew
        page.keyboard.press("Escape")
        page.evaluate("document.activeElement.blur()")
        page.keyboard.press("g")
        page.keyboard.press("b")
        visit.start_the_run()
        step = visit.step
        for number in range(3):
            visit.at_step(number + 1)
            values = step.get_by_role("button", name=" done").count()
            ready, presses = page.locator("footer").get_by_role("button", name="Done"), 0
            while not ready.count():
                visit.quiet()  # a group is confirmed with one key, a password made with one and typed with the next
                if ready.count():
                    break
                presses += 1
                self.assertLessEqual(presses, 8, "too many keys for the values of one step")
                leave = page.get_by_role("form", name="Leave Recovery address open")
                if leave.count():  # recovery is somebody's to fill; at every device of the site it is left open
                    leave.get_by_label("Why it is left open").fill("No mailbox for it yet")
                    leave.get_by_role("button", name="Leave it open").click()
                    expect(leave).to_have_count(0)
                else:
                    visit.press("Space")
            settled = step.get_by_role("button", pressed=True).or_(step.get_by_role("button", name="left open"))
            expect(settled).to_have_count(values)
            page.reload()  # at once: what was not answered yet is sent again
            expect(settled).to_have_count(values)
            page.keyboard.press("Space")
        visit.at_step(4)
        expect(page.locator("header")).to_contain_text("192.168.64.9")
        page.get_by_role("button", name="Problem").click()
        dialog = page.get_by_role("dialog")
        dialog.get_by_label("Why").fill("It wants a firmware first")
        dialog.get_by_role("button", name="Leave it out").click()
        visit.at_step(5)

        # proof: one fault is played, found and explained; everything else passes
        visit.go("/sites/brackwater-2/proof")
        practice = page.get_by_role("region", name="Practice")
        practice.get_by_label("Device").select_option("cam-13")
        practice.get_by_label("What is wrong").select_option("power-off")
        practice.get_by_role("button", name="Add this fault").click()
        page.locator("footer").get_by_role("button", name="Measure").click()
        expect(page.locator("footer")).to_contain_text("Car lanes lane 1 is broken")
        page.get_by_role("button", name="Car lanes lane 1, Answers at its address: broken").click()
        reading = page.get_by_role("region", name="Selected reading")
        expect(reading).to_contain_text("no answer on any of its ports")
        expect(reading).to_contain_text("an answer at 10.62.8.115")
        expect(page.get_by_role("list", name="What the sheet shows")).to_contain_text("broken2")

        # handover: the schedule and the log
        visit.go("/sites/brackwater-2/handover")
        with page.expect_download() as download:
            page.get_by_role("link", name="Address schedule (CSV)", exact=True).click()
        rows = list(csv.DictReader(Path(download.value.path()).read_text("utf-8-sig").splitlines()))
        states = {row["Device"]: (row["Address"], row["State"]) for row in rows}
        self.assertEqual(states["cam-13"], ("10.62.8.115", "broken"))
        self.assertEqual(states["cam-01"], ("10.62.8.101", "proven"))
        self.assertEqual(len(rows), 39)
        page.get_by_label("Search the log").fill("firmware")
        expect(page.get_by_text("skipped: It wants a firmware first")).to_be_visible()

    def test_a_channel_is_changed_and_two_people_do_not_overwrite_each_other(self) -> None:
        key = self.ready("channels")
        visit, other = (Visit.start(self.browser, self.server) for _ in range(2))
        for one in (visit, other):
            page = one.go(f"/sites/{key}/links")
            page.get_by_role("button", name="6 to Recorder quay").click()
            page.get_by_role("button", name="Ticket hall tills: channel 3").click()
            page.get_by_text("Change or untie it").click()
        for one, channel in ((visit, "16"), (other, "")):
            slip = one.page.get_by_role("complementary", name="Selected link")
            slip.get_by_label("Channel").select_option(channel)
            slip.get_by_role("button", name="Save the change").click()
            if one is visit:
                expect(one.page.get_by_role("button", name="Ticket hall tills: channel 16")).to_be_visible()
        expect(other.page.get_by_role("alert")).to_contain_text("changed by somebody else meanwhile")
        expect(other.page.get_by_role("button", name="Ticket hall tills: channel 16")).to_be_visible()

    def test_the_sheet_is_walked_with_the_keyboard_and_a_clash_is_fixed_with_its_letter(self) -> None:
        raw = demo()
        raw["site"]["key"] = "clash"
        for part in raw["devices"]:
            part["address"] = {"cam-01": "10.62.8.160", "cam-02": "10.62.8.102"}.get(part["key"])
        visit = Visit.start(self.browser, self.server)
        visit.bring(self.file("clash.json", json.dumps(raw)))
        page = visit.page
        page.wait_for_url("**/clash/addresses")
        expect(page.get_by_role("list", name="Problems")).to_contain_text("inside the DHCP pool")
        page.keyboard.press("a")
        expect(page.get_by_role("list", name="Problems")).to_contain_text("is free for Ticket hall east")
        expect(page.get_by_role("list", name="Problems")).to_contain_text(
            "address of the camera on channel 1 in Recorder quay"
        )
        page.keyboard.press("Space")
        expect(page.get_by_role("list", name="Problems")).to_have_count(0)
        page.get_by_role("gridcell", name="10.62.8.102: Ticket hall west").focus()
        page.keyboard.press("ArrowDown")
        page.keyboard.press("ArrowUp")
        page.keyboard.press("Enter")
        expect(page.get_by_role("complementary", name="Selected address")).to_contain_text("Ticket hall west")
        page.keyboard.press("/")
        page.keyboard.type("pier gate")
        page.keyboard.press("ArrowDown")
        page.keyboard.press("Enter")
        expect(page.get_by_role("complementary", name="Selected address")).to_contain_text("Pier gate")
        page.get_by_role("button", name="Move it…").click()
        page.get_by_label("New address").fill("10.62.8.999")
        page.get_by_role("button", name="Move it", exact=True).click()
        expect(page.get_by_role("alert")).to_contain_text("10.62.8.999")


EMPTY = ("kit", "links", "proof", "settings", "faults", "remote", "leaving")


class Views(Browsing):
    """Every view, empty and full: no axe violation, nothing in the console, no sideways scrolling."""

    def look(self, viewport: ViewportSize, dark: bool) -> None:
        key = "sound-by-night" if dark else "sound-by-day"
        raw = around(("cam-14", "rec-1", "gate-1", "view-2", "enc-1", "door-1", "hub-1"))
        self.server.store(raw | {"site": raw["site"] | {"key": key}})
        if not dark:
            self.server.store(document() | {"site": document()["site"] | {"key": "nothing-yet"}})
        visit = Visit.start(self.browser, self.server, viewport, dark)
        paths = [f"/sites/{key}/{stage}" for stage in ("survey", "kit", "bench")]
        paths += [f"/sites/{key}/addresses?device=cam-14", f"/sites/{key}/links?link=1"]
        paths += [f"/sites/{key}/proof?device=cam-14&check=clock"]
        paths += [f"/sites/{key}/settings?part={part}" for part in ("passwords", "clocks", "choices", "ports")]
        paths += [f"/sites/{key}/devices/rec-1"]
        paths += [f"/sites/{key}/survey?ask=power", f"/sites/{key}/kit?open=note", f"/sites/{key}/kit?open=labels"]
        paths += [] if dark else ["/", f"/sites/{key}/handover", "/sites/none", "/models", "/models?model=tarn-key-6"]
        paths += [] if dark else [f"/sites/nothing-yet/{stage}" for stage in EMPTY]
        telling = {
            f"/sites/{key}/{view}"
            for view in (("links?link=1", "bench") if dark else ("survey", "settings?part=clocks"))
        }
        visit.go(f"/sites/{key}/log")
        for path in paths:
            with self.subTest(path=path):
                visit.follow(path)
                self.assertEqual(visit.violations(contrast=LONG or path in telling), [])
                wide = visit.page.evaluate("document.documentElement.scrollWidth - window.innerWidth")
                self.assertLessEqual(wide, 0, "the page scrolls sideways")
        self.expected = ("404",)


class AtTheDesk(Views):
    def test_by_day_at_the_desk(self) -> None:
        self.look(DESK, dark=False)


class OnThePhone(Views):
    def test_by_night_on_the_phone(self) -> None:
        self.look(PHONE, dark=True)


class Many(Browsing):
    def test_a_thousand_devices_with_long_names(self) -> None:
        raw = json.loads(site_text(1000, 5))
        raw["devices"][3]["name"] = (
            "The very long name of a camera that looks at the far end of the northern car park " * 2
        )
        visit = Visit.start(self.browser, self.server)
        visit.bring(self.file("many.json", json.dumps(raw)))
        page = visit.page
        page.wait_for_url("**/many-halls/addresses")
        page.get_by_role("button", name="Set the plan").click()
        expect(page.locator("footer")).to_contain_text("Every device has its address")
        visit.go("/sites/many-halls/kit")
        page.get_by_role("gridcell", name="Sticker of").first.click()
        page.keyboard.press("Control+End")
        expect(page.get_by_role("gridcell", name="Name of Hall 5 cam-00999:")).to_be_visible()
        for stage, shown in (
            ("links", page.get_by_role("button", name="60 to Hall 5 rec-00604")),
            # one of 17,000 buttons is found sooner by its label than by its role
            ("proof", page.locator("button[aria-label*='Hall 5 cam-00999, Clock is right']")),
        ):
            visit.go(f"/sites/many-halls/{stage}")
            if stage == "proof":
                page.locator("button", has_text="Identity").first.click()
            expect(shown).to_have_count(1)
            wide = page.evaluate("document.documentElement.scrollWidth - window.innerWidth")
            self.assertLessEqual(wide, 0)
        visit.go("/sites/many-halls/settings")
        passwords = page.get_by_role("list", name="Passwords by device")
        self.assertLessEqual(passwords.get_by_role("group").count(), 12, "devices that show the same are one line")
        page.get_by_label("Find in this list").fill("rec-00003")
        expect(passwords.get_by_role("listitem")).to_have_count(1)
        passwords.get_by_role("link").click()
        expect(page.get_by_role("heading", level=1)).to_contain_text("The very long name of a camera")
        self.assertLessEqual(page.evaluate("document.documentElement.scrollWidth - window.innerWidth"), 0)
        visit.go("/sites/many-halls/leaving")
        expect(page.get_by_role("button", name="Show all 200 of Hall 1")).to_be_visible()
        self.assertLessEqual(page.evaluate("document.documentElement.scrollWidth - window.innerWidth"), 0)
        visit.go("/sites/many-halls/faults?device=cam-00999")
        page.get_by_role("button", name="Find the fault").click()
        expect(page.get_by_role("complementary", name="Check this next")).to_be_visible()
        self.assertLessEqual(page.evaluate("document.documentElement.scrollWidth - window.innerWidth"), 0)
