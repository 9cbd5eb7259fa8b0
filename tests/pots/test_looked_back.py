"""A year looked back on: what went in and was read against what was foretold; made better."""

from datetime import timedelta

from django.test import TestCase
from django.utils import timezone

from pelk.bench.models import RecipeVersion
from pelk.pots.models import PotDeed
from pelk.pots.services.diary import see
from pelk.pots.services.groups import fill, write_deed
from tests.factories import make_heap, make_pots, make_user

BULK = [{"material": "sphagnum-peat-light", "parts": 7}, {"material": "perlite", "parts": 3}]
DOSES = [
    {"material": "lime-dolomitic-ground", "amount": 3, "unit": "g/L"},
    {"material": "feather-meal", "amount": 1, "unit": "g/L"},
]


class LookedBack(TestCase):
    def setUp(self):
        self.user = make_user()
        self.client.force_login(self.user)
        self.today = timezone.localdate()
        self.heap = make_heap(self.user, days_old=150, bulk=BULK, doses=DOSES)
        self.group = make_pots(self.user, name="Tubs", crop="fruiting", count=4, litres=12.0)
        on = self.today - timedelta(days=130)
        filled = {"what": "mix", "taken_l": 48.0, "how": "filled", "plants": True}
        fill(group=self.group, by=self.user, batch=self.heap, on=on, **filled)
        self.group.refresh_from_db()
        self.year = on.year
        self.url = f"/pots/{self.group.pk}/looked-back/{self.year}/"

    def write(self, kind, days, **figures):
        on = self.today - timedelta(days=days)
        write_deed(group=self.group, by=self.user, kind=kind, on=on, figures=figures)

    def test_one_page_says_what_went_in_what_was_read_and_what_was_foretold(self):
        self.write("reading", 60, ph=6.3)
        self.write("harvest", 20, kg=4.0)
        self.write("stars", 5, stars=3.0)
        see(
            group=self.group,
            by=self.user,
            on=self.today - timedelta(days=70),
            figures={"flower": 1.0},
            text="",
            picture=None,
        )
        page = self.client.get(self.url)
        for words in ("What went in", "4\u00a0kg", "first flower", "3 of 5 stars", "Off by"):
            self.assertContains(page, words)
        told = page.context["back"].told[0]
        self.assertEqual(told.read, 6.3)
        for foretold in (told.at_mixing, told.at_planting, told.now):
            self.assertTrue(4.5 < foretold < 7.5, told)
        # What was read moves today's sums, and leaves what was foretold where it was.
        self.assertLess(abs(told.now - 6.3), abs(told.at_planting - 6.3) + 1e-9)

    def test_the_next_mix_starts_from_what_was_short(self):
        page = self.client.get(self.url)
        changes = {c.slug: c for c in page.context["back"].changes}
        self.assertGreater(changes["feather-meal"].times, 1.0)
        self.assertContains(page, "Do it again, better")
        recipe = self.heap.recipe
        before = recipe.latest.number
        self.client.post(self.url)
        latest = RecipeVersion.objects.filter(recipe=recipe).order_by("-number").first()
        self.assertEqual(latest.number, before + 1)
        amounts = {d.material: d.amount for d in latest.as_document().doses}
        self.assertAlmostEqual(amounts["feather-meal"], changes["feather-meal"].times, delta=1e-3)
        self.assertIn("ran short", latest.note)

    def test_years_that_never_were_are_not_there(self):
        self.assertEqual(self.client.get(self.url.replace(str(self.year), "1999")).status_code, 404)
        bare = make_pots(self.user, name="Bare", crop="fruiting")
        page = self.client.get(f"/pots/{bare.pk}/looked-back/{self.today.year}/")
        self.assertContains(page, "Not known what fills these pots")
        self.assertEqual(PotDeed.objects.filter(group=bare).count(), 0)

    def test_two_beds_are_set_side_by_side_with_their_doubt(self):
        other = make_pots(self.user, name="Beds", crop="fruiting", count=4, litres=12.0)
        on = self.today - timedelta(days=20)
        for group, kg in ((self.group, 4.0), (other, 4.4)):
            figures = {"kg": kg}
            write_deed(group=group, by=self.user, kind="harvest", on=on, figures=figures)
        mine, theirs = (f"{g.pk}-{on.year}" for g in (self.group, other))
        page = self.client.get(f"/pots/beside/?s={mine}&s={theirs}")
        self.assertContains(page, "10% more")
        self.assertContains(page, "nothing is told by it")
        write_deed(group=other, by=self.user, kind="harvest", on=on, figures={"kg": 40.0})
        page = self.client.get(f"/pots/beside/?s={mine}&s={theirs}")
        self.assertContains(page, f"A plant of Beds {on.year} gave")
        self.assertNotContains(page, "nothing is told by it")
        page = self.client.get(f"/pots/beside/?s={mine}&s={mine}")
        self.assertContains(page, "not compared with itself")
        stranger = make_pots(make_user("other@cove.example", "Cove"), name="Theirs")
        page = self.client.get(f"/pots/beside/?s={stranger.pk}-{on.year}&s={mine}")
        self.assertEqual(len(page.context["beds"]), 1)
        self.assertNotContains(page, "Theirs")
