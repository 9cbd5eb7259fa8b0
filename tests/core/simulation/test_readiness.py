"""Ready means ready: no condition is dropped, worse is never earlier, a trace moves nothing."""

from dataclasses import replace

import numpy as np
from django.test import SimpleTestCase
from hypothesis import given, settings
from hypothesis import strategies as st

from pelk.core.advice.grades import Grade
from pelk.core.advice.judgement import judge
from pelk.core.evaluation.evaluate import evaluate
from pelk.core.materials.library import library
from pelk.core.simulation.ensemble import Posterior
from pelk.core.simulation.forecast import Observed
from pelk.core.simulation.readiness import NAMES, over_the_next
from tests.core.mixes import plan

PEAT, COMPOST, PERLITE = "sphagnum-peat-light", "yard-compost", "perlite"
NEVER = 10**4


def worked(crop, parts, doses=(), observed=None):
    asked = plan(parts, [(m, x) for m, x in doses if x], crop)
    return evaluate(asked, library(), samples=0, observed=observed)


def ready(*asked):
    """Return the readiness of a mix."""
    return worked(*asked).forecast.ready


def day_of(told):
    return NEVER if told.p50 is None else told.p50


class AsWalked(SimpleTestCase):
    """Mixes for which the day was wrong, both ways."""

    def test_sulfur_that_is_read_slower_is_ready_later_never_sooner(self):
        # Read 7.0, 6.6, 6.0, 5.5 and 5.1 a heap was called ready since a day that stood at 7.1.
        for crop, parts, rate in (
            ("ericaceous", {COMPOST: 4, PEAT: 4, PERLITE: 2}, 1.0),
            ("foliage", {COMPOST: 4, PEAT: 4, PERLITE: 2}, 0.15),
        ):
            days = []
            for pace in (0.0, -0.4, -0.8, -1.2, -1.6):
                slow = Posterior(np.array([0.0, 0.0, pace, 0.0]), np.zeros((4, 4)))
                seen = Observed(learned=slow)
                told = worked(crop, parts, [("sulfur-dusting", rate)], observed=seen)
                days.append(_since(told.forecast.ready, "band"))
                self.assertLessEqual(told.forecast.ph_on(days[-1]), told.ph_band[1] + 0.21)
                self.assertGreaterEqual(day_of(told.forecast.ready), days[-1])
            self.assertEqual(days, sorted(days))
            self.assertGreater(days[-1], days[0])

    def test_salts_over_the_limit_are_never_waited_away(self):
        told = ready("ericaceous", {PEAT: 4, COMPOST: 4, PERLITE: 2}, [("sulfate-of-potash", 1.5)])
        self.assertIsNone(told.p50)
        self.assertIn("salts", told.in_vain)

    def test_a_tenth_outside_the_band_waits_for_nothing(self):
        parts = {"topsoil-loam": 1, PEAT: 1}
        told = worked("fruiting", parts, [("lime-hydrated", 1.35)])
        low = told.ph_band[0]
        line = told.forecast.line.daily("ph")[3:150]
        self.assertTrue(low - 0.2 <= line.min() < low, line.min())
        self.assertEqual(told.forecast.ready.p50, 3)

    def test_too_acid_is_not_ready_on_day_seven(self):
        parts = {PEAT: 8, PERLITE: 2}
        told = worked("foliage", parts, [("lime-calcitic-ground", 1.2)])
        self.assertLess(told.forecast.ph_on(60), 5.0)
        self.assertEqual(told.forecast.ready.in_vain, ["band"])

    def test_a_little_more_compost_does_not_turn_three_days_into_a_year_and_back(self):
        days = []
        for share in range(30, 60):
            parts = {PEAT: 80 - share, COMPOST: share, PERLITE: 20}
            days.append(day_of(ready("fruiting", parts)))
        # Once too limy for the season it stays so, or is waited for longer and longer.
        self.assertEqual(days, sorted(days))
        self.assertEqual(days[0], 3)

    def test_a_grain_of_sulfur_costs_no_day(self):
        parts = {PEAT: 6, PERLITE: 2, COMPOST: 2}
        days = [
            day_of(ready("ericaceous", parts, [("sulfur-dusting", x)])) for x in (0, 1e-4, 1e-3)
        ]
        self.assertEqual(days, [3, 3, 3])

    def test_two_handfuls_of_meal_wait_for_the_meal_alone(self):
        told = ready("fruiting", {PEAT: 5, COMPOST: 2, PERLITE: 3}, [("lime-dolomitic-ground", 3)])
        fed = ready(
            "fruiting",
            {PEAT: 5, COMPOST: 2, PERLITE: 3},
            [("lime-dolomitic-ground", 3), ("blood-meal", 1)],
        )
        self.assertEqual((told.p50, fed.waiting_for[0]), (3, "pulse"))
        self.assertLess(fed.p50, 14)

    def test_every_criterion_has_a_name_and_none_is_dropped(self):
        for parts in ({PEAT: 1}, {COMPOST: 1}, {PEAT: 1, COMPOST: 1}):
            told = ready("ericaceous", parts)
            self.assertLessEqual(
                {"band", "salts", "ammonium", "pulse", "unspent"}, {c.key for c in told.criteria}
            )
            self.assertLessEqual({c.key for c in told.criteria}, set(NAMES))


