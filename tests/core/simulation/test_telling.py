"""What a measurement would tell, against the tables worked by hand and by another program."""

from dataclasses import replace

import numpy as np
from django.test import SimpleTestCase
from hypothesis import given, settings
from hypothesis import strategies as st

from pelk.core.acid_base.water import Water
from pelk.core.advice.measure_next import (
    Measure,
    Offer,
    PhDraws,
    jar_offer,
    next_measure,
    ph_offers,
    strip_offer,
)
from pelk.core.materials.library import library
from pelk.core.simulation.ensemble import draws_of, life_draws_of
from pelk.core.simulation.initial_state import heap_of
from pelk.core.simulation.run import FAN_PACE, Surroundings, simulate
from pelk.core.simulation.telling import CUP_SD, Telling, control_share, ph_sd, told_by

SHELF = library()
LIME = "lime-dolomitic-ground"
# Width of the pH on the decision day, then what each measurement leaves of it: worked by
# another program with the same spreads, to 0.08 pH of width and 8 points of shrinking.
MIXES = (
    ((("sphagnum-peat-light", 3), ("perlite", 1)), 3.0, 90, 1.12),
    ((("sphagnum-peat-light", 7), ("yard-compost", 3)), 1.0, 90, 1.01),
    ((("coir-pith-loose", 4), ("worm-castings", 1)), 0.0, 60, 0.42),
)
SHRINKS = {
    "jars": (0.56, 0.57, 0.17),
    "14 checked": (0.46, 0.48, 0.17),
    "14 unchecked": (0.31, 0.32, 0.09),
    "28 checked": (0.49, 0.52, 0.19),
    "0 checked": (0.04, 0.13, 0.05),
    "strip": (0.03, 0.01, 0.04),
    "cup": (0.0, 0.0, 0.0),
}


def drawn_of(parts, lime_g_l, days):
    """Return a heap, its draws, and its pH by draw: hard water, .02 a day, a fifth drains."""
    whole = sum(x for _, x in parts)
    doses = [(SHELF[LIME], lime_g_l)] if lime_g_l else []
    heap = heap_of([(SHELF[s], x / whole) for s, x in parts], doses)
    alkalinity = life_draws_of(heap, 200, guessed=True).alkalinity
    draws = replace(draws_of(heap), alkalinity=alkalinity)
    water = Water(alkalinity_meq_l=3.0, l_per_l_day=0.02, leaching_fraction=0.2)
    around = Surroundings(temperature_c=20.0, water=water)
    return heap, draws, PhDraws.of(simulate(heap, around, days, draws, FAN_PACE))


class Tables(SimpleTestCase):
    def test_each_measurement_leaves_what_it_should(self):
        for column, (parts, lime, day, width) in enumerate(MIXES):
            heap, draws, ph = drawn_of(parts, lime, day)
            asked = ph.on(day)
            checked, unchecked = ph_sd("checked pen"), ph_sd("unchecked pen")
            got = {
                "jars": jar_offer(heap, ph, 0, day, draws).telling,
                "strip": strip_offer(ph, draws.alkalinity, 0, day).telling,
                "cup": told_by(draws.wetter, asked, CUP_SD),
                **{f"{d} checked": told_by(ph.on(d), asked, checked) for d in (0, 14, 28)},
                "14 unchecked": told_by(ph.on(14), asked, unchecked),
            }
            for name, wanted in SHRINKS.items():
                with self.subTest(parts=parts, measure=name):
                    self.assertAlmostEqual(got[name].width_now, width, delta=0.08)
                    self.assertAlmostEqual(got[name].shrink, wanted[column], delta=0.08)

    def test_normal_pairs(self):
        # Correlation .8, noise half a spread: r2 .512, the width times .699.
        exact = np.array([[1.0], [-1.0]])
        rng = np.random.default_rng(3)
        shares = []
        for _ in range(6):
            seen = rng.standard_normal(200)
            asked = 0.8 * seen + 0.6 * rng.standard_normal(200)
            told = told_by(seen, asked, 0.5 * float(np.std(seen)))
            shares.append(told.width_then / told.width_now)
        self.assertAlmostEqual(float(np.mean(shares)), 0.70, delta=0.04)
        # With exact covariances: var 1 each, shared .8, noise .25.
        self.assertAlmostEqual((1 - 0.8**2 / 1.25) ** 0.5, 0.699, delta=1e-3)
        self.assertAlmostEqual(
            control_share(exact, exact[:, 0] * 1.0, np.array([0.5])), (1 - 1 / 1.25) ** 0.5
        )

    def test_what_a_pen_may_be_off(self):
        found = [round(ph_sd(m), 2) for m in ("checked pen", "unchecked pen", "strip")]
        self.assertEqual(found, [0.19, 0.30, 0.43])

    @settings(max_examples=25, deadline=None)
    @given(st.integers(0, 10_000), st.floats(-0.95, 0.95), st.floats(0.1, 2.0))
    def test_no_measurement_widens_and_two_tell_no_less_than_one(self, seed, shared, noise):
        rng = np.random.default_rng(seed)
        seen = rng.standard_normal((200, 2))
        asked = shared * seen[:, 0] + 0.3 * seen[:, 1] + 0.4 * rng.standard_normal(200)
        one, two = told_by(seen[:, 0], asked, noise), told_by(seen, asked, noise)
        finer = told_by(seen[:, 0], asked, noise / 2)
        self.assertLessEqual(one.width_then, one.width_now)
        self.assertGreaterEqual(two.shrink, one.shrink - 0.04)
        self.assertGreaterEqual(finer.shrink, one.shrink - 0.04)


class Advice(SimpleTestCase):
    def setUp(self):
        self.heap, _, self.draws = drawn_of(*MIXES[0][:3])

    def test_the_most_telling_in_time_is_advised_and_the_quicker_of_what_is_alike(self):
        offers = ph_offers(self.draws, 14, 90, pen_is_checked=False)
        found = next_measure(self.draws, offers, 90, (5.8, 6.5))
        self.assertIn(found.offer.measure, (Measure.PH_LATER, Measure.PH_NOW_CHECKED))
        self.assertGreaterEqual(found.offer.telling.shrink, 0.25)
        jars = jar_offer(self.heap, self.draws, 14, 90)
        best = next_measure(self.draws, [*offers, jars], 90, (5.8, 6.5))
        self.assertGreaterEqual(best.offers[0].telling.worth, best.offers[-1].telling.worth)
        # Two jars of a fortnight come too late for a decision in ten days.
        late = next_measure(self.draws, [replace(jars, day=104)], 90, (5.8, 6.5))
        self.assertIsNone(late.offer)

    def test_what_is_known_or_changes_nothing_is_said_to_be_so(self):
        narrow = PhDraws(self.draws.edges, 6.0 + 0.05 * (self.draws.ph - self.draws.ph.mean()))
        offers = ph_offers(narrow, 14, 90, pen_is_checked=True)
        self.assertTrue(next_measure(narrow, offers, 90, (5.8, 6.5)).is_known)
        wide_band = next_measure(self.draws, [], 90, (4.0, 8.0))
        self.assertTrue(wide_band.changes_nothing)
        split = next_measure(self.draws, [], 90, (5.9, 6.2))
        self.assertFalse(split.changes_nothing)
        nothing = Offer(Measure.STRIP, 0, Telling(1.0, 0.97))
        self.assertIsNone(next_measure(self.draws, [nothing], 90, None).offer)
