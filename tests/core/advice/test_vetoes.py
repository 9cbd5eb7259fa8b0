"""What is never advised, by any route: lime, ash, acid and meals where they must not go."""

from django.test import SimpleTestCase
from hypothesis import given, settings
from hypothesis import strategies as st

from pelk.core.advice.goal import Goal
from pelk.core.advice.grades import DoKind
from pelk.core.advice.judgement import judge
from pelk.core.advice.ph_answer import Outcome
from pelk.core.advice.ph_desk import ways_to
from pelk.core.advice.proposals import propose
from pelk.core.advice.redose import redose
from pelk.core.advice.remedies import remedied
from pelk.core.advice.remedy_candidates import Pantry
from pelk.core.advice.vetoes import is_lime, poisons, unfit
from pelk.core.base.errors import PelkError
from pelk.core.crops.groups import crop, is_acid_lover
from pelk.core.evaluation.evaluate import evaluate
from pelk.core.materials.library import library
from tests.core.mixes import plan, worked

SHELF = library()
PEAT = {"sphagnum-peat-light": 4, "pine-bark-fines-composted": 3, "perlite": 2}
COIR = {"coir-pith-loose": 4, "yard-compost": 2, "perlite": 3}
LIMES = {"lime-dolomitic-ground", "lime-calcitic-ground"}
# Mix, doses, crop, and what no remedy of it may add or leave a part of.
NEVER = [
    (PEAT, [("wood-ash", 6)], "ericaceous", {"wood-ash"}),
    (PEAT, [("lime-hydrated", 6)], "fruiting", {"lime-hydrated"}),
    (PEAT, [("blood-meal", 2)], "seedling", {"blood-meal"}),
    (
        PEAT,
        [("aluminium-sulfate", 4)],
        "annuals",
        {"lime-dolomitic-ground", "lime-calcitic-ground"},
    ),
    (COIR, [("blood-meal", 5)], "fruiting", {"lime-dolomitic-ground", "lime-calcitic-ground"}),
]


def remedies_of(parts, doses, crop_slug):
    """Return the changes of every remedy that is offered for a mix."""
    asked = plan(parts, doses, crop=crop_slug)
    told = evaluate(asked, SHELF)
    judged = remedied(asked, Pantry(SHELF), told, judge(told))
    return [c for f in judged.findings for r in f.remedies for c in r.changes]


class Remedies(SimpleTestCase):
    def test_what_must_not_go_there_is_neither_added_nor_left_in_part(self):
        seen = 0
        for parts, doses, slug, forbidden in NEVER:
            changes = remedies_of(parts, doses, slug)
            seen += len(changes)
            for change in changes:
                with self.subTest(slug, material=change.material, do=change.do):
                    put_in = {change.into} if change.do == DoKind.SWAP else {change.material}
                    if change.do != DoKind.TAKE_OUT:
                        self.assertFalse(put_in & forbidden)
        self.assertGreater(seen, 3)

    def test_an_acid_salt_is_taken_back_not_limed_against(self):
        changes = remedies_of(COIR, [("aluminium-sulfate", 8)], "annuals")
        back = {c.do for c in changes if c.material == "aluminium-sulfate"}
        self.assertTrue(back)
        self.assertLessEqual(back, {DoKind.TAKE_OUT, DoKind.SCALE})

    @settings(max_examples=12, deadline=None)
    @given(
        st.sampled_from(["seedling", "ericaceous", "fruiting"]),
        st.sampled_from(["wood-ash", "lime-hydrated", "blood-meal", "aluminium-sulfate"]),
        st.sampled_from([1, 4]),
    )
    def test_no_remedy_is_caustic_unfit_or_costs_the_ready_day(self, slug, dose, rate):
        asked = plan(PEAT, [(dose, rate)], crop=slug)
        told = evaluate(asked, SHELF)
        judged = remedied(asked, Pantry(SHELF), told, judge(told))
        for remedy in (r for f in judged.findings for r in f.remedies):
            for change in remedy.changes:
                if change.do in (DoKind.DOSE, DoKind.SCALE, DoKind.ADD):
                    material = SHELF[change.material]
                    self.assertEqual(unfit(material, crop(slug)), "")
                    self.assertFalse({"ash-wood", "lime-hydrated"} & {*material.tags})
            if "ready_day" in remedy.before:
                self.assertLessEqual(
                    remedy.after.get("ready_day", 10**6), remedy.before["ready_day"] + 30
                )


