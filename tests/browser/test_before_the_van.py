"""What happens before the van leaves, in a real browser: survey, kit, labels, models, addresses, renumbering."""

from pathlib import Path

from playwright.sync_api import Locator, expect

from tests.browser.base import Browsing
from tests.browser.driving import Visit


class Settling(Browsing):
    """What happens before the van leaves: addresses moved, renumbered and compared, a new site begun."""

    def test_a_device_is_moved_by_hand_kept_ranges_and_ways_of_addressing(self) -> None:
        key = self.ready("moves")
        visit = Visit.start(self.browser, self.server)
        page = visit.go(f"/sites/{key}/addresses")
        page.keyboard.press("Space")
        expect(page.locator("footer")).to_contain_text("Every device has its address")
        visit.go(f"/sites/{key}/addresses?device=cam-14")
        slip = page.get_by_role("complementary", name="Selected address")
        page.keyboard.press("m")
        page.get_by_role("gridcell", name="10.62.8.160: DHCP pool").click()
        expect(slip).to_contain_text("inside the DHCP pool 10.62.8.150–10.62.8.199")
        page.get_by_role("gridcell", name="10.62.8.135: free").click()
        expect(slip).to_contain_text("10.62.8.135 is free for Car lanes lane 2.")  # no longer what the pool would mean
        expect(slip).to_contain_text("address of the camera on channel 3 in Recorder hall")
        slip.get_by_role("button", name="Move it", exact=True).click()
        expect(page.get_by_role("gridcell", name="10.62.8.135: Car lanes lane 2, planned")).to_be_visible()

        # dragged to another cell: only proposed
        visit.quiet()  # what is still on the way may move the cells
        source = page.get_by_role("gridcell", name="10.62.8.135: Car lanes lane 2").bounding_box()
        target = page.get_by_role("gridcell", name="10.62.8.137: free").bounding_box()
        assert source and target
        page.mouse.move(source["x"] + 8, source["y"] + 8)
        page.mouse.down()
        page.mouse.move(target["x"] + 8, target["y"] + 8, steps=4)
        page.mouse.up()
        expect(slip.get_by_label("New address")).to_have_value("10.62.8.137")
        expect(slip).to_contain_text("10.62.8.137 is free for Car lanes lane 2.")  # the buttons stand below it
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

    def test_the_site_has_its_own_rules_for_the_plan(self) -> None:
        key = self.ready("own-rules")
        visit = Visit.start(self.browser, self.server)
        page = visit.go(f"/sites/{key}/addresses")
        page.get_by_role("button", name="Rules of the plan").click()
        dialog = page.get_by_role("dialog")
        dialog.get_by_label("Own blocks").fill("camera from 20")
        dialog.get_by_role("button", name="Save these rules").click()
        expect(dialog).to_contain_text("“camera from 20” is no block")
        dialog.get_by_label("Own blocks").fill("spaceship 20–29")
        dialog.get_by_role("button", name="Save these rules").click()
        expect(dialog).to_contain_text("'spaceship' is not one of")
        dialog.get_by_label("Own blocks").fill("recorder 211–219")
        dialog.get_by_label("follows its channel").check()
        self.assertEqual(visit.violations(), [])
        dialog.get_by_role("button", name="Save these rules").click()
        expect(dialog).to_have_count(0)
        expect(page.get_by_role("gridcell", name="10.62.8.211: Recorder quay, planned")).to_be_visible()
        page.get_by_role("gridcell", name="10.62.8.101: Ticket hall east, planned").click()
        expect(page.get_by_role("complementary", name="Selected address")).to_contain_text(
            "Channel 1 of Recorder quay: 100 + 1"
        )

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
        page = visit.go("/")
        form = page.get_by_role("form", name="Start a new site")
        form.get_by_label("A new site").fill("Old Mill")
        form.get_by_role("button").click()
        page.wait_for_url("**/sites/old-mill/survey")
        add = page.get_by_role("form", name="Another network")
        add.get_by_label("What people call the network").fill("Mill")
        add.get_by_label("Its range").fill("10.5.5.0/24")
        add.get_by_role("button", name="Add it").click()
        expect(page.get_by_role("button", name="Which addresses of Mill are the DHCP pool")).to_be_visible()

        key = self.ready("way-back", ports=1)
        visit.go(f"/sites/{key}/bench")
        visit.start_the_run()
        done = page.locator("footer").get_by_role("button", name="Done")
        page.keyboard.press("Space")  # plug in: its three values at once, and then the step itself
        expect(done).to_be_enabled()
        page.keyboard.press("Space")
        step = visit.step
        visit.at_step(2)
        visit.load(f"/sites/{key}/bench")
        page.get_by_label("Kind of laptop").select_option("windows")
        expect(step).to_contain_text(
            'netsh interface ipv4 set address name="Ethernet" static 192.168.64.9 255.255.255.0'
        )
        page.keyboard.press("Space")
        expect(done).to_be_enabled()
        page.keyboard.press("Space")
        visit.at_step(3)
        visit.go(f"/sites/{key}/survey")
        page.get_by_role("button", name="Laptop fixed at").click()
        expect(page.get_by_text('set address name="Ethernet" dhcp')).to_be_visible()


