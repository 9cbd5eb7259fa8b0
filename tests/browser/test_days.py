"""Days are typed in the yard's order, or chosen from the device's calendar."""

from playwright.sync_api import expect

from tests.browser.base import BrowserTestCase
from tests.factories import make_user, yard_of


class Days(BrowserTestCase):
    def setUp(self):
        super().setUp()
        self.user = make_user()
        self.sign_in(self.user)

    def test_a_day_half_typed_is_nothing_yet_and_left_it_is_told(self):
        page = self.page
        page.goto("/bench/new/")
        page.wait_for_load_state("networkidle")
        asked = []
        page.on("request", lambda request: asked.append(request.url))
        by = page.get_by_label("needed by", exact=True)
        says = page.locator(".day-field", has=by).locator(".day-says")
        by.press_sequentially("1/12/203")
        # Longer than the Bench waits for more typing.
        page.wait_for_timeout(600)
        self.assertEqual(asked, [])
        with page.expect_response("**/bench/new/"):
            by.press_sequentially("1")
        expect(says).to_have_text("Mon 1 Dec 2031")
        by.fill("1/13/2031")
        with page.expect_response("**/bench/new/"):
            by.blur()
        expect(page.locator("#ready-by-error")).to_contain_text("Enter a day, such as")
        expect(by).to_have_value("1/13/2031")
        expect(by).to_have_attribute("aria-invalid", "true")
        expect(says).to_be_empty()

    def test_the_calendar_types_in_the_order_of_the_yard(self):
        yard = yard_of(self.user)
        for region, typed in (("GB", "05/03/2031"), ("US", "03/05/2031")):
            yard.region = region
            yard.save()
            self.page.goto("/bench/new/")
            by = self.page.get_by_label("needed by", exact=True)
            around = self.page.locator(".day-field", has=by)
            around.get_by_role("button", name="Calendar: needed by").click()
            # The calendar is the browser's own window: what it does is write into its field.
            with self.page.expect_response("**/bench/new/"):
                around.locator("[type=date]").fill("2031-03-05")
            expect(by).to_have_value(typed)
            expect(around.locator(".day-says")).to_contain_text("2031")
