"""Doses for a pH on a day, what chemistry will not give, jars, and learning from readings."""

from dataclasses import replace

import numpy as np
from django.test import SimpleTestCase
from hypothesis import given, settings
from hypothesis import strategies as st

from pelk.core.acid_base.equivalents import equivalents_of_sulfur, product_for
from pelk.core.advice.dose_for_ph import Errand, lime_dose, rest_ph, sulfur_dose
from pelk.core.advice.field_formulas import field_lime
from pelk.core.advice.giving_doses import advise
from pelk.core.advice.jar_tests import JarDose, jar_dose, jar_doses
from pelk.core.base.errors import OutOfRangeError, PelkError, UnreachableError
from pelk.core.materials.library import library
from pelk.core.simulation.calibration import PhReading, calibrate, weigh_draws
from pelk.core.simulation.ensemble import draws_of, ensemble
from pelk.core.simulation.initial_state import with_buffer, with_doses
from pelk.core.simulation.run import Surroundings, simulate
from tests.core.mixes import heap, mineral_only

PEAT, PERLITE = "sphagnum-peat-light", "perlite"
DOLOMITE, SULFUR = library()["lime-dolomitic-ground"], library()["sulfur-dusting"]
BENCH = Surroundings(temperature_c=20.0, water_filled=0.55)


def peat_mix():
    return mineral_only(heap({PEAT: 7, PERLITE: 3}))


class DoseForADay(SimpleTestCase):
    def test_lime_lands_on_the_target(self):
        for day in (30, 90):
            dose = lime_dose(peat_mix(), BENCH, DOLOMITE, Errand(target_ph=5.8, day=day))
            dosed = with_doses(peat_mix(), [(DOLOMITE, dose.hits_g_per_l)])
            with self.subTest(day):
                self.assertAlmostEqual(simulate(dosed, BENCH, day)["ph"][-1], 5.8, delta=0.01)
                self.assertGreaterEqual(dose.hits_g_per_l, dose.full_g_per_l - 1e-6)
                self.assertLessEqual(dose.rest_ph, 6.11)
                self.assertLess(dose.half_day, dose.most_day)

    def test_a_hurried_dose_is_not_what_is_suggested(self):
        hurried = lime_dose(peat_mix(), BENCH, DOLOMITE, Errand(target_ph=5.8, day=7))
        self.assertGreater(hurried.hits_g_per_l, 1.5 * hurried.full_g_per_l)
        self.assertTrue(hurried.is_too_slow)
        self.assertLessEqual(hurried.g_per_l, 1.5 * hurried.full_g_per_l)
        self.assertAlmostEqual(hurried.rest_ph, 6.1, delta=0.02)

    def test_sulfur_lands_on_the_target(self):
        mix = mineral_only(heap({"garden-soil-neutral": 6, PEAT: 4}))
        dose = sulfur_dose(mix, BENCH, SULFUR, Errand(target_ph=5.0, day=150))
        dosed = with_doses(mix, [(SULFUR, dose.hits_g_per_l)])
        self.assertAlmostEqual(simulate(dosed, BENCH, 150)["ph"][-1], 5.0, delta=0.01)

    @settings(max_examples=12, deadline=None)
    @given(st.floats(4.8, 6.5), st.floats(4.8, 6.5))
    def test_a_higher_target_asks_for_no_less_lime(self, one, other):
        low, high = sorted((one, other))
        errands = [Errand(target_ph=ph, day=60) for ph in (low, high)]
        doses = [lime_dose(peat_mix(), BENCH, DOLOMITE, e).g_per_l for e in errands]
        self.assertLessEqual(doses[0], doses[1] + 2e-3)

    def test_nothing_is_added_where_nothing_is_needed(self):
        errand = Errand(target_ph=3.5, day=30)
        self.assertEqual(lime_dose(peat_mix(), BENCH, DOLOMITE, errand).g_per_l, 0)

    def test_refusals_say_why(self):
        chalky = mineral_only(heap({"garden-soil-calcareous": 5, PEAT: 5}))
        frost = Surroundings(temperature_c=-20.0)
        for solve, mix, around, material, ph, words in (
            (sulfur_dose, chalky, BENCH, SULFUR, 5.0, "free lime"),
            (sulfur_dose, peat_mix(), BENCH, SULFUR, 2.0, "under pH"),
            (sulfur_dose, peat_mix(), BENCH, DOLOMITE, 3.5, "no elemental sulfur"),
            (lime_dose, peat_mix(), BENCH, DOLOMITE, 8.4, "no dose goes past"),
            (lime_dose, peat_mix(), BENCH, SULFUR, 6.0, "not a lime"),
            (sulfur_dose, mineral_only(heap({"topsoil-loam": 1})), frost, SULFUR, 5.0, "warmth"),
        ):
            with self.subTest(words), self.assertRaisesRegex(UnreachableError, words):
                solve(mix, around, material, Errand(target_ph=ph, day=90))

    def test_where_everything_rests(self):
        limed = with_doses(peat_mix(), [(DOLOMITE, 2.1)])
        self.assertAlmostEqual(rest_ph(limed), 5.8, delta=0.05)

    def test_field_formula_and_equivalents(self):
        # Check C02: by charge, never by weight; citric acid fades within days.
        got = equivalents_of_sulfur(1.0)
        self.assertAlmostEqual(got["ferrous-sulfate-7-water"][0], 8.67, delta=0.02)
        self.assertFalse(got["citric-acid"][1])
        there = product_for("sulfur", "sulfuric-acid", 2.0)
        self.assertAlmostEqual(product_for("sulfuric-acid", "sulfur", there), 2.0)
        with self.assertRaisesRegex(PelkError, "moon"):
            product_for("moon dust", "sulfur", 1)
        # B14, USDA Handbook 18 of 1951, from memory: loam 5.5 to 6.5, 1.7 short tons of
        # ground lime to an acre of 7 inches, within its 30 %.
        aglime = library()["lime-calcitic-ground"]
        tons = field_lime(35.0, aglime) * 0.1778 * 4046.9 / 907.2
        self.assertAlmostEqual(tons / 1.7, 1, delta=0.35)

    def test_how_to_give_a_dose(self):
        at_once = advise("lime", 2.0, grade="dolomitic_hort", gap=1.8)
        self.assertEqual((at_once.is_split, at_once.wait_days), (False, 28))
        for more, reason in (
            ({"planted": True}, "plant"),
            ({"fan_width": 1.4}, "wide"),
            ({"gap": 0.2}, "near"),
        ):
            got = advise("lime", 2.0, **more)
            with self.subTest(reason):
                self.assertTrue(got.is_split)
                self.assertLessEqual(got.at_once_g_l, 1.0)
                self.assertIn(reason, got.reasons[0])
        self.assertLessEqual(advise("sulfur", 1.0, planted=True).at_once_g_l, 0.3)
        cool, warm = advise("sulfur", 1.0, temperature_c=12), advise("sulfur", 1.0)
        self.assertGreater(cool.wait_days, warm.wait_days)


