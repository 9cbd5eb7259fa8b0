"""Last year's soil, feeding, teas, schools: what to do, with what, and why."""

from django.test import SimpleTestCase
from hypothesis import given, settings
from hypothesis import strategies as st

from pelk.core.advice.old_soil_ph import ph_need
from pelk.core.base.errors import PelkError
from pelk.core.crops.feeding_rules import is_feed_due, liquid_dose, tea, top_dress, winter_rule
from pelk.core.lab.blends import Ingredient, blend_grade
from pelk.core.materials.feeding_styles import CHOICES, FeedingStyle
from pelk.core.materials.library import library
from pelk.core.old_soil.deciding import decide
from pelk.core.old_soil.inspection import WORDS, Inspection
from pelk.core.old_soil.prescription import (
    Item,
    blend_to_add,
    carried_over,
    left_after_rinse,
    prescribe,
    rinse_pore_volumes,
)
from pelk.core.old_soil.questions import ROUTE_STEPS

SOUND = {
    "slurry": "gritty",
    "squeeze": "springs",
    "ec_ds_m": 1.2,
    "ph": 6.2,
    "disease": "none",
    "smell": "earthy",
    "origin": "own",
}


class Decisions(SimpleTestCase):
    def test_the_first_rule_that_fits_decides(self):
        # Check OLD-1, definition: cases a to g.
        cases = (
            ({**SOUND, "disease": "soil-borne"}, 1, "discard"),
            ({**SOUND, "seasons": 1, "ec_ds_m": 6.0}, 6, "treat"),
            ({**SOUND, "seasons": 3, "slurry": "silky", "squeeze": "lump"}, 9, "minor-part"),
            ({**SOUND, "seasons": 2}, 10, "dump-and-refresh"),
            ({**SOUND, "planted_once": False}, 12, "reuse"),
            ({**SOUND, "seasons": 1, "next_crop": "leafy"}, 13, "dump-and-refresh"),
            ({"seasons": 1, "origin": "own"}, 13, "dump-and-refresh"),
        )
        for observed, rule, route in cases:
            with self.subTest(rule=rule, **observed):
                got = decide(Inspection(**observed))
                self.assertEqual((got.rule, got.route), (rule, route))
                self.assertTrue(got.why)
        self.assertTrue(decide(Inspection(seasons=1, origin="own")).is_provisional)

    def test_the_other_routes(self):
        for more, route in (
            ({"lead_ok": False}, "discard-for-food"),
            ({"herbicide": "suspected"}, "hold"),
            ({"pest": "weevil", "pest_amount": "many"}, "hold"),
            ({"smell": "sour"}, "air-out"),
            ({"ec_ds_m": 4.0}, "flush"),
            ({"next_crop": "seedling"}, "not-for-this-crop"),
            ({"seasons": 1, "next_crop": "lean"}, "reuse"),
            ({"kind": "bed"}, "bed"),
            ({"seasons": 1, "roots_left_in": True}, "in-place"),
        ):
            with self.subTest(route, **more):
                self.assertEqual(decide(Inspection(**{**SOUND, **more})).route, route)
        big = decide(Inspection(**SOUND, seasons=1), pot_l=60)
        self.assertEqual(big.route, "in-place")

    @settings(max_examples=80, deadline=None)
    @given(
        st.fixed_dictionaries(
            {
                name: st.sampled_from([None, *words])
                for name, words in WORDS.items()
                if name not in ("kind", "origin", "herbicide")
            }
        ),
        st.sampled_from([None, 1, 2, 3, 5]),
        st.sampled_from([None, True]),
    )
    def test_what_cannot_be_tipped_is_never_told_to_be(self, observed, seasons, rooted):
        """Mildew, flies, rank soil, tired soil: each has its way in place, or says how."""
        seen = Inspection(**observed, seasons=seasons, roots_left_in=rooted)
        decision = decide(seen, pot_l=90)
        said = " ".join([decision.why, *decision.also])
        steps = [*ROUTE_STEPS.get(decision.route, ())]
        if decision.route in ("in-place", "partly-out", "flush", "reuse"):
            steps += prescribe(decision, seen, 90.0, pot_cm=50).steps
        for phrase in ("tip it out", "Spread it 20 cm", "spread dry", "Break it up and sieve"):
            self.assertNotIn(phrase, " ".join([said, *steps]))
        if decision.route == "discard":
            self.assertIn("a bucket at a time", said)

    def test_the_next_crops_band_decides_not_a_line_for_all(self):
        for ph, crop, route in (
            (7.6, "ericaceous", "treat"),
            (4.2, "fruiting", "treat"),
            (7.6, "med-herbs", "dump-and-refresh"),
            (4.4, "ericaceous", "dump-and-refresh"),
            (6.2, "fruiting", "dump-and-refresh"),
        ):
            with self.subTest(ph, crop=crop):
                seen = Inspection(**{**SOUND, "ph": ph, "next_crop": crop, "seasons": 2})
                self.assertEqual(decide(seen).route, route)

    def test_lime_or_sulfur_is_told_for_what_is_out_of_the_band(self):
        shelf = library()
        sour = ph_need(4.2, (5.8, 6.5), "container", shelf)
        self.assertEqual(sour.material.slug, "lime-dolomitic-ground")
        self.assertTrue(0.5 < sour.g_per_l < 8, sour.g_per_l)
        sweet = ph_need(6.0, (4.5, 5.4), "container", shelf)
        self.assertEqual(sweet.material.slug, "sulfur-dusting")
        self.assertIsNone(ph_need(6.6, (5.8, 6.5), "container", shelf))
        self.assertIsNone(ph_need(None, (5.8, 6.5), "container", shelf))

    def test_a_hand_that_tips_it_out_is_believed(self):
        seen = Inspection(**SOUND, seasons=1, roots_left_in=False)
        self.assertEqual(decide(seen, pot_l=60).route, "dump-and-refresh")
        kept = Inspection(**{**SOUND, "roots_left_in": True}, seasons=1)
        self.assertEqual(decide(kept, pot_l=8).route, "in-place")

    def test_each_of_four_pots_gets_its_own_dressing(self):
        seen = Inspection(**{**SOUND, "roots_left_in": True}, seasons=1)
        one = prescribe(decide(seen, 60), seen, 60.0, pot_cm=42)
        four = prescribe(decide(seen, 60), seen, 240.0, pot_cm=42, pots=4)
        now = [{what: x for what, x, _ in p.rows}[Item.PELLETS_NOW] for p in (one, four)]
        self.assertAlmostEqual(now[1], 4 * now[0])
        rest = next(x for what, x, _ in four.rows if what == Item.PELLETS_LATER)
        self.assertLessEqual(rest / four.goes, now[1] * 1.01)

    def test_damping_off_is_a_third_at_most_and_every_danger_is_said(self):
        seen = Inspection(**{**SOUND, "disease": "damping-off"}, seasons=1)
        self.assertEqual(decide(seen).route, "minor-part")
        both = decide(Inspection(**{**SOUND, "herbicide": "suspected", "smell": "sour"}))
        self.assertIn("airless", " ".join(both.also))

    def test_what_applies_besides(self):
        observed = Inspection(
            **SOUND,
            seasons=2,
            last_family="Solanaceae",
            next_family="Solanaceae",
            pest="gnats",
            roots_pct=40,
            is_dry=True,
            crust="light",
        )
        also = " ".join(decide(observed).also)
        for word in ("same family", "sand", "roots", "waterings", "2 cm"):
            self.assertIn(word, also)

    def test_an_unknown_word_is_refused(self):
        with self.assertRaisesRegex(PelkError, "allowed: earthy"):
            Inspection(smell="lovely")

    @settings(max_examples=60, deadline=None)
    @given(
        st.fixed_dictionaries(
            {
                name: st.sampled_from([None, *words])
                for name, words in WORDS.items()
                if name != "kind"
            }
        ),
        st.sampled_from(["container", "bed"]),
        st.one_of(st.none(), st.floats(0, 9)),
        st.one_of(st.none(), st.floats(2, 10)),
    )
    def test_every_inspection_comes_to_a_decision(self, observed, kind, ec, ph):
        got = Inspection(**observed, kind=kind, ec_ds_m=ec, ph=ph)
        decision = decide(got)
        try:
            given_ = prescribe(decision, got, 20.0)
        except PelkError as error:
            self.assertEqual(error.message, decision.why)
        else:
            self.assertGreaterEqual(given_.makes_l, 20.0 - 1e-9)
            self.assertTrue(all(amount > 0 for _, amount, _ in given_.rows))


