"""The practice heap: every case holds its mistake, and another way is better."""

from django.test import SimpleTestCase

from pelk.core.curing.training_heap import Given, best_day, cases, pen_reading, planted, played
from pelk.core.simulation.synthetic_heap import truth_of

SEED = 5


class Practice(SimpleTestCase):
    def told(self, key, doses=None, later=(), seed=SEED):
        case = cases()[key]
        return case, played(case, case.doses if doses is None else doses, later, seed)

    def test_there_are_six_cases_and_each_doses_only_what_it_offers(self):
        self.assertGreaterEqual(len(cases()), 6)
        for case in cases().values():
            with self.subTest(case.key):
                self.assertTrue(case.story and case.lesson)
                for slug, grams in case.doses.items():
                    self.assertLessEqual(grams, case.offered[slug])

    def test_the_storys_own_way_goes_wrong(self):
        for key, day in (
            ("bed-table", 60),
            ("same-day", 0),
            ("lime-for-calcium", 14),
            ("light-peat-unlimed", 7),
            ("hot-compost-woody", 14),
            ("cold-sulfur", 42),
        ):
            with self.subTest(key):
                case, got = self.told(key)
                self.assertTrue(planted(case, got, day).troubles)

    def test_waiting_saves_the_hot_mix(self):
        case, got = self.told("same-day")
        hurried, best = planted(case, got, 0), best_day(case, got)
        self.assertGreater(best.day, 7)
        self.assertLess(best.lost_share, hurried.lost_share)

    def test_dosing_again_before_the_lime_has_worked_overshoots(self):
        # The rest of the lime is on its way: as much again ends higher by more than half a pH.
        _, patient = self.told("hurried-lime")
        _, hurried = self.told("hurried-lime", later=[Given(7, "lime-dolomitic-ground", 4.0)])
        self.assertAlmostEqual(patient.ph(7), hurried.ph(7), delta=0.02)
        self.assertGreater(hurried.ph(170) - patient.ph(170), 0.5)

    def test_the_truth_is_hidden_but_always_the_same_and_a_pen_lies_by_its_offset(self):
        case, got = self.told("light-peat-unlimed")
        _, again = self.told("light-peat-unlimed")
        self.assertEqual(got.ph(30), again.ph(30))
        self.assertNotEqual(truth_of(1), truth_of(2))
        off = pen_reading(got, 3, case.pen_off, SEED) - pen_reading(got, 3, 0, SEED)
        self.assertAlmostEqual(off, case.pen_off, delta=0.11)
