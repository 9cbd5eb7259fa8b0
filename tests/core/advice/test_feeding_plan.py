"""The feeding of pots planned ahead, against the arithmetic of its parts."""

import itertools
from dataclasses import replace
from datetime import date, timedelta
from math import cos, pi

from django.test import SimpleTestCase
from hypothesis import given, settings
from hypothesis import strategies as st

from pelk.core.advice.feeding_needs import Giver, Lack
from pelk.core.advice.feeding_plan import growing_year, plan_feeding
from pelk.core.advice.feedings import Feed, Pots
from pelk.core.advice.whole_doses import CapKind, most_of
from pelk.core.base.errors import PelkError
from pelk.core.base.limits import limit
from pelk.core.crops.groups import crop, library
from pelk.core.materials import library as materials
from pelk.core.materials.feeding_styles import FeedingWay, Inputs

JUNE = date(2026, 6, 1)
MILD = (4, 4, 6, 9, 12, 15, 17, 17, 14, 11, 7, 5)
SOUTH = (*MILD[6:], *MILD[:6])
PELLETS = Feed("pellets", 4.0, 0.55, lead="pellets")
FISH = Feed("fish", 5.0, 0.775, 1.18, lead="liquid")


def pots(**changes):
    """Twelve aubergines in 12 L, in a soil that feeds them for ten weeks."""
    usual = {
        "crop": crop("fruiting"),
        "planted_on": date(2026, 5, 1),
        "pot_l": 12.0,
        "count": 12,
        "surface_cm": 28.0,
        "normals_c": MILD,
        "soil_n": (30.0,) * 10,
        "run_out_day": 70,
        "dressing": PELLETS,
        "liquid": FISH,
        "potash": "sulfate of potash",
    }
    return Pots(**{**usual, **changes})


def plan(**changes):
    return plan_feeding(pots(**changes), JUNE)


class Year(SimpleTestCase):
    def test_growth_and_the_last_nitrogen_follow_the_yards_months(self):
        # April is the first month at 8 °C; November the first under 10: seven weeks before it.
        spring, last = growing_year(date(2026, 5, 1), MILD)
        self.assertEqual(spring, date(2026, 4, 1))
        self.assertEqual(last, date(2026, 11, 1) - timedelta(days=49))
        spring, last = growing_year(date(2026, 11, 1), SOUTH)
        self.assertEqual(spring, date(2026, 10, 1))
        self.assertEqual(last, date(2027, 5, 1) - timedelta(days=49))
        self.assertEqual(growing_year(date(2026, 5, 1), [25.0] * 12)[1], date(2026, 12, 31))
        with self.assertRaises(PelkError):
            growing_year(date(2026, 5, 1), [9.0])