class Prescriptions(SimpleTestCase):
    def test_tipped_out(self):
        observed = Inspection(**{**SOUND, "slurry": "mixed"}, seasons=2)
        got = prescribe(decide(observed), observed, 40.0)
        rows = {name: amount for name, amount, _ in got.rows}
        # A quarter of compost, 15 % of aggregate, a quarter of peat: old soil is 35 %.
        self.assertAlmostEqual(got.makes_l, 40 / 0.35, places=6)
        self.assertAlmostEqual(rows["compost"], 0.25 * got.makes_l)
        self.assertAlmostEqual(rows["peat-or-coir"], 0.25 * got.makes_l)
        over = prescribe(decide(observed), observed, 40.0, habit="over")
        self.assertGreater(
            {n: a for n, a, _ in over.rows}["aggregate"] / over.makes_l,
            rows["aggregate"] / got.makes_l,
        )

    def test_in_place_never_more_than_the_surface_bears(self):
        # Check UPK-1: 35.3 g at once on a pot 30 cm wide.
        observed = Inspection(**SOUND, seasons=1, roots_left_in=True)
        got = prescribe(decide(observed), observed, 60.0, pot_cm=30)
        self.assertAlmostEqual(got.rows[0][1], 35.3, delta=0.1)
        self.assertIn("later", got.rows[1][0])

    def test_the_blend_is_clamped_and_credit_counts(self):
        # 0.5 x 500 / 0.65 = 385 mg/L; 4 % N, 55 % of it: 17 g/L, so the cap of 4 holds.
        self.assertAlmostEqual(blend_to_add(500, 0, 10, 4, 0.55), 40)
        self.assertAlmostEqual(blend_to_add(70, 0, 10, 4, 0.55), 53.8 / 22 * 10, delta=0.1)
        self.assertAlmostEqual(blend_to_add(70, 500, 10, 4, 0.55), 10)
        dry, wet = (carried_over({"N": 100, "P": 10}, wet_winter=w) for w in (False, True))
        self.assertEqual((dry["N"], wet["N"], wet["P"]), (10, 2, 7))

    def test_a_rinse(self):
        # Check SAL-9: 1.3 ln(5/2) = 1.191 pore volumes; NO3 .304, K .672, Na .452 stay.
        volumes = rinse_pore_volumes(5, 2)
        self.assertAlmostEqual(volumes, 1.191, delta=0.002)
        left = left_after_rinse(volumes)
        for ion, expected in (("NO3", 0.304), ("K", 0.672), ("Na", 0.452)):
            self.assertAlmostEqual(left[ion], expected, delta=0.002)
        self.assertEqual(rinse_pore_volumes(1, 2), 1.0)

    def test_nothing_for_what_must_go(self):
        observed = Inspection(**{**SOUND, "disease": "soil-borne"})
        with self.assertRaisesRegex(PelkError, "sealed waste"):
            prescribe(decide(observed), observed, 10)
        with self.assertRaises(PelkError):
            prescribe(decide(observed), observed, 0)


