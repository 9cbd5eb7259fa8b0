"""A sprout test that can say no."""

from django.test import SimpleTestCase

from pelk.core.curing.sprout_test import sprout_verdict

GOOD = {
    "seeds": 20,
    "sprouted": 18,
    "sprouted_control": 19,
    "root_mm": 20.0,
    "root_control_mm": 22.0,
    "days": 4.0,
}


def verdict(**changes):
    return sprout_verdict(**{**GOOD, **changes})


class Sprouts(SimpleTestCase):
    def test_its_index_is_by_hand(self):
        # 100 x 18/19 x 20/22 = 86.1 %.
        got = verdict()
        self.assertAlmostEqual(got.index, 86.12, delta=0.01)
        self.assertTrue(got.passes)
        self.assertEqual(verdict(root_mm=15.0).word, "Not yet.")
        self.assertEqual(verdict(sprouted=5).word, "It burns.")
        self.assertEqual(verdict(sprouted=0).index, 0.0)

    def test_no_verdict_and_why(self):
        for changes, why in (
            ({"seeds": 6, "sprouted": 6, "sprouted_control": 6}, "too few"),
            ({"sprouted_control": 1, "root_control_mm": 0.5}, "Only 1 of 20 came up"),
            ({"days": 1.0}, "counted after 1 days"),
            ({"root_control_mm": 2.0}, "have hardly begun"),
            ({"sprouted_control": 12, "root_mm": 40.0, "root_control_mm": 10.0}, "more than any"),
        ):
            with self.subTest(why):
                got = verdict(**changes)
                self.assertIsNone(got.index)
                self.assertFalse(got.passes)
                self.assertIn(why, got.text)