class Plan(SimpleTestCase):
    def test_a_dressing_is_what_the_weeks_after_it_lack(self):
        got = plan(liquid=None, surface_cm=200.0, pot_l=12.0)
        first = next(r for r in got.rows if r.kind == "dress")
        lacks = sum(got.wanted[10:14])
        # By hand: over 0.65 reaching the plant, 40 mg N a gram, 0.55 free, 0.75 on top.
        grams = lacks / 0.65 * 12 / (40 * 0.55 * 0.75)
        self.assertAlmostEqual(first.g_per_pot, min(grams, 4 * 12), delta=0.01)
        self.assertLess(first.on, date(2026, 5, 1) + timedelta(days=70))

    def test_no_dressing_is_more_than_a_pot_takes_and_none_comes_in_the_cold(self):
        for surface in (10.0, 20.0):
            got = plan(surface_cm=surface)
            most = 500 * 3.1416 * (surface / 100) ** 2 / 4
            dressed = [r for r in got.rows if r.kind == "dress"]
            self.assertTrue(dressed)
            self.assertTrue(all(r.g_per_pot <= most + 0.01 for r in dressed))
        late = plan(planted_on=date(2026, 9, 20), run_out_day=0, soil_n=())
        feeds = [r.on for r in late.rows if r.kind in ("dress", "liquid")]
        self.assertFalse([on for on in feeds if on.month in (11, 12, 1, 2, 3)])

    def test_what_comes_along_stops_a_dressing_before_its_nitrogen_is_given(self):
        bone = materials.library()["bone-meal-steamed"]
        fruiting = crop("fruiting")
        most = most_of([(bone, 1.0)], fruiting, 4.0)
        # By hand: its phosphorus may be so many times what the crop takes up.
        self.assertIs(most.cap.kind, CapKind.PHOSPHORUS)
        allowed = limit("whole_dose", "phosphorus_times") * fruiting.uptake_mg_l["P"]
        allowed /= 10 * bone.composition["P"].typ
        self.assertAlmostEqual(most.season_g_l, allowed, places=9)
        feed = Feed("bone", bone.composition["N"].typ, 0.5, most=most)
        got = plan(dressing=feed, liquid=None, surface_cm=200.0, soil_n=(), run_out_day=0)
        dressed = [r for r in got.rows if r.kind == "dress"]
        self.assertAlmostEqual(sum(r.g_per_pot for r in dressed), allowed * 12, places=6)
        self.assertIn("Its phosphorus stops", dressed[-1].why)

    def test_soil_that_lasts_asks_for_no_dressing(self):
        got = plan(soil_n=(200.0,) * 30, run_out_day=None, liquid=None)
        self.assertFalse([r for r in got.rows if r.kind == "dress"])
        self.assertEqual(got.short_weeks, ())

    def test_a_thin_soil_that_is_not_fed_leaves_hungry_weeks(self):
        bare = plan(
            soil_n=(), run_out_day=0, feeding=FeedingWay.CHARGE_ONCE, liquid=None, surface_cm=3.0
        )
        self.assertTrue(bare.short_weeks)

    def test_a_gap_says_how_often_the_liquid_would_close_it(self):
        got = plan(soil_n=(), run_out_day=0, surface_cm=3.0)
        span = slice(got.short_weeks[0], got.short_weeks[-1] + 1)
        each = next(r.nitrogen_mg_l for r in got.rows if r.kind == "liquid")
        lacks = sum(got.wanted[span]) - sum(got.dressed[span])
        weeks = len(got.wanted[span])
        self.assertAlmostEqual(got.closing_days, 7 * each / (lacks / weeks), delta=0.05)
        self.assertIsNone(plan(soil_n=(200.0,) * 30, run_out_day=None).closing_days)

    def test_schools_differ_from_the_same_mix(self):
        go = plan(feeding=FeedingWay.FEED_AS_YOU_GO)
        self.assertFalse([r for r in go.rows if r.kind == "dress"])
        liquids = [r.on for r in go.rows if r.kind == "liquid"]
        self.assertEqual({b - a for a, b in itertools.pairwise(liquids)}, {timedelta(14)})
        # 175 mg N/L of 5 % at 1.18 kg/L: 2.97 mL/L.
        self.assertAlmostEqual(
            next(r for r in go.rows if r.kind == "liquid").ml_per_l, 2.966, delta=0.01
        )
        living = {r.kind for r in plan(feeding=FeedingWay.LIVING_SOIL).rows}
        self.assertIn("tea", living)
        self.assertNotIn("coated", {r.kind for r in go.rows})
        self.assertIn("coated", {r.kind for r in plan(inputs=Inputs.WITH_A_COATED_SAFETY_NET).rows})

    def test_light_and_heavy_feeders_from_the_same_mix(self):
        heavy, light = plan(), plan(crop=crop("med-herbs"))
        self.assertGreater(len(heavy.rows), len(light.rows))
        self.assertFalse([r for r in light.rows if r.kind in ("dress", "liquid")])

    def test_acid_lovers_are_fed_in_early_spring_before_the_buds(self):
        got = plan(crop=crop("ericaceous"), planted_on=date(2025, 11, 10))
        acid = [r for r in got.rows if r.kind == "acid"]
        self.assertEqual([r.on for r in acid], [date(2026, 4, 1)])
        self.assertEqual(got.season[0], date(2026, 4, 1))
        # The year after it is fed anew, from that spring on.
        later = plan_feeding(
            pots(crop=crop("ericaceous"), planted_on=date(2024, 5, 1)), date(2026, 6, 1)
        )
        self.assertEqual(later.season[0], date(2026, 4, 1))
        autumn = plan_feeding(
            pots(crop=crop("ericaceous"), planted_on=date(2024, 5, 1)), date(2026, 11, 20)
        )
        self.assertEqual(autumn.season[0], date(2027, 4, 1))

    def test_high_salts_ask_for_plain_water_and_buds_for_potash(self):
        salty = plan(ec_ds_m=4.4, ec_on=date(2026, 6, 1))
        water = next(r for r in salty.rows if r.kind == "water")
        self.assertAlmostEqual(water.l_per_pot, 0.55 * 12)
        # The feeds of the two weeks after it say that they wait; later ones do not.
        for row in (r for r in salty.rows if r.kind in ("dress", "liquid")):
            waits = 0 <= (row.on - date(2026, 6, 1)).days <= 14
            self.assertEqual("plain water first" in row.care.lower(), waits, row.on)
        self.assertTrue(any(r.care for r in salty.rows if r.kind in ("dress", "liquid")))
        self.assertFalse(
            [r for r in plan(ec_ds_m=1.0, ec_on=date(2026, 6, 1)).rows if r.kind == "water"]
        )
        waiting = next(r for r in plan(potassium_short_mg_l=150.0).rows if r.kind == "potash")
        self.assertIsNone(waiting.on)
        seen = plan(potassium_short_mg_l=150.0, buds_on=date(2026, 6, 20))
        potash = next(r for r in seen.rows if r.kind == "potash")
        self.assertEqual(potash.on, date(2026, 6, 20))
        self.assertAlmostEqual(potash.g_per_pot, 150 / 420 * 12, delta=0.01)

    def test_what_else_lacks_is_dressed_ahead_of_its_day_by_what_is_at_hand(self):
        lacking = [Lack("Mg", 30.0, 60.0, 50), Lack("S", 2.0, 60.0, 20), Lack("K", 90.0, 300.0, 40)]
        givers = {"Mg": Giver("Epsom salt", 9.8, True), "K": Giver("potash", 42.0, False)}
        some = pots(crop=crop("leafy"))
        rows = {r.key: r for r in plan_feeding(some, JUNE, lacking, givers).rows}
        # 30 mg/L of 9.8 %: 0.306 g a litre; two weeks ahead. A thirtieth short is no lack.
        self.assertAlmostEqual(rows["need-Mg"].g_per_pot, 30 / 98 * some.pot_l)
        self.assertEqual(rows["need-Mg"].on, some.planted_on + timedelta(days=36))
        self.assertNotIn("need-S", rows)
        self.assertIn("Not on your shelf", rows["need-K"].care)
        # What flowers gets its potash at the buds, not twice.
        flowering = plan_feeding(
            pots(crop=crop("fruiting"), potash="potash"), JUNE, lacking, givers
        )
        self.assertNotIn("need-K", {r.key for r in flowering.rows})

    def test_leaves_bring_the_first_weak_liquid_to_what_is_fed_by_them(self):
        seedlings = plan(crop=crop("seedling"), leaves_on=date(2026, 5, 20))
        first = next(r for r in seedlings.rows if r.key == "leaves")
        # 60 mg N/L of 5 % at 1.18 kg/L: 1.02 mL/L.
        self.assertEqual(first.on, date(2026, 5, 20))
        self.assertAlmostEqual(first.ml_per_l, 1.017, delta=0.005)
        self.assertFalse([r for r in plan().rows if r.key == "leaves"])

    def test_topping_up_comes_a_week_after_filling_once(self):
        filled = {"filled_on": date(2026, 5, 1)}
        top = next(r for r in plan(**filled).rows if r.kind == "top up")
        self.assertEqual(top.on, date(2026, 5, 8))
        self.assertFalse([r for r in plan(**filled, is_topped=True).rows if r.kind == "top up"])

    def test_the_same_question_has_the_same_keys(self):
        keys = [r.key for r in plan().rows]
        self.assertEqual(len(keys), len(set(keys)))
        again = plan_feeding(replace(pots(), buds_on=date(2026, 7, 1)), date(2026, 7, 1))
        self.assertLessEqual(set(keys), {r.key for r in again.rows})