class Boxes(Browsing):
    """The kit and the survey: typed, brought in, scanned, asked."""

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
        page.get_by_role("button", name="Import a delivery note").click()
        dialog = page.get_by_role("dialog")
        text = "Lieferschein 7\nArtikel;Seriennr.;MAC-Adresse\nDome 4;LK9;02-1A-4B-00-09-01\nDome 4;;\nDome 4;LK8;nonsense\n"
        dialog.get_by_label("A file").set_input_files(
            {"name": "note.csv", "mimeType": "text/csv", "buffer": text.encode("cp1252")}
        )
        expect(dialog).to_contain_text("“nonsense” is not a hardware address")
        dialog.get_by_label("Place, where none stands").select_option("Pier")
        expect(dialog).to_contain_text("Larkmoor Dome 4 as cam-25 at Pier")
        dialog.get_by_role("button", name="Leave the 1 refused out").click()
        dialog.get_by_role("button", name="Import 2 rows").click()
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
        expect(dialog).to_contain_text("All labels are scanned")
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
        dialog.get_by_role("button", name="Save").click()
        expect(dialog).to_contain_text("'192.168.9.900' is not an IPv4 address")
        dialog.get_by_label("Factory address").fill("192.168.9.9")
        dialog.get_by_label("Addressing").select_option("fixed")
        dialog.get_by_role("button", name="Save").click()
        expect(dialog).to_contain_text("Say which family the model is of")
        dialog.get_by_label("Family").select_option("camera")
        dialog.get_by_label("Name of the model").fill("Owl 3")
        dialog.get_by_label("Maker", exact=True).fill("Tarn")
        dialog.get_by_role("button", name="Save").click()
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
        expect(page.locator("footer")).to_contain_text("Ask for the time server of Office")
        page.keyboard.press("Space")
        asked = page.get_by_role("form", name="Which time server do our devices in Office use?")
        expect(asked).to_contain_text("footage proves nothing")
        asked.get_by_label("there is none").check()
        asked.get_by_role("button", name="Write it down").click()
        expect(page.locator("footer")).to_contain_text("Ask for the watts left for them")
        visit.saved()

        page.get_by_role("button", name="Which addresses of Security are the DHCP pool").click()
        asked = page.get_by_role("form", name="Which addresses of Security are the DHCP pool?")
        asked.get_by_label("DHCP pools").fill("10.62.8.50 up")
        expect(asked).to_contain_text("'10.62.8.50 up' is not a range")
        asked.get_by_label("DHCP pools").fill("10.62.8.20–10.62.8.240")
        expect(asked).to_contain_text("36 fixed addresses wanted in Security (10.62.8.0/24), 24 free outside the pool.")
        page.reload()  # what was typed and not saved is still there
        expect(asked.get_by_label("DHCP pools")).to_have_value("10.62.8.20–10.62.8.240")
        asked.get_by_label("DHCP pools").fill("10.62.8.150–199")
        asked.get_by_label("Told by").fill("Ines Varga")
        asked.get_by_role("button", name="Write it down").click()
        expect(page.get_by_text("195 stay free for us; 36 are wanted.")).to_be_visible()
        with page.expect_download() as download:
            page.get_by_role("link", name="PDF").click()
        self.assertEqual(Path(download.value.path()).read_bytes()[:5], b"%PDF-")
