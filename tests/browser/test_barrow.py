"""At the barrow: a dead spot, two people on one load."""

from django.conf import settings
from django.test import Client
from playwright.sync_api import expect

from pelk.barrow.models import Tick
from pelk.barrow.services import make_batch
from pelk.cure.models import Reading
from pelk.yards.models import Membership, Yard
from tests.browser.base import BrowserTestCase
from tests.browser.keys import ByKeysAlone
from tests.factories import make_heap, make_recipe, make_user


class Barrow(ByKeysAlone, BrowserTestCase):
    worker = "allow"

    size = {"width": 390, "height": 844}

    def setUp(self):
        super().setUp()
        self.user = make_user()
        self.batch = make_batch(recipe=make_recipe(self.user), by=self.user)
        self.sign_in(self.user)
        self.page.goto(self.batch.get_absolute_url())

    def unexplained(self):
        """Leave out what a browser says of requests without signal: they are the test."""
        silent = (
            "INTERNET_DISCONNECTED",
            "CONNECTION_REFUSED",
            "409",
            "401",
            "htmx:sendError",
            "htmx:afterRequest",
        )
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
        expect(page.get_by_text("2 things you wrote are kept on this phone")).to_be_visible()
        expect(self.ticked()).to_have_count(2)
        self.assertEqual(Tick.objects.count(), 0)
        # The page opens again without signal, and still knows.
        page.reload()
        expect(self.ticked()).to_have_count(2)
        page.context.set_offline(False)
        expect(page.get_by_text("kept on this phone")).to_be_hidden(timeout=15_000)
        expect(self.ticked()).to_have_count(2)
        self.assertEqual(Tick.objects.count(), 2)

    def test_pressed_thrice_without_signal_is_one_tick(self):
        page = self.page
        page.context.set_offline(True)
        pick = page.locator("#card .picks button").nth(0)
        for _ in range(3):
            pick.click()
        expect(page.get_by_text("1 thing you wrote is kept on this phone")).to_be_visible()
        self.assertEqual(page.evaluate("outbox.kept().length"), 1)
        page.context.set_offline(False)
        expect(page.get_by_text("kept on this phone")).to_be_hidden(timeout=15_000)
        expect(self.ticked()).to_have_count(1)

    def test_a_reading_without_signal_waits_and_is_kept_once(self):
        heap = make_heap(self.user, days_old=5)
        page = self.page
        page.goto(heap.get_absolute_url().replace("barrow", "cure"))
        page.evaluate("navigator.serviceWorker.ready.then(() => true)")
        page.reload()
        page.context.set_offline(True)
        page.get_by_label("pH", exact=True).first.fill("6.2")
        page.locator("#reading-form button[type=submit], #reading-form .btn-go").last.click()
        expect(page.get_by_text("1 thing you wrote is kept on this phone")).to_be_visible()
        page.reload()
        expect(page.get_by_text("1 thing you wrote is kept on this phone")).to_be_visible()
        page.context.set_offline(False)
        expect(page.get_by_text("kept on this phone")).to_be_hidden(timeout=15_000)
        self.assertEqual([r.ph for r in Reading.objects.filter(batch=heap)], [6.2])

    def unreached(self):
        """Let the server answer nothing, on a network that the browser calls on line."""

        def refuse(route):
            route.abort("connectionrefused")

        self.page.route("**/*", refuse)
        return lambda: self.page.unroute("**/*", refuse)

    def written_unreached(self):
        """Write a reading of a heap while the server cannot be reached; return what ends that."""
        heap = make_heap(self.user, days_old=5)
        page = self.page
        page.goto(f"/cure/{heap.pk}/")
        back = self.unreached()
        self.assertTrue(page.evaluate("navigator.onLine"))
        page.get_by_label("pH", exact=True).first.fill("6.4")
        page.locator("#reading-form .btn-go").last.click()
        expect(page.get_by_text("1 thing you wrote is kept on this phone")).to_be_visible()
        self.assertFalse(Reading.objects.filter(batch=heap).exists())
        return heap, back

    def test_a_reading_waits_where_the_network_leads_nowhere(self):
        heap, back = self.written_unreached()
        back()
        expect(self.page.get_by_text("kept on this phone")).to_be_hidden(timeout=15_000)
        self.assertEqual([r.ph for r in Reading.objects.filter(batch=heap)], [6.4])
        # Reached again, it goes the usual way.
        self.page.get_by_label("pH", exact=True).first.fill("6.3")
        with self.page.expect_navigation():
            self.page.locator("#reading-form .btn-go").last.click()
        self.assertEqual(Reading.objects.filter(batch=heap).count(), 2)

    def test_what_waits_belongs_to_its_yard(self):
        heap, back = self.written_unreached()
        second = Yard.objects.create(name="Upper Steps")
        Membership.objects.create(user=self.user, yard=second)
        client = Client()
        cookies = {c["name"]: c["value"] for c in self.page.context.cookies()}
        client.cookies.load({settings.SESSION_COOKIE_NAME: cookies[settings.SESSION_COOKIE_NAME]})
        client.post("/yard/switch/", {"yard": second.pk})
        back()
        self.page.goto("/today/")
        expect(self.page.get_by_text("1 written in Lower Steps")).to_be_visible()
        expect(self.page.get_by_text("is gone")).to_be_hidden()
        self.assertFalse(Reading.objects.filter(batch=heap).exists())
        client.post("/yard/switch/", {"yard": heap.yard_id})
        self.page.goto("/today/")
        expect(self.page.get_by_text("written in Lower Steps")).to_be_hidden(timeout=15_000)
        expect(self.page.get_by_text("kept on this phone")).to_be_hidden(timeout=15_000)
        self.assertEqual([r.ph for r in Reading.objects.filter(batch=heap)], [6.4])

    def test_two_people_on_one_phone_neither_see_nor_send_what_is_the_others(self):
        page, card = self.page, self.live_server_url + self.batch.get_absolute_url()
        page.evaluate("navigator.serviceWorker.ready.then(() => true)")
        page.reload()
        page.context.set_offline(True)
        page.locator("#card .picks button").nth(0).click()
        expect(page.get_by_text("1 thing you wrote is kept on this phone")).to_be_visible()
        # Without signal the phone goes over to another hand; signed out, nothing is sent or lost.
        page.context.clear_cookies()
        with page.expect_response(lambda r: r.url.endswith("/tick/")) as refused:
            page.context.set_offline(False)
        self.assertEqual(refused.value.status, 409)
        expect(page.get_by_text("1 thing you wrote is kept on this phone")).to_be_visible()
        other = make_user("other@cove.example", "Cove")
        self.sign_in_by_hand(other)
        page.goto(self.live_server_url + "/today/")
        expect(page.get_by_text("kept on this phone")).to_be_hidden()
        page.context.set_offline(True)
        page.goto(card)
        expect(page.get_by_role("heading", name="No signal")).to_be_visible()
        self.assertEqual([t.by for t in Tick.objects.all()], [])
        # The first one is back: what they wrote is still there, and is sent.
        page.context.set_offline(False)
        page.context.clear_cookies()
        self.sign_in_by_hand(self.user)
        page.goto(card)
        expect(self.ticked()).to_have_count(1, timeout=15_000)
        expect(page.get_by_text("kept on this phone")).to_be_hidden(timeout=15_000)
        self.assertEqual(Tick.objects.get().by, self.user)

    def test_what_the_other_one_ticks_shows_up_by_itself(self):
        other = self.page.context.new_page()
        other.goto(self.batch.get_absolute_url())
        other.locator("#card .picks button").nth(0).click()
        expect(other.locator("#card .picks li.on")).to_have_count(1)
        expect(self.ticked()).to_have_count(1, timeout=20_000)