MIXES = st.fixed_dictionaries(
    {
        PEAT: st.integers(2, 8),
        COMPOST: st.integers(0, 4),
        "pine-bark-fines-composted": st.integers(0, 3),
        PERLITE: st.integers(1, 3),
    }
)
CROPS = st.sampled_from(["fruiting", "leafy", "ericaceous", "seedling", "foliage", "citrus"])
DOSES = st.fixed_dictionaries(
    {
        "lime-dolomitic-ground": st.sampled_from([0, 1.5, 3, 4.5]),
        "alfalfa-meal": st.sampled_from([0, 1, 3]),
        "blood-meal": st.sampled_from([0, 0.5, 1.5]),
        "sulfur-dusting": st.sampled_from([0, 0, 0.2, 0.6]),
    }
)
MORE = {"salt": ("sulfate-of-potash", 0.8), "ammonium": ("ammonium-sulfate", 0.4)}
TRACES = ["lime-dolomitic-ground", "sulfur-dusting", "blood-meal", "gypsum", "sulfate-of-potash"]


def parts_of(mix):
    return {slug: x for slug, x in mix.items() if x}


class Properties(SimpleTestCase):
    @settings(max_examples=40, deadline=None)
    @given(CROPS, MIXES, DOSES, st.sampled_from(sorted(MORE)))
    def test_worse_is_never_earlier(self, crop, mix, doses, how):
        before = worked(crop, parts_of(mix), list(doses.items()))
        after = worked(crop, parts_of(mix), [*doses.items(), MORE[how]])
        keys = ("salts",) if how == "salt" else ("salts", "ammonium")
        for key in keys:
            days = [_since(told.forecast.ready, key) for told in (before, after)]
            self.assertGreaterEqual(days[1], days[0], key)
        if "band" not in before.forecast.ready.waiting_for:
            self.assertGreaterEqual(
                day_of(after.forecast.ready), day_of(before.forecast.ready) if how == "salt" else 0
            )

    @settings(max_examples=40, deadline=None)
    @given(MIXES, st.sampled_from([4.5, 6, 8]))
    def test_further_over_the_band_is_never_earlier(self, mix, lime):
        days = []
        for rate in (lime, lime * 1.3):
            told = worked("ericaceous", parts_of(mix), [("lime-calcitic-ground", rate)])
            days.append(day_of(told.forecast.ready))
        self.assertGreaterEqual(days[1], days[0])

    @settings(max_examples=40, deadline=None)
    @given(CROPS, MIXES, DOSES, st.sampled_from(TRACES))
    def test_a_trace_moves_the_day_by_at_most_one(self, crop, mix, doses, trace):
        before = ready(crop, parts_of(mix), list(doses.items()))
        more = {**doses, trace: doses.get(trace, 0) + 0.001}
        after = ready(crop, parts_of(mix), list(more.items()))
        if before.p50 is None or after.p50 is None:
            self.assertEqual(before.p50, after.p50)
        else:
            self.assertLessEqual(abs(before.p50 - after.p50), 1)

    @settings(max_examples=40, deadline=None)
    @given(CROPS, MIXES, DOSES, st.integers(0, 3))
    def test_a_hundredth_of_a_part_moves_it_little_or_a_limit_is_named(
        self, crop, mix, doses, which
    ):
        before = ready(crop, parts_of(mix), list(doses.items()))
        slug = list(mix)[which]
        after = ready(crop, parts_of({**mix, slug: mix[slug] * 1.01}), list(doses.items()))
        if abs(day_of(before) - day_of(after)) > 10:
            self.assertTrue(before.waiting_for or after.waiting_for)

    @settings(max_examples=60, deadline=None)
    @given(CROPS, MIXES, DOSES)
    def test_on_the_ready_day_nothing_harms(self, crop, mix, doses):
        told = worked(crop, parts_of(mix), list(doses.items()))
        if told.forecast.ready.p50 is not None:
            harms = [f.text for f in judge(told).findings if f.grade is Grade.HARMS]
            self.assertEqual(harms, [])


def _since(told, key):
    """Return since when one criterion holds for good."""
    criterion = next(c for c in told.criteria if c.key == key)
    return NEVER if criterion.day is None else criterion.day


class Ahead(SimpleTestCase):
    def test_what_holds_over_the_next_days(self):
        holds = np.array([True, True, False, True, True, True])
        self.assertEqual(over_the_next(holds, 2).tolist(), [False] * 3 + [True] * 3)
        self.assertEqual(over_the_next(holds, 0).tolist(), holds.tolist())

    def test_what_no_day_mends_has_no_day(self):
        told = ready("fruiting", {PEAT: 5, COMPOST: 2, PERLITE: 3}, [("lime-dolomitic-ground", 3)])
        held = replace(told).without("air")
        self.assertEqual((held.p50, held.p10, held.p90, held.in_vain), (None,) * 3 + (["air"],))
