"""A site from survey to proof in a real browser against the real server, its worker and the stand-in."""

import csv
import json
import tempfile
from contextlib import ExitStack
from pathlib import Path
from unittest import TestCase

from playwright.sync_api import Locator, Page, expect

from bench.sites import site_text
from tests.browser.driving import DESK, PHONE, ViewportSize, Visit, chromium, demo_server
from tests.samples import DEMO, demo, document


class Browsing(TestCase):
    @classmethod
    def setUpClass(cls) -> None:
        super().setUpClass()
        stack = ExitStack()
        cls.addClassCleanup(stack.close)
        cls.server = stack.enter_context(demo_server())
        cls.browser = stack.enter_context(chromium())
        cls.folder = Path(stack.enter_context(tempfile.TemporaryDirectory()))

    def file(self, name: str, text: str) -> Path:
        path = self.folder / name
        path.write_text(text)
        return path

    def ready(self, key: str) -> str:
        """Bring in the demo under its own key."""
        raw = demo()
        raw["site"]["key"] = key
        visit = Visit.start(self.browser, self.server)
        visit.store(raw)
        visit.page.context.close()
        return key


def next_bar(page: Page) -> str:
    return page.locator("footer").inner_text()


class Journey(Browsing):
    def test_from_the_site_file_to_the_proven_schedule(self) -> None:
        visit = Visit.start(self.browser, self.server)
        page = visit.page
        visit.bring(DEMO)
        expect(page.get_by_role("alert")).to_contain_text("There is a site with the key 'brackwater' already")
        page.get_by_role("button", name="Bring it in as brackwater-2").click()
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
        step = page.get_by_role("region", name="The step in hand")
        for number in range(3):
            expect(step).to_contain_text(f"step {number + 1} of 188")
            values = step.get_by_role("button", name=" done").count()
            for _ in range(values):  # as fast as keys are pressed
                page.keyboard.press("Space")
            expect(step.get_by_role("button", pressed=True)).to_have_count(values)
            visit.saved()
            page.reload()
            expect(step.get_by_role("button", pressed=True)).to_have_count(values)
            page.keyboard.press("Space")
        expect(step).to_contain_text("step 4 of 188")
        expect(page.locator("header")).to_contain_text("192.168.64.9")
        page.get_by_role("button", name="It refuses").click()
        dialog = page.get_by_role("dialog")
        dialog.get_by_label("Why").fill("It wants a firmware first")
        dialog.get_by_role("button", name="Leave it out").click()
        expect(step).to_contain_text("step 5 of 188")

        # proof: one fault is played, found and explained; everything else passes
        visit.go("/sites/brackwater-2/proof")
        practice = page.get_by_role("region", name="Practice")
        practice.get_by_label("Device").select_option("cam-13")
        practice.get_by_label("What is wrong").select_option("power-off")
        practice.get_by_role("button", name="Add this fault").click()
        page.get_by_role("button", name="Measure", exact=False).click()
        expect(page.locator("footer")).to_contain_text("Car lanes lane 1 is broken")
        page.get_by_role("button", name="Car lanes lane 1, Answers at its address: broken").click()
        reading = page.get_by_role("region", name="Selected reading")
        expect(reading).to_contain_text("no answer on any of its ports")
        expect(reading).to_contain_text("an answer at 10.62.8.115")
        expect(page.get_by_role("list", name="What the sheet shows")).to_contain_text("broken1")

        # handover: the schedule and the log
        visit.go("/sites/brackwater-2/handover")
        with page.expect_download() as download:
            page.get_by_role("link", name="Address schedule (CSV)").click()
        rows = list(csv.DictReader(Path(download.value.path()).read_text("utf-8-sig").splitlines()))
        states = {row["Device"]: (row["Address"], row["State"]) for row in rows}
        self.assertEqual(states["cam-13"], ("10.62.8.115", "broken"))
        self.assertEqual(states["cam-01"], ("10.62.8.101", "proven"))
        self.assertEqual(len(rows), 39)
        page.get_by_label("Search the log").fill("firmware")
        expect(page.get_by_text("skipped: It wants a firmware first")).to_be_visible()
        self.assertEqual([said for said in visit.complaints if "409" not in said], [])

    def test_a_channel_is_changed_and_two_people_do_not_overwrite_each_other(self) -> None:
        key = self.ready("channels")
        visit, other = (Visit.start(self.browser, self.server) for _ in range(2))
        for one in (visit, other):
            one.go(f"/sites/{key}/links").get_by_role("button", name="Ticket hall tills: channel 3").click()
        for one, channel in ((visit, "16"), (other, "17")):
            slip = one.page.get_by_role("complementary", name="Selected link")
            if one is other:
                slip.get_by_label("Recorder").select_option("rec-2")
            slip.get_by_label("Channel").select_option(channel)
            slip.get_by_role("button", name="Change the channel").click()
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
        expect(page.get_by_role("list", name="Problems")).to_contain_text("inside the lease pool")
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

    def test_a_device_is_moved_by_hand_kept_ranges_and_ways_of_addressing(self) -> None:
        key = self.ready("moves")
        visit = Visit.start(self.browser, self.server)
        page = visit.go(f"/sites/{key}/addresses")
        page.keyboard.press("Space")
        expect(page.locator("footer")).to_contain_text("Every device has its address")
        visit.go(f"/sites/{key}/addresses?device=cam-14")
        slip = page.get_by_role("complementary", name="Selected address")
        page.keyboard.press("m")
        page.get_by_role("gridcell", name="10.62.8.160: lease pool").click()
        expect(slip).to_contain_text("inside the lease pool 10.62.8.150–10.62.8.199")
        page.get_by_role("gridcell", name="10.62.8.135: free").click()
        expect(slip).to_contain_text("address of the camera on channel 3 in Recorder hall")
        slip.get_by_role("button", name="Move it", exact=True).click()
        expect(page.get_by_role("gridcell", name="10.62.8.135: Car lanes lane 2, planned")).to_be_visible()

        # dragged to another cell: only proposed
        source = page.get_by_role("gridcell", name="10.62.8.135: Car lanes lane 2").bounding_box()
        target = page.get_by_role("gridcell", name="10.62.8.137: free").bounding_box()
        assert source and target
        page.mouse.move(source["x"] + 8, source["y"] + 8)
        page.mouse.down()
        page.mouse.move(target["x"] + 8, target["y"] + 8, steps=4)
        page.mouse.up()
        expect(slip.get_by_label("New address")).to_have_value("10.62.8.137")
        slip.get_by_role("button", name="Leave it").click()

        # a range kept free for others, and given back
        page.get_by_role("gridcell", name="10.62.8.139: free").click()
        slip.get_by_label("up to").fill("10.62.8.141")
        slip.get_by_label("For what").fill("tills")
        slip.get_by_role("button", name="Keep it free").click()
        page.get_by_role("gridcell", name="10.62.8.140: kept by IT").click()
        expect(slip).to_contain_text("tills")
        slip.get_by_role("button", name="Give it back").click()
        expect(page.get_by_role("gridcell", name="10.62.8.140: free")).to_be_visible()

    def test_a_network_is_renumbered_and_compared_with_a_router(self) -> None:
        key = self.ready("renumbered")
        visit = Visit.start(self.browser, self.server)
        page = visit.go(f"/sites/{key}/addresses")
        page.keyboard.press("Space")
        expect(page.locator("footer")).to_contain_text("Every device has its address")
        page.get_by_role("button", name="Renumber Security…").click()
        dialog = page.get_by_role("dialog")
        dialog.get_by_label("New range").fill("10.80.4.9/24")
        dialog.get_by_role("button", name="Show what changes").click()
        expect(dialog).to_contain_text("the network that holds it is '10.80.4.0/24'")
        dialog.get_by_label("New range").fill("10.80.4.0/24")
        dialog.get_by_role("button", name="Show what changes").click()
        expect(dialog).to_contain_text("36 devices move, all keep their host part")
        self.assertEqual(visit.violations(), [])
        dialog.get_by_role("button", name="Renumber to 10.80.4.0/24").click()
        expect(page.get_by_role("gridcell", name="10.80.4.101: Ticket hall east")).to_be_visible()

        page.get_by_role("button", name="Compare with a router’s table").click()
        dialog.get_by_label("Or paste what").fill(
            "? (10.80.4.140) at 2:1a:4b:0:0:1 on en0\n? (10.80.4.102) at 6:0:0:0:0:9 on en0\n"
        )
        dialog.get_by_role("button", name="Compare with the plan").click()
        expect(dialog).to_contain_text("Ticket hall east is at 10.80.4.140; 10.80.4.101 is planned.")
        self.assertEqual(visit.violations(), [])
        dialog.get_by_role("button", name="Write down 10.80.4.140").click()
        expect(dialog).to_contain_text("Ticket hall east stands at 10.80.4.140, as planned.")
        dialog.get_by_role("button", name="Keep 10.80.4.102 free").click()
        expect(dialog.get_by_role("region", name="Findings")).to_contain_text("06:00:00:00:00:09")

    def test_a_new_site_begins_with_its_name_and_a_laptop_knows_its_way_back(self) -> None:
        visit = Visit.start(self.browser, self.server)
        page = visit.page
        form = page.get_by_role("form", name="Start a new site")
        form.get_by_label("A new site").fill("Old Mill")
        form.get_by_role("button").click()
        page.wait_for_url("**/sites/old-mill/survey")
        add = page.get_by_role("form", name="Another network")
        add.get_by_label("What people call the network").fill("Mill")
        add.get_by_label("Its range").fill("10.5.5.0/24")
        add.get_by_role("button", name="Add it").click()
        expect(page.get_by_role("button", name="Which addresses of Mill does the router lend out")).to_be_visible()

        key = self.ready("way-back")
        visit.go(f"/sites/{key}/bench")
        expect(page.get_by_role("region", name="The step in hand")).to_contain_text("step 1 of")
        for _ in range(4):  # plug in: three values and the step itself
            page.keyboard.press("Space")
        step = page.get_by_role("region", name="The step in hand")
        expect(step).to_contain_text("step 2 of")
        visit.go(f"/sites/{key}/bench")
        page.get_by_label("Kind of laptop").select_option("windows")
        expect(step).to_contain_text(
            'netsh interface ipv4 set address name="Ethernet" static 192.168.64.9 255.255.255.0'
        )
        for _ in range(3):
            page.keyboard.press("Space")
        expect(step).to_contain_text("step 3 of")
        visit.go(f"/sites/{key}/survey")
        page.get_by_role("button", name="This laptop: fixed by hand").click()
        expect(page.get_by_text('set address name="Ethernet" dhcp')).to_be_visible()

    def test_the_kit_is_typed_into_and_taken_back(self) -> None:
        key = self.ready("edits")
        visit = Visit.start(self.browser, self.server)
        page = visit.go(f"/sites/{key}/kit")

        def cell(head: str, device: str) -> Locator:
            return page.get_by_role("gridcell", name=f"{head} of {device}:")

        cell("Hardware address", "Pier mast").click()
        page.keyboard.press("Enter")
        page.get_by_label("Hardware address of Pier mast").fill("02:1a:4b:00:00:01")
        page.keyboard.press("Enter")
        expect(page.get_by_role("alert")).to_contain_text("is on Ticket hall east already")
        expect(cell("Hardware address", "Pier mast")).to_contain_text("02:1a:4b:00:00:0c")
        cell("Name", "Pier mast").click()
        page.keyboard.type("Mast top")
        page.keyboard.press("Tab")
        expect(cell("Place", "Mast top")).to_be_focused()
        visit.saved()

        # several rows at once, then all of it taken back
        cell("Name", "Ticket hall east").click()
        for _ in range(2):
            page.keyboard.press("Shift+ArrowDown")
        page.get_by_label("Place of all chosen").select_option("Pier")
        for name in ("Ticket hall east", "Ticket hall west", "Ticket hall tills"):
            expect(cell("Place", name)).to_have_text("Pier")
        page.get_by_role("button", name="Name them").click()
        expect(cell("Place", "Pier camera 3")).to_be_visible()
        visit.saved()
        for _ in range(3):
            page.get_by_role("button", name="Take back").click()
        expect(cell("Name", "Pier mast")).to_be_visible()
        expect(cell("Place", "Ticket hall tills")).to_have_text("Ticket hall")
        visit.saved()

        # pasted cells fill downwards
        cell("Name", "Ticket hall east").click()
        page.evaluate(
            """() => { const data = new DataTransfer(); data.setData("text/plain", "East\\tPier\\nWest\\tcar lanes");
                 document.activeElement.dispatchEvent(new ClipboardEvent("paste",
                   {clipboardData: data, bubbles: true, cancelable: true})); }"""
        )
        expect(cell("Place", "West")).to_have_text("Car lanes")
        visit.saved()
        page.reload()
        expect(cell("Place", "East")).to_have_text("Pier")

        # removed and put back
        page.get_by_label("Choose East").check()
        page.get_by_role("button", name="Remove…").click()
        page.get_by_role("button", name="Yes, remove").click()
        expect(cell("Name", "East")).to_have_count(0)
        page.get_by_role("button", name="Take back").click()
        expect(cell("Name", "East")).to_have_count(1)

    def test_a_delivery_note_comes_in_and_its_labels_are_scanned(self) -> None:
        key = self.ready("delivery")
        visit = Visit.start(self.browser, self.server)
        page = visit.go(f"/sites/{key}/kit")
        page.get_by_role("button", name="Bring in a delivery note").click()
        dialog = page.get_by_role("dialog")
        text = "Lieferschein 7\nArtikel;Seriennr.;MAC-Adresse\nDome 4;LK9;02-1A-4B-00-09-01\nDome 4;;\nDome 4;LK8;nonsense\n"
        dialog.get_by_label("A file").set_input_files(
            {"name": "note.csv", "mimeType": "text/csv", "buffer": text.encode("cp1252")}
        )
        expect(dialog).to_contain_text("“nonsense” is not a hardware address")
        dialog.get_by_label("Place, where none stands").select_option("Pier")
        expect(dialog).to_contain_text("Larkmoor Dome 4 as cam-25 at Pier")
        dialog.get_by_role("button", name="Leave the 1 refused out").click()
        dialog.get_by_role("button", name="Bring in 2 rows").click()
        expect(dialog).to_have_count(0)
        expect(page.locator("footer")).to_contain_text("Read the label of cam-26")
        page.keyboard.press("Escape")
        page.evaluate("document.activeElement.blur()")
        page.keyboard.press("Space")
        for code in ("021A4B000901", "02-1A-4B-00-09-02", "LK10"):
            dialog.get_by_label("Scan or type a code").fill(code)
            page.keyboard.press("Enter")
            expect(dialog).to_contain_text("is on cam-25 already" if code.endswith("901") else "goes to cam-26")
            visit.saved()
        expect(dialog).to_contain_text("Every label is read")
        dialog.get_by_role("button", name="Close").click()
        page.get_by_label("Show only").fill("cam-26")
        expect(page.get_by_role("gridcell", name="Hardware address of cam-26:")).to_have_text("02:1a:4b:00:09:02")

    def test_a_model_is_written_changed_and_used(self) -> None:
        visit = Visit.start(self.browser, self.server)
        page = visit.go("/models")
        form = page.get_by_role("form", name="Add a model")
        form.get_by_label("Another model").fill("Tarn Owl 3")
        form.get_by_role("button").click()
        dialog = page.get_by_role("dialog")
        dialog.get_by_label("Factory address").fill("192.168.9.900")
        dialog.get_by_role("button", name="Keep it").click()
        expect(dialog).to_contain_text("'192.168.9.900' is not an IPv4 address")
        dialog.get_by_label("Factory address").fill("192.168.9.9")
        dialog.get_by_label("Addressing").select_option("fixed")
        dialog.get_by_role("button", name="Keep it").click()
        expect(dialog).to_contain_text("Say which family the model is of")
        dialog.get_by_label("Family").select_option("camera")
        dialog.get_by_label("Name of the model").fill("Owl 3")
        dialog.get_by_label("Maker").fill("Tarn")
        dialog.get_by_role("button", name="Keep it").click()
        expect(page.get_by_role("row", name="Tarn Owl 3 camera 192.168.9.9")).to_be_visible()
        visit.go(f"/sites/{self.ready('owls')}/kit")
        add = page.get_by_role("form", name="Write down a device")
        add.get_by_label("Model").select_option(label="Tarn Owl 3 (catalogue)")
        add.get_by_label("Name").fill("Night watch")
        add.get_by_role("button", name="Add it").click()
        page.get_by_label("Show only").fill("night")
        expect(page.get_by_role("gridcell", name="Model of Night watch:")).to_have_text("Tarn Owl 3")

    def test_the_survey_is_a_conversation_with_consequences(self) -> None:
        key = self.ready("asked")
        visit = Visit.start(self.browser, self.server)
        page = visit.go(f"/sites/{key}/survey")
        expect(page.locator("footer")).to_contain_text("Ask for the time source of Office")
        page.keyboard.press("Space")
        asked = page.get_by_role("form", name="Which clock may our devices in Office follow?")
        expect(asked).to_contain_text("footage proves nothing")
        asked.get_by_label("there is none").check()
        asked.get_by_role("button", name="Write it down").click()
        expect(page.locator("footer")).to_contain_text("Ask for the watts left for them")

        page.get_by_role("button", name="Which addresses of Security does the router lend out").click()
        asked = page.get_by_role("form", name="Which addresses of Security does the router lend out by itself?")
        asked.get_by_label("Lease pools").fill("10.62.8.50 up")
        expect(asked).to_contain_text("'10.62.8.50 up' is not a range")
        asked.get_by_label("Lease pools").fill("10.62.8.20–10.62.8.240")
        expect(asked).to_contain_text("36 fixed addresses wanted in Security (10.62.8.0/24), 24 free outside the pool.")
        page.reload()  # what was typed and not saved is still there
        expect(asked.get_by_label("Lease pools")).to_have_value("10.62.8.20–10.62.8.240")
        asked.get_by_label("Lease pools").fill("10.62.8.150–199")
        asked.get_by_label("Told by").fill("Ines Varga")
        asked.get_by_role("button", name="Write it down").click()
        expect(page.get_by_text("195 stay free for us; 36 are wanted.")).to_be_visible()
        with page.expect_download() as download:
            page.get_by_role("link", name="PDF").click()
        self.assertEqual(Path(download.value.path()).read_bytes()[:5], b"%PDF-")


