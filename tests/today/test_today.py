"""What a day holds, gathered from the stations."""

from datetime import timedelta

from django.test import TestCase
from django.utils import timezone

from pelk.barrow.services import make_batch
from pelk.ui.resting_chart import Resting, lanes, resting_numbers
from tests.factories import make_heap, make_reading, make_recipe, make_user

URL = "/today/"


class Today(TestCase):
    def setUp(self):
        self.user = make_user()
        self.client.force_login(self.user)

    def day(self):
        return self.client.get(URL).context["day"]

    def test_an_empty_yard_has_nothing_due(self):
        page = self.client.get(URL)
        self.assertContains(page, "Nothing is here yet")
        self.assertContains(page, "No heap rests")

    def test_open_batches_due_heaps_and_dry_ones(self):
        hot = [{"material": "blood-meal", "amount": 3, "unit": "g/L"}]
        heap = make_heap(self.user, days_old=8, doses=hot)
        make_batch(recipe=make_recipe(self.user, name="Next"), by=self.user)
        make_reading(
            self.user, heap, moisture="sponge", taken_at=timezone.now() - timedelta(days=2)
        )
        self.assertEqual(self.day().dry, [])
        make_reading(self.user, heap, moisture="dust")
        day = self.day()
        self.assertEqual([r.batch for r in day.dry], [heap])
        self.assertEqual([b.name for b in day.open_batches], ["Next"])
        kinds = {row.due.kind for row in day.due}
        self.assertIn("turn", kinds)
        # One tap does it, and it is gone from the day.
        row = next(r for r in day.due if r.due.kind == "turn")
        done = {"key": row.due.key, "action": "done", "next": URL}
        self.assertRedirects(self.client.post(f"/cure/{heap.pk}/decide/", done), URL)
        self.assertNotIn(row.due.key, [r.due.key for r in self.day().due])

    def test_it_asks_as_much_for_many_heaps_as_for_one(self):
        for _ in range(4):
            make_heap(self.user, days_old=10)
        with self.assertNumQueries(15):
            self.client.get(URL)

    def test_the_weather_is_the_months_mean_or_typed(self):
        self.assertFalse(self.day().weather.is_typed)
        page = self.client.post("/today/weather/", {"air_c": "warm"}, follow=True)
        self.assertContains(page, "is not a temperature")
        self.client.post("/today/weather/", {"air_c": "31,5"})
        got = self.day().weather
        self.assertEqual((got.air_c, got.state), (31.5, "hot"))
        self.client.post("/today/weather/", {"air_c": ""})
        self.assertFalse(self.day().weather.is_typed)

    def test_another_yards_heaps_are_not_due_here(self):
        make_heap(make_user("other@cove.example", "Cove"), days_old=8)
        self.assertEqual((self.day().due, self.day().resting), ([], []))

    def test_lanes_run_from_mixing_to_the_days_it_may_be_ready(self):
        today = timezone.localdate()
        made, ready = today - timedelta(days=20), today + timedelta(days=10)
        heap = Resting("T1", "Tea", "/", made, ready, today, ready + timedelta(days=9))
        drawn = lanes([heap, heap], today, width=462)
        lane = drawn.lanes[0]
        self.assertLess(lane.start, lane.box_x)
        self.assertAlmostEqual(lane.box_x, drawn.today, delta=0.2)
        self.assertLess(lane.box_x + lane.box_width, 462)
        self.assertIsNone(lanes([], today, width=462))
        table = resting_numbers([heap])
        self.assertEqual(table.rows[0].cells[:2], ("T1", "Tea"))
        self.assertEqual(table.rows[0].cells[3], f"{ready:%-d %b %Y}")
        self.assertFalse(table.has_axis)
