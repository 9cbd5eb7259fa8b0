"""The practice heap: every story's lesson beats its mistake, whatever the heap hides."""

from dataclasses import replace

from django.test import SimpleTestCase

from pelk.core.curing.training_heap import (
    LAST_DAY,
    SEASON,
    Given,
    Way,
    best_day,
    cases,
    did_nothing,
    planted,
    played,
)
from pelk.core.curing.training_probes import PROBES, cress_in, looked, pen_reading, smell_of
from pelk.core.simulation.synthetic_heap import truth_of

SEED, SEEDS = 5, range(20)


class Practice(SimpleTestCase):
    def told(self, key, way=None, seed=SEED):
        case = cases()[key]
        return case, played(case, case.told if way is None else way, seed)

    def test_ten_stories_give_only_what_they_offer(self):
        self.assertEqual(len(cases()), 10)
        for case in cases().values():
            with self.subTest(case.key):
                for way in (case.told, case.better):
                    for slug, grams in way.doses.items():
                        self.assertLessEqual(grams, case.offered[slug])
                    self.assertIn(way.choice, {"", *case.choices})

    def test_the_lesson_beats_the_mistake_in_every_one_of_twenty_heaps(self):
        for case in cases().values():
            for seed in SEEDS:
                with self.subTest(case.key, seed=seed):
                    costs = [
                        planted(case, played(case, way, seed), way.plant).cost
                        for way in (case.told, case.better)
                    ]
                    self.assertGreater(costs[0], costs[1])

    def test_the_mistakes_are_seen_and_the_lessons_are_mostly_clean(self):
        clean = 0
        for case in cases().values():
            _, wrong = self.told(case.key)
            self.assertTrue(planted(case, wrong, case.told.plant).troubles, case.key)
            _, right = self.told(case.key, case.better)
            clean += not planted(case, right, case.better.plant).troubles
        self.assertGreaterEqual(clean, 8)

    def test_gypsum_counts_for_calcium(self):
        case = cases()["lime-for-calcium"]
        without = replace(case.better, doses={"feather-meal": 1.5})
        _, game = self.told(case.key, without)
        said = " ".join(planted(case, game, without.plant).troubles)
        self.assertIn("calcium", said)

    def test_waiting_saves_the_hot_mix(self):
        case, got = self.told("same-day")
        hurried, best = planted(case, got, 0), best_day(case, got)
        self.assertGreater(best.day, 7)
        self.assertLess(best.lost_share, hurried.lost_share)

    def test_the_whole_season_counts_even_after_the_last_day(self):
        _, got = self.told("cold-sulfur")
        self.assertGreaterEqual(len(got.true.daily("ph")), LAST_DAY + SEASON)
        late = planted(cases()["cold-sulfur"], got, LAST_DAY)
        self.assertTrue(late.troubles)

    def test_dosing_again_before_the_lime_has_worked_overshoots(self):
        once = Way({"lime-dolomitic-ground": 4.0})
        again = replace(once, later=(Given(7, "lime-dolomitic-ground", 4.0),))
        _, patient = self.told("hurried-lime", once)
        _, hurried = self.told("hurried-lime", again)
        self.assertAlmostEqual(patient.ph(7), hurried.ph(7), delta=0.02)
        self.assertGreater(hurried.ph(170) - patient.ph(170), 0.4)

    def test_probes_tell_the_truth_of_a_hot_heap(self):
        case, hot = self.told("same-day")
        self.assertNotEqual(smell_of(hot, 10), "of earth")
        self.assertNotIn("passes", cress_in(hot, 7, 1))
        _, mild = self.told("same-day", case.better)
        self.assertIn("passes", cress_in(mild, 60, 1))
        self.assertEqual(smell_of(mild, 60), "of earth")
        for kind in PROBES:
            self.assertTrue(looked(kind, case, "", hot, 10, 1))

    def test_the_truth_is_hidden_but_always_the_same_and_a_pen_lies_by_its_offset(self):
        case, got = self.told("light-peat-unlimed")
        _, again = self.told("light-peat-unlimed")
        self.assertEqual(got.ph(30), again.ph(30))
        self.assertNotEqual(truth_of(1), truth_of(2))
        off = pen_reading(got, 3, case.pen_off, SEED) - pen_reading(got, 3, 0, SEED)
        self.assertAlmostEqual(off, case.pen_off, delta=0.11)
        self.assertGreater(did_nothing(case, SEED).lost_share, 0.1)
