"""What is to do with a heap, and whether a pen can be trusted."""

from django.test import SimpleTestCase

from pelk.core.acid_base.ph_meters import check_meter
from pelk.core.base.errors import PelkError
from pelk.core.curing.schedule import FEED, MOISTEN, PLANT, PROBE, READY, SPROUT, TURN, schedule


class Schedule(SimpleTestCase):
    def days(self, kind, **more):
        told = {"ready_day": 30, "horizon_days": 180, "is_fed": True} | more
        ready, horizon = told.pop("ready_day"), told.pop("horizon_days")
        return [d.day for d in schedule(ready, horizon, **told) if d.kind == kind]

    def test_a_fed_heap_is_turned_while_hot_and_probed_weekly(self):
        self.assertEqual(self.days(TURN), [3, 7, 14, 28])
        self.assertEqual(self.days(TURN, is_fed=False), [14])
        self.assertEqual(self.days(PROBE), [0, 3, 7, 14, 21, 28, 33])
        self.assertEqual(self.days(MOISTEN), [7, 14, 21, 28])

    def test_it_moves_with_the_forecast_and_keeps_its_keys(self):
        self.assertEqual([self.days(k)[0] for k in (SPROUT, READY, PLANT)], [25, 30, 34])
        later = schedule(44, 180, is_fed=True)
        self.assertEqual(next(d.day for d in later if d.key == "sprout:1"), 39)
        keys = [d.key for d in later]
        self.assertEqual(len(keys), len(set(keys)))

    def test_what_never_gets_ready_is_only_looked_after(self):
        self.assertEqual(self.days(READY, ready_day=None), [])
        self.assertEqual(self.days(PROBE, ready_day=None)[-1], 175)
        self.assertEqual(self.days(FEED, run_out_day=20), [])
        self.assertEqual(self.days(FEED, run_out_day=90), [90])


class Meter(SimpleTestCase):
    def test_two_buffers_tell_slope_and_offset(self):
        # By hand: (7.10 - 4.11) / 2.99 is a slope of 100 %, 0.10 too high.
        got = check_meter(4.11, 7.10)
        self.assertAlmostEqual(got.slope_pct, 100)
        self.assertAlmostEqual(got.offset, 0.10)
        self.assertEqual(got.state, "good")
        self.assertAlmostEqual(got.mended(5.6), 5.5)
        self.assertEqual(check_meter(4.4, 7.1).state, "worn")
        self.assertEqual(check_meter(5.0, 7.0).state, "bad")

    def test_what_is_no_number_is_refused(self):
        with self.assertRaises(PelkError):
            check_meter(float("nan"), 7.0)
