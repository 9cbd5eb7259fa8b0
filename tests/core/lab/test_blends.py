"""Dry feed blends against sums done by hand."""

from unittest import TestCase

from pelk.core.advice.grades import Grade, Kind
from pelk.core.advice.judged_blend import judge_blend
from pelk.core.base.errors import PelkError
from pelk.core.crops.groups import crop
from pelk.core.lab.blends import blend_of, blend_released, feed_grams, lacks_beside, tub_weeks
from pelk.core.materials.library import library
from pelk.core.release.nitrogen_curves import nitrogen_released

SHELF = library()
FEATHER, BONE = SHELF["feather-meal"], SHELF["bone-meal-steamed"]
POTASH, LIME = SHELF["sulfate-of-potash"], SHELF["lime-calcitic-ground"]


class Blends(TestCase):
    def test_the_grade_is_the_mean_by_weight_in_oxides(self):
        blend = blend_of([(FEATHER, 3.0), (POTASH, 1.0)])
        nitrogen = 0.75 * FEATHER.composition["N"].typ
        # K2O holds 0.8301 of potassium: 2 x 39.0983 / 94.196.
        potassium = 0.75 * FEATHER.composition["K"].typ + 0.25 * POTASH.composition["K"].typ
        self.assertAlmostEqual(blend.grade[0], nitrogen, 6)
        self.assertAlmostEqual(blend.grade[2], potassium / 0.8301, 2)
        self.assertEqual(blend.kg, 4.0)

    def test_lime_is_base_and_meal_is_acid(self):
        cce = LIME.cce.typ
        self.assertAlmostEqual(blend_of([(LIME, 2.0)]).base_kg_100kg, cce, 0)
        meal = blend_of([(FEATHER, 1.0)]).base_kg_100kg
        self.assertLess(meal, -10)
        half = blend_of([(LIME, 1.0), (FEATHER, 1.0)]).base_kg_100kg
        self.assertAlmostEqual(half, (cce + meal) / 2, 0)

    def test_release_is_weighed_by_nitrogen_not_by_weight(self):
        warm = [20.0] * 60
        both = blend_released([(FEATHER, 1.0), (BONE, 5.0)], warm)
        n1, n5 = FEATHER.composition["N"].typ, 5 * BONE.composition["N"].typ
        own = [nitrogen_released(m, warm)[-1] for m in (FEATHER, BONE)]
        self.assertAlmostEqual(both[-1], (n1 * own[0] + n5 * own[1]) / (n1 + n5))
        self.assertIsNone(blend_released([(POTASH, 1.0)], warm))

    def test_a_feed_gives_what_is_eaten_until_the_next(self):
        # 500 mg/L in 10 L are 5 g in 20 weeks, 1 g in four; 5 % of which half comes: 40 g.
        grams = feed_grams(500, 10, 4, 20, 5, 0.5)
        self.assertAlmostEqual(grams, 40)
        self.assertAlmostEqual(feed_grams(500, 10, 40, 20, 5, 0.5), 200)
        # 5 kg are 125 feeds; ten plants, twelve and a half times, every four weeks.
        self.assertAlmostEqual(tub_weeks(5, grams, 10, 4), 50)

    def test_a_sack_lacks_what_it_has_less_than_half_of(self):
        less, more = lacks_beside(blend_of([(BONE, 1.0)]), FEATHER)
        self.assertIn("P", less)
        self.assertIn("N", more)

    def test_what_cannot_be_blended_is_named(self):
        peat = SHELF["sphagnum-peat-light"]
        for lines, where in (
            ([], "rows"),
            ([(peat, 1.0)], "rows[0]"),
            ([(BONE, 1.0), (FEATHER, float("inf"))], "rows[1]"),
            ([(BONE, 1.0), (FEATHER, -0.5)], "rows[1]"),
        ):
            with self.subTest(where), self.assertRaises(PelkError) as caught:
                blend_of(lines)
            self.assertEqual(caught.exception.path, where)
        with self.assertRaises(PelkError):
            feed_grams(500, 10, 4, 20, 0, 0.5)


class Judged(TestCase):
    def judged(self, lines, who="fruiting", season_g_l=3.0):
        lines = [(SHELF[slug], kg) for slug, kg in lines]
        return {f.kind: f for f in judge_blend(lines, blend_of(lines), crop(who), season_g_l)}

    def test_burnt_lime_and_ash_beside_a_meal_lose_its_nitrogen(self):
        for lime in ("lime-hydrated", "wood-ash"):
            got = self.judged([("blood-meal", 3.0), (lime, 1.0)])
            self.assertIs(got[Kind.AMMONIA_LOST].grade, Grade.HARMS)
        self.assertNotIn(
            Kind.AMMONIA_LOST, self.judged([("blood-meal", 3.0), ("lime-calcitic-ground", 1.0)])
        )
        self.assertNotIn(Kind.AMMONIA_LOST, self.judged([("wood-ash", 1.0)], season_g_l=None))

    def test_limestone_for_acid_lovers_harms_and_for_others_does_not(self):
        lines = [("feather-meal", 2.0), ("lime-calcitic-ground", 2.0)]
        got = self.judged(lines, "ericaceous")
        self.assertIs(got[Kind.PH_HIGH].grade, Grade.HARMS)
        self.assertNotIn(Kind.PH_HIGH, self.judged(lines, season_g_l=0.2))
        # 2 kg of feather meal bring less acid than 2 kg of lime bring base.
        self.assertGreater(self.judged(lines)[Kind.PH_HIGH].value, 0)

    def test_lime_and_sulfur_in_one_tub(self):
        got = self.judged(
            [("sulfur-dusting", 1.0), ("lime-dolomitic-ground", 1.0)], "annuals", None
        )
        self.assertIn(Kind.LIME_AND_SULFUR, got)
        self.assertEqual(self.judged([("feather-meal", 1.0)], season_g_l=0.5), {})
