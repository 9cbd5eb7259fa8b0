"""The recipe book: what became of a recipe, and what cannot be worked out is left empty."""

from datetime import timedelta

from django.test import TestCase
from django.utils import timezone

from pelk.barrow.services import make_batch
from pelk.bench.domain.starting_points import starting_points
from pelk.bench.pages.book import book_rows, starting_mixes
from pelk.bench.selectors import records_of
from pelk.pots.models import PotDeed
from pelk.pots.services.groups import fill
from tests.factories import make_heap, make_pots, make_recipe, make_user, yard_of


class Book(TestCase):
    def setUp(self):
        self.user = make_user()
        self.yard = yard_of(self.user)
        self.client.force_login(self.user)

    def test_made_last_and_how_it_did(self):
        heap = make_heap(self.user, days_old=40)
        recipe = heap.recipe
        make_batch(recipe=recipe, by=self.user, reason="a trial")  # at the barrow: not made yet
        pots, today = make_pots(self.user), timezone.localdate()
        on = today - timedelta(days=20)
        fill(group=pots, by=self.user, what="mix", taken_l=50, how="filled", on=on, batch=heap)
        for days, stars in ((30, 1), (5, 4), (2, 5), (1, 5)):  # the first before it was filled
            PotDeed.objects.create(
                yard=self.yard,
                group=pots,
                kind=PotDeed.Kind.STARS,
                on=today - timedelta(days=days),
                figures={"stars": stars},
            )
        [row] = book_rows([recipe], self.yard)
        self.assertEqual((row.made, row.stars), (1, 5))
        self.assertEqual(row.last_on, timezone.localtime(heap.made_at).date())
        page = self.client.get("/bench/")
        self.assertContains(page, "made 1 time")
        self.assertContains(page, 'aria-label="5 of 5 stars"')

    def test_never_made_and_not_to_be_worked_out(self):
        recipe = make_recipe(self.user, name="Fresh")
        version = recipe.latest
        version.document["bulk"][0]["material"] = "gone-for-good"
        version.save()
        recipe.refresh_from_db()
        self.assertEqual(records_of([recipe]), {})
        [row] = book_rows([recipe], self.yard)
        self.assertEqual((row.ph, row.per_litre, row.made), ("", "", 0))
        page = self.client.get("/bench/")
        self.assertContains(page, "not made yet")
        self.assertContains(page, "pH not known")

    def test_starting_mixes_are_drawn_by_their_parts(self):
        points = list(starting_points().values())
        for mix in starting_mixes(points, self.yard):
            parts = len(mix.point.document.bulk)
            self.assertEqual(mix.slab.count("<pattern"), parts, mix.point.key)