class Feeding(SimpleTestCase):
    def test_three_one_one_one(self):
        # Check BLD-1: by mass 3.667-3.767-1.083; by scoop the dense lime dilutes nitrogen.
        blend = [
            Ingredient(3, 6, 2.5, 1.5, 0.60),
            Ingredient(1, 3, 15, 0, 0.85),
            Ingredient(1, 1, 0.1, 2, 0.65),
            Ingredient(1, 0, 0, 0, 1.30),
        ]
        for by_volume, expected in ((False, (3.667, 3.767, 1.083)), (True, (3.043, 3.764, 0.87))):
            for got, value in zip(blend_grade(blend, by_volume=by_volume), expected, strict=True):
                self.assertAlmostEqual(got, value, delta=0.002)
        with self.assertRaises(PelkError):
            blend_grade([Ingredient(0, 6, 2, 1)])

    def test_a_dressing_goes_on_before_the_food_is_gone(self):
        got = top_dress(70, 60, 15, 5, 0.6)
        # 60 mg/L x 15 L / (50 mg/g x .6 x .75) = 40 g, three weeks ahead.
        self.assertAlmostEqual(got.g_per_pot, 40)
        cool = top_dress(70, 60, 15, 5, 0.6, temperature_c=8)
        self.assertLess(cool.day, got.day)
        narrow = top_dress(70, 60, 15, 5, 0.6, surface_cm=20)
        self.assertEqual(narrow.goes, 3)
        for bad in ({"kind": "dust"}, {"available_share": 0}):
            with self.assertRaises(PelkError):
                top_dress(
                    **{
                        "run_out_day": 70,
                        "short_mg_l": 60,
                        "pot_l": 15,
                        "nitrogen_pct": 5,
                        "available_share": 0.6,
                        **bad,
                    }
                )

    def test_liquids_and_what_holds_them_back(self):
        self.assertAlmostEqual(liquid_dose(150, 0.5, 10), 7.5)
        due = is_feed_due(1.5, 3.0, 20, 60, 20)
        self.assertTrue(due[0])
        for args, word in (
            ((3.5, 3.0, 20, 60, 20), "salts"),
            ((1.5, 3.0, 200, 60, 20), ""),
            ((1.5, 3.0, 20, 60, 4), ""),
        ):
            held, why = is_feed_due(*args)
            with self.subTest(args):
                self.assertFalse(held)
                self.assertIn(word, why)

    def test_teas_have_a_time_limit(self):
        self.assertTrue(tea(4, food=True).is_usable)
        self.assertFalse(tea(30, food=True).is_usable)
        self.assertIn("ornamentals", tea(30, food=True).text)
        self.assertIn("raw manure", tea(2, food=True, raw=True).text)
        self.assertFalse(tea(2, food=True, sweetened=True).is_usable)
        self.assertTrue(tea(2, food=False, sweetened=True).is_usable)

    def test_no_leachables_before_a_wet_winter(self):
        held = {"N": 1.0, "K": 3.0, "P": 20.0, "S": 1.2}
        wet = winter_rule(1.56, 0.5, held)
        self.assertEqual(set(wet.leave_out), {"N", "K", "S"})
        self.assertIn("96%", wet.text)
        self.assertEqual(winter_rule(0.1, 0.5, held).leave_out, ())


