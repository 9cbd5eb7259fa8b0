"""At the barrow: a dead spot, two people on one load."""

from playwright.sync_api import expect

from pelk.barrow.models import Tick
from pelk.barrow.services import make_batch
from tests.browser.base import BrowserTestCase
from tests.factories import make_recipe, make_user


class Barrow(BrowserTestCase):
    size = {"width": 390, "height": 844}

    def setUp(self):
        super().setUp()
        self.user = make_user()
        self.batch = make_batch(recipe=make_recipe(self.user), by=self.user)
        self.sign_in(self.user)
        self.page.goto(self.batch.get_absolute_url())

    def unexplained(self):
        """Leave out what a browser says of requests without signal: they are the test."""
        silent = ("INTERNET_DISCONNECTED", "htmx:sendError", "htmx:afterRequest")
        return [t for t in super().unexplained() if not any(word in t for word in silent)]

    def ticked(self):
        return self.page.locator("#card .picks li.on")

    def test_ticks_in_a_dead_spot_are_kept_shown_and_sent(self):
        page = self.page
        page.evaluate("navigator.serviceWorker.ready.then(() => true)")
        page.reload()
        page.context.set_offline(True)
        picks = page.locator("#card .picks button")
        picks.nth(0).click()
        picks.nth(1).click()
        expect(page.get_by_text("2 ticks are kept on this phone")).to_be_visible()
        expect(self.ticked()).to_have_count(2)
        self.assertEqual(Tick.objects.count(), 0)
        # The page opens again without signal, and still knows.
        page.reload()
        expect(self.ticked()).to_have_count(2)
        page.context.set_offline(False)
        expect(page.get_by_text("kept on this phone")).to_be_hidden(timeout=15_000)
        expect(self.ticked()).to_have_count(2)
        self.assertEqual(Tick.objects.count(), 2)

    def test_what_the_other_one_ticks_shows_up_by_itself(self):
        other = self.page.context.new_page()
        other.goto(self.batch.get_absolute_url())
        other.locator("#card .picks button").nth(0).click()
        expect(other.locator("#card .picks li.on")).to_have_count(1)
        expect(self.ticked()).to_have_count(1, timeout=20_000)
