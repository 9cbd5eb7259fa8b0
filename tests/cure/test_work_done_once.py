"""Saving a reading reckons as little as it can, and what it taught is remembered."""

from contextlib import ExitStack
from unittest.mock import patch

from django.test import TestCase

from pelk.barrow.models import Batch
from pelk.core.simulation import calibration
from pelk.cure.domain import learning
from pelk.cure.domain.learning import learned, remembered
from pelk.cure.models import Reading
from tests.factories import make_heap, make_reading, make_user


class Counted:
    """Counts what is reckoned while it lasts."""

    def __enter__(self):
        self.counts = {"evaluations": 0, "calibrations": 0, "courses": 0}
        self.stack = ExitStack()
        for name, holder, attribute in (
            ("evaluations", Batch, "evaluation"),
            ("calibrations", learning, "calibrate"),
            ("courses", calibration, "simulate"),
        ):
            self.stack.enter_context(
                patch.object(holder, attribute, self.count(name, holder, attribute))
            )
        return self.counts

    def count(self, name, holder, attribute):
        real = getattr(holder, attribute)

        def counting(*args, **kwargs):
            self.counts[name] += 1
            return real(*args, **kwargs)

        return counting

    def __exit__(self, *error):
        self.stack.close()


class WorkDoneOnce(TestCase):
    def setUp(self):
        self.user = make_user()
        self.client.force_login(self.user)
        self.batch = make_heap(
            self.user, doses=[{"material": "lime-dolomitic-ground", "amount": 1, "unit": "g/L"}]
        )
        for ph in (5.9, 6.0, 6.1):
            make_reading(self.user, self.batch, ph=ph)

    def save(self):
        url = f"/cure/{self.batch.pk}/"
        self.client.post(url, {"ph": "6.2", "method": "slurry"}, follow=True)
        self.assertEqual(Reading.objects.count(), 4)

    def test_a_reading_is_saved_and_shown_with_two_evaluations_and_one_calibration(self):
        with Counted() as counts:
            self.save()
        self.assertLessEqual(counts["evaluations"], 2)
        self.assertEqual(counts["calibrations"], 1)
        self.assertLessEqual(counts["courses"], 2 * calibration.MOST_CALLS)

    def test_a_page_looked_at_again_calibrates_nothing(self):
        with Counted() as counts:
            self.client.get(f"/cure/{self.batch.pk}/")
        self.assertEqual((counts["evaluations"], counts["calibrations"]), (1, 0))

    def test_what_is_remembered_says_the_same_as_what_is_worked_out(self):
        self.batch.refresh_from_db()
        newest = list(Reading.objects.for_batch(self.batch))
        told = learned(self.batch, newest)
        self.assertIsNotNone(remembered(self.batch, newest, False))
        self.batch.schedule_cache = {}
        anew = learned(self.batch, newest)
        self.assertEqual(told.taught.buffer, anew.taught.buffer)
        self.assertEqual(told.evaluation.ph.value, anew.evaluation.ph.value)
        self.assertTrue((told.evaluation.forecast.ph == anew.evaluation.forecast.ph).all())

    def test_it_holds_for_just_these_readings_this_pen_and_this_core(self):
        self.batch.refresh_from_db()
        newest = list(Reading.objects.for_batch(self.batch))
        self.assertIsNotNone(remembered(self.batch, newest, False))
        self.assertIsNone(remembered(self.batch, newest[1:], False))
        self.assertIsNone(remembered(self.batch, newest, True))
        with patch.object(learning, "VERSION", "another"):
            self.assertIsNone(remembered(self.batch, newest, False))
        self.batch.as_mixed = {"litres": {}, "grams": []}
        self.assertIsNone(remembered(self.batch, newest, False))
