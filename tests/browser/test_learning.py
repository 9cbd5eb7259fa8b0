"""Built, watched and learned from: a tower in tiers, a diary, a measurement, a second heap."""

import re
from datetime import timedelta

from django.utils import timezone
from playwright.sync_api import expect

from pelk.cure.services.readings import record_reading
from pelk.pots.services.diary import see
from tests.browser.base import BrowserTestCase
from tests.browser.keys import ByKeysAlone
from tests.factories import PNG, make_heap, make_pots, make_recipe, make_user

BULK = [{"material": "sphagnum-peat-light", "parts": 3}, {"material": "perlite", "parts": 1}]
DOSES = [{"material": "lime-dolomitic-ground", "amount": 3, "unit": "g/L"}]


class Learning(ByKeysAlone, BrowserTestCase):
    def setUp(self):
        super().setUp()
        self.user = make_user()
        self.sign_in(self.user)

    def test_a_tower_is_planted_tier_by_tier(self):
        heap = make_heap(self.user, days_old=60, bulk=BULK, doses=DOSES)
        tower = make_pots(
            self.user,
            name="Tower",
            kind="bed",
            litres=26.0,
            count=3,
            crop="leafy",
            plant="lettuce",
            plants=6,
        )
        page = self.page
        page.goto(f"/pots/{tower.pk}/plant/?batch={heap.pk}")
        expect(page.get_by_text("A tower goes tier by tier from the bottom")).to_be_visible()
        page.get_by_label("into the planting hole of each pot").fill("0.5 L worm castings")
        page.get_by_label("half now, top up later").check()
        page.get_by_role("button", name="Update").click()
        rows = page.locator(".layer-rows")
        expect(rows).to_contain_text("In the planting hole")
        expect(rows).to_contain_text("Top up")
        expect(page.locator(".planting")).to_be_visible()
        page.get_by_role("button", name="Save what went in").click()
        expect(page.get_by_role("heading", name="Tower")).to_be_visible()
        expect(page.locator("body")).to_contain_text("in the planting hole")
        self.assertEqual(tower.fills.count(), 1)
        page.goto(f"/pots/{tower.pk}/plant/?batch={heap.pk}")
        page.get_by_label("As", exact=True).select_option("topped")
        page.get_by_role("button", name="Save what went in").click()
        expect(page.get_by_role("heading", name="Tower")).to_be_visible()
        self.assertEqual(sorted(tower.fills.values_list("how", flat=True)), ["filled", "topped"])

    def test_a_diary_of_one_season_on_a_phone(self):
        today = timezone.localdate()
        group = make_pots(
            self.user,
            name="Troughs",
            crop="fruiting",
            plant="aubergine",
            planted_on=today - timedelta(days=60),
        )
        for days, tall in ((50, 12.0), (20, 45.0), (415, 10.0), (380, 30.0), (360, 50.0)):
            on = today - timedelta(days=days)
            figures = {"height_cm": tall}
            see(group=group, by=self.user, on=on, figures=figures, text="", picture=None)
        page = self.page
        page.set_viewport_size({"width": 390, "height": 844})
        page.goto(f"/pots/{group.pk}/saw/")
        picture = {"name": "a.png", "mimeType": "image/png", "buffer": PNG}
        page.get_by_label("picture").set_input_files(picture)
        page.get_by_label("how tall, cm").fill("60")
        page.get_by_label("the first flower").check()
        page.get_by_label("fungus gnats").check()
        page.get_by_role("button", name="Write it down").click()
        expect(page.get_by_text("Let the top two fingers dry")).to_be_visible()
        drawn = page.locator(".only-s .diary")
        expect(drawn).to_be_visible()
        expect(drawn.locator("image")).to_have_count(1)
        expect(drawn).to_contain_text("first flower")
        expect(page.get_by_text("taller than last year")).to_be_visible()
        wide = page.evaluate("document.documentElement.scrollWidth")
        self.assertLessEqual(wide, 390)

    def test_a_measurement_is_advised_and_taken_and_the_next_heap_is_known_better(self):
        heap = make_heap(self.user, days_old=4, bulk=BULK, doses=DOSES)
        page = self.page
        page.goto(f"/cure/{heap.pk}/")
        advice = page.locator("#measure")
        expect(advice).to_contain_text("would be known to")
        before = advice.inner_text()
        page.get_by_label("pH", exact=True).first.fill("4.6")
        page.get_by_role("button", name="Save reading").click()
        expect(page.get_by_text("fitted to 1 reading")).to_be_visible()
        self.assertNotEqual(advice.inner_text(), before)
        # The same bag in another heap: read on its mixing day, the next forecast says why.
        recipe = make_recipe(self.user, name="Next heap", bulk=BULK, doses=DOSES)
        other = make_heap(self.user, days_old=40, bulk=BULK, doses=DOSES)
        at = other.made_at + timedelta(hours=2)
        record_reading(batch=other, by=self.user, ph=3.5, taken_at=at, is_sure=True)
        page.goto(recipe.get_absolute_url())
        expect(page.locator("#ahead")).to_contain_text("By your own heaps, sphagnum peat: own pH")
        page.goto("/shelf/sphagnum-peat-light/")
        expect(page.locator("body")).to_contain_text("lower than the book, from 1 heap")
        page.get_by_role("button", name=re.compile("own pH")).first.click()
        expect(page.locator("body")).not_to_contain_text("lower than the book, from 1 heap")
