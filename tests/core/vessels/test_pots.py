"""Pots in use: what they weigh, how long their water lasts, what stands before a harvest."""

from datetime import date, timedelta

from django.test import SimpleTestCase

from pelk.core.base.errors import PelkError
from pelk.core.crops.groups import crop
from pelk.core.crops.harvest_guard import Manured, first_harvest, harvest_guards
from pelk.core.crops.named import crops_named
from pelk.core.vessels.watering import days_between, pot_weight, water_taken

MILD = (4, 4, 6, 9, 12, 15, 17, 17, 14, 11, 7, 5)
ON = date(2026, 3, 1)


class Watering(SimpleTestCase):
    def test_a_pot_weighs_its_dry_soil_and_what_it_holds(self):
        # By hand: 10 L of 0.2 kg/L dry holding half its volume: 7 kg; half of 5 L between.
        got = pot_weight(10, 0.2, 0.5)
        self.assertAlmostEqual(got.watered_kg, 7.0)
        self.assertAlmostEqual(got.thirsty_kg, 4.5)
        self.assertGreater(pot_weight(10, 0.2, 0.5, "over").thirsty_kg, got.thirsty_kg)
        for wrong in ({"pot_l": 0.0}, {"habit": "sometimes"}, {"capacity": float("nan")}):
            with self.assertRaises(PelkError):
                pot_weight(**{"pot_l": 10.0, "dry_kg_l": 0.2, "capacity": 0.5, **wrong})

    def test_a_month_takes_what_the_manual_says(self):
        # FAO Training Manual 3, recalled: ET0 = p (0.46 T + 8); p 0.27 in the middle: at a
        # steady 20 °C 0.27 x 17.2 = 4.64 mm/d.
        self.assertAlmostEqual(water_taken([20.0] * 12, 6), 0.27 * 17.2)
        july, january = water_taken(MILD, 7), water_taken(MILD, 1)
        self.assertTrue(4.0 < july < 6.0 and 1.0 < january < 2.5, (july, january))
        with self.assertRaises(PelkError):
            water_taken(MILD, 13)

    def test_days_between_follow_water_over_loss(self):
        # 2.5 L over a surface of 0.07 m2 losing 5 mm a day under 1.3 of leaves: 5.5 days.
        got = days_between(2.5, 700, 5.0)
        self.assertAlmostEqual(got.typ, 2.5 / (0.07 * 5 * 1.3))
        self.assertLess(got.low, got.typ)
        self.assertLess(days_between(2.5, 700, 5.0, "fabric").typ, got.typ)
        self.assertAlmostEqual(days_between(2.5, 700, 5.0, measured=0.5).typ, got.typ / 2)

    def test_six_peppers_in_a_tier_want_water_every_day_or_two(self):
        # 26.5 L of a mix that holds 0.55, half of it between; a warm July takes 6 mm a day.
        leaves = 6 * crops_named("sweet pepper")[0].canopy_m2
        got = days_between(0.5 * 0.55 * 26.5, 1200, 6.0, canopy_m2=leaves)
        self.assertTrue(0.7 < got.low < got.typ < 2.0, got)
        alone = days_between(0.5 * 0.55 * 26.5, 1200, 6.0, canopy_m2=0.02)
        self.assertEqual(alone, days_between(0.5 * 0.55 * 26.5, 1200, 6.0))


class Guard(SimpleTestCase):
    def test_raw_manure_keeps_120_days_on_soil_and_90_off_it(self):
        # 7 CFR 205.203(c)(1).
        self.assertEqual(first_harvest(crop("leafy"), ON) - ON, timedelta(120))
        self.assertEqual(first_harvest(crop("fruiting"), ON) - ON, timedelta(90))

    def test_what_is_not_eaten_is_not_guarded(self):
        manure = [Manured("Raw manure", ON)]
        self.assertEqual(harvest_guards(crop("annuals"), manure, teas=True), [])
        got = harvest_guards(crop("leafy"), manure, teas=True, metals={"arsenic": ["Greensand"]})
        text = " ".join(g.text for g in got)
        for word in ("120 days", "eaten raw", "arsenic: greensand", "Wash"):
            self.assertIn(word, text)

    def test_the_last_manure_counts(self):
        late = Manured("Raw manure", ON + timedelta(30))
        got = harvest_guards(crop("fruiting"), [Manured("Raw manure", ON), late], teas=False)
        self.assertEqual([g.until for g in got if g.until], [ON + timedelta(120)])
