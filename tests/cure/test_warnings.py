"""What a nose and a probe warn of at a heap, and when that is news no more."""

from datetime import timedelta

from django.test import TestCase
from django.utils import timezone

from tests.factories import make_heap, make_reading, make_user

# What is read, how many days ago, and what the page then says or does not.
SAID = [
    ({"smell": "ammonia"}, 1, "no lime or ash"),
    ({"smell": "rotten-egg"}, 1, "Move upwind now"),
    ({"smell": "sour"}, 1, "The batch is drowning"),
    ({"temperature_c": 62}, 1, "62\u00a0°C inside"),
    ({"temperature_c": 68}, 1, "Over 65 °C"),
    ({"temperature_c": 82}, 1, "call the fire service"),
]
LIMED = "ground limestone"


class Warnings(TestCase):
    def page(self, *readings, **more):
        user = make_user(f"nose{self.seen}@cove.example", "Cove")
        self.seen += 1
        heap = make_heap(user, days_old=60, **more)
        for measured, ago in readings:
            at = timezone.now() - timedelta(days=ago)
            make_reading(user, heap, taken_at=at, **measured)
        self.client.force_login(user)
        return self.client.get(f"/cure/{heap.pk}/")

    def setUp(self):
        self.seen = 0

    def test_each_is_said_while_it_is_news_and_not_after(self):
        for measured, ago, text in SAID:
            with self.subTest(**measured):
                self.assertContains(self.page((measured, ago)), text)
                self.assertNotContains(self.page((measured, 57)), text)

    def test_ammonia_in_the_nose_and_lime_in_the_advice_never_meet(self):
        sour = {"bulk": [{"material": "sphagnum-peat-light", "parts": 1}], "crop": "fruiting"}
        read = [({"ph": 4.6}, 9), ({"ph": 4.6}, 2)]
        self.assertContains(self.page(*read, **sour), LIMED)
        smelt = self.page(*read, ({"smell": "ammonia"}, 1), **sour)
        self.assertNotContains(smelt, f"of {LIMED}")

    def test_a_warm_probe_outranks_a_cool_forecast(self):
        page = self.page(({"temperature_c": 38}, 1))
        rows = {row.name: (row.state, row.value) for row in page.context["rows"]}
        self.assertEqual(rows["Heap no warmer than the air"], ("short", "38\u00a0°C read"))
