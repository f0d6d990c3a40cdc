"""Passwords, clocks, ports and the page of one device, as a technician uses them."""

import re

from playwright.sync_api import Page, expect

from tests.browser.base import Browsing
from tests.browser.driving import Visit
from tests.samples import demo


def page_state(page: Page) -> str:
    """Return everything that the page keeps: what it shows, stores, and has in its address."""
    stored = page.evaluate(
        "JSON.stringify([localStorage, sessionStorage, document.cookie, location.href, history.state])"
    )
    return str(stored) + page.content()


class Passwords(Browsing):
    def test_one_is_made_shown_hidden_changed_and_told(self) -> None:
        key = self.ready("words")
        visit = Visit.start(self.browser, self.server)
        page = visit.go(f"/sites/{key}/devices/cam-03")
        page.get_by_role("button", name="Make Login for recorders and desks").click()
        shown = page.locator("[data-secret=shown]")
        expect(shown).to_have_text(re.compile(r"^\S{12}$"))
        secret = shown.inner_text()
        page.get_by_role("button", name="Hide Login for recorders and desks").click()
        expect(shown).to_have_count(0)
        self.assertNotIn(secret, page_state(page))
        page.reload()
        page.get_by_role("button", name="Show Login for recorders and desks").click()
        expect(shown).to_have_text(secret)

        page.get_by_role("button", name="Make Administrator password").click()  # one at a time
        expect(page.get_by_role("button", name="Hide Administrator password")).to_be_visible()
        expect(shown).to_have_count(1)

        # changed: the recorder that logs in with it stays open until it is ticked
        page.get_by_role("button", name="Change Login for recorders and desks").click()
        form = page.get_by_role("form", name="Login for recorders and desks")
        form.get_by_label("New login for recorders and desks").fill("vole")
        expect(form).to_contain_text("at least 8 are wanted")
        expect(form.get_by_role("button", name="Save")).to_be_disabled()
        form.get_by_label("New login for recorders and desks").fill("Vole-77-marsh")
        expect(form).to_contain_text("guesses for 13 characters")
        self.assertNotIn("Vole-77", page.evaluate("JSON.stringify(localStorage)"))
        form.get_by_role("button", name="Save").click()
        told = page.get_by_role("region", name="To be told")
        expect(told).to_contain_text("Recorder quay records Ticket hall tills on channel 3")
        visit.go(f"/sites/{key}/settings")
        expect(page.locator("footer")).to_contain_text("Recorder quay records Ticket hall tills")
        self.assertEqual(visit.violations(), [])
        page.get_by_role("button", name="Typed there: Recorder quay").click()
        expect(page.get_by_role("region", name="To be told")).to_have_count(0)
        expect(page.locator("footer")).to_contain_text("38 of 39 devices have no administrator password")
        page.get_by_role("radio", name="One password per family").click()
        expect(page.get_by_role("radio", name="One password per family")).to_be_checked()
        visit.saved()
        expect(page.get_by_role("region", name="Rules that conflict")).to_have_count(0)
        visit.go(f"/sites/{key}/handover")
        page.get_by_label("Search the log").fill("shown")
        expect(page.get_by_text("Login for recorders and desks of Ticket hall tills shown.")).to_have_count(2)

    def test_refused_passwords_stop_before_the_lock_out(self) -> None:
        key = self.ready("tries")
        page = Visit.start(self.browser, self.server).go(f"/sites/{key}/devices/cam-03")
        for said in ("1 password was refused", "Stop: 2 passwords were refused"):
            page.get_by_role("button", name="It refused the password").click()
            expect(page.get_by_role("region", name="What its passwords must be")).to_contain_text(said)
        page.get_by_role("button", name="It took it").click()
        expect(page.get_by_role("button", name="It took it")).to_have_count(0)


