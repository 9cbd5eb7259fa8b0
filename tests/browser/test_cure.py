"""Cure by hand: an odd reading, a pen on the wire, what is due, a practice heap."""

from threading import Thread

from django.test import override_settings
from playwright.sync_api import expect

from pelk.cure.devices.standins import DeviceServer, Pen
from pelk.cure.models import Reading
from tests.browser.base import BrowserTestCase
from tests.browser.keys import ByKeysAlone
from tests.factories import PNG, make_heap, make_user


class Cure(ByKeysAlone, BrowserTestCase):
    def setUp(self):
        super().setUp()
        self.user = make_user()
        self.heap = make_heap(self.user, days_old=8)
        self.sign_in(self.user)
        self.page.goto(f"/cure/{self.heap.pk}/")

    def test_an_odd_reading_is_asked_about_before_it_is_kept(self):
        page = self.page
        page.get_by_label("pH", exact=True).fill("9,2")
        page.get_by_role("button", name="Save reading").click()
        expect(page.get_by_text("Please check")).to_be_visible()
        expect(page.get_by_label("pH", exact=True)).to_have_value("9,2")
        page.get_by_label("I read it again and it is right").check()
        page.get_by_role("button", name="Save reading").click()
        expect(page.get_by_text("1 in all")).to_be_visible()
        page.get_by_role("link", name="Correct the reading").click()
        page.get_by_label("pH", exact=True).fill("6.2")
        page.get_by_role("button", name="Save reading").click()
        page.get_by_text("1 struck out or corrected").click()
        expect(page.get_by_text("corrected to pH 6.2")).to_be_visible()

    def test_a_pen_on_the_wire_is_read_into_the_form(self):
        page = self.page
        server = DeviceServer(Pen(seed=1, battery=0.12), 0)
        Thread(target=server.serve_forever, daemon=True).start()
        self.addCleanup(server.server_close)
        self.addCleanup(server.shutdown)
        address = f"127.0.0.1:{server.server_address[1]}"
        with override_settings(PELK_PEN=address):
            page.get_by_role("button", name="Get a pen reading").click()
            expect(page.get_by_text("The battery is at 12%")).to_be_visible()
        self.assertTrue(page.get_by_label("pH", exact=True).input_value())
        with page.expect_navigation():
            page.get_by_role("button", name="Save reading").click()
        if page.get_by_text("Please check").count():
            page.get_by_label("I read it again and it is right").check()
            page.get_by_role("button", name="Save reading").click()
        expect(page.get_by_text("1 in all")).to_be_visible()
        self.assertEqual(Reading.objects.get().method, "pen")

    def test_what_is_due_is_done_with_one_tap_and_a_picture_is_kept(self):
        page = self.page
        hot = [{"material": "blood-meal", "amount": 3, "unit": "g/L"}]
        make_heap(self.user, days_old=8, doses=hot)
        page.get_by_role("link", name="Today", exact=True).click()
        turn = page.get_by_role("button", name="Done: Turn it")
        expect(turn).to_have_count(1)
        turn.click()
        expect(turn).to_have_count(0)
        page.goto(f"/cure/{self.heap.pk}/photos/")
        picture = {"name": "heap.png", "mimeType": "image/png", "buffer": PNG}
        page.get_by_label("picture").set_input_files(picture)
        page.get_by_label("what it shows").fill("week two")
        page.get_by_role("button", name="Save photo").click()
        expect(page.locator(".photos img")).to_have_count(1)

    def test_a_practice_heap_hides_its_truth_until_it_is_planted(self):
        page = self.page
        page.get_by_role("link", name="Practice").click()
        page.get_by_role("link", name="The bed table").click()
        page.get_by_label("Elemental sulfur").fill("0.1")
        page.get_by_role("button", name="Mix it").click()
        page.get_by_role("button", name="Wait 30 days").click()
        page.get_by_role("button", name="Read the pH").click()
        expect(page.locator("circle.pt")).to_have_count(1)
        expect(page.locator("path.curve")).to_have_count(0)
        page.get_by_role("link", name="Show the forecast").click()
        expect(page.locator("path.curve")).to_have_count(1)
        page.get_by_role("button", name="Plant it now").click()
        expect(page.get_by_text("growth lost")).to_be_visible()
