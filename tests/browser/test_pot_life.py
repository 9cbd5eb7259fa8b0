"""One tub from spring to autumn, by hand: planted, fed, read, picked, a wrong feed undone."""

from datetime import timedelta

from django.utils import timezone
from playwright.sync_api import expect

from pelk.pots.models import PotGroup
from pelk.soils.models import SoilEvent
from tests.browser.base import BrowserTestCase
from tests.browser.keys import ByKeysAlone
from tests.factories import make_recipe, make_user

BULK = [
    {"material": "sphagnum-peat-light", "parts": 6},
    {"material": "yard-compost", "parts": 2},
    {"material": "perlite", "parts": 2},
]
LIMED = [{"material": "lime-dolomitic-ground", "amount": 3, "unit": "g/L"}]


class TubJourney:
    def setUp(self):
        super().setUp()
        self.user = make_user()
        self.recipe = make_recipe(
            self.user, name="Tub mix", bulk=BULK, doses=LIMED, crop="fruiting"
        )
        self.sign_in(self.user)

    def ago(self, days):
        return (timezone.localdate() - timedelta(days=days)).isoformat()

    def write(self, kind, days, label="", said=""):
        page = self.page
        page.locator("#write summary").click()
        page.get_by_label("What", exact=True).select_option(kind)
        page.locator("#write [name=on]").fill(self.ago(days))
        if label:
            page.locator("#write").get_by_label(label).fill(said)
        page.locator("#write").get_by_role("button", name="Save entry").click()
        page.wait_for_load_state()

    def give(self, said, days):
        page = self.page
        page.get_by_role("link", name="I fed").click()
        page.get_by_label("what and how much, as you say it").fill(said)
        page.get_by_label("Date (blank: today)").fill(self.ago(days))
        page.get_by_role("button", name="What does it do?").click()
        expect(page.get_by_text("nitrogen free within a month")).to_be_visible()
        # Nothing is written by looking, and what was typed stands.
        expect(page.get_by_label("what and how much, as you say it")).to_have_value(said)
        page.get_by_role("button", name="Write it down").click()
        expect(page.get_by_text("written down.")).to_be_visible()

    def test_spring_to_autumn_and_a_wrong_feed_undone(self):
        page = self.page
        page.goto(self.recipe.get_absolute_url())
        page.get_by_role("button", name="Plant it today").click()
        page.get_by_label("plant, as you call it").fill("aubergine")
        page.get_by_label("how many pots").fill("2")
        page.get_by_label("to the brim, each, L").fill("20")
        page.get_by_label("Date (blank: today)").fill(self.ago(190))
        if page.get_by_label("why you go on in spite of it").count():
            page.get_by_label("why you go on in spite of it").fill("it was warm")
        page.get_by_role("button", name="Planted", exact=True).click()
        expect(page.get_by_role("heading", name="Aubergine")).to_be_visible()
        marks = page.locator(".life .mark:not(.planned)")
        expect(marks).to_have_count(1)
        self.give("25 g feather meal each", 150)
        self.write("reading", 120, "pH of the drainage water", "6.2")
        self.write("harvest", 90, "harvest, kg", "3")
        expect(marks).to_have_count(4)
        chart = page.locator(".life-chart").get_attribute("aria-label")
        # A feed that went to the wrong pots: struck out, and the soil is as it was.
        self.give("60 g blood meal each", 3)
        expect(marks).to_have_count(5)
        page.get_by_role("button", name="Strike out fed").first.click()
        expect(marks).to_have_count(4)
        self.assertEqual(page.locator(".life-chart").get_attribute("aria-label"), chart)
        page.get_by_role("button", name="Undo").click()
        expect(marks).to_have_count(5)
        self.write("cleared", 1)
        expect(page.get_by_text("Nothing grows in it.")).to_be_visible()
        soil = PotGroup.objects.get().soil
        done = soil.events.filter(deleted_at=None).values_list("do", flat=True)
        self.assertEqual(
            list(done), ["planted", "dressed", "read", "harvested", "dressed", "cleared"]
        )
        self.assertEqual(SoilEvent.objects.exclude(soil=soil).count(), 0)


class Tub(ByKeysAlone, TubJourney, BrowserTestCase):
    """At the desk, without a mouse."""


class TubOnThePhone(TubJourney, BrowserTestCase):
    """In the yard, by touch."""

    size = {"width": 390, "height": 844}
