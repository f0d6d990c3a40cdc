"""Who works here, in the browser: invited by a link, seeing his sites only, with a reason for each secret."""

import time
from base64 import b32decode

from cryptography.hazmat.primitives.hashes import SHA1
from cryptography.hazmat.primitives.twofactor.totp import TOTP
from playwright.sync_api import Page, expect

from tests.browser.base import Browsing
from tests.browser.driving import DESK, PHONE, Visit


class People(Browsing):
    def come(self, link: str, name: str) -> Visit:
        """Take an invitation in a browser of one's own."""
        page = self.browser.new_context(viewport=DESK, reduced_motion="reduce").new_page()
        visit = Visit(page, self.server)
        page.goto(link)
        expect(page.get_by_text("You are invited as")).to_be_visible()
        self.assertEqual(visit.violations(), [])
        page.get_by_label("Name").fill(name)
        page.get_by_label("Password").fill("Fen-Lantern-27")
        page.get_by_role("button", name="Make the account").click()
        page.get_by_role("heading", name="Sites").wait_for()
        return visit

    def invite(self, page: Page, role: str, site: str = "") -> str:
        form = page.get_by_role("form", name="Invite somebody")
        form.get_by_label("role").select_option(role)
        if site:
            form.get_by_label(site).check()
        form.get_by_role("button", name="Make the link").click()
        link = form.get_by_role("status").locator("p.font-mono")
        expect(link).to_contain_text("invite=")
        return link.inner_text()

    def test_a_technician_and_support_come_by_a_link_and_do_what_they_may(self) -> None:
        owner = Visit.start(self.browser, self.server)
        page = owner.go("/people")
        link = self.invite(page, "technician", "Larch Court")
        expect(page.get_by_text("Links that nobody used yet")).to_be_visible()
        self.assertEqual(owner.violations(), [])
        technician = self.come(link, "Mara Quist")
        expect(technician.page.get_by_role("link", name="Larch Court")).to_be_visible()
        expect(technician.page.get_by_role("link", name="Brackwater")).to_have_count(0)
        expect(technician.page.get_by_text("To begin, import or remove a site, ask an owner or a lead")).to_be_visible()
        technician.go("/sites/larch-court/leaving")
        expect(technician.page.get_by_text("To sign it off, ask an owner or a lead")).to_be_visible()
        technician.page.goto(f"{self.server.address}/sites/brackwater/kit")
        expect(technician.page.get_by_role("alert")).to_contain_text("There is no site 'brackwater' among yours.")

        page = owner.go("/people")
        support = self.come(self.invite(page, "support"), "Odile")
        support.go("/sites/larch-court/kit")
        expect(support.page.get_by_text("view only", exact=True)).to_be_visible()
        footer = support.go("/sites/brackwater/bench").locator("footer")
        expect(footer).to_contain_text("View only")
        expect(footer.get_by_role("button")).to_have_count(0)
        support.page.get_by_text("What stands at the bench").click()
        expect(support.page.get_by_text("your account is the support desk's")).to_be_visible()
        expect(support.page.get_by_label("Firmware is updated at the bench")).to_be_disabled()

        page = owner.load("/people")
        page.get_by_role("button", name="Change: Mara Quist").click()
        page.get_by_role("button", name="Shut the account").click()
        expect(page.get_by_role("listitem").filter(has_text="Mara Quist")).to_contain_text("shut")
        technician.page.reload()
        technician.page.get_by_role("button", name="Sign in").wait_for()

    def test_a_second_factor_is_switched_on_and_asked_for_on_the_phone(self) -> None:
        owner = Visit.start(self.browser, self.server)
        ines = self.come(self.invite(owner.go("/people"), "lead"), "Ines Holm")
        page = ines.page
        page.get_by_role("button", name="Ines Holm").click()
        page.get_by_text("Second factor: off").click()
        page.get_by_label("your password").fill("Fen-Lantern-27")
        page.get_by_role("button", name="Set it up").click()
        secret = page.locator("form p.font-mono").inner_text()
        app = TOTP(b32decode(secret), 6, SHA1(), 30)
        page.get_by_label("code of the app").fill(app.generate(time.time()).decode())
        page.get_by_role("button", name="Switch it on").click()
        recovery = page.get_by_role("status").locator("li").first.inner_text()
        self.assertEqual(ines.violations(), [])
        page.get_by_role("button", name="I have them").click()
        expect(page.get_by_text("Second factor: on")).to_be_visible()

        phone = self.browser.new_context(viewport=PHONE, reduced_motion="reduce").new_page()
        phone.goto(f"{self.server.address}/")
        phone.get_by_label("Name").fill("Ines Holm")
        phone.get_by_label("Password").fill("Fen-Lantern-27")
        phone.get_by_role("button", name="Sign in").click()
        code = phone.get_by_label("Code of your authenticator app")
        code.fill("000000")
        phone.get_by_role("button", name="Sign in").click()
        expect(phone.get_by_role("alert")).to_contain_text("not the one of now")
        code.fill(recovery)
        phone.get_by_role("button", name="Sign in").click()
        phone.get_by_role("heading", name="Sites").wait_for()
