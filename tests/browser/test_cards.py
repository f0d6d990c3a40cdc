"""Job cards and questions to others in the browser: ticked where the work is, at the desk and on the phone."""

import re

from playwright.sync_api import Route, expect

from tests.browser.base import Browsing
from tests.browser.driving import PHONE, Visit
from tests.server.test_kept_safe import picture


class Cards(Browsing):
    def test_a_card_is_ticked_with_what_it_wants_and_goes_to_the_next(self) -> None:
        key = self.ready("carded")
        visit = Visit.start(self.browser, self.server)
        page = visit.go(f"/sites/{key}/cards?part=mounting&of=cam-01")
        card = page.get_by_role("region", name="The card")
        card.get_by_label("screws in").fill("3")
        card.get_by_label("of how many").fill("4")
        done = card.get_by_role("button", name="Done: All screws")
        done.click()
        expect(page.get_by_role("alert")).to_contain_text("3 of 4: 1 missing. Put it right, or say why it stays so.")
        card.get_by_label("screws in").fill("4")
        done.click()
        expect(card.get_by_text("1 settled")).to_be_visible()
        card.get_by_role("button", name="Later: Film off").click()
        card.get_by_label("what is left").fill("painters are there")
        card.get_by_role("button", name="Left to be done: Film off").click()
        expect(card).to_contain_text("Left to be done: painters are there")
        page.keyboard.press("n")
        expect(card.get_by_role("heading")).not_to_contain_text("Ticket hall east")
        self.assertEqual(visit.violations(), [])
        page = visit.go(f"/sites/{key}/leaving")
        expect(page.get_by_text("painters are there").first).to_be_visible()

    def test_on_the_phone_a_label_is_photographed_at_the_bench_page_of_the_device(self) -> None:
        key = self.ready("carded-phone")
        photo = self.folder / "label.jpg"
        photo.write_bytes(picture())
        phone = Visit.start(self.browser, self.server, PHONE, dark=True)
        page = phone.go(f"/sites/{key}/devices/cam-02")
        page.get_by_text("Its job card").click()
        page.get_by_label("photograph", exact=True).set_input_files(str(photo))
        page.get_by_role("button", name="Done: Label photographed").click()
        page.get_by_role("link", name="Its whole card").click()
        page.get_by_label("part of the work").select_option("unpacking")
        page.get_by_label("card", exact=True).select_option("cam-02")
        page.get_by_text("1 settled").click()
        expect(page.get_by_role("link", name="Photograph")).to_be_visible()
        self.assertEqual(phone.violations(), [])

        # another part is still on its way when the card is chosen: it stays the part that was chosen
        late: list[Route] = []

        def hold(route: Route) -> None:
            late.append(route)

        page.route("**/cards?phase=mounting", hold)
        with page.expect_request("**/cards?phase=mounting"):
            page.get_by_label("part of the work").select_option("mounting")
        page.get_by_label("card", exact=True).select_option("cam-02")
        for route in late:
            route.continue_()
        page.unroute_all()
        expect(page).to_have_url(re.compile("part=mounting&of=cam-02"))
        expect(page.get_by_label("part of the work")).to_have_value("mounting")

    def test_a_question_is_asked_answered_and_a_firm_leaves_an_item_out(self) -> None:
        key = self.ready("asking")
        visit = Visit.start(self.browser, self.server)
        page = visit.go(f"/sites/{key}/asked")
        page.get_by_role("button", name="Take up: Where may be drilled").click()
        page.get_by_label("who there").fill("Ada Brenn")
        page.get_by_role("button", name="Asked today: Where may be drilled").click()
        expect(page.locator("footer")).to_contain_text("it holds up mounting")
        page.get_by_label("answer of Ada Brenn").fill("Nowhere in the hall")
        page.get_by_role("button", name="Answered: Where may be drilled").click()
        expect(page.locator("footer")).to_contain_text("Every question is answered")
        self.assertEqual(visit.violations(), [])
        page = visit.go("/cards")
        page.get_by_label("Show only").fill("rack ears")
        page.get_by_role("button", name="Do not use: Rack ears").click()
        expect(page.get_by_role("button", name="Use again: Rack ears")).to_be_visible()
        self.assertEqual(visit.violations(), [])
        page.get_by_role("button", name="Use again: Rack ears").click()
        expect(page.get_by_role("button", name="Do not use: Rack ears")).to_be_visible()