class Views(Browsing):
    """Every view, empty and full: no axe violation, nothing in the console, no sideways scrolling."""

    def look(self, viewport: ViewportSize, dark: bool) -> None:
        key = self.ready("sound")
        Visit.start(self.browser, self.server).bring(self.file("empty.json", json.dumps(document())))
        visit = Visit.start(self.browser, self.server, viewport, dark)
        paths = [f"/sites/{key}/{stage}" for stage in ("survey", "kit", "bench")]
        paths += [f"/sites/{key}/addresses?device=cam-14", f"/sites/{key}/links?link=1"]
        paths += [f"/sites/{key}/proof?device=cam-14&check=clock"]
        paths += [f"/sites/{key}/survey?ask=power", f"/sites/{key}/kit?open=note", f"/sites/{key}/kit?open=labels"]
        paths += [] if dark else ["/", f"/sites/{key}/handover", "/sites/none", "/models", "/models?model=tarn-key-6"]
        paths += [] if dark else [f"/sites/halls/{stage}" for stage in ("kit", "links", "proof")]
        for path in paths:
            with self.subTest(path=path):
                visit.go(path)
                self.assertEqual(visit.violations(), [])
                wide = visit.page.evaluate("document.documentElement.scrollWidth - window.innerWidth")
                self.assertLessEqual(wide, 0, "the page scrolls sideways")
        self.assertEqual([said for said in visit.complaints if "404" not in said], [])


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
            ("links", "Hall 5 cam-00999: channel"),
            ("proof", "Hall 5 cam-00999, Clock is right"),
        ):
            visit.go(f"/sites/many-halls/{stage}")
            expect(page.get_by_role("button", name=shown)).to_have_count(1)
            wide = page.evaluate("document.documentElement.scrollWidth - window.innerWidth")
            self.assertLessEqual(wide, 0)
        self.assertEqual(visit.complaints, [])