class Jars(SimpleTestCase):
    def test_read_off(self):
        # Check G01, read directly from the data: jar four stands at 5.80.
        got = jar_dose([0, 1, 2, 3, 4], [4.10, 4.75, 5.32, 5.80, 6.20], 5.8)
        self.assertAlmostEqual(got.g_per_l, 3.0, delta=0.06)
        self.assertTrue(2.7 < got.low < got.g_per_l < got.high < 3.3)

    def test_never_past_the_last_jar(self):
        with self.assertRaisesRegex(UnreachableError, "another jar"):
            jar_dose([0, 1, 2, 3], [4.1, 4.7, 5.2, 5.7], 6.5)
        for doses, ph in (([0, 1], [4, 5]), ([1, 1, 1], [4, 4, 4]), ([0, 1, np.nan], [4, 5, 6])):
            with self.assertRaises(PelkError):
                jar_dose(doses, ph, 5)

    def test_five_jars_around_an_estimate(self):
        self.assertEqual(jar_doses(2.0, 0.5)[-1], (4.0, 2.0))

    def test_jars_that_cannot_tell_say_why(self):
        doses = [0, 1, 2, 3, 4]
        for ph, why in (
            ([5.4, 5.45, 5.4, 5.5, 5.45], "hardly differ"),
            ([6.2, 5.9, 5.6, 5.3, 5.0], "the wrong way"),
            ([5.0, 7.9, 4.2, 7.5, 5.8], "too far from one line"),
            ([5.0, 5.4, 54.0, 6.1, 6.4], "is no jar of soil"),
        ):
            with self.subTest(why), self.assertRaisesMessage(PelkError, why):
                jar_dose(doses, ph, 6.0)
        # The plain jar is there already: nothing, and never less than nothing.
        self.assertEqual(jar_dose(doses, [6.3, 6.6, 6.9, 7.1, 7.3], 6.0), JarDose(0.0, 0.0, 0.0))
        near = jar_dose(doses, [5.9, 6.3, 6.7, 7.0, 7.3], 6.0)
        self.assertGreaterEqual(near.low, 0.0)
        # Sulfur lowers it: the same jars, the other way round.
        self.assertGreater(jar_dose(doses, [6.2, 5.9, 5.6, 5.3, 5.0], 5.5, raises=False).g_per_l, 0)
        with self.assertRaises(PelkError):
            jar_doses(0, 1)


