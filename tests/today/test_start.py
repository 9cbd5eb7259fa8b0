"""The first minutes: where to begin, a mix that fits the pots, a heap that was mixed in June."""

from datetime import timedelta

from django.test import TestCase
from django.utils import timezone

from pelk.barrow.models import Batch
from pelk.bench.domain.starting_points import starting_points
from tests.factories import make_recipe, make_user, yard_of


class Start(TestCase):
    def setUp(self):
        self.user = make_user()
        self.client.force_login(self.user)

    def test_an_empty_yard_opens_where_to_begin(self):
        self.assertRedirects(self.client.get("/"), "/today/start/")
        page = self.client.get("/today/start/")
        for words in ("Make a mix now", "Check last year’s soil", "Ask about pH"):
            self.assertContains(page, words)
        for point in starting_points().values():
            self.assertContains(page, f'value="{point.key}"')
        self.assertContains(self.client.get("/today/"), "Nothing is here yet.")
        make_recipe(self.user)
        self.assertNotContains(self.client.get("/today/"), "Nothing is here yet.")
        self.assertRedirects(self.client.get("/"), "/bench/")

    def test_a_starting_mix_fits_the_pots_that_were_typed(self):
        query = {"from": "ericaceous-peat", "count": "24", "litres": "7.5"}
        form = self.client.get("/bench/new/", query).context["form"]
        self.assertEqual((form.how, form.count, form.litres), ("pots", "24", "7.5"))
        self.assertEqual(form.crop, "ericaceous")
        yard = yard_of(self.user)
        yard.system = "us"
        yard.save()
        form = self.client.get("/bench/new/", {**query, "litres": "2"}).context["form"]
        self.assertAlmostEqual(float(form.litres), 7.571, delta=0.001)
        for odd in ("", "-1", "many", "0", "9" * 400):
            answer = self.client.get("/bench/new/", {**query, "count": odd, "litres": odd})
            self.assertEqual(answer.status_code, 200)


class Backdated(TestCase):
    def setUp(self):
        self.user = make_user()
        self.client.force_login(self.user)
        self.recipe = make_recipe(self.user)
        self.url = f"/barrow/make/{self.recipe.pk}/"

    def make(self, on):
        typed = {"vessel": "barrow", "mixed_on": on, "reason": "as it was"}
        return self.client.post(self.url, typed)

    def test_a_mix_made_in_june_begins_in_june(self):
        june = timezone.localdate() - timedelta(days=170)
        answer = self.make(june.isoformat())
        batch = Batch.objects.get()
        self.assertRedirects(answer, f"/cure/{batch.pk}/")
        self.assertEqual(batch.date_of(0), june)
        self.assertEqual(timezone.localtime(batch.finished_at).date(), june)
        self.assertIsNotNone(batch.forecast_at_mixing)
        page = self.client.get(f"/cure/{batch.pk}/")
        self.assertContains(page, f"{june:%-d %b}")

    def test_a_day_that_cannot_be_is_told_and_nothing_is_made(self):
        today = timezone.localdate()
        for on, says in (
            ((today + timedelta(days=2)).isoformat(), "in the future"),
            ((today - timedelta(days=900)).isoformat(), "over two years ago"),
            ("June", "Enter a day"),
        ):
            self.assertContains(self.make(on), says)
        self.assertFalse(Batch.objects.exists())