class AnyPots(SimpleTestCase):
    @settings(max_examples=60, deadline=None)
    @given(
        group=st.sampled_from(sorted(library())),
        planted=st.dates(date(2024, 1, 1), date(2026, 12, 31)),
        later=st.integers(0, 900),
        pot_l=st.floats(0.05, 900),
        swing=st.floats(0, 25),
        mean=st.floats(-5, 28),
        feeding=st.sampled_from(FeedingWay),
        soil=st.lists(st.floats(0, 80), max_size=30),
        run_out=st.one_of(st.none(), st.integers(0, 250)),
    )
    def test_no_plan_feeds_too_late_too_much_or_twice_by_one_name(
        self, group, planted, later, pot_l, swing, mean, feeding, soil, run_out
    ):
        normals = [mean - swing * cos(2 * pi * m / 12) for m in range(12)]
        asked = pots(
            crop=crop(group),
            planted_on=planted,
            pot_l=pot_l,
            normals_c=normals,
            feeding=feeding,
            soil_n=soil,
            run_out_day=run_out,
            potassium_short_mg_l=100.0,
        )
        got = plan_feeding(asked, planted + timedelta(days=later))
        keys = [row.key for row in got.rows]
        self.assertEqual(len(keys), len(set(keys)))
        most = 500 * pi * (asked.surface_cm / 100) ** 2 / 4
        for row in got.rows:
            if row.on and row.kind in ("dress", "liquid", "tea"):
                self.assertLessEqual(row.on, got.last_nitrogen)
            if row.kind in ("dress", "acid"):
                self.assertLessEqual(row.g_per_pot, most * 1.0001)
                self.assertLessEqual(row.g_per_pot, 4 * pot_l * 1.0001)
        for series in (got.wanted, got.soil, got.dressed, got.poured):
            self.assertEqual(len(series), len(got.wanted))
            self.assertTrue(all(x >= 0 for x in series))
