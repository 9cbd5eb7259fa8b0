"""A recipe planted at once: from the Bench to pots in three."""

from datetime import timedelta

from django.test import TestCase
from django.utils import timezone

from pelk.barrow.models import Batch
from pelk.bench.models import Recipe
from pelk.cure.models import PlantedAnyway
from pelk.pots.models import PotGroup
from tests.bench.test_bench import TYPED
from tests.factories import bench_posted, make_pots, make_recipe, make_user

# Good from the first day for what eats little.
CALM = {
    **TYPED,
    "part_material": ["pine-bark-fines-composted", "yard-compost", "perlite"],
    "part_parts": ["6", "1", "3"],
    "crop": "med-herbs",
    "dose_material": [],
    "dose_amount": [],
    "dose_unit": [],
    "dose_per": [],
    "count": "4",
    "litres": "10",
}


class PlantToday(TestCase):
    def setUp(self):
        self.user = make_user()
        self.client.force_login(self.user)

    def test_from_the_bench_to_planted_in_three(self):
        page = self.client.post(
            "/bench/new/", bench_posted({**CALM, "action": "plant"}), follow=True
        )
        address = page.redirect_chain[-1][0]
        self.assertContains(page, 'value="10"')  # the pots that were typed on the Bench
        typed = {"plant": "rosemary", "count": "4", "kind": "round-pot", "litres": "10"}
        page = self.client.post(address, {**typed, "reason": "it is time"}, follow=True)
        group = PotGroup.objects.get()
        self.assertEqual(page.redirect_chain[-1][0], group.get_absolute_url())
        self.assertEqual((group.name, group.family, group.count), ("Rosemary", "Lamiaceae", 4))
        self.assertEqual(group.planted_on, timezone.localdate())
        batch = Batch.objects.get()
        self.assertIsNotNone(batch.finished_at)
        # All of it is in the pots: Cure no longer asks for it to be planted.
        self.assertEqual(group.fills.get().batch, batch)

    def test_what_is_not_ready_asks_why_and_keeps_the_reason(self):
        dose = {"material": "alfalfa-meal", "amount": 10, "unit": "g/L"}
        recipe = make_recipe(self.user, doses=[dose])
        address = f"/pots/today/{recipe.pk}/"
        typed = {"plant": "", "count": "3", "kind": "round-pot", "litres": "5"}
        page = self.client.post(address, typed)
        self.assertContains(page, "Not ready")
        self.assertContains(page, "write why")
        self.assertEqual(Batch.objects.count(), 0)
        self.client.post(address, {**typed, "reason": "a trial"})
        self.assertEqual(PlantedAnyway.objects.get().reason, "a trial")
        self.assertEqual(PotGroup.objects.get().crop, recipe.latest.as_document().crop)

    def test_a_day_that_was_pots_that_are_and_what_cannot_be(self):
        recipe, group = make_recipe(self.user), make_pots(self.user)
        address = f"/pots/today/{recipe.pk}/"
        june = timezone.localdate() - timedelta(days=100)
        typed = {"group": group.pk, "count": "9", "kind": "round-pot", "litres": "5", "reason": "x"}
        self.client.post(address, {**typed, "on": june.isoformat()})
        group.refresh_from_db()
        self.assertEqual((group.planted_on, PotGroup.objects.count()), (june, 1))
        self.assertEqual(timezone.localdate(Batch.objects.get().made_at), june)
        for wrong, sentence in (
            ({"on": (timezone.localdate() + timedelta(days=2)).isoformat()}, "in the future"),
            ({"on": "1999-01-01"}, "two years ago"),
            ({"count": "none"}, "number"),
            ({"group": "", "litres": ""}, "Enter what one pot holds"),
        ):
            with self.subTest(sentence):
                self.assertContains(self.client.post(address, {**typed, **wrong}), sentence)
        self.assertEqual(Recipe.objects.count(), 1)
        other = make_recipe(make_user("other@gannetsteps.example"))
        self.assertEqual(self.client.get(f"/pots/today/{other.pk}/").status_code, 404)