class Schools(SimpleTestCase):
    def test_every_answer_of_every_question_works(self):
        everything = list(library().values())
        for question, answers in CHOICES.items():
            for answer in answers:
                with self.subTest(question, answer=answer):
                    school = FeedingStyle.of({question: answer})
                    self.assertTrue(school.filtered(everything))
        with self.assertRaisesRegex(PelkError, "allowed"):
            FeedingStyle.of({"feeding": "by moonlight"})

    def test_what_each_filter_leaves_out(self):
        everything = list(library().values())
        vegan = FeedingStyle.of({"inputs": "plant and mineral only"}).filtered(everything)
        self.assertFalse([m.slug for m in vegan if "blood" in m.slug or m.vegan == "no"])
        self.assertIn("seed meals", FeedingStyle.of({"inputs": "plant and mineral only"}).advice[0])
        coir = {m.family for m in FeedingStyle.of({"water_holder": "coir"}).filtered(everything)}
        self.assertIn("coir", coir)
        self.assertNotIn("peat", coir)

    def test_defaults_follow_the_answers(self):
        plain, lean = (
            FeedingStyle().defaults,
            FeedingStyle.of({"feeding": "feed as you go"}).defaults,
        )
        self.assertEqual((plain.bands, plain.by_eye), ({}, (1.0, 1.0)))
        self.assertEqual(lean.bands["salts"], (None, 1.5))
        self.assertEqual(lean.leaching_fraction, 0.10)
        living = FeedingStyle.of({"feeding": "living soil", "measuring": "eye"}).defaults
        self.assertEqual((living.inoculum, living.keeps_old_soil), ("rich", True))
        self.assertEqual(living.by_eye, (0.6, 1.6))