class Learning(SimpleTestCase):
    def read(self, pile, days, rng, sd, **more):
        truth = simulate(pile, BENCH, max(days)).daily("ph")
        return [
            PhReading(day=d, ph=float(truth[d] + rng.normal(0, sd)), meter="checked pen", **more)
            for d in days
        ]

    def test_a_stiffer_mix_is_found_out(self):
        # Check F02: six readings (sd 0.04), true buffer 1.35 times, true offset 0.12. The
        # pen is taken for worse than it is, so the prior pulls the answer in: 1.15 is found, for
        # buffer and the rate of a dolomite that slows past pH 5.5 trade off.
        mix = with_doses(peat_mix(), [(DOLOMITE, 3.0)])
        truth = simulate(with_buffer(mix, 1.35), BENCH, 120).daily("ph")
        rng = np.random.default_rng(5)
        seen = [
            PhReading(day=d, ph=float(truth[d] + 0.12 + rng.normal(0, 0.04)), meter="checked pen")
            for d in (7, 14, 28, 60, 90, 120)
        ]
        got = calibrate(mix, BENCH, seen)
        self.assertAlmostEqual(got.buffer, 1.15, delta=0.03)
        sd = float(np.sqrt(got.posterior.covariance[0, 0]))
        self.assertLess(sd, 0.28)
        self.assertLess(abs(np.log(1.35 / got.buffer)), 2 * sd)

    def test_what_is_learned_narrows_the_fan_and_covers_the_truth(self):
        # Check F03: 60 batches drawn from the priors (own pH and the readings' offset too),
        # five readings to day 80, p10 to p90 on days 120 and 200. The model is its own
        # truth: this tests the statistics, not the chemistry.
        mix = with_doses(peat_mix(), [(DOLOMITE, 3.0)])
        truth = simulate(mix, BENCH, 200, draws_of(mix, 61, seed=3)).daily("ph")[:, 1:]
        wide = ensemble(mix, BENCH, 200, 60)["ph"][-1]
        rng, inside, narrower = np.random.default_rng(11), np.zeros(2), 0
        sd = PhReading(day=1, ph=6, meter="checked pen").sd
        for line in truth.T:
            offset = rng.normal(0, 0.15)
            seen = [
                PhReading(
                    day=d, ph=float(line[d] + offset + rng.normal(0, sd)), meter="checked pen"
                )
                for d in (10, 25, 40, 60, 80)
            ]
            drawn = ensemble(mix, BENCH, 200, 60, learned=calibrate(mix, BENCH, seen).posterior)
            for i, day in enumerate((120, 200)):
                low, high = np.quantile(drawn.daily("ph")[day], [0.1, 0.9])
                inside[i] += low <= line[day] <= high
            narrower += np.ptp(drawn["ph"][-1]) < np.ptp(wide)
        for share in inside / 60:
            self.assertAlmostEqual(share, 0.8, delta=0.1, msg=str(inside / 60))
        self.assertGreaterEqual(narrower, 57)

    def test_methods_are_brought_to_one_scale(self):
        kcl = PhReading(day=1, ph=4.6, method="1 M KCl")
        self.assertAlmostEqual(kcl.on_slurry, 5.6)
        self.assertAlmostEqual(PhReading(day=1, ph=5.7, meter_bias=0.2).on_slurry, 5.5)
        with self.assertRaisesRegex(PelkError, "allowed"):
            _ = PhReading(day=1, ph=5, method="tongue").on_slurry

    def test_an_odd_reading_is_named_and_bad_ones_are_refused(self):
        mix = with_doses(peat_mix(), [(DOLOMITE, 3.0)])
        seen = self.read(mix, (7, 14, 28, 42), np.random.default_rng(3), 0.02)
        seen[2] = replace(seen[2], ph=8.4)
        self.assertIn(2, calibrate(mix, BENCH, seen).odd)
        with self.assertRaisesRegex(PelkError, "no pH reading"):
            calibrate(mix, BENCH, [])
        with self.assertRaises(OutOfRangeError):
            calibrate(mix, BENCH, [PhReading(day=1, ph=float("nan"))])

    def test_draws_are_weighed_by_what_was_seen(self):
        trace = simulate(peat_mix(), BENCH, 30, draws_of(peat_mix(), 60))
        high = float(np.quantile(trace["ph"][-1], 0.9))
        weights, effective = weigh_draws(trace, [("ph", 30.0, high, 0.1)])
        self.assertAlmostEqual(weights.sum(), 1)
        self.assertGreater(float(weights @ trace["ph"][-1]), float(trace["ph"][-1].mean()))
        self.assertTrue(1 <= effective < 60)