class ClocksAndPorts(Browsing):
    def test_a_clock_is_looked_at_and_the_finding_is_there_at_once(self) -> None:
        key = self.ready("clocks")
        visit = Visit.start(self.browser, self.server)
        page = visit.go(f"/sites/{key}/settings?part=clocks")
        expect(page.get_by_text("Office should follow it too")).to_be_visible()
        page.get_by_role("button", name="Look at the clock of Alarm hub").click()
        form = page.get_by_role("form", name="Clock of Alarm hub")
        form.get_by_label("What it shows now").fill("01/01/2000 00:03:00")
        expect(form).to_contain_text("this clock was never set")
        form.get_by_label("What it shows now").fill("soon")
        expect(form).to_contain_text("'soon' is no time")
        form.get_by_role("button", name="It shows the same as here").click()
        expect(form).to_contain_text("Right:")
        self.assertEqual(visit.violations(), [])
        form.get_by_role("button", name="Save this reading").click()
        row = page.get_by_role("list", name="Clocks by device").get_by_role("listitem").filter(has_text="Alarm hub")
        expect(row).to_contain_text("a second look tells how it drifts")
        with page.expect_download() as download:
            page.get_by_role("link", name="Into the calendar").click()
        self.assertTrue(download.value.suggested_filename.endswith("-clocks.ics"))

    def test_a_port_is_changed_and_the_values_follow(self) -> None:
        key = self.ready("ports")
        visit = Visit.start(self.browser, self.server)
        page = visit.go(f"/sites/{key}/devices/cam-03")
        form = page.get_by_role("region", name="Its ports")
        form.get_by_label("Streams").fill("99999")
        expect(form).to_contain_text("“99999” is no port")
        form.get_by_label("Streams").fill("8554")
        expect(form).to_contain_text("Then it must be typed into Recorder quay too")
        form.get_by_role("button", name="Change the port").click()
        expect(page.get_by_role("region", name="To be told")).to_contain_text("type port 8554")
        ports = page.get_by_role("region", name="Ports", exact=True)
        expect(ports).to_contain_text("8554")
        page.get_by_role("button", name="All of Ports typed").click()
        expect(ports.get_by_role("button", pressed=True)).to_have_count(4)
        page.get_by_role("button", name="Why Streams (RTSP)").click()
        expect(ports).to_contain_text("Changed here, usually 554. Told: Recorder quay.")
        page.reload()
        expect(ports.get_by_role("button", pressed=True)).to_have_count(4)

    def test_a_forwarded_port_needs_a_name_and_a_reason(self) -> None:
        raw = demo()
        raw["site"]["key"] = "outside"
        raw["internet"]["outside_address"] = "203.0.113.9"
        visit = Visit.start(self.browser, self.server)
        visit.store(raw)
        page = visit.go("/sites/outside/settings?part=ports")
        page.get_by_role("button", name="Write down a forwarded port").click()
        form = page.get_by_role("form", name="A forwarded port")
        form.get_by_label("Device").select_option("rec-1")
        form.get_by_label("Service").select_option("stream")
        form.get_by_label("Outside port").fill("443")
        form.get_by_label("Why it is needed").fill("The harbour office has no VPN yet")
        form.get_by_label("Decided by").fill("Sorrel Quay")
        self.assertEqual(visit.violations(), [])
        form.get_by_role("button", name="Write it down").click()
        expect(form.get_by_role("alert")).to_contain_text("The outside port 443 is the router's own")
        form.get_by_label("Outside port").fill("9554")
        form.get_by_role("button", name="Write it down").click()
        expect(page.get_by_role("region", name="From outside")).to_contain_text("Decided by Sorrel Quay")
        page.get_by_role("button", name="Take back port 9554").click()
        expect(page.get_by_text("Decided by Sorrel Quay")).to_have_count(0)


class AtTheBench(Browsing):
    def test_a_password_is_made_shown_and_typed_while_the_device_waits(self) -> None:
        key = self.ready("bench-words", ports=1)
        visit = Visit.start(self.browser, self.server)
        page = visit.go(f"/sites/{key}/bench")
        footer = page.locator("footer")
        visit.start_the_run()
        for number in (1, 2):
            visit.at_step(number)
            page.get_by_role("button", name="All of").first.click()
            page.evaluate("document.activeElement.blur()")
            expect(footer.get_by_role("button", name="Done")).to_be_enabled()
            page.keyboard.press("Space")
        visit.at_step(3)
        for _ in range(2):  # factory address and user
            page.keyboard.press("Space")
        expect(footer).to_contain_text("The administrator password is not saved yet")
        page.keyboard.press("Space")
        page.get_by_role("button", name="Show Administrator password").click()
        shown = page.locator("[data-secret=shown]")
        expect(shown).to_have_text(re.compile(r"^\S{12}$"))
        page.evaluate("document.activeElement.blur()")
        page.keyboard.press("Space")
        expect(footer).to_contain_text("The recovery address is not saved yet")
        page.keyboard.press("Space")
        leave = page.get_by_role("form", name="Leave Recovery address open")
        leave.get_by_label("Why it is left open").fill("The customer has no mailbox for it")
        self.assertEqual(visit.violations(), [])
        leave.get_by_role("button", name="Leave it open").click()
        expect(footer).to_contain_text("The recovery address is left open")

        # somebody else changes it meanwhile: neither overwrites the other, and the old tick no longer counts
        other = Visit.start(self.browser, self.server).go(f"/sites/{key}/devices/cam-01")
        other.get_by_role("button", name="Change Administrator password").click()
        form = other.get_by_role("form", name="Administrator password")
        form.get_by_label("New administrator password").fill("Heron-58-weir")
        page.get_by_role("button", name="Change Administrator password").click()
        mine = page.get_by_role("form", name="Administrator password")
        mine.get_by_label("New administrator password").fill("Otter-31-creek")
        form.get_by_role("button", name="Save").click()
        expect(form).to_have_count(0)
        mine.get_by_role("button", name="Save").click()
        expect(mine).to_contain_text("changed by somebody else meanwhile")
        mine.get_by_role("button", name="Leave it").click()
        expect(page.get_by_role("button", name="Administrator password done")).to_have_attribute(
            "aria-pressed", "false"
        )
