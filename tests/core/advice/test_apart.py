"""Two courses beside each other: a difference is said only where there is one."""

import numpy as np
from django.test import SimpleTestCase

from pelk.core.advice.apart import apart_in_time, apart_in_yield
from pelk.core.base.errors import UnknownError


class Differences(SimpleTestCase):
    def test_of_courses_that_share_days(self):
        first = [(0, 5.0), (10, 5.4), (20, 5.6)]
        second = [(5, 5.7), (15, 6.0), (30, 6.2)]
        got = apart_in_time(first, second, 0.1)
        self.assertAlmostEqual(got.middle, 0.5, delta=0.06)
        self.assertTrue(got.is_told)
        with self.assertRaises(UnknownError):
            apart_in_time(first, [(30, 6.0), (40, 6.0)], 0.1)
        with self.assertRaises(UnknownError):
            apart_in_time(first, [], 0.1)

    def test_eight_in_ten_hold_the_truth(self):
        """Readings of two alike heaps: the range holds nothing at all 8 times in 10."""
        lot, held = np.random.default_rng(4), 0
        days = np.arange(0, 60, 6)
        for _ in range(400):
            a, b = (5 + days / 60 + lot.normal(0, 0.1, len(days)) for _ in "ab")
            got = apart_in_time(
                list(zip(days, a, strict=True)), list(zip(days, b, strict=True)), 0.1
            )
            held += got.low <= 0 <= got.high
        self.assertGreater(held / 400, 0.78)
        self.assertLess(held / 400, 0.97)

    def test_two_plants_say_little_and_two_hundred_more(self):
        few, many = apart_in_yield(2, 2, 2.6, 2), apart_in_yield(200, 200, 260, 200)
        self.assertAlmostEqual(few.middle, 0.3)
        self.assertFalse(few.is_told)
        self.assertTrue(many.is_told)
        with self.assertRaises(UnknownError):
            apart_in_yield(0, 3, 1, 3)