class Routes(SimpleTestCase):
    def test_seedlings_are_proposed_no_meal_and_no_metal_salt(self):
        asked = plan({"sphagnum-peat-light": 2, "perlite": 1}, crop="seedling")
        answer = propose(asked, SHELF, Goal())
        for dose in answer.plan.doses:
            with self.subTest(dose.material):
                self.assertEqual(unfit(SHELF[dose.material], crop("seedling")), "")
        self.assertTrue(answer.plan.doses)

    def test_plant_and_mineral_only_is_proposed_nothing_of_an_animal(self):
        asked = plan(COIR, crop="leafy")
        answer = propose(asked, SHELF, Goal(exclude=frozenset(["animal"])))
        self.assertTrue(answer.plan.doses)
        self.assertEqual({SHELF[d.material].vegan for d in answer.plan.doses}, {"yes"})

    def test_a_heap_full_of_ammonium_is_given_no_lime(self):
        told = worked(COIR, [("blood-meal", 5)], crop="fruiting")
        ahead, limes = told.forecast, [SHELF["lime-dolomitic-ground"]]
        day = 10
        self.assertGreater(ahead.line.daily("ammonium_mg_l")[day], 2 * ahead.limits.ammonium_mg_l)
        more = redose(ahead, (7.2, 7.6), day, limes, [], [1.0, 8.0])
        self.assertNotIn(more.answer.outcome, (Outcome.DOSE, Outcome.TOO_SLOW))
        self.assertEqual(more.answer.g_per_l, 0)

    def test_a_reading_far_off_its_forecast_is_read_again_first(self):
        told = worked({"sphagnum-peat-light": 1}, crop="fruiting")
        ahead, limes = told.forecast, [SHELF["lime-dolomitic-ground"]]
        given = redose(ahead, told.ph_band, 30, limes, [], [5.0, 29.0], last=(29.0, 3.9))
        self.assertIsNotNone(given.advice)
        for ph in (5.2, 6.2):
            again = redose(ahead, told.ph_band, 30, limes, [], [5.0, 29.0], last=(29.0, ph))
            self.assertTrue(again.asks_reading and again.advice is None)
        old = redose(ahead, told.ph_band, 60, limes, [], [5.0, 29.0], last=(29.0, 5.2))
        self.assertIsNotNone(old.advice)

    def test_the_desk_refuses_what_no_crop_wants(self):
        for target in (3.0, 3.9, 4.2):
            with self.subTest(target), self.assertRaisesRegex(PelkError, "no crop wants"):
                ways_to("peat", 6.5, target, 90, [SHELF["sulfur-dusting"]])
        self.assertTrue(ways_to("peat", 6.5, 5.0, 90, [SHELF["sulfur-dusting"]]).ways)


class Told(SimpleTestCase):
    def test_what_poisons_is_told_of_each_crop(self):
        for slug, crop_slug, g_per_l, says in (
            ("borax", "legumes", 15 / 13, "boron"),
            ("kelp-meal", "legumes", 2.0, ""),
            ("blood-meal", "seedling", 0.3, "seedlings"),
            ("aluminium-sulfate", "ericaceous", 0.5, "ornamentals"),
            ("wood-ash", "ericaceous", 1.0, "acid lovers"),
            ("wood-ash", "fruiting", 1.0, ""),
            ("human-urine", "annuals", 1.0, "pot"),
        ):
            with self.subTest(slug, crop=crop_slug):
                said = poisons(SHELF[slug], crop(crop_slug), g_per_l)
                self.assertIn(says, said)
                self.assertEqual(bool(says), bool(said))

    def test_limes_are_known_as_such(self):
        limes = {slug for slug, m in SHELF.items() if is_lime(m)}
        self.assertLessEqual({"lime-hydrated", "wood-ash", "quicklime", "chalk-ground"}, limes)
        self.assertFalse({"gypsum", "basalt-dust", "sulfur-dusting"} & limes)
        self.assertTrue(is_acid_lover(crop("ericaceous")))
