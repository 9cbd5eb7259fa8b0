"""A yard that learns: a heap's readings are the prior of the next mix with its bags."""

from datetime import timedelta

from django.test import TestCase

from pelk.cure.services.readings import READINGS, record_reading
from pelk.shelf.models.evidence import Evidence
from pelk.shelf.selectors import known_materials
from tests.factories import make_heap, make_recipe, make_user, yard_of

BULK = [{"material": "sphagnum-peat-light", "parts": 3}, {"material": "perlite", "parts": 1}]
DOSES = [{"material": "lime-dolomitic-ground", "amount": 3, "unit": "g/L"}]
PEAT = "sphagnum-peat-light"


class YardLearns(TestCase):
    def setUp(self):
        self.user = make_user()
        self.yard = yard_of(self.user)
        self.client.force_login(self.user)
        self.heap = make_heap(self.user, days_old=40, bulk=BULK, doses=DOSES)

    def read(self, day, ph, heap=None):
        at = (heap or self.heap).made_at + timedelta(days=day)
        return record_reading(
            batch=heap or self.heap, by=self.user, ph=ph, taken_at=at, is_sure=True
        )

    def peat(self):
        return known_materials(self.yard, [PEAT])[PEAT].core

    def test_a_heap_teaches_its_peat_and_the_next_mix_says_so(self):
        recipe = make_recipe(self.user, name="Next", bulk=BULK, doses=DOSES)
        plain = self.client.get(recipe.get_absolute_url()).context["shown"].evaluation
        self.read(0.2, 3.4)
        self.assertEqual(Evidence.objects.get(factor="ph").material, PEAT)
        taught = self.peat().taught["ph"]
        self.assertTrue(-0.4 < taught.mean < -0.02, taught)
        self.assertLess(taught.sd, 0.2)
        page = self.client.get(recipe.get_absolute_url())
        told = page.context["shown"].evaluation
        self.assertContains(page, "By your own heaps, sphagnum peat: own pH")
        self.assertLess(told.forecast.ph[1][0], plain.forecast.ph[1][0])
        # The heap itself was mixed before anyone knew: its own frozen sums stay as they were.
        self.assertEqual(self.heap.plan_as_mixed()[1][PEAT].taught, {})

    def test_it_can_be_looked_at_forgotten_and_known_again(self):
        reading = self.read(0.2, 3.4)
        before = self.peat()
        page = self.client.get(f"/shelf/{PEAT}/")
        self.assertContains(page, "lower than the book, from 1 heap")
        row = Evidence.objects.get(factor="ph")
        self.client.post(f"/shelf/evidence/{row.pk}/forget/")
        self.assertEqual(self.peat().taught.get("ph"), None)
        self.assertNotContains(self.client.get(f"/shelf/{PEAT}/"), "lower than the book")
        self.client.post(f"/shelf/evidence/{row.pk}/again/")
        self.assertEqual(self.peat().taught, before.taught)
        # What was forgotten stays so when the heap is read again.
        self.client.post(f"/shelf/evidence/{row.pk}/forget/")
        self.read(10, 5.2)
        self.assertNotIn("ph", self.peat().taught)
        # A reading that is struck out takes what it taught along.
        READINGS.put_away(reading, by=self.user)
        self.assertFalse(Evidence.objects.filter(factor="ph").exists())

    def test_a_bag_that_changed_is_asked_about(self):
        for days, ph in ((30, 4.0), (25, 3.95), (20, 4.05), (5, 5.6)):
            self.read(0.2, ph, make_heap(self.user, days_old=days, bulk=BULK, doses=DOSES))
        page = self.client.get(f"/shelf/{PEAT}/")
        self.assertContains(page, "Is it another bag, or was the pen off?")
        self.assertEqual(self.peat().taught["ph"].soils, 3)

    def test_nobody_learns_from_another_yard(self):
        self.read(0.2, 3.4)
        other = make_user("other@gannetsteps.example")
        self.assertEqual(known_materials(yard_of(other), [PEAT])[PEAT].core.taught, {})
        row = Evidence.objects.get(factor="ph")
        self.client.force_login(other)
        for word in ("forget", "again"):
            self.assertEqual(self.client.post(f"/shelf/evidence/{row.pk}/{word}/").status_code, 404)

    def test_the_heap_page_and_today_say_what_to_measure(self):
        heap = make_heap(self.user, days_old=0, bulk=BULK, doses=DOSES)
        page = self.client.get(f"/cure/{heap.pk}/")
        self.assertContains(page, "would be known to")
        self.assertContains(self.client.get("/today/"), "Measure next")
        asked = self.client.get(f"/cure/{heap.pk}/?ask=jars")
        self.assertContains(asked, "Set two jars of it for a fortnight")
        width = page.context["measure"].say
        self.read(2, 4.6, heap)
        self.assertNotEqual(self.client.get(f"/cure/{heap.pk}/").context["measure"].say, width)
